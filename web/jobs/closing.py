"""Closing a job by what was done: one service for the page and for programs."""

from django.db import transaction

from web.changes.undo import undoable
from web.jobs.models import Job
from web.people.holding_lock import hold
from web.records.forms import DoneForm
from web.records.models import LogEntry
from web.records.photos import keep_photo
from web.records.writing import write


class DoneAlready(Exception):
    """Somebody else closed the job in the meantime."""


def close(request, job: Job, form: DoneForm) -> LogEntry:
    """Writes down what a valid form says, beside what was planned, and closes its job.

    The job is looked at once more under the lock of its holding. Raises DoneAlready, and then nothing was written.
    """
    with transaction.atomic():
        hold(job.holding_id)
        job.refresh_from_db()
        if job.state == Job.State.DONE:
            raise DoneAlready(f"This job is {job.get_state_display()} already.")
        data = form.cleaned_data
        lot = form.lots.get(data["lot"])
        entry = LogEntry(holding=job.holding, plot=job.plot, material=job.material, name=job.name, way=job.way, by=request.user)
        entry.kg, entry.done_on, entry.weather, entry.note = data["amount"], data["done_on"], data["weather"], data["note"]
        entry.sent_as, entry.job, entry.planned_kg, entry.what = data["sent_as"], job, job.kg, job.what
        entry.photo = keep_photo(job.holding, data["photo"]) if data["photo"] else None
        sender = f", sent by {request.auth.name}" if getattr(request, "is_api", False) else ""
        with undoable(request, f"{job.name} on {job.plot.name} was done{sender}", job, *([lot] if lot else [])) as touched:
            job.state = Job.State.DONE
            job.save()
            touched[:] = [*write(entry, lot), job]
    return entry
