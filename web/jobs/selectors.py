"""Open jobs by when they fall."""

from datetime import date, timedelta

from django.core.paginator import Page, Paginator
from django.db.models import Exists, OuterRef, QuerySet

from web.ground.models import Plot
from web.jobs.models import Job

WEEK = timedelta(days=7)
ON_A_PAGE = 50


def jobs_of(holding) -> QuerySet[Job]:
    return Job.objects.filter(holding=holding).select_related("plot", "person")


def open_jobs(
    holding, today: date, *, plot: int | None = None, material: str = "", person: int | None = None, page: str | None = None
) -> tuple[dict[str, list[Job]], Page]:
    """Open jobs as overdue, now (their window is open), this week and later; the soonest first, a page of them, and that page."""
    found = jobs_of(holding).filter(state=Job.State.OPEN)
    if plot:
        found = found.filter(plot=plot)
    if material:
        found = found.filter(material=material)
    if person:
        found = found.filter(person=person)
    groups: dict[str, list[Job]] = {"overdue": [], "now": [], "week": [], "later": []}
    shown = Paginator(found.order_by("to_day", "from_day", "pk"), ON_A_PAGE).get_page(page)
    for job in shown:
        groups[_when(job, today)].append(job)
    return groups, shown


def _when(job: Job, today: date) -> str:
    if job.to_day < today:
        return "overdue"
    if job.from_day <= today:
        return "now"
    return "week" if job.from_day <= today + WEEK else "later"


def open_for(holding) -> tuple[QuerySet[Plot], list[tuple[str, str]]]:
    """Plots and materials with open work, for the choices above the list; neither grows with the number of jobs."""
    open_ = Job.objects.filter(holding=holding, state=Job.State.OPEN)
    plots = Plot.objects.filter(holding=holding).filter(Exists(open_.filter(plot=OuterRef("pk"))))
    materials = open_.exclude(material="").order_by().values_list("material", "name").distinct()
    return plots, sorted(materials, key=lambda pair: pair[1])
