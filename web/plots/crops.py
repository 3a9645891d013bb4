"""What grew, grows and will grow on a plot, and the plan of all plots over the years."""

from datetime import date

from django.core.paginator import Paginator
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from agronomy.ground.succession import Stand, new_ground_steps, poor_followers
from web.changes.undo import undoable, undoable_deletion
from web.core import tables
from web.ground.crop_field import planting_name
from web.ground.fields import UNITS, typed
from web.ground.forms import PlantingForm
from web.ground.models import Planting, Plot
from web.ground.selectors import plot_or_404, plots_of
from web.plots.moving import keep_planting


def crops(request, pk: int):
    """A plot's crops, with warnings about poor followers, and the steps of new ground."""
    plot = plot_or_404(request, pk)
    form = PlantingForm(request.POST or None, instance=Planting(plot=plot), units=request.place.units)
    if request.method == "POST" and form.is_valid():
        with undoable(request, f"A crop was added for {plot.name}") as touched:
            touched.append(form.save())
        return redirect("ground:crops", pk)
    plantings = sorted(plot.plantings.all(), key=lambda planting: planting.planted_on or date.max, reverse=True)
    context = {
        "plot": plot,
        "form": form,
        "plantings": [(planting, planting_name(planting), _facts(planting, request.place.units)) for planting in plantings],
        "warnings": poor_followers(_stands(plantings), tables()),
        "steps": _steps(plot),
        "today": timezone.localdate(),
    }
    return render(request, "ground/crops.html", context, status=422 if form.errors else 200)


def _facts(planting: Planting, units: str) -> list[str]:
    """Spacing, yields and note in the reader's units, as far as they are known."""
    names = UNITS[units]
    told = (
        ("{} in the row", planting.spacing_cm, "cm", "spacing"),
        ("rows {} apart", planting.row_width_cm, "cm", "spacing"),
        ("hoped for {}", planting.yield_goal_t_per_ha, "t/ha", "yield"),
        ("got {}", planting.yield_got_t_per_ha, "t/ha", "yield"),
    )
    return [words.format(typed(value, base, names[kind])) for words, value, base, kind in told if value is not None] + (
        [planting.note] if planting.note else []
    )


def _stands(plantings) -> list[Stand]:
    return [Stand(planting.crop, planting.planted_on, planting.ended_on) for planting in plantings if planting.planted_on]


def _steps(plot: Plot) -> list[tuple]:
    """The steps of new ground with the day each was done, where the plot is new ground."""
    if plot.new_ground_since is None:
        return []
    return [(step, plot.new_ground_done.get(step.key)) for step in new_ground_steps(plot.new_ground_since, tables())]


def edit_planting(request, pk: int, planting_pk: int):
    plot = plot_or_404(request, pk)
    planting = get_object_or_404(plot.plantings, pk=planting_pk)
    form = PlantingForm(request.POST or None, instance=planting, units=request.place.units)
    if request.method == "POST" and form.is_valid():
        keep_planting(request, f"A crop of {plot.name} was changed", plot, form, form.save, planting)
        return redirect("ground:crops", pk)
    return render(
        request, "ground/planting_form.html", {"plot": plot, "planting": planting, "form": form}, status=422 if form.errors else 200
    )


@require_POST
def delete_planting(request, pk: int, planting_pk: int):
    planting = get_object_or_404(Planting, pk=planting_pk, plot=pk, plot__holding=request.place.holding)
    with undoable_deletion(request, f"A crop of {planting.plot.name} was deleted", planting):
        planting.delete()
    return redirect("ground:crops", pk)


@require_POST
def new_ground(request, pk: int):
    """Begins new ground, ends it, or ticks one of its steps."""
    plot = plot_or_404(request, pk)
    step = request.POST.get("step")
    known = {row.key for row in tables().ground.new_ground.step}
    with undoable(request, f"New ground at {plot.name} was added", plot):
        if "begin" in request.POST:
            plot.new_ground_since, plot.new_ground_done = timezone.localdate(), {}
        elif "end" in request.POST:
            plot.new_ground_since = None
        elif step in known:
            done = dict(plot.new_ground_done)
            if done.pop(step, None) is None:
                done[step] = timezone.localdate().isoformat()
            plot.new_ground_done = done
        plot.save()
    return redirect("ground:crops", pk)


@require_http_methods(["GET"])
def years(request):
    """All plots by year: what stood, stands and is to come."""
    this_year = timezone.localdate().year
    page = Paginator(plots_of(request.place.holding), 40).get_page(request.GET.get("page"))
    shown = range(this_year - 3, this_year + 3)
    rows = []
    for plot in page:
        plantings = list(plot.plantings.all())
        warned = {(warning.crop, warning.years) for warning in poor_followers(_stands(plantings), tables())}
        rows.append((plot, [_in_year(plantings, year) for year in shown], bool(warned)))
    return render(request, "ground/years.html", {"page": page, "years": shown, "rows": rows, "this_year": this_year})


def _in_year(plantings: list[Planting], year: int) -> list[str]:
    """Names of the crops that stood for some of a year; without dates a crop stands now."""
    now, found = timezone.localdate().year, []
    for planting in plantings:
        first = planting.planted_on.year if planting.planted_on else now
        last = planting.ended_on.year if planting.ended_on else _ends_of_itself(planting, first, now)
        if first <= year <= last:
            found.append(planting_name(planting))
    return found


def _ends_of_itself(planting: Planting, first: int, now: int) -> int:
    """The last year of a crop whose end nobody wrote down: an annual is over with its season, others stand on."""
    crop = tables().crops.get(planting.crop)
    return max(first, now) + 3 if crop is None or crop.is_perennial else first
