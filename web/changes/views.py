"""The list of recent changes, and undo."""

from django.contrib import messages
from django.core.paginator import Paginator
from django.db import IntegrityError
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from web.changes.models import Change
from web.changes.undo import ChangedSince, undo


def recent(request):
    changes = Change.objects.filter(holding=request.place.holding).select_related("user").defer("before", "after")
    page = Paginator(changes, 50).get_page(request.GET.get("page"))
    return render(request, "changes/recent.html", {"page": page})


@require_POST
def undo_change(request, pk: int):
    change = get_object_or_404(Change, pk=pk, holding=request.place.holding)
    if change.undone_at:
        messages.info(request, "That was undone before.")
        return redirect("changes:recent")
    try:
        undo(change)
    except (ChangedSince, IntegrityError):
        messages.error(request, f"“{change.label}” can't be undone: it has been changed again since. Nothing was lost; change it by hand.")
    else:
        messages.success(request, f"Undone: {change.label}")
    return redirect("changes:recent")
