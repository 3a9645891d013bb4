"""Another material instead of a chosen one: each with the plan that comes of it."""

from dataclasses import replace

from agronomy.base.errors import UnknownName
from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.model.request import Request
from agronomy.plan.plan import Plan, make_plan
from agronomy.products.nutrient_sources import unfit_at_any_rate
from agronomy.tables import Tables
from agronomy.whatif.case import case_for

ROLES = {"CaCO3": "lime", "S_acid": "acidifier"}


@record
class Swap:
    """One material to take instead: the whole plan with it, its kilos on the plot, and how much more the plan costs [own money]."""

    material: str
    name: str
    kg: float
    costs_more: float
    plan: Plan


def swapped(request: Request, old: str, new: str) -> Request:
    """The request with one material left out and another asked for.

    >>> from agronomy.intake.example import bed
    >>> sorted(swapped(bed(), "urea", "calcium_nitrate").without)
    ['urea']
    """
    wanted = tuple(key for key in request.wanted if key not in (old, new))
    return replace(request, wanted=(*wanted, new), without=(*(key for key in request.without if key not in (old, new)), old))


def swaps(request: Request, old: str, tables: Tables) -> tuple[Plan, list[Swap], dict[str, str]]:
    """The plan as it is, what could stand in for one of its materials (the cheapest plan first), and why others can't, by name.

    Raises UnknownName where the plan has no such material.
    Rates in kg/ha. Source: each plan's own.

    >>> from agronomy.intake.example import bed, tables
    >>> len(swaps(bed(), "urea", tables)[1]) > 0
    True
    """
    plan = make_plan(request, tables)
    needs = {item.what for item in plan.applications if item.material == old}
    if not needs:
        raise UnknownName("material", old[:60], "this plan has no such material", "choose one of the plan's own")
    case = case_for(request, tables)
    found, unfit = [], {}
    for material in case.shop.materials:
        roles = [ROLES.get(what, what) for what in needs]
        if material.key == old or not any(material.has_role(role) for role in roles):
            continue
        reason = (
            None
            if needs <= ROLES.keys()
            else unfit_at_any_rate(material, {need.what for need in case.needs}, case.ground, case.shop, tables)
        )
        made = make_plan(swapped(request, old, material.key), tables) if reason is None else None
        kg = sum(item.total_kg for item in made.applications if item.material == material.key and not item.later) if made else 0.0
        if made is not None and kg > 0:
            found.append(Swap(material.key, material.name, kg, made.cost - plan.cost, made))
        else:
            unfit[material.name] = reason or say("would bring along more of something else than is needed")
    return plan, sorted(found, key=lambda swap: (swap.costs_more, swap.name)), unfit
