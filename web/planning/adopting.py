"""Adopting a plan: laid beside what is meant for the plot already, kept whole, and undone with the work that hangs on it."""

from django.utils import timezone

from agronomy.base.errors import RequestError
from agronomy.ledger.intent import Overlap
from agronomy.plan.plan import Plan
from web.changes.undo import undoable
from web.ground.models import Plot
from web.planning.models import AdoptedPlan
from web.planning.overlap import choice_of, reason_of
from web.planning.service import plan_for, plan_of
from web.planning.signals import work_beside, work_may_change, work_settled
from web.readings.selectors import PlanLine


def adopting(request, plot: Plot, label: str, keep, *others) -> AdoptedPlan:
    """Runs `keep`, which stores a plan for a plot, as one act that can be undone with the work that hangs on it."""
    before: list = []
    choice = choice_of(request)
    work_may_change.send(Plot, plot=plot, touched=before, choice=choice)
    with undoable(request, label, *before, *others) as touched:
        adopted, made = keep()
        if choice:
            about = {"plot": plot, "plan": plan_of(adopted), "choice": choice, "reason": reason_of(request)}
            work_settled.send(Plot, made=made, **about)
        touched[:] = [adopted, *{(type(row), row.pk): row for row in (*before, *others, *made)}.values()]
    return adopted


def overlaps_with(plot: Plot, plan: Plan) -> list[Overlap]:
    """Where a plan and other work that is meant for the plot come to too much."""
    return [overlap for _, found in work_beside.send(Plot, plot=plot, plan=plan) for overlap in found or ()]


def comes_to_too_much(plot: Plot, lines: list[PlanLine], *, units: str) -> bool:
    """Whether a plot's plan can't be adopted without a question; a plan that can't be made asks none."""
    try:
        return bool(overlaps_with(plot, plan_for(plot, lines, today=timezone.localdate(), units=units)))
    except RequestError:
        return False
