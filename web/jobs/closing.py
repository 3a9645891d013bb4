"""Closing a job by what was done."""

from web.jobs.models import Job
from web.records.models import LogEntry
from web.records.writing import write
from web.supplies.models import StockLot


def close(job: Job, entry: LogEntry, lot: StockLot | None) -> list:
    """Writes the entry down, beside what was planned, and closes its job. All rows that were touched come back."""
    job.state = Job.State.DONE
    job.save()
    entry.job, entry.planned_kg, entry.what = job, job.kg, job.what
    return [*write(entry, lot), job]
