"""A job and an entry of the log as pages and sheets tell them."""

from datetime import date

from agronomy.base import showing
from agronomy.ledger.totals import beside_plan
from agronomy.plan.cautions import Practice, material_cautions, practice_cautions
from web.core import tables
from web.jobs.models import Job
from web.jobs.weather import Days
from web.planning.models import LogEntry
from web.planning.words import between


def told(job: Job, place, today: date, days: Days | None) -> dict:
    """A job for a list, a page or a sheet; which days serve is told only where the days ahead are given."""
    return {
        "pk": job.pk,
        "name": job.name,
        "plot": job.plot,
        "weight": showing.mass(job.kg, place.units, 3) if job.material else "",
        "when": between(job.from_day, job.to_day, today),
        "placement": job.placement,
        "person": job.person,
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


def told_entry(entry: LogEntry, place) -> dict:
    """An entry of the log beside what was planned, and what it was first written as where it corrects another."""
    found = {
        "pk": entry.pk,
        "name": entry.name,
        "plot": entry.plot,
        "weight": showing.mass(entry.kg, place.units, 3),
        "on": entry.done_on,
        "by": entry.by,
        "weather": entry.weather,
        "note": entry.note,
        "photo": entry.photo_id,
        "beside": "",
        "before": "",
    }
    share = beside_plan(entry.kg, entry.planned_kg, tables())
    if share is not None:
        planned = showing.mass(entry.planned_kg, place.units, 3)
        found["beside"] = (
            f"{abs(share) * 100:.0f} % {'more' if share > 0 else 'less'} than the {planned} planned" if share else "as planned"
        )
    if entry.corrects:
        found["before"] = f"{showing.mass(entry.corrects.kg, place.units, 3)} on {entry.corrects.done_on:%-d %b %Y}"
    return found
