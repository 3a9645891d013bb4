"""The same needs filled by rule and by every aim, and the front of trade-offs between money and the number of bags."""

from dataclasses import dataclass, replace

from agronomy.assess import Assessment, assess
from agronomy.choose.nutrient_sources import Ground
from agronomy.choose.optimiser import AIMS, front, model_for
from agronomy.choose.selection import select
from agronomy.choose.shop import shop_for
from agronomy.needs import Answers, answers_by
from agronomy.plan import Plan, make_plan
from agronomy.request import Request
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


def _ground(found: Assessment, answers: Answers) -> Ground:
    limes = any(need.what == "CaCO3" for need in answers.needs())
    return Ground(found.request.crop, found.soil, found.acidity, found.figures["lime_to"] if limes else found.ph, found.nutrients)
