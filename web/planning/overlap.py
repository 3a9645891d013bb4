"""When something new and what is meant already come to too much for a plot: the question, its three answers, and what was chosen."""

from django.shortcuts import render
from django.utils import timezone

from agronomy.base.errors import RequestError
from agronomy.ledger.intent import Overlap
from agronomy.plan.plan import Plan
from web.ground.models import Plot
from web.planning.service import can_plan, lines_by_plot, plan_for

REPLACE, REDUCE, KEEP = "replace", "reduce", "keep"
MOST_REASON = 200
NOT_CARRIED = ("csrfmiddlewaretoken", "once", "settle", "reason")


def choice_of(request) -> str:
    """What was chosen; empty where nothing was yet, or both are to stay without a reason."""
    chosen = request.POST.get("settle", "")
    return chosen if chosen in (REPLACE, REDUCE) or (chosen == KEEP and reason_of(request)) else ""


def reason_of(request) -> str:
    return request.POST.get("reason", "").strip()[:MOST_REASON]


def needs_in(plan: Plan) -> dict[str, float]:
    """What a plan found to be needed [kg/ha]."""
    found: dict[str, float] = {}
    for need in plan.needs:
        found[need.what] = found.get(need.what, 0.0) + need.rate_kg_per_ha
    return found


def needs_of(plot: Plot) -> dict[str, float] | None:
    """What the plot needs as far as is known today [kg/ha]; None where nothing can be said."""
    if not can_plan(plot):
        return None
    try:
        return needs_in(plan_for(plot, lines_by_plot([plot])[plot.pk], today=timezone.localdate(), units="metric"))
    except RequestError:
        return None


def ask(request, plot: Plot, found: list[Overlap], *, about: str):
    """The page that asks; what was sent is carried along, so that nothing is typed twice."""
    context = {
        "plot": plot,
        "about": about,
        "says": [overlap.says(request.place.units, plot.area_m2) for overlap in found],
        "others": list(dict.fromkeys(origin for overlap in found for origin in overlap.origins)),
        "can_cut": any(overlap.why != "against" for overlap in found),
        "carried": [(name, value) for name, values in request.POST.lists() if name not in NOT_CARRIED for value in values],
        "reason": reason_of(request),
        "wants_reason": request.POST.get("settle") == KEEP,
    }
    return render(request, "planning/overlap.html", context, status=409)
