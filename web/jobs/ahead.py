"""The next open jobs of a plot, for its page."""

from datetime import date

from django.urls import reverse

from agronomy.base import showing
from web.ground.models import Plot
from web.jobs.models import Job
from web.prepared import Prepared
from web.words import between

SHOWN = 3
_NEXT: Prepared[Job] = Prepared(lambda plot: Job.objects.filter(plot=plot, state=Job.State.OPEN).order_by("from_day", "pk")[:SHOWN])


def jobs_ahead(plot: Plot, today: date, units: str) -> list[dict]:
    """The next jobs as rows: when, how much, of what, where, and the page on which they are done."""
    return [
        {
            "when": between(job.from_day, job.to_day, today),
            "weight": showing.dose(job.kg, units, plot.area_m2) if job.kg else "",
            "name": job.name,
            "placement": job.sentence("placement", units),
            "address": reverse("jobs:job", args=[job.pk]),
        }
        for job in _NEXT(plot.pk)
    ]
