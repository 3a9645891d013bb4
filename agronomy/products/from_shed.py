"""What is in the shed goes first, also where it does not reach: a heap of manure, a sack of ash or litter, half a bag of a compound."""

from collections.abc import Mapping
from math import inf

from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.model.answers import Need
from agronomy.products.choice import AvailableProducts, Choice
from agronomy.products.ground import Ground
from agronomy.products.nutrient_sources import most_beside, unfit_at_any_rate
from agronomy.tables import Tables
from agronomy.tables.material import Material

MAIN = ("P", "K", "N")


def from_shed(
    needs: Mapping[str, Need], remaining: Mapping[str, float], ground: Ground, shop: AvailableProducts, tables: Tables
) -> list[Choice]:
    """Choices of what stands there and does not reach for a need, or is bulky: as much as there is, and no more than the ground wants.

    Needs and rates in kg/ha. Source: own-experience.

    >>> from agronomy.intake.example import ground, needs, shop, tables
    >>> from_shed({need.what: need for need in needs()}, {"P": 40.0}, ground(), shop(), tables)
    []
    """
    left, found = dict(remaining), []
    for material in sorted(shop.in_shed, key=lambda item: (not _is_bulky(item), item.key)):
        if shop.area_m2 <= 0 or unfit_at_any_rate(material, set(left), ground, shop, tables):
            continue
        rate, serves = _rate_and_use(material, left, ground, shop, tables)
        if serves is None or (_feeds_one(material) and shop.covers(material, left[serves] / material.share[serves])):
            continue
        found.append(_choice(needs[serves], material, rate, left[serves], shop))
        found[-1].count_off(left)
    return found


def _feeds_one(material: Material) -> bool:
    """Whether it is a bag for one nutrient, which is chosen as any other bag where there is enough of it."""
    return not _is_bulky(material) and sum(material.share.get(nutrient, 0.0) > 0 for nutrient in MAIN) < 2


def _is_bulky(material: Material) -> bool:
    return material.has_role("organic")


def _rate_and_use(
    material: Material, left: Mapping[str, float], ground: Ground, shop: AvailableProducts, tables: Tables
) -> tuple[float, str | None]:
    """How much of a material goes on [kg/ha], and the need that it serves most; None where it would settle too little of any."""
    figures = tables.choice
    most = [shop.shed[material.key].in_stock_kg * 10_000 / shop.area_m2]
    for nutrient in MAIN:
        if material.share.get(nutrient, 0.0) > 0:
            most.append(_room(nutrient, material, left, ground, tables) / material.share[nutrient])
    if _is_bulky(material) and material.n > 0:
        most.append(figures.organic_nitrogen_most_kg_per_ha.value / (material.n / 100))
    if material.effective_neutralising_value > 0:
        lime = left.get("CaCO3", 0.0) or figures.unasked_lime_most_kg_per_ha.value
        most.append(min(lime, ground.most_lime_kg_per_ha) / material.effective_neutralising_value)
    rate = min(most)
    served = {what: rate * material.share.get(what, 0.0) / left[what] for what in MAIN if left.get(what, 0.0) > 0}
    main = max(served, key=lambda what: served[what], default=None)
    if main is None or served[main] < figures.shed_serves_from.value or rate in (0.0, inf):
        return 0.0, None
    return rate, main


def _room(nutrient: str, material: Material, left: Mapping[str, float], ground: Ground, tables: Tables) -> float:
    """Most of N, P or K [kg/ha] that may go on: what is wanted and a little over; of the grower's own manure more where nobody tested."""
    room = most_beside(nutrient, left.get(nutrient, 0.0), ground, tables)
    if not _is_bulky(material) or nutrient in left or nutrient in ground.findings:
        return room
    figures = tables.choice
    untested = {"P": figures.untested_p_with_manure_kg_per_ha.value, "K": figures.untested_k_with_manure_kg_per_ha.value}
    return max(room, min(untested.get(nutrient, 0.0), ground.caps.get(nutrient, inf)))


def _choice(need: Need, material: Material, rate: float, still_needed: float, shop: AvailableProducts) -> Choice:
    share = material.share[need.what]
    step = Step(
        "product from the shed",
        "the least of what stands there and what each nutrient leaves room for",
        {
            "in the shed": Figure(shop.shed[material.key].in_stock_kg, "kg"),
            "still needed": Figure(still_needed, "kg/ha"),
            "share a crop gets in the first year": Figure(share, "fraction", material.source),
        },
        Figure(rate, "kg/ha"),
        material.source,
        material.name,
    )
    supplies = {nutrient: part * rate for nutrient, part in material.share.items()}
    if material.effective_neutralising_value > 0:
        supplies["CaCO3"] = rate * material.effective_neutralising_value
    return Choice(
        need=need,
        material=material,
        rate_kg_per_ha=rate,
        low_kg_per_ha=rate,
        high_kg_per_ha=rate,
        supplies=supplies,
        price_per_kg=shop.price_per_kg(material, rate),
        why=say("It stands in your shed: it goes first, and the rest is bought."),
        working=(*need.working, step),
    )
