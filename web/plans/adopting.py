"""Adopting a plan is one act: it is kept whole, its work goes on the list, and other work makes way as was chosen."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Any

from django.db import models
from django.utils import timezone

from agronomy.base.errors import RequestError
from agronomy.intake.documents import plan_to_document
from agronomy.intake.request import read_request
from agronomy.plan.plan import Plan, make_plan
from web.changes.undo import undoable
from web.core import tables
from web.ground.models import Plot
from web.jobs.intent import may_give_way, settle_beside, too_much_with
from web.jobs.making import make_jobs, open_jobs_of
from web.jobs.models import Job
from web.planning.models import AdoptedPlan, PlanProposal
from web.planning.overlap import choice_of, reason_of
from web.planning.requests import request_document
from web.planning.service import plan_for, plan_of
from web.readings.selectors import PlanLine


@dataclass(frozen=True, slots=True)
class MadePlan:
    """A plan with the request document that it answers, and itself as a document: made once, and handed on."""

    document: dict[str, Any]
    plan: Plan
    result: dict[str, Any]


@dataclass(frozen=True, slots=True)
class Adoption:
    """What adopting made: the plan as it is kept, and every job that came, moved or gave way."""

    row: AdoptedPlan
    jobs: list[Job]


def made_for(plot: Plot, lines: list[PlanLine], *, today: date, units: str) -> MadePlan:
    """The plan of a plot as it is today. Raises RequestError where stored values no longer fit the rules."""
    document = request_document(plot, plot.planting, lines, today=today, units=units)
    plan = make_plan(read_request(document, tables()), tables())
    return MadePlan(document, plan, plan_to_document(plan, sentences=True))


def proposed(proposal: PlanProposal) -> MadePlan:
    """A proposed plan, exactly as it was kept."""
    return MadePlan(proposal.request, plan_of(proposal), proposal.result)


def adopt(plot: Plot, made: MadePlan, *, by, choice: str = "", reason: str = "") -> Adoption:
    """Keeps a plan and puts its work on the list; where other work is meant too, does what was chosen."""
    row = AdoptedPlan.objects.create(
        plot=plot, adopted_by=by, rules_version=made.result["rules_version"], request=made.document, result=made.result
    )
    jobs = make_jobs(made.plan, row, plot, open_jobs_of(plot))
    if choice:
        settle_beside(plot, made.plan, choice, reason, jobs)
    return Adoption(row, jobs)


def adopting(request, plot: Plot, label: str, made: MadePlan, *others: models.Model) -> AdoptedPlan:
    """Adopts as one act of this reader, to be undone with the work that hangs on it; `others` are rows that change along with it."""
    choice = choice_of(request)
    before = [*open_jobs_of(plot), *may_give_way(plot, choice)]
    with undoable(request, label, *before, *others) as touched:
        for row in others:
            row.save()
        adoption = adopt(plot, made, by=request.user, choice=choice, reason=reason_of(request))
        touched[:] = each_once([adoption.row, *before, *others, *adoption.jobs])
    return adoption.row


def each_once(rows: Iterable[models.Model]) -> list[models.Model]:
    """Rows without those that come again, in their order."""
    return list({(type(row), row.pk): row for row in rows}.values())


def comes_to_too_much(plot: Plot, lines: list[PlanLine], *, units: str) -> bool:
    """Whether a plot's plan can't be adopted without a question; a plan that can't be made asks none."""
    try:
        return bool(too_much_with(plot, plan_for(plot, lines, today=timezone.localdate(), units=units)))
    except RequestError:
        return False
