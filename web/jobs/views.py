"""The jobs page, doing a job, the log and its corrections, totals by plot and year, and the day's sheet."""

from urllib.parse import urlencode

from django.contrib.auth.decorators import login_not_required
from django.contrib.staticfiles import finders
from django.http import FileResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base import showing
from agronomy.ledger.totals import LoggedApplication, YearTotal, totals
from agronomy.tables.material import P_IN_P2O5
from web.changes.undo import undoable
from web.core import tables
from web.drawing.labels import qr_path
from web.jobs.breaking import breaches_of, stock_off
from web.jobs.forms import DoneForm, FreeForm
from web.jobs.models import Job
from web.jobs.photos import keep_photo
from web.jobs.selectors import jobs_of, log_of, open_for, open_jobs
from web.jobs.told import cautions_of, told, told_entry
from web.jobs.weather import days_of, weather_now
from web.jobs.writing import give_back, write
from web.planning.models import LogEntry, StockLot
from web.planning.words import nutrient_in

GROUPS = {"overdue": "Should have been done", "now": "Now", "week": "This week", "later": "Later"}
MOST_ENTRIES = 200


def jobs(request):
    """Open jobs by when they fall; by plot, material or person where asked."""
    place, today = request.place, timezone.localdate()
    query = {name: request.GET.get(name, "") for name in ("plot", "material", "person")}
    plot, person = (int(query[name]) if query[name].isascii() and query[name].isdigit() else None for name in ("plot", "person"))
    groups, page = open_jobs(place.holding, today, plot=plot, material=query["material"], person=person, page=request.GET.get("page"))
    days = days_of(place.holding, today)
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
        "mine": person == request.user.pk,
        "page": page,
        "further": urlencode({name: value for name, value in query.items() if value}),
    }
    return render(request, "jobs/jobs.html", context)


def job(request, pk: int):
    """One job: what, why, caution, and a large form for what was really done."""
    found, place, today = get_object_or_404(jobs_of(request.place.holding), pk=pk), request.place, timezone.localdate()
    sent_as = request.POST.get("sent_as") or None
    if sent_as and LogEntry.objects.filter(holding=place.holding, sent_as=sent_as).exists():
        return _written(request)  # a phone that sent twice: it is written once
    days = days_of(place.holding, today)
    usual = {"weather": weather_now(days.forecast if days else None)}
    form = DoneForm(
        request.POST or None,
        request.FILES or None,
        holding=place.holding,
        material=found.material,
        units=place.units,
        kg=found.kg,
        initial=usual,
    )
    if request.method == "POST" and form.is_valid() and found.state != Job.State.DONE:
        data = form.cleaned_data
        lot = form.lots.get(data["lot"])
        entry = LogEntry(
            holding=place.holding,
            plot=found.plot,
            material=found.material,
            name=found.name,
            kg=data["amount"],
            done_on=data["done_on"],
            weather=data["weather"],
            note=data["note"],
            way=found.way,
            by=request.user,
            sent_as=data["sent_as"],
        )
        entry.photo = keep_photo(place.holding, data["photo"]) if data["photo"] else None
        with undoable(request, f"{found.name} on {found.plot.name} was done", found, *([lot] if lot else [])) as touched:
            touched[:] = write(entry, lot, found)
        return _written(request)
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
    with undoable(request, f"{found.name} on {found.plot.name} is not to be done", found):
        found.state = Job.State.DROPPED
        found.save()
    return redirect("jobs:jobs")


@require_POST
def assign(request, pk: int):
    """Gives a job to somebody of the holding, or to nobody."""
    found = get_object_or_404(jobs_of(request.place.holding), pk=pk)
    person = request.place.holding.members.filter(pk=request.POST.get("person") or 0).first()
    with undoable(request, f"{found.name} on {found.plot.name}: {person or 'nobody in particular'}", found):
        found.person = person
        found.save()
    return redirect("jobs:job", pk)


