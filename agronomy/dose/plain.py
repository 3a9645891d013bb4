"""A dressing whose amount is known already: no need is worked out for it, it only has to be weighed, priced and told."""

from datetime import date

from agronomy.base.working import Step
from agronomy.dose.application import Application, amount_of, for_the_plot, is_poured, say_placement
from agronomy.tables.material import Material


def plain_dose(
    material: Material,
    what: str,
    rate_kg_per_ha: float,
    *,
    area_m2: float,
    system: str,
    start: date,
    end: date,
    placement: str,
    depth_cm: float,
    why: str,
    note: str,
    supplies: dict[str, float] | None = None,
    price_per_kg: float | None = None,
    number: int = 1,
    count: int = 1,
    later: bool = False,
    working: tuple[Step, ...] = (),
) -> Application:
    """An application of so much of a material [kg/ha] on an area [m2]. What it supplies is the material's own unless told.

    Source: definition.
    """
    total = rate_kg_per_ha * area_m2 / 10_000
    poured = is_poured(material, total)
    step = for_the_plot(rate_kg_per_ha, area_m2, total)
    brought = supplies if supplies is not None else {key: share * rate_kg_per_ha for key, share in (material.share or {}).items()}
    return Application(
        material=material.key,
        name=material.name,
        what=what,
        rate_kg_per_ha=rate_kg_per_ha,
        total_kg=total,
        low_kg=total,
        high_kg=total,
        measure=amount_of(total, material.density_g_per_ml, system, area_m2, poured=poured),
        supplies=brought,
        from_=start,
        to=end,
        placement=say_placement(placement, depth_cm, system),
        placement_pattern=placement,
        cost=round(total * (material.list_price_per_kg if price_per_kg is None else price_per_kg), 2),
        why=why,
        dressing=number,
        dressings=count,
        later=later,
        depth_cm=depth_cm,
        timing_note=note,
        working=(*working, step),
        bag_kg=material.bag_kg,
        density_g_per_ml=material.density_g_per_ml,
        poured=poured,
    )
