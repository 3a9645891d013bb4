"""The ground at a glance: the holding's map, and its plots by what they ask for, a page at a time."""

from dataclasses import dataclass

from django.core.paginator import Paginator
from django.db.models import Count, Exists, F, IntegerField, OuterRef, Q, QuerySet, Sum
from django.db.models.functions import Cast, Floor
from django.shortcuts import render
from django.urls import reverse
from django.utils import timezone

from agronomy.base import showing
from web.drawing.frame import Frame
from web.drawing.ground_map import MapDrawing, PlotOnMap, cluster, ground_map, spot
from web.drawing.rake import SmallRake
from web.ground.models import Plot
from web.ground.selectors import extent_of, odd_spots_in, plots_in
from web.ground.view_window import address, frame_of, steps
from web.planning.models import PlotSummary
from web.planning.service import crop_of
from web.planning.summaries import rake_of, renew_stale, summaries_for
from web.unchanged import unchanged

ON_A_PAGE, DRAWN_ONE_BY_ONE = 24, 60
STATES = (
    (PlotSummary.ASKS, "Asks for something"),
    (PlotSummary.OLD, "Last test too old"),
    (PlotSummary.UNTESTED, "Not tested yet"),
    (PlotSummary.RESTS, "Nothing needed"),
)


@dataclass(frozen=True, slots=True)
class PlotLine:
    """One plot of the list."""

    plot: Plot
    area: str
    crop: str
    rake: SmallRake | None
    asks: str
    state: str
    group: str
    last: object


def _with_zones() -> Exists:
    return Exists(Plot.objects.filter(parent=OuterRef("pk")))


def ground(request):
    place = request.place
    key = ("ground", place.holding.pk, place.role, place.units, timezone.localdate(), request.GET.urlencode())
    return render(request, "overview/ground.html", unchanged.kept(key, lambda: _told(request)))


def _told(request) -> dict:
    """All that the page reads of the database."""
    place = request.place
    renew_stale(place)
    whole = Plot.objects.filter(~_with_zones(), holding=place.holding)
    counts = {
        row["summary__rank"]: row for row in whole.values("summary__rank").annotate(count=Count("pk"), area=Sum("area_m2")).order_by()
    }
    frame = frame_of(request, extent_of(place.holding))
    drawing = _drawing(request, frame)
    page = _page(request, whole)
    shown = summaries_for(place, [*page.object_list, *(mark.pk for mark in drawing.marks)]) if page.object_list or drawing.marks else {}
    total = sum(row["area"] for row in counts.values())
    return {
        "rows": [_line(place, shown[pk]) for pk in page.object_list],
        "page": page,
        "tabs": [(state, name, counts.get(PlotSummary.RANKS[state], {}).get("count", 0)) for state, name in STATES],
        "state": request.GET.get("state", ""),
        "query": "".join(f"&{key}={request.GET[key]}" for key in ("q", "state") if request.GET.get(key)),
        "count": sum(row["count"] for row in counts.values()),
        "total": showing.area(total, place.units) if total else "",
        "q": request.GET.get("q", ""),
        "drawing": _marked(drawing, frame, shown, request),
        "steps": steps(frame),
    }


def _page(request, whole: QuerySet[Plot]):
    """Keys of the plots of this page, what asks first."""
    wanted, state = request.GET.get("q", "").strip(), request.GET.get("state", "")
    found = whole.filter(name__icontains=wanted) if wanted else whole
    if state in PlotSummary.RANKS:
        found = found.filter(summary__rank=PlotSummary.RANKS[state])
    return Paginator(found.order_by("summary__rank", "name").values_list("pk", flat=True), ON_A_PAGE).get_page(request.GET.get("page"))


def _line(place, plot: Plot) -> PlotLine:
    summary, crop = plot.summary, crop_of(plot)
    area, group = showing.area(plot.area_m2, place.units), dict(STATES)[summary.state]
    return PlotLine(plot, area, crop.name if crop else "", rake_of(summary), summary.asks, summary.state, group, summary.last_taken)


@dataclass(frozen=True, slots=True)
class _Drawn:
    """What lies in the window: plots one by one, or squares of the grid."""

    marks: list[Plot]
    clusters: tuple
    spots: list


def _drawing(request, frame: Frame) -> _Drawn:
    holding = request.place.holding
    inside = plots_in(holding, frame.box)
    count = inside.count()
    if count <= DRAWN_ONE_BY_ONE:
        spots = [spot(frame, item.x, item.y, item.radius_m, item.note) for item in odd_spots_in(holding, frame.box)[:100]]
        return _Drawn(list(inside.annotate(is_parted=_with_zones())), (), spots)
    return _Drawn([], _clusters(inside, frame), [])


def _clusters(inside: QuerySet[Plot], frame: Frame) -> tuple:
    """Plots counted by squares of the grid, in one query."""
    step = (frame.east - frame.west) / 8

    def cell(low: str, high: str):
        return Cast(Floor((F(low) + F(high)) / 2.0 / step), IntegerField())

    rows = inside.annotate(column=cell("west", "east"), row=cell("south", "north")).values("column", "row")
    rows = rows.annotate(count=Count("pk"), asking=Count("pk", filter=Q(summary__rank=PlotSummary.RANKS[PlotSummary.ASKS]))).order_by()
    return tuple(
        cluster(
            frame,
            (row["column"], row["row"]),
            step,
            row["count"],
            row["asking"],
            address((row["column"] + 0.5) * step, (row["row"] + 0.5) * step, step * 1.2),
        )
        for row in rows
    )


def _marked(drawn: _Drawn, frame: Frame, shown: dict[int, Plot], request) -> MapDrawing:
    plots = []
    for plot in drawn.marks:
        summary = shown[plot.pk].summary
        state = "parted" if plot.is_parted else summary.state
        says = f"{plot.name}: in zones" if plot.is_parted else f"{plot.name}: {summary.asks}"
        rake = None if plot.is_parted else rake_of(summary)
        plots.append(PlotOnMap(plot.pk, plot.name, plot.kind, plot.shape, state, says, reverse("planning:bench", args=[plot.pk]), rake))
    return ground_map(frame, plots, spots=drawn.spots, clusters=drawn.clusters)
