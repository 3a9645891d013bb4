"""Closing a holding for good, with all that it has: records first, because nothing else may take them along."""

from django.contrib import messages
from django.db import transaction
from django.shortcuts import redirect, render

from web.jobs.models import Job
from web.people.account import ByPasswordForm
from web.people.models import Holding
from web.planning.models import AdoptedPlan
from web.readings.models import KitRun, LabReport, MeterSession
from web.records.models import LogEntry, Sighting
from web.sampling.models import Sample

RECORDS = (
    (LogEntry, "holding"),
    (Sighting, "holding"),
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


def close_this_holding(request):
    """Closes the holding one works on, for all its people; its archive is offered first."""
    form = ByPasswordForm(request.user, request.POST or None)
    if request.method == "POST" and form.is_valid():
        name = request.place.holding.name
        close_holding(request.place.holding)
        messages.success(request, f"{name} is closed, and nothing of it is kept here.")
        return redirect("people:account")
    return render(request, "people/close_holding.html", {"form": form}, status=422 if form.errors else 200)
