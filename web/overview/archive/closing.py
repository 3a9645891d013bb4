"""Closing a holding for good: all that its archive holds, and what hangs on it, goes."""

from django.contrib import messages
from django.db import transaction
from django.shortcuts import redirect, render

from web.ground.models import Plot
from web.overview.archive.contents import TABLES
from web.people.account import ByPasswordForm
from web.people.models import Holding


@transaction.atomic
def close_holding(holding: Holding) -> None:
    """Takes a holding away with all that is its own. Rows that keep their plot from going are taken first."""
    for table in reversed(TABLES):
        if table.model is not Plot:
            rows = table.model._base_manager.filter(pk__in=table.rows(holding).values("pk"))
            rows._raw_delete(rows.db)
    Plot.everything.filter(holding=holding).update(parent=None, became=None)
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
