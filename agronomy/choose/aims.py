"""The same needs filled by rule and by every aim, and the front of trade-offs between money and the number of bags."""

from dataclasses import dataclass, replace

from agronomy.assess import Assessment, assess
from agronomy.choose.choice import Shop
from agronomy.choose.nutrient_sources import Ground, unfit_at_any_rate
from agronomy.choose.optimiser import AIMS, NUTRIENTS, front, model_for
from agronomy.choose.selection import select
from agronomy.choose.shop import shop_for
from agronomy.material import Material
from agronomy.needs import Answers, answers_by
from agronomy.plan import Plan, make_plan
from agronomy.request import Request
from agronomy.schools.need import SPOKEN
from agronomy.tables import Tables

ALL_AIMS = {"rule": "nutrient by nutrient, the cheapest that brings nothing unwanted"} | AIMS


@dataclass(frozen=True, slots=True)
class Point:
    """One point of the front: how many bags of nutrients are opened, what they cost on this plot, which they are, whether all needs are met."""

    bags: int
    cost: float
    names: tuple[str, ...]
    is_whole: bool


def plans_by_aim(request: Request, tables: Tables) -> dict[str, Plan]:
    """A plan for each aim, the rule first."""
    return {aim: make_plan(replace(request, aim=aim), tables) for aim in ALL_AIMS}


def trade_offs(request: Request, tables: Tables) -> list[Point]:
    """The front for a plot: the least money for one bag, two, and so on; empty where there is nothing to fill."""
    found = assess(request, tables)
    answers = answers_by(request.school, found, tables)
    shop = shop_for(request, tables)
    ground = _ground(found, answers)
    needs = answers.needs()
    remaining = {need.what: need.rate_kg_per_ha for need in needs}
    for choice in select([need for need in needs if need.what in ("CaCO3", "S_acid")], ground, shop, tables)[0]:
        for nutrient, amount in choice.supplies.items():
            if nutrient in remaining:
                remaining[nutrient] = max(0.0, remaining[nutrient] - amount)
    model = model_for(needs, remaining, ground, shop, tables)
    hectares = request.plot.area_m2 / 10_000
    return [
        Point(
            mix.bags,
            mix.money * hectares,
            tuple(model.materials[m].name for m in range(len(mix.rates)) if mix.rates[m] > 0),
            float((mix.open / model.wanted).max()) < 0.02,
        )
        for mix in (front(model, tables) if model else [])
        if mix.bags
    ]


@dataclass(frozen=True, slots=True)
class Rejected:
    """A material that gives something needed and was not taken, and why in one sentence."""

    name: str
    why: str


def rejected(request: Request, tables: Tables) -> list[Rejected]:
    """Every material of the shop that gives a needed nutrient and is not in the best set for least money, with its reason.

    What can't serve here is told by what forbids it; what could, by the price of the kilogram that works beside that of what was taken.
    """
    found = assess(request, tables)
    answers = answers_by(request.school, found, tables)
    shop, ground = shop_for(request, tables), _ground(found, answers)
    needed = [need.what for need in answers.needs() if need.what in NUTRIENTS]
    taken = {item.material for item in make_plan(replace(request, aim="money"), tables).applications}
    rows = []
    for material in shop.materials:
        gives = [key for key in needed if material.has_role(key) and key in material.share]
        if gives and material.key not in taken:
            why = unfit_at_any_rate(material, set(needed), ground, shop, tables) or _dearer(material, gives[0], taken, shop, tables)
            rows.append(Rejected(material.name, why))
    return sorted(rows, key=lambda row: row.name)


def _dearer(material: Material, nutrient: str, taken: set[str], shop: Shop, tables: Tables) -> str:
    """How its working kilogram compares with that of the material taken for the same nutrient."""
    price = shop.price_per_kg(material) / material.share[nutrient]
    others = [item for item in shop.materials if item.key in taken and nutrient in item.share]
    if not others:
        return "brings it along with what isn't wanted, or at more than it is worth"
    best = min(others, key=lambda item: shop.price_per_kg(item) / item.share[nutrient])
    times = price / (shop.price_per_kg(best) / best.share[nutrient])
    if times > 1.05:
        return f"a kilogram of {SPOKEN[nutrient]} that works costs {times:.1f} times that of {best.name}"
    return f"is as cheap for {SPOKEN[nutrient]} as {best.name}, but fills the other needs less well"


def _ground(found: Assessment, answers: Answers) -> Ground:
    limes = any(need.what == "CaCO3" for need in answers.needs())
    return Ground(found.request.crop, found.soil, found.acidity, found.figures["lime_to"] if limes else found.ph, found.nutrients)