def log(request):
    """What was done, newest first, and a form for what no plan asked for."""
    place = request.place
    form = FreeForm(request.POST or None, request.FILES or None, holding=place.holding, units=place.units)
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        lot = form.lots.get(data["lot"])
        entry = LogEntry(
            holding=place.holding,
            plot=data["plot"],
            material=data["material"],
            name=tables().materials[data["material"]].name,
            kg=data["amount"],
            done_on=data["done_on"],
            weather=data["weather"],
            note=data["note"],
            way=data["way"],
            by=request.user,
        )
        entry.photo = keep_photo(place.holding, data["photo"]) if data["photo"] else None
        with undoable(request, f"{entry.name} on {entry.plot.name} was written down", *([lot] if lot else [])) as touched:
            touched[:] = write(entry, lot, None)
        return redirect("jobs:log")
    entries = [told_entry(entry, place) for entry in log_of(place.holding)[:MOST_ENTRIES]]
    return render(request, "jobs/log.html", {"entries": entries, "form": form}, status=422 if form.errors else 200)


def correct(request, pk: int):
    """A correction: a new entry that stands in the place of the first, which is kept."""
    old = get_object_or_404(log_of(request.place.holding), pk=pk)
    place = request.place
    first = {
        "amount": showing.mass(old.kg, place.units, 4).replace("\u202f", ""),
        "done_on": old.done_on,
        "lot": str(old.lot_id or ""),
        "weather": old.weather,
        "note": old.note,
    }
    form = DoneForm(
        request.POST or None, request.FILES or None, holding=place.holding, material=old.material, units=place.units, initial=first
    )
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        lots = StockLot.objects.filter(holding=place.holding, pk__in=[pk for pk in (old.lot_id, data["lot"] or None) if pk])
        entry = LogEntry(
            holding=place.holding,
            plot=old.plot,
            material=old.material,
            name=old.name,
            what=old.what,
            kg=data["amount"],
            done_on=data["done_on"],
            weather=data["weather"],
            note=data["note"],
            way=old.way,
            by=request.user,
            corrects=old,
            job=old.job,
            planned_kg=old.planned_kg,
        )
        entry.photo = keep_photo(place.holding, data["photo"]) if data["photo"] else old.photo
        with undoable(request, f"{old.name} on {old.plot.name} was corrected", old, *lots) as touched:
            given = give_back(old)
            old.stands = False
            old.save()
            lot = place.holding.stock_lots.filter(pk=data["lot"]).first() if data["lot"] else None
            rows = write(entry, lot, None)
            touched[:] = list({(type(row), row.pk): row for row in (old, *given, *rows)}.values())
        return redirect("jobs:log")
    return render(
        request, "jobs/correct.html", {"entry": old, "told": told_entry(old, place), "form": form}, status=422 if form.errors else 200
    )


def year_totals(request):
    """What each plot really got, year by year, beside the caps."""
    place = request.place
    holding = place.holding
    entries = list(log_of(holding))
    applied = [
        LoggedApplication(entry.plot.told_name, entry.done_on, entry.material, entry.kg, entry.price_per_kg or 0.0) for entry in entries
    ]
    areas = {entry.plot.told_name: entry.plot.area_m2 for entry in entries}
    caps = {"N": holding.cap_n_kg_per_ha, "P": holding.cap_p2o5_kg_per_ha and holding.cap_p2o5_kg_per_ha * P_IN_P2O5}
    found = totals(applied, areas, {key: cap for key, cap in caps.items() if cap is not None}, tables())
    return render(request, "jobs/totals.html", {"rows": [_total(item, areas[item.plot], place) for item in found]})


def _total(item: YearTotal, area_m2: float, place) -> dict:
    def rate(kg_per_ha: float) -> str:
        return showing.rate(kg_per_ha, place.units, area_m2)

    given = []
    for key, amount in item.kg_per_ha.items():
        label, shown = nutrient_in(key, amount, place.holding.nutrient_form)
        given.append((label, rate(shown)))
    lime = f"limes like {rate(item.lime)}" if item.lime > 1 else f"uses up {rate(-item.lime)} of lime" if item.lime < -1 else ""
    return {
        "plot": item.plot,
        "year": item.year,
        "given": given,
        "all_n": rate(item.total_n),
        "lime": lime,
        "salt": rate(item.salt) if item.salt >= 1 else "",
        "money": f"{place.holding.currency}{item.money:.2f}",
        "over": ["nitrogen" if key == "N" else "phosphate" for key in item.over],
        "carries": [rate(given) for given in item.carries] if item.carries[0] >= 0.1 else [],
    }


def day_sheet(request):
    """Open jobs of one day, or of one plot, as a sheet to print."""
    place, today = request.place, timezone.localdate()
    plot = request.GET.get("plot", "")
    groups, _ = open_jobs(place.holding, today, plot=int(plot) if plot.isascii() and plot.isdigit() else None)
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
