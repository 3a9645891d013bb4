"""The log: what was done, newest first; writing down what no plan asked for; correcting what was written."""

from django.shortcuts import get_object_or_404, redirect, render

from agronomy.base import showing
from web.changes.undo import undoable
from web.core import tables
from web.records.forms import DoneForm, FreeForm
from web.records.log_presenter import told_entry
from web.records.models import LogEntry
from web.records.photos import keep_photo
from web.records.selectors import log_of
from web.records.writing import give_back, write
from web.supplies.models import StockLot

MOST_ENTRIES = 200


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
        with undoable(request, f"{entry.name} on {entry.plot.name} was added", *([lot] if lot else [])) as touched:
            touched[:] = write(entry, lot)
        return redirect("records:log")
    entries = [told_entry(entry, place) for entry in log_of(place.holding)[:MOST_ENTRIES]]
    return render(request, "records/log.html", {"entries": entries, "form": form}, status=422 if form.errors else 200)


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
            rows = write(entry, lot)
            touched[:] = list({(type(row), row.pk): row for row in (old, *given, *rows)}.values())
        return redirect("records:log")
    return render(
        request, "records/correct.html", {"entry": old, "told": told_entry(old, place), "form": form}, status=422 if form.errors else 200
    )
