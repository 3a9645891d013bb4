"""When a load of manure or compost goes on: some weeks before planting, so that it has settled, and within every limit."""

from agronomy.base.errors import OutOfRange, check_range
from agronomy.dose.application import Application, say_placement
from agronomy.model.request import Request
from agronomy.model.soil import Soil
from agronomy.schedule.arrange import place_alone
from agronomy.schedule.calendar import calendar_of
from agronomy.schedule.limits import limits_of
from agronomy.schedule.nutrient_parts import before_planting
from agronomy.schedule.placement import Placement
from agronomy.tables import Tables
from agronomy.tables.material import Material

WHAT = "load"


def load_of(material: Material, t_per_ha: float, request: Request, soil: Soil, tables: Tables) -> tuple[Application, str]:
    """A rate of manure or compost as an application of the plot in its window, and what to say where no window keeps all limits.

    Raises OutOfRange for a material that is neither, or a rate that nobody spreads. Source: timing-guide, nop-manure.

    >>> from agronomy.intake.example import bed, soil, tables
    >>> load_of(tables.materials["cattle_manure"], 20, bed(), soil(), tables)[0].rate_kg_per_ha
    20000
    """
    if not material.has_role("organic"):
        raise OutOfRange("material", material.name, f"{material.name} is no manure or compost", "choose one")
    check_range("rate", t_per_ha, low=0.01, high=tables.organics.most_t_per_ha.value, unit="t/ha")
    rate_kg_per_ha = t_per_ha * 1000
    rule = tables.timing.bulk_organic
    calendar = calendar_of(request, tables)
    window = before_planting(rule, calendar, tables)
    total = rate_kg_per_ha * request.plot.area_m2 / 10_000
    pattern = Placement(request.plot, calendar.growth, calendar.stands, tables).before(rule)
    meant = Application(
        material=material.key,
        name=material.name,
        what=WHAT,
        rate_kg_per_ha=rate_kg_per_ha,
        total_kg=total,
        low_kg=total,
        high_kg=total,
        measure="",
        supplies={key: share * rate_kg_per_ha for key, share in (material.share or {}).items()},
        from_=window.start,
        to=window.end,
        placement=say_placement(pattern, soil.depth_cm, request.units),
        placement_pattern=pattern,
        cost=total * material.list_price_per_kg,
        why="",
        dressing=1,
        dressings=1,
        later=False,
        depth_cm=soil.depth_cm,
        timing_note=calendar.note,
        working=(),
        bag_kg=material.bag_kg,
    )
    return place_alone(meant, limits_of(request, soil, tables), tables)
