"""The jobs page, doing a job, and the day's sheet."""

from urllib.parse import urlencode

from django.contrib.auth.decorators import login_not_required
from django.contrib.staticfiles import finders
from django.http import FileResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.schedule.usual_days import TodayIs
from web.changes.undo import undoable
from web.drawing.labels import qr_path
from web.jobs.breaking import breaches_of, stock_off
from web.jobs.closing import DoneAlready, close
from web.jobs.job_presenter import cautions_of, told
from web.jobs.models import Job
from web.jobs.selectors import jobs_of, open_for, open_jobs
from web.jobs.weather import days_of, service_name
from web.query_params import key_of, uuid_of
from web.records.forms import DoneForm
from web.records.models import LogEntry
from web.records.selectors import log_of

GROUPS = {"overdue": "Should have been done", "now": "Now", "week": "This week", "later": "Later"}


def jobs(request):
    """Open jobs by when they fall; by plot, material or person where asked."""
    place, today = request.place, timezone.localdate()
    query = {name: request.GET.get(name, "") for name in ("plot", "material", "person")}
    plot, person = key_of(query["plot"]), key_of(query["person"])
    groups, page = open_jobs(place.holding, today, plot=plot, material=query["material"], person=person, page=request.GET.get("page"))
    days = days_of(place.holding, today, today_is(request))
    told_groups = [
        (GROUPS[key], key, [told(job, place, today, days if key in ("overdue", "now", "week") else None) for job in found])
        for key, found in groups.items()
        if found
    ]
    people = list(place.holding.members.all())
    plots, materials = open_for(place.holding)
    context = {
        "groups": told_groups,
        "query": query,
        "plots": plots,
        "materials": materials,
        "people": people if len(people) > 1 else [],
        "weather": days.forecast if days else None,
        "foretold_by": service_name(),
        "told_today": today_is(request) != TodayIs(),
        "asks_today": [(*asked, getattr(today_is(request), asked[0])) for asked in ASKS_TODAY],
        "mine": person == request.user.pk,
        "page": page,
        "further": urlencode({name: value for name, value in query.items() if value}),
    }
    return render(request, "jobs/jobs.html", context)


ASKS_TODAY = (
    ("ground", "The ground", (("", "as usual"), ("dry", "dry"), ("soaked", "soaked"), ("frozen", "frozen"))),
    ("wind", "The wind", (("", "as usual"), ("calm", "calm"), ("windy", "windy"))),
    ("rain", "Rain by tomorrow", (("", "not known"), ("none", "none"), ("much", "much"))),
)


def today_is(request) -> TodayIs:
    """What this person said of today; it holds for the day and the session."""
    told = request.session.get("today_is") or {}
    return TodayIs(**told["is"]) if told.get("day") == timezone.localdate().isoformat() else TodayIs()


@require_POST
def say_today(request):
    """Keeps what today is like, so that the days are judged by it."""
    said = {name: request.POST.get(name, "") for name, _, choices in ASKS_TODAY if request.POST.get(name, "") in dict(choices)}
    request.session["today_is"] = {"day": timezone.localdate().isoformat(), "is": said}
    return redirect("jobs:jobs")


def job(request, pk: int):
    """One job: what, why, caution, and a large form for what was really done."""
    found, place, today = get_object_or_404(jobs_of(request.place.holding), pk=pk), request.place, timezone.localdate()
    sent_as = uuid_of(request.POST.get("sent_as"))
    if sent_as and LogEntry.objects.filter(holding=place.holding, sent_as=sent_as).exists():
        return _written(request)  # a phone that sent twice: it is written once
    days = days_of(place.holding, today, today_is(request))
    form = DoneForm(
        request.POST or None,
        request.FILES or None,
        holding=place.holding,
        material=found.material,
        units=place.units,
        kg=found.kg,
    )
    if request.method == "POST" and form.is_valid():
        try:
            close(request, found, form)
            return _written(request)
        except DoneAlready as error:
            form.add_error(None, str(error))
    context = {
        "job": found,
        "told": told(found, place, today, days),
        "cautions": cautions_of(found),
        "form": form,
        "entries": log_of(place.holding).filter(job=found),
        "breaches": breaches_of(found, max(today, found.from_day)),
        "stock_off": stock_off(found, today),
    }
    return render(request, "jobs/job.html", context, status=422 if form.errors else 200)


def _written(request):
    return JsonResponse({"written": True}) if request.headers.get("Accept") == "application/json" else redirect("jobs:jobs")


@require_POST
def drop_job(request, pk: int):
    found = get_object_or_404(jobs_of(request.place.holding), pk=pk, state=Job.State.OPEN)
    with undoable(request, f"{found.name} on {found.plot.name} was skipped", found):
        found.state = Job.State.DROPPED
        found.save()
    return redirect("jobs:jobs")


@require_POST
def assign(request, pk: int):
    """Gives a job to somebody of the holding, or to nobody."""
    found = get_object_or_404(jobs_of(request.place.holding), pk=pk)
    person = request.place.holding.members.filter(pk=key_of(request.POST.get("person"))).first()
    with undoable(request, f"{found.name} on {found.plot.name}: {person or 'anyone'}", found):
        found.person = person
        found.save()
    return redirect("jobs:job", pk)


def day_sheet(request):
    """Open jobs of one day, or of one plot, as a sheet to print."""
    place, today = request.place, timezone.localdate()
    plot = request.GET.get("plot", "")
    groups, _ = open_jobs(place.holding, today, plot=key_of(plot))
    wanted = [job for key in (GROUPS if plot else ("overdue", "now")) for job in groups[key]]
    rows = [told(job, place, today, None) for job in wanted]
    for row in rows:
        row["qr"], row["qr_side"] = qr_path(request.build_absolute_uri(reverse("jobs:job", args=[row["pk"]])))
    cautions = list(dict.fromkeys(text for job in wanted for text in cautions_of(job)))
    of = wanted[0].plot.name if plot and wanted else ""
    return render(request, "jobs/sheet.html", {"rows": rows, "today": today, "cautions": cautions, "of": of})


@login_not_required
def worker(request):
    """The script that keeps pages of jobs on the device; it must be served from where it works."""
    path = finders.find("js/jobs-worker.js")
    return FileResponse(open(path, "rb"), content_type="text/javascript; charset=utf-8")
