"""Wishes that can't all be granted: which one stands in the way of a need, and what letting go of it would give."""

from dataclasses import replace

from agronomy.base.record import record
from agronomy.base.said import Measure, say
from agronomy.model.answers import ACIDITY, SPOKEN
from agronomy.model.request import Request
from agronomy.plan.plan import Plan, make_plan
from agronomy.products.nutrient_sources import unfit_at_any_rate
from agronomy.tables import Tables
from agronomy.whatif.account import account
from agronomy.whatif.case import case_for


@record
class Conflict:
    """A wish and the nutrients it leaves open [kg/ha], and what would meet them without it.

    A wanted bag that can't serve has no `would`.
    """

    wish: str
    opens: dict[str, float]
    would: str
    plan: Plan | None = None


def conflicts(request: Request, tables: Tables) -> list[Conflict]:
    """Every wish that keeps a need open, each tried alone, and every wanted material that the plan does not take.

    The plan as it stands is the nearest one that keeps all wishes; each Conflict has the plan that lets go of one.
    Needs in kg/ha. Source: user-value.

    >>> from agronomy.intake.example import bed, tables
    >>> conflicts(bed(), tables)
    []
    """
    plan = make_plan(request, tables)
    open_now = _open(plan, tables)
    found = _unserved(request, plan, tables)
    for wish, relaxed in _relaxed(request):
        made = make_plan(relaxed, tables)
        gains = {
            key: amount - left for key, amount in open_now.items() if amount - (left := _open(made, tables).get(key, 0.0)) > 0.05 * amount
        }
        if gains:
            taken = {item.material for item in plan.applications}
            names = list(dict.fromkeys(item.name for item in made.applications if item.material not in taken)) or [
                say("more of the same bags")
            ]
            found.append(Conflict(wish, gains, say("{names} would bring it", names=" and ".join(names)), made))
    return found


def _open(plan: Plan, tables: Tables) -> dict[str, float]:
    """Nutrient needs of which more than a tenth stays open [kg/ha]; what caps hold back is open too."""
    nearly = tables.choice.nearly_met.value
    left = {line.nutrient: line.open for line in account(plan, tables) if line.open > nearly * line.needed}
    for item in plan.unmet:
        if item.what in SPOKEN and item.rate_kg_per_ha and item.what not in ACIDITY:
            left[item.what] = max(left.get(item.what, 0.0), item.rate_kg_per_ha)
    acid = {item.what: item.rate_kg_per_ha for item in plan.unmet if item.what in ACIDITY and item.rate_kg_per_ha}
    return left | acid


def _relaxed(request: Request):
    """Each wish of a request in words, and the request without it."""
    if request.organic_only:
        yield say("only what organic growing allows"), replace(request, organic_only=False)
    if not request.chloride:
        yield "no chloride", replace(request, chloride=True)
    if request.most_bags is not None and request.aim != "rule":
        yield (
            say(
                "no more than {most_bags} bag{which} of nutrients", most_bags=request.most_bags, which="s" if request.most_bags != 1 else ""
            ),
            replace(request, most_bags=None),
        )
    if request.without:
        yield "some materials left out", replace(request, without=())
    if request.only is not None:
        yield "only the materials named", replace(request, only=None)
    for nutrient, cap in request.caps.items():
        rest = {key: value for key, value in request.caps.items() if key != nutrient}
        yield say("your cap of {cap:.0f} of {spoken}", cap=Measure(cap, "kg/ha"), spoken=SPOKEN[nutrient]), replace(request, caps=rest)


def _unserved(request: Request, plan: Plan, tables: Tables) -> list[Conflict]:
    """Wanted materials that the plan does not take, each with its reason."""
    taken = {item.material for item in plan.applications}
    missing = [key for key in request.wanted if key not in taken]
    if not missing:
        return []
    case, found = case_for(request, tables), []
    needed = {need.what for need in case.needs}
    for key in missing:
        material = (request.own_materials or {}).get(key, tables.materials[key])
        if key in request.without:
            why: str = say("it is left out as well as asked for")
        elif request.organic_only and not material.is_organic_allowed:
            why = say("organic growing does not allow it")
        elif not any(material.has_role({"CaCO3": "lime", "S_acid": "acidifier"}.get(what, what)) for what in needed):
            why = say("nothing that it brings is needed here")
        else:
            why = unfit_at_any_rate(material, needed, case.ground, case.shop, tables) or say(
                "it would bring along more of something else than is needed"
            )
        found.append(Conflict(say("{material} was asked for", material=material.name), {}, why))
    return found
