"""The ledger of slips: typing, doubting, keeping, taking out."""

import csv

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from agronomy.reading import read
from web.changes.undo import undoable, undoable_deletion
from web.core import tables
from web.ground.selectors import plots_of
from web.readings.forms import FURTHER, LineForm, LineFormSet, SlipForm, default_plot, first_lines, lines_of_slip, save_slip
from web.readings.models import Slip
from web.readings.selectors import labs_of, remembered, slips_of


def slips(request):
    found = slips_of(request.place.holding)
    plots = plots_of(request.place.holding)
    chosen = request.GET.get("plot", "")
    if chosen.isdecimal():
        found = found.filter(plot=chosen)
    return render(request, "readings/slips.html", {"slips": found, "plots": plots, "chosen": chosen})


def new_slip(request):
    plots = plots_of(request.place.holding)
    plot = default_plot(plots, request.GET.get("plot"))
    if plot is None:
        return redirect("start")
    if request.method == "POST":
        return _take(request, Slip(), plots)
    memory = remembered(request.place.holding, "")
    head = SlipForm(plots=plots, initial={"plot": plot, "taken_on": timezone.localdate(), "lab": request.GET.get("lab", "")})
    return _show(request, head, LineFormSet(initial=first_lines(memory), prefix="lines"), None)


def edit_slip(request, pk: int):
    slip = get_object_or_404(slips_of(request.place.holding), pk=pk)
    plots = plots_of(request.place.holding)
    if request.method == "POST":
        return _take(request, slip, plots)
    return _show(request, SlipForm(instance=slip, plots=plots), LineFormSet(initial=lines_of_slip(slip), prefix="lines"), slip)


def _take(request, slip: Slip, plots):
    """Keeps a slip that is sound and undoubted; else shows it again with everything that was typed."""
    data = _with_corrections(request.POST)
    head, lines = SlipForm(data, instance=slip, plots=plots), LineFormSet(data, prefix="lines")
    sound = head.is_valid() & lines.is_valid()
    asked = {"add", "fix"} & {name.split("-")[0] for name in request.POST}
    if asked or not sound or lines.open_doubts:
        return _show(request, head, lines, slip if slip.pk else None)
    old_lines = list(slip.lines.all()) if slip.pk else []
    said = f"Readings of {head.cleaned_data['plot'].name} were {'changed' if slip.pk else 'kept'}"
    with undoable(request, said, *([slip] if slip.pk else []), *old_lines) as touched:
        kept, stored = save_slip(head, lines)
        touched[:] = [kept, *stored]
    return redirect("planning:bench", kept.plot_id)


def _with_corrections(posted):
    """What was typed, with the one-tap unit of a doubt or a further line put in where a button asked for it."""
    data = posted.copy()
    for name in posted:
        if name.startswith("fix-"):
            data[f"lines-{name.removeprefix('fix-')}-unit"] = posted[name]
    if "add" in posted and posted.get("further") in FURTHER:
        place = int(data.get("lines-TOTAL_FORMS") or 0)
        for field, value in first_lines({}, [posted["further"]])[0].items():
            data[f"lines-{place}-{field}"] = value
        data["lines-TOTAL_FORMS"] = str(place + 1)
    return data


def _show(request, head, lines, slip):
    status = 422 if request.method == "POST" and not {"add", "fix"} & {name.split("-")[0] for name in request.POST} else 200
    context = {"head": head, "lines": lines, "slip": slip, "further": [tables().analytes[key] for key in FURTHER], "labs": labs_of(request.place.holding)}
    return render(request, "readings/slip_form.html", context, status=status)


@require_POST
def check_line(request, place: int):
    """One line, checked as it is left: doubts and errors beside it, nothing stored."""
    form = LineForm(request.POST, prefix=f"lines-{place}")
    form.is_valid()
    return render(request, "readings/_line_says.html", {"form": form, "place": place})


@require_POST
def lines_for_lab(request):
    """The ledger's lines again with this laboratory's units and methods; what was typed stays."""
    memory = remembered(request.place.holding, request.POST.get("lab", "").strip())
    data = request.POST.copy()
    for place in range(min(60, int(data.get("lines-TOTAL_FORMS") or 0))):
        analyte = data.get(f"lines-{place}-analyte")
        if analyte in memory and not data.get(f"lines-{place}-typed"):
            unit, method = memory[analyte]
            data[f"lines-{place}-unit"], data[f"lines-{place}-method"] = unit or "pH", method
    lines = LineFormSet(data, prefix="lines")
    lines.is_valid()
    return render(request, "readings/_lines.html", {"lines": lines, "quiet": True})


@require_http_methods(["GET", "POST"])
def delete_slip(request, pk: int):
    slip = get_object_or_404(slips_of(request.place.holding), pk=pk)
    if request.method == "POST":
        with undoable_deletion(request, f"Readings of {slip.plot.name} from {slip.taken_on:%-d %B %Y} were taken out", slip):
            slip.delete()
        return redirect("readings:slips")
    return render(request, "readings/delete_slip.html", {"slip": slip})


def export_csv(request):
    """All readings of the holding as CSV: as typed, and in base units beside."""
    response = HttpResponse(content_type="text/csv; charset=utf-8", headers={"Content-Disposition": 'attachment; filename="readings.csv"'})
    writer = csv.writer(response)
    writer.writerow(["plot", "sampled_on", "laboratory", "measured_with", "analyte", "typed", "unit", "method", "value", "base_unit"])
    for slip in slips_of(request.place.holding):
        for line in slip.lines.all():
            reading = read(line.analyte, line.typed, unit=line.unit, method=line.method or "not stated", how=slip.how, taken=slip.taken_on, tables=tables())
            row = [slip.plot.name, slip.taken_on, slip.lab, slip.how, line.analyte, line.typed, line.unit, line.method, f"{reading.value:.6g}", reading.unit]
            writer.writerow([_harmless(cell) for cell in row])
    return response


def _harmless(cell: object) -> object:
    """A cell that no spreadsheet takes for a formula."""
    return "'" + cell if isinstance(cell, str) and cell[:1] in "=+-@\t\r" and cell else cell
