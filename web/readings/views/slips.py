"""Typing slips: doubting, keeping, changing, taking out."""

from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from web.changes.undo import undoable, undoable_deletion
from web.core import tables
from web.date_format import said
from web.ground.selectors import plots_to_choose
from web.query_params import whole
from web.readings.forms import MEDIA, LineForm, LineFormSet, SlipForm, default_plot, first_lines, further, lines_of_slip, save_slip
from web.readings.models import LabReport, LabResult
from web.readings.past import Past
from web.readings.selectors import labs_of, remembered, slips_of


def new_slip(request):
    holding, medium = request.place.holding, request.GET.get("medium", "soil")
    if medium not in MEDIA:
        raise Http404
    plots = plots_to_choose(holding)
    plot = default_plot(plots, request.GET.get("plot"))
    if medium in ("soil", "leaf") and plot is None:
        return redirect("start")
    if medium == "water" and not holding.waters.exists():
        return redirect("ground:waters")
    if request.method == "POST":
        return _take(request, LabReport(medium=medium), plots)
    first = {"plot": plot, "water": request.GET.get("water"), "taken_on": timezone.localdate(), "lab": request.GET.get("lab", "")}
    head = SlipForm(holding=holding, plots=plots, medium=medium, initial=first)
    return _show(request, head, LineFormSet(initial=first_lines(remembered(holding, "", medium), medium=medium), prefix="lines"), None)


def edit_slip(request, pk: int):
    slip = get_object_or_404(slips_of(request.place.holding), pk=pk)
    plots = plots_to_choose(request.place.holding)
    if request.method == "POST":
        return _take(request, slip, plots)
    head = SlipForm(instance=slip, holding=request.place.holding, plots=plots, medium=slip.medium)
    return _show(request, head, LineFormSet(initial=lines_of_slip(slip), prefix="lines"), slip)


def _take(request, slip: LabReport, plots):
    """Keeps a slip that is sound and undoubted; else shows it again with everything that was typed."""
    data = _with_corrections(request.POST, slip.medium)
    head = SlipForm(data, instance=slip, holding=request.place.holding, plots=plots, medium=slip.medium)
    lines = LineFormSet(data, prefix="lines")
    is_head_sound = head.is_valid()
    if is_head_sound and slip.medium == LabReport.Medium.SOIL:
        lines.past = Past(head.cleaned_data["plot"], head.cleaned_data["taken_on"], leave_out=slip.pk)
    sound = lines.is_valid() and is_head_sound
    asked = {"add", "fix"} & {name.split("-")[0] for name in request.POST}
    if asked or not sound or lines.open_doubts:
        return _show(request, head, lines, slip if slip.pk else None)
    old_lines = list(slip.lines.all()) if slip.pk else []
    said = f"Readings of {head.instance.about} were {'changed' if slip.pk else 'kept'}"
    with undoable(request, said, *([slip] if slip.pk else []), *old_lines) as touched:
        kept, stored = save_slip(head, lines)
        touched += [kept, *stored]
    return redirect("planning:bench", kept.plot_id) if kept.medium == LabReport.Medium.SOIL else redirect("slip_page", kept.pk)


def _with_corrections(posted, medium: str):
    """What was typed, with the one-tap unit or value of a doubt or a further line put in where a button asked for it."""
    data = posted.copy()
    for name in posted:
        if name.startswith("fix-"):
            field, value = ("typed", posted[name][1:]) if posted[name].startswith("=") else ("unit", posted[name])
            data[f"lines-{name.removeprefix('fix-')}-{field}"] = value
    if "add" in posted and posted.get("further") in further(medium):
        place = whole(data.get("lines-TOTAL_FORMS"), low=0, high=LineFormSet.max_num, usual=0)
        for field, value in first_lines({}, [posted["further"]])[0].items():
            data[f"lines-{place}-{field}"] = value
        data["lines-TOTAL_FORMS"] = str(place + 1)
    return data


def _show(request, head, lines, slip):
    status = 422 if request.method == "POST" and not {"add", "fix"} & {name.split("-")[0] for name in request.POST} else 200
    medium = head.instance.medium
    context = {
        "head": head,
        "lines": lines,
        "slip": slip,
        "medium": medium,
        "further": [tables().analytes[key] for key in further(medium)],
        "labs": labs_of(request.place.holding),
        "kept": [line for line in slip.lines.all() if line.kind == LabResult.Kind.KEPT] if slip else [],
    }
    return render(request, "readings/slip_form.html", context, status=status)


@require_POST
def check_line(request, place: int):
    """What one line says, as soon as it is left; the place is its number in the ledger."""
    form = LineForm(request.POST, prefix=f"lines-{place}")
    form.is_valid()
    return render(request, "readings/_line_says.html", {"form": form, "place": place})


@require_POST
def lines_for_lab(request):
    """The ledger's lines again with this laboratory's units and methods; what was typed stays."""
    memory = remembered(request.place.holding, request.POST.get("lab", "").strip())
    data = request.POST.copy()
    for place in range(whole(data.get("lines-TOTAL_FORMS"), low=0, high=60, usual=0)):
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
        with undoable_deletion(request, f"Readings of {slip.about} from {said(slip.taken_on)} were deleted", slip):
            slip.delete()
        return redirect("readings:slips")
    return render(request, "readings/delete_slip.html", {"slip": slip})


@require_POST
def fix_line(request, pk: int, line_pk: int):
    """The one-tap answer to a stored line's doubt: another unit, or "it is right as written"."""
    slip = get_object_or_404(slips_of(request.place.holding), pk=pk)
    line = get_object_or_404(slip.lines, pk=line_pk)
    unit = request.POST.get("unit", "")
    allowed = tables().analytes[line.analyte].units if line.analyte in tables().analytes else []
    if unit and unit not in allowed:
        raise Http404
    with undoable(request, f"{line.analyte} of {slip.about}: {f'the unit is {unit}' if unit else 'right as written'}", line):
        if unit:
            line.unit, line.doubt = unit, ""
        else:
            line.settled = True
        line.save()
    return redirect("slip_page", pk)
