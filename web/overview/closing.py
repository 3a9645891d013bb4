"""Closing a holding for good, with all that it has."""

from django.apps import apps
from django.contrib import messages
from django.db import transaction
from django.shortcuts import redirect, render

from web.overview.archive.contents import NOT_KEPT
from web.overview.archive.parts import UNSEEN, empty_out
from web.overview.archive.work import delete_closed
from web.people.account import ByPasswordForm
from web.people.models import Holding
from web.readings.models import LabResult
from web.records.models import LogEntry

LARGE = 2000  # readings and entries; deleting more takes longer than others should wait


@transaction.atomic
def close_holding(holding: Holding) -> bool:
    """Deletes a holding whole; what it has is gone for good. Nobody sees a large one any more, and the worker deletes it part by part.

    Whether all of it is gone already.
    """
    for model in map(apps.get_model, NOT_KEPT):
        if any(column.name == "holding" for column in model._meta.fields):
            model._base_manager.filter(holding=holding).delete()
    if LabResult.objects.filter(slip__holding=holding).count() + LogEntry.objects.filter(holding=holding).count() <= LARGE:
        empty_out(holding, pause_s=0)
        return True
    Holding.objects.filter(pk=holding.pk).update(name=UNSEEN)
    delete_closed.enqueue()
    return False


def close_this_holding(request):
    """Closes the holding one works on, for all its people; its archive is offered first."""
    form = ByPasswordForm(request.user, request.POST or None)
    if request.method == "POST" and form.is_valid():
        name = request.place.holding.name
        is_gone = close_holding(request.place.holding)
        left = "nothing of it is kept here" if is_gone else "what it had is being deleted now"
        messages.success(request, f"{name} is closed, and {left}.")
        return redirect("people:account")
    return render(request, "people/close_holding.html", {"form": form}, status=422 if form.errors else 200)
