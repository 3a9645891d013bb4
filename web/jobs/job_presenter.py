"""A job as pages and sheets tell it."""

from datetime import date, timedelta

from agronomy.base import showing
from agronomy.plan.cautions import Practice, material_cautions, practice_cautions
from web.core import tables
from web.jobs.models import Job
from web.jobs.weather import Days
from web.words import between

AHEAD = timedelta(days=14)  # a phone without a net keeps the jobs of so many days


def told(job: Job, place, today: date, days: Days | None) -> dict:
    """A job for a list, a page or a sheet; which days serve is told only where the days ahead are given."""
    return {
        "pk": job.pk,
        "name": job.name,
        "plot": job.plot,
        "weight": showing.dose(job.kg, place.units, job.plot.area_m2) if job.material else "",
        "when": between(job.from_day, job.to_day, today),
        "placement": job.sentence("placement", place.units),
        "why": job.sentence("why", place.units),
        "person": job.person,
        "soon": job.from_day <= today + AHEAD,
        "days": days.of(job) if days else [],
        "strip": days.strip_of(job) if days else "",
    }


def cautions_of(job: Job) -> list[str]:
    """The usual cautions at a job: of its material, and of how it is put on."""
    material = tables().materials.get(job.material)
    if material is None:
        return []
    practice = Practice(
        kg=job.kg,
        way=job.way,
        worked_in_cm=job.worked_in_cm,
        bag_kg=material.bag_kg,
        by_machine=tables().ground.kinds[job.plot.kind].family == "field",
        on_bales=job.plot.kind == "bale",
        among_stock=bool(job.plot.livestock),
    )
    return [*material_cautions([material], tables()), *practice_cautions(practice, tables())]
