"""Taking a holding out of the database, with all that it has: records first, because nothing else may take them along."""

from django.db import transaction

from web.jobs.models import Job
from web.people.models import Holding
from web.planning.models import AdoptedPlan
from web.readings.models import KitRun, LabReport, MeterSession
from web.records.models import LogEntry
from web.sampling.models import Sample

RECORDS = (
    (LogEntry, "holding"),
    (Job, "holding"),
    (AdoptedPlan, "plot__holding"),
    (LabReport, "holding"),
    (KitRun, "holding"),
    (MeterSession, "plot__holding"),
)


@transaction.atomic
def close_holding(holding: Holding) -> None:
    """Deletes a holding whole; what it has is gone for good."""
    LogEntry.objects.filter(holding=holding).update(corrects=None)
    for model, owner in RECORDS:
        model.objects.filter(**{owner: holding}).delete()
    Sample.objects.filter(round__holding=holding).delete()
    plots = holding.plots.model.everything.filter(holding=holding)
    plots.update(parent=None, became=None)
    plots.delete()
    holding.delete()
