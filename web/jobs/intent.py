"""The list of jobs as one ledger of what is meant: whatever comes new is laid beside it and the plot's need before it goes on."""

from datetime import date, timedelta

from agronomy.ledger.intent import Intended, Overlap, brought, cut_to_need, overlaps
from agronomy.plan.plan import Plan
from web.changes.undo import undoable
from web.core import tables
from web.ground.models import Plot
from web.jobs.making import drop
from web.jobs.models import Job
from web.planning.overlap import KEEP, REDUCE, REPLACE, ask, choice_of, needs_in, needs_of, reason_of
from web.records.selectors import caps_of


def intended(job: Job) -> Intended:
    return Intended(job.material, job.kg, job.from_day, job.to_day, job.comes_from)


def meant_for(plot: Plot, days: list[date]) -> list[Job]:
    """Open jobs of a plot in the season of some days."""
    if not days:
        return []
    season = timedelta(days=tables().choice.meant_season_days.value)
    near = {"from_day__gte": min(days) - season, "from_day__lte": max(days) + season}
    return list(Job.objects.filter(plot=plot, state=Job.State.OPEN, **near).select_related("plan"))


def beside_a_plan(plot: Plot, plan: Plan) -> list[Job]:
    """Open jobs in the season of a plan that it does not take the place of by itself."""
    return [job for job in meant_for(plot, [item.from_ for item in plan.applications]) if job.plan_id is None]


def may_give_way(plot: Plot, choice: str) -> list[Job]:
    """Work of programmes, desks and people that a plan may take the place of, as was chosen."""
    return list(Job.objects.filter(plot=plot, state=Job.State.OPEN, plan=None)) if choice == REPLACE else []


def too_much_with(plot: Plot, plan: Plan) -> list[Overlap]:
    """Where a plan and what programmes, desks and people put on the list come to too much."""
    new = [Intended(item.material, item.total_kg, item.from_, item.to, "the plan") for item in plan.applications if not item.later]
    others = [intended(job) for job in beside_a_plan(plot, plan)]
    found = overlaps(new, others, needs_in(plan), caps_of(plot.holding), area_m2=plot.area_m2, tables=tables())
    return [overlap for overlap in found if overlap.origins]  # what a plan gives alone is its own need


def settle_beside(plot: Plot, plan: Plan, choice: str, reason: str, made: list[Job]) -> None:
    """Does what was chosen: others make way, the plan's own jobs are cut, or all stay with the reason."""
    found = too_much_with(plot, plan)
    new = [job for job in made if job.state == Job.State.OPEN]
    if choice == REPLACE:
        drop(_that_bring(found, beside_a_plan(plot, plan)))
    elif choice == REDUCE:
        _cut(new, found)
    else:
        _with_reason(new, reason)


def meant_too_much(plot: Plot, jobs: list[Job], others: list[Job] | None = None) -> list[Overlap]:
    """Where new jobs and what is meant for a plot already come to too much."""
    others = meant_for(plot, [job.from_day for job in jobs]) if others is None else others
    # a bale's plan is its start alone: what is fed to it later is no part of that need
    needs = None if plot.kind == Plot.Kind.BALE and not others else needs_of(plot)
    return overlaps(
        [intended(job) for job in jobs],
        [intended(job) for job in others],
        needs,
        caps_of(plot.holding),
        area_m2=plot.area_m2,
        tables=tables(),
    )


def put_on_list(request, plot: Plot, jobs: list[Job], label: str, *, about: str):
    """Puts new jobs on the list with one undo; the page that asks, where they and what is meant already are too much."""
    others = meant_for(plot, [job.from_day for job in jobs])
    found = meant_too_much(plot, jobs, others)
    choice = choice_of(request)
    if found and not choice:
        return ask(request, plot, found, about=about)
    gone = _that_bring(found, others) if choice == REPLACE else []
    with undoable(request, label, *gone) as touched:
        drop(gone)
        if choice == REDUCE:
            for job, kg in zip(jobs, cut_to_need([intended(job) for job in jobs], found, tables()), strict=True):
                job.kg = kg if job.material else job.kg
            jobs = [job for job in jobs if job.kg > 0 or not job.material]
        for job in jobs:
            job.reason = reason_of(request) if found and choice == KEEP else ""
            job.save()
        touched += jobs
    return None


def _that_bring(found: list[Overlap], jobs: list[Job]) -> list[Job]:
    """Jobs that bring any of what comes to too much, or what it pulls against."""
    wanted = {overlap.what for overlap in found}
    wanted |= {"S_acid" if overlap.what == "CaCO3" else "CaCO3" for overlap in found if overlap.why == "against"}
    known = tables().materials
    return [job for job in jobs if job.material in known and wanted & set(brought(known[job.material], job.kg))]


def _cut(jobs: list[Job], found: list[Overlap]) -> None:
    for job, kg in zip(jobs, cut_to_need([intended(job) for job in jobs], found, tables()), strict=True):
        job.kg, job.state = (kg, job.state) if kg else (job.kg, Job.State.DROPPED)
        job.save()


def _with_reason(jobs: list[Job], reason: str) -> None:
    for job in jobs:
        job.reason = reason
        job.save()
