"""A plan that the critic would not sign is not adopted in silence: the page that tells why, and what was answered."""

from django.shortcuts import render

from agronomy.plan.plan import Plan
from web.ground.models import Plot
from web.sentences import tell

NOT_CARRIED = ("csrfmiddlewaretoken", "once", "knowing")


def reasons(plan: Plan, units: str) -> list[str]:
    """Why nobody should sign a plan, as sentences in the reader's units."""
    return [tell(fault.says, units) for fault in plan.not_ready]


def is_to_be_asked(request, plan: Plan) -> bool:
    """Whether the plan has faults and nobody yet said to adopt it all the same."""
    return bool(plan.not_ready) and request.POST.get("knowing") != "yes"


def ask_knowing(request, plot: Plot, plan: Plan):
    """The page that asks; what was sent is carried along."""
    carried = [(name, value) for name, values in request.POST.lists() if name not in NOT_CARRIED for value in values]
    context = {"plot": plot, "not_ready": reasons(plan, request.place.units), "carried": carried}
    return render(request, "planning/not_ready.html", context, status=409)
