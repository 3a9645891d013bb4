"""A calendar feed for each person: a private address that can be taken back, and the same as a file."""

import secrets
from datetime import timedelta

from django.contrib.auth.decorators import login_not_required
from django.db.models import Q
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from web.jobs.calendar import calendar_of
from web.jobs.models import CalendarFeed, Job
from web.jobs.selectors import jobs_of
from web.people.tokens import digest

KEPT_FOR = timedelta(days=400)


def _jobs_for(holding, person):
    """What concerns a person: jobs given to them, and those given to nobody; dropped ones too, so that calendars strike them out."""
    since = timezone.localdate() - KEPT_FOR
    return jobs_of(holding).filter(Q(person=person) | Q(person=None), to_day__gte=since)


def _answer(content: bytes, name: str = "") -> HttpResponse:
    headers = {"Cache-Control": "private, max-age=900", "Referrer-Policy": "no-referrer"}
    if name:
        headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return HttpResponse(content, content_type="text/calendar; charset=utf-8", headers=headers)


def calendar_page(request):
    """Where the feed is made, renewed and taken back; the address is shown once, when it is made."""
    feed = CalendarFeed.objects.filter(holding=request.place.holding, person=request.user).first()
    address = request.session.pop("feed_address", "")
    return render(request, "jobs/calendar.html", {"feed": feed, "address": address})


@require_POST
def make_feed(request):
    """A new private address; the one before it stops at once."""
    token = secrets.token_urlsafe(32)
    CalendarFeed.objects.update_or_create(
        holding=request.place.holding,
        person=request.user,
        defaults={"token_sha256": digest(token), "made_at": timezone.now(), "read_at": None},
    )
    request.session["feed_address"] = request.build_absolute_uri(reverse("jobs:feed", args=[token]))
    return redirect("jobs:calendar")


@require_POST
def revoke_feed(request):
    CalendarFeed.objects.filter(holding=request.place.holding, person=request.user).delete()
    return redirect("jobs:calendar")


@login_not_required
def feed(request, token: str):
    """The feed itself, for a calendar program that knows the address; nobody is signed in by it."""
    found = CalendarFeed.objects.select_related("holding", "person").filter(token_sha256=digest(token)).first()
    if found is None or not found.holding.members.filter(pk=found.person_id).exists():
        raise Http404
    CalendarFeed.objects.filter(pk=found.pk).update(read_at=timezone.now())
    return _answer(calendar_of(_jobs_for(found.holding, found.person), f"{found.holding.name}: jobs", found.holding.units))


def calendar_file(request):
    content = calendar_of(
        _jobs_for(request.place.holding, request.user).exclude(state=Job.State.DROPPED),
        f"{request.place.holding.name}: jobs",
        request.place.units,
    )
    return _answer(content, "jobs.ics")
