"""The drawing board: plots drawn to scale by mouse, finger or keyboard, or typed as numbers."""

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from agronomy.base import showing
from agronomy.base.errors import RuleError
from agronomy.base.numbers import parse_number
from agronomy.ground.shapes import measure
from web.changes.models import Change
from web.changes.undo import undoable, undoable_deletion
from web.core import error_text
from web.drawing.ground_map import PlotOnMap, ground_map, spot
from web.ground.models import OddSpot, Plot
from web.ground.selectors import extent_of, odd_spots_in, plot_or_404, plots_in, plots_of
from web.ground.view_window import frame_of, steps, unit_of
from web.plots import drawn
from web.plots.retiring import rows_of
from web.query_params import key_of, keys_of

MOST_SHOWN = 400
BOARD_WIDTH, BOARD_HEIGHT = 900.0, 640.0


def board(request, error: str = "", typed=None, status: int = 200):
    holding, unit_m = request.place.holding, unit_of(request.place.units)
    frame = frame_of(request, extent_of(holding), width=BOARD_WIDTH, height=BOARD_HEIGHT)
    asked = request.POST.get("plot") or request.GET.get("plot", "")
    chosen = plots_of(holding).filter(pk=key_of(asked)).first() if asked else None
    plots = list(plots_in(holding, frame.box).select_related("parent")[:MOST_SHOWN])
    view = {key: request.GET[key] for key in ("at", "across") if key in request.GET}
    marks = [_on_map(plot, chosen, view) for plot in plots]
    spots = list(odd_spots_in(holding, frame.box))
    fields = typed or (drawn.fields_from_shape(chosen.shape, unit_m) if chosen and chosen.shape else {"shape": "rectangle"})
    context = {
        "drawing": ground_map(frame, marks, spots=[spot(frame, item.x, item.y, item.radius_m, item.note, item.pk) for item in spots]),
        "corners": sorted({corner for plot in plots for corner in measure(plot.shape).outline if plot.shape["type"] != "circle"}),
        "steps": steps(frame, **({"plot": chosen.pk} if chosen else {})),
        "chosen": chosen,
        "chosen_area": showing.area(chosen.area_m2, request.place.units) if chosen else "",
        "mergeable": [
            plot for plot in plots if chosen and plot.pk != chosen.pk and (plot.kind, plot.parent_id) == (chosen.kind, chosen.parent_id)
        ],
        "unplaced": list(plots_of(holding).filter(west=None)[:60]),
        "spots": spots,
        "kinds": [choice for choice in Plot.Kind.choices if choice[0] in ("bed", "field", "row_block", "tree", "lawn", "pasture")],
        "fields": fields,
        "view": view,
        "unit": "ft" if unit_m != 1 else "m",
        "unit_m": unit_m,
        "error": error,
        "last_change": Change.objects.filter(holding=holding, undone_at=None).only("pk", "label").first(),
    }
    return render(request, "ground/board.html", context, status=status)


def _on_map(plot: Plot, chosen: Plot | None, view: dict) -> PlotOnMap:
    address = f"{reverse('ground:board')}?plot={plot.pk}" + "".join(f"&{key}={value}" for key, value in view.items())
    is_chosen = chosen is not None and plot.pk == chosen.pk
    return PlotOnMap(
        plot.pk, plot.name, plot.kind, plot.shape, "rests", f"{plot.name}, {plot.get_kind_display()}", address, is_chosen=is_chosen
    )


@require_POST
def act(request, act: str):
    """One act on the board; what can't be done is said, and everything typed stays."""
    if act not in ACTS:
        raise Http404
    try:
        chosen = ACTS[act](request)
    except RuleError as error:
        return board(request, error=error_text(error), typed=request.POST, status=422)
    view = "".join(f"&{key}={request.GET[key]}" for key in ("at", "across") if key in request.GET)
    return redirect(f"{reverse('ground:board')}?{f'plot={chosen}' if chosen else ''}{view}")


def _plot(request, field: str = "plot") -> Plot:
    return plot_or_404(request, key_of(request.POST.get(field)) or 0)


def _draw(request) -> int:
    shape = drawn.shape_from_fields(request.POST, unit_of(request.place.units))
    if request.POST.get("plot"):
        plot = _plot(request)
        with undoable(request, f"{plot.name} was drawn on the map", plot):
            drawn.put_shape(plot, shape)
            plot.save()
        return plot.pk
    plot, _ = drawn.new_plot(request.place.holding, request.POST.get("name", "").strip(), request.POST.get("kind", ""), shape)
    with undoable(request, f"{plot.name} was drawn on the map") as touched:
        plot.save()
        touched.append(plot)
    return plot.pk


def _lift(request) -> int:
    plot = _plot(request)
    with undoable(request, f"{plot.name} was taken off the map", plot):
        drawn.put_shape(plot, None)
        plot.save()
    return plot.pk


def _cut(request) -> int:
    plot = _plot(request)
    line = drawn.points_from_text(request.POST.get("points", ""), unit_of(request.place.units))
    with undoable(request, f"{plot.name} was cut", plot) as touched:
        made = drawn.cut(plot, line)
        for part in made:
            if part.pk != plot.pk:
                touched += [part, *part.plantings.all()]
    return plot.pk


def _merge(request) -> int:
    first = _plot(request)
    others = list(plots_of(request.place.holding).filter(pk__in=keys_of(request.POST.getlist("with"))).exclude(pk=first.pk))
    if not others:
        raise RuleError("plots", 0, "no other plot is ticked", "tick the plots to merge with this one")
    label = f"{', '.join(plot.name for plot in others)} became part of {first.name}"
    with undoable(request, label, first, *rows_of(others)):
        drawn.join(first, others)
    return first.pk


def _spot(request) -> int | None:
    unit_m = unit_of(request.place.units)
    numbers = {name: parse_number(request.POST.get(name, ""), name) * unit_m for name in ("x", "y", "radius")}
    note = request.POST.get("name", "").strip()[:80]
    if not note:
        raise RuleError("name", None, "the odd spot has no name", "say what is there, such as gateway or old bonfire")
    if not 0 < numbers["radius"] <= 500:
        raise RuleError(
            "radius", request.POST.get("radius"), "the radius of an odd spot is more than zero and at most 500 m", "check the number"
        )
    with undoable(request, f"Odd spot: {note}") as touched:
        touched.append(
            OddSpot.objects.create(holding=request.place.holding, x=numbers["x"], y=numbers["y"], radius_m=numbers["radius"], note=note)
        )
    return None


def _unspot(request) -> int | None:
    found = get_object_or_404(OddSpot, holding=request.place.holding, pk=key_of(request.POST.get("spot")))
    with undoable_deletion(request, f"Odd spot {found.note} was deleted", found):
        found.delete()
    return None


ACTS = {"draw": _draw, "lift": _lift, "cut": _cut, "merge": _merge, "spot": _spot, "unspot": _unspot}


@require_POST
def measure_fields(request):
    """What the shape in the fields measures, said as it is drawn."""
    context = {"error": "", "area": "", "rows": ""}
    try:
        if request.POST.get("shape") not in drawn.FIELDS:
            return HttpResponse("")  # a cut or an odd spot has nothing to measure
        measured = measure(drawn.shape_from_fields(request.POST, unit_of(request.place.units)))
        context["area"] = showing.area(measured.area_m2, request.place.units)
        context["rows"] = f"{measured.row_m / unit_of(request.place.units):.1f}" if measured.row_m else ""
    except RuleError as error:
        context["error"] = error_text(error)
    return render(request, "ground/_measured.html", context | {"unit": "ft" if request.place.units == "us" else "m"})
