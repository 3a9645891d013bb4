"""The list of recent changes, and undo."""

from django.contrib import messages
from django.core.exceptions import PermissionDenied
from django.core.paginator import Paginator
from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST

from web.changes.models import Change
from web.changes.undo import CannotUndo, may_undo, undo


def _reached(request):
    """The holding's changes; a worker reaches only what they did themselves."""
    found = Change.objects.filter(holding=request.place.holding)
    return found.filter(user=request.user) if request.place.role == "worker" else found


def recent(request):
    changes = _reached(request).select_related("user").defer("before", "after")
    page = Paginator(changes, 50).get_page(request.GET.get("page"))
    for change in page:
        change.may_be_undone = may_undo(request, change)
    return render(request, "changes/recent.html", {"page": page})


@require_POST
def undo_change(request, pk: int):
    change = get_object_or_404(_reached(request), pk=pk)
    if not may_undo(request, change):
        role = request.place.membership.get_role_display()
        raise PermissionDenied(f"as {role} you may not undo “{change.label}”; ask the owner of {request.place.holding}")
    if change.undone_at:
        messages.info(request, "That was undone before.")
        return redirect("changes:recent")
    if change.undo_address:
        return HttpResponseRedirect(change.undo_address, status=307)  # 307 keeps the method, so that the other page is posted to
    try:
        undo(change)
    except CannotUndo as error:
        messages.error(request, f"“{change.label}” can't be undone: {error.why}. Nothing was lost; change it by hand.")
    else:
        messages.success(request, f"Undone: {change.label}")
    asked = request.POST.get("next", "")
    return redirect(asked if url_has_allowed_host_and_scheme(asked, allowed_hosts=None) and asked.startswith("/") else "changes:recent")
