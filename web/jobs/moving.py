"""Jobs of an adopted plan on new days, when the planting moves: what goes on and how much stay as they were adopted."""

from datetime import date, timedelta

from django.db.models import QuerySet
from django.utils import timezone

from agronomy.base.errors import RequestError
from agronomy.intake.request import read_request
from agronomy.plan.plan import Plan, make_plan
from web.core import tables
from web.ground.models import Planting, Plot
from web.jobs.making import open_jobs_of
from web.jobs.models import Job
from web.planning.models import AdoptedPlan


def _of_programmes(plot: Plot) -> QuerySet[Job]:
    return still_to_do(plot).filter(origin=Job.Origin.PROGRAMME)


def jobs_that_may_move(plot: Plot) -> list[Job]:
    """Jobs as they are before the days of a plot's planting change."""
    return [*open_jobs_of(plot), *_of_programmes(plot)]


def move_jobs(plot: Plot, since: date | None) -> int:
    """Takes jobs along to a planting's new days, from the day it was planted before; how many moved.

    Those whose plan was for another crop, or whose dressing the new days do without, stay where they are. Steps of a programme move by as
    many days as the planting, but never into the past.
    """
    plot = Plot.objects.get(pk=plot.pk)  # with its plantings as they are now
    planting, today = plot.planting, timezone.localdate()
    if planting is None:
        return 0
    by_plan: dict[int, list[Job]] = {}
    for job in open_jobs_of(plot):
        by_plan.setdefault(job.plan_id, []).append(job)
    moved = sum(_redate(jobs, AdoptedPlan.objects.get(pk=pk), planting, today) for pk, jobs in by_plan.items())
    return moved + (_shift(_of_programmes(plot), planting.planted_on - since, today) if since and planting.planted_on else 0)


def _shift(jobs: QuerySet[Job], by: timedelta, today: date) -> int:
    """Jobs so many days sooner or later, each as long as it was."""
    moved = 0
    for job in jobs if by else ():
        start = max(job.from_day + by, min(today, job.from_day))
        job.from_day, job.to_day = start, start + (job.to_day - job.from_day)
        job.save()
        moved += 1
    return moved


def still_to_do(plot: Plot) -> QuerySet[Job]:
    """Open work of every origin."""
    return Job.objects.filter(plot=plot, state=Job.State.OPEN)


def hand_over(plot: Plot, into: Plot | None) -> None:
    """Work still to do moves to the plot that this one became part of; without one it is dropped."""
    for job in still_to_do(plot):
        if into is None:
            job.state = Job.State.DROPPED
        else:
            job.plot = into
        job.save()


def _redate(jobs: list[Job], adopted: AdoptedPlan, planting: Planting, today: date) -> int:
    plan = _plan_of_new_days(adopted, planting, today)
    if plan is None:
        return 0
    windows = {(item.material, item.what, item.dressing): (item.from_, item.to) for item in plan.applications if not item.later}
    moved = 0
    for job in jobs:
        window = windows.get((job.material, job.what, job.dressing))
        if window is not None and window != (job.from_day, job.to_day):
            job.from_day, job.to_day = window
            job.save()
            moved += 1
    return moved


def _plan_of_new_days(adopted: AdoptedPlan, planting: Planting, today: date) -> Plan | None:
    """The adopted plan's own request with the new days; None where it was for another crop, or can no longer be read."""
    crop = adopted.request["crop"]
    if crop["key"] != planting.crop:
        return None
    days = {
        "planting": planting.planted_on and planting.planted_on.isoformat(),
        "harvest": planting.ended_on and planting.ended_on.isoformat(),
    }
    try:
        return make_plan(read_request(adopted.request | {"crop": crop | days, "today": today.isoformat()}, tables()), tables())
    except RequestError:
        return None
