"""Jobs as a calendar: one event each, known by the job's own identifier, so that a calendar moves it when its days move and never doubles
it.
"""

from collections.abc import Iterable
from datetime import UTC, timedelta

import icalendar

from agronomy.base import showing
from web.jobs.job_presenter import cautions_of
from web.jobs.models import Job

DOMAIN = "iron-rake.invalid"
STATES = {Job.State.OPEN: "TENTATIVE", Job.State.DONE: "CONFIRMED", Job.State.DROPPED: "CANCELLED"}


def calendar_of(jobs: Iterable[Job], name: str, units: str) -> bytes:
    """The calendar as bytes (RFC 5545), all-day events over each job's window."""
    made = icalendar.Calendar()
    made.add("prodid", "-//Iron Rake//jobs//EN")
    made.add("version", "2.0")
    made.add("x-wr-calname", name)
    for job in jobs:
        made.add_component(_event(job, units))
    return made.to_ical()


def _event(job: Job, units: str) -> icalendar.Event:
    event = icalendar.Event()
    event.add("uid", f"{job.uid}@{DOMAIN}")
    done = "Done: " if job.state == Job.State.DONE else ""
    event.add("summary", f"{done}{showing.dose(job.kg, units, job.plot.area_m2)} {job.name}, {job.plot.name}".replace("\u202f", " "))
    event.add("dtstart", job.from_day)
    event.add("dtend", job.to_day + timedelta(days=1))  # the end of an all-day event is the day after
    stamp = job.changed_at.astimezone(UTC).replace(microsecond=0)
    event.add("dtstamp", stamp)
    event.add("last-modified", stamp)
    event.add("sequence", job.revision)
    event.add("status", STATES[job.state])
    event.add("location", job.plot.name)
    event.add("description", _description(job, units))
    event.add("transp", "TRANSPARENT")
    return event


def _description(job: Job, units: str) -> str:
    placement, why = job.sentence("placement", units), job.sentence("why", units)
    return "\n".join([f"{placement}." if placement else "", why, *cautions_of(job)]).strip()
