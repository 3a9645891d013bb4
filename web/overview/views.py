"""Pages that see the whole holding: the first page, the first plan, the ground, and the sources of every rule."""

from dataclasses import dataclass
from datetime import date

from django.contrib.auth.decorators import login_not_required
from django.db import transaction
from django.shortcuts import redirect, render
from django.utils import timezone

from agronomy import showing
from agronomy.errors import RequestError
from agronomy.schedule.windows import is_too_old
from web.changes.undo import undoable
from web.core import tables
from web.drawing.rake import SmallRake, small_rake
from web.ground.forms import PlotForm
from web.ground.models import Plot
from web.ground.selectors import plots_of
from web.overview.forms import FirstSlipForm
from web.planning import words
from web.planning.service import crop_of, lines_by_plot, plan_for, reader_of
from web.readings.forms import LineFormSet, first_lines, save_slip


@login_not_required
def home(request):
    if not request.user.is_authenticated:
        return render(request, "overview/welcome.html")
    return redirect("ground_page" if plots_of(request.place.holding).exists() else "start")


def start(request):
    """A newcomer's first plan from one page: one plot, one crop, one slip."""
    data = request.POST or None
    plot_form = PlotForm(data, holding=request.place.holding, units=request.place.units)
    head = FirstSlipForm(data, initial={"taken_on": timezone.localdate()})
    lines = LineFormSet(data, prefix="lines", initial=first_lines({}, ["pH", "buffer pH", "P", "K", "Mg", "OM"]))
    if request.method == "POST":
        sound = plot_form.is_valid() & head.is_valid() & lines.is_valid()
        if sound and not lines.open_doubts:
            return redirect("planning:bench", _keep_first(request, plot_form, head, lines).pk)
    status = 422 if request.method == "POST" else 200
    return render(request, "overview/start.html", {"plot_form": plot_form, "head": head, "lines": lines}, status=status)


@transaction.atomic
def _keep_first(request, plot_form: PlotForm, head: FirstSlipForm, lines) -> Plot:
    with undoable(request, f"{plot_form.cleaned_data['name']} and its first readings were kept") as touched:
        plot, planting = plot_form.save()
        head.instance.plot = plot
        slip, stored = save_slip(head, lines)
        touched += [plot, planting, slip, *stored]
    return plot


@dataclass(frozen=True, slots=True)
class PlotLine:
    """One plot on the ground page."""

    plot: Plot
    area: str
    crop: str
    rake: SmallRake | None
    asks: str
    state: str  # asks, rests, old, untested
    last: date | None


def ground(request):
    plots = list(plots_of(request.place.holding).select_related("holding"))
    wanted = request.GET.get("q", "").strip().lower()
    shown = [plot for plot in plots if wanted in plot.name.lower()] if wanted else plots
    lines = lines_by_plot(shown)
    rows = [_plot_line(request, plot, lines[plot.pk]) for plot in shown]
    groups = {state: [row for row in rows if row.state == state] for state in ("asks", "old", "untested", "rests")}
    context = {
        "groups": groups,
        "count": len(plots),
        "total": showing.area(sum(plot.area_m2 for plot in plots), request.place.units) if plots else "",
        "q": request.GET.get("q", ""),
    }
    return render(request, "overview/ground.html", context)


def _plot_line(request, plot: Plot, lines: list) -> PlotLine:
    today, crop = timezone.localdate(), crop_of(plot)
    area = showing.area(plot.area_m2, request.place.units)
    last = max((line.slip.taken_on for line in lines), default=None)
    if crop is None or not lines:
        return PlotLine(plot, area, crop.name if crop else "", None, "type in a slip to see what it asks for", "untested", last)
    try:
        plan = plan_for(plot, lines, today=today, units=request.place.units)
    except RequestError:
        return PlotLine(plot, area, crop.name, None, "a reading needs your attention", "asks", last)
    asks = words.asks(plan, today, reader_of(request.place, plot.area_m2), tables())
    mark = small_rake(list(plan.findings))
    if is_too_old(last, today, tables()):
        return PlotLine(plot, area, crop.name, mark, f"the last test is from {last:%B %Y}: test again", "old", last)
    return PlotLine(plot, area, crop.name, mark, asks or "nothing needed", "asks" if asks else "rests", last)


@login_not_required
def sources(request):
    return render(request, "overview/sources.html", {"sources": tables().sources.values()})


@login_not_required
def keys(request):
    return render(request, "overview/keys.html")
