"""Jobs out of an adopted plan, and out of the way when it goes; jobs out of a dated programme."""

from datetime import timedelta

from agronomy.base.showing import significant
from agronomy.dose.application import Application, say_placement
from agronomy.plan.cautions import practice_of
from agronomy.plan.plan import Plan
from agronomy.schedule.programme import DatedStep, Programme
from web.core import tables
from web.ground.models import Plot
from web.jobs.models import Job
from web.planning.models import AdoptedPlan


def open_jobs_of(plot: Plot) -> list[Job]:
    """Open jobs out of plans; those of programmes and desks are not a plan's to drop."""
    return list(Job.objects.filter(plot=plot, state=Job.State.OPEN, plan__isnull=False))


def make_jobs(plan: Plan, adopted: AdoptedPlan, plot: Plot, before: list[Job]) -> list[Job]:
    """A job for each dressing that waits for no test; the plot's open jobs of earlier plans make way.

    The same dressing of the same material keeps its identity, and with it its place in calendars. All jobs that were touched come back.
    """
    open_ = {(job.material, job.what, job.dressing): job for job in before}
    touched = []
    for item in plan.applications:
        if item.later:
            continue
        job = open_.pop((item.material, item.what, item.dressing), None) or Job(holding_id=plot.holding_id, plot=plot)
        job.plan, job.material, job.name, job.what, job.dressing = adopted, item.material, item.name, item.what, item.dressing
        job.kg, job.from_day, job.to_day = significant(item.total_kg, 6), item.from_, item.to
        job.keep_sentences(placement=_placement(item), why=item.why)
        job.worked_in_cm = practice_of(item).worked_in_cm
        job.save()
        touched.append(job)
    return touched + drop(open_.values())


def _placement(item: Application) -> str:
    """How a dose is put on, with its depth in metric: the reader's units come when it is told."""
    has_depth = "{depth}" in item.placement_pattern
    return say_placement(item.placement_pattern, item.depth_cm, "metric") if has_depth else item.placement


def drop(jobs) -> list[Job]:
    """Open jobs that are no longer wanted."""
    dropped = []
    for job in jobs:
        job.state = Job.State.DROPPED
        job.save()
        dropped.append(job)
    return dropped


def job_of_step(row: DatedStep, plot: Plot, programme: Programme) -> Job:
    """A dated step of a programme as a job of a plot, not stored yet."""
    return Job(
        holding_id=plot.holding_id,
        plot=plot,
        material=row.material,
        name=tables().materials[row.material].name if row.material else row.do[:120],
        what="step",
        origin=Job.Origin.PROGRAMME,
        origin_name=programme.name[:80],
        kg=row.kg,
        placement=row.do[:200] if row.material else "",
        way=row.way,
        why=f"{programme.name}. {row.note}".strip()[:400],
        from_day=row.day,
        to_day=row.day + timedelta(days=row.within),
    )
