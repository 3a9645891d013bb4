"""The ground at a glance: the holding's map, and its plots by what they ask for, a page at a time."""

from dataclasses import dataclass

from django.core.paginator import Paginator
from django.db.models import Count, Exists, F, IntegerField, OuterRef, Q, QuerySet, Sum
from django.db.models.functions import Cast, Floor
from django.shortcuts import render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils import timezone

from agronomy.base import showing
from web.drawing.frame import Frame
from web.drawing.ground_map import MapDrawing, PlotOnMap, cluster, ground_map, spot
from web.drawing.rake import SmallRake
from web.ground.models import OddSpot, Plot
from web.ground.selectors import extent_of, odd_spots_in, plots_in
from web.ground.view_window import address, frame_of, steps
from web.planning.models import PlotSummary
from web.planning.service import crop_of
from web.planning.summaries import look_through, rake_of, summaries_for
from web.prepared import Prepared
from web.unchanged import unchanged

ON_A_PAGE, DRAWN_ONE_BY_ONE = 24, 60
STATES = (
    (PlotSummary.ASKS, "Needs something"),
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


def _unparted(holding: int) -> QuerySet[Plot]:
    """What is planned for: plots that are not parted in zones, and zones."""
    return Plot.objects.filter(~_with_zones(), holding=holding)


_COUNTS: Prepared[tuple[int | None, int, float]] = Prepared(
    lambda holding: (
        _unparted(holding)
        .values("summary__rank")
        .annotate(count=Count("pk"), area=Sum("area_m2"))
        .order_by()
        .values_list("summary__rank", "count", "area")
    )
)
_IN_A_WINDOW: Prepared[tuple[int, bool]] = Prepared(
    lambda holding, *box: plots_in(holding, box).annotate(is_parted=_with_zones()).values_list("pk", "is_parted")[: DRAWN_ONE_BY_ONE + 1]
)
_SPOTS: Prepared[OddSpot] = Prepared(lambda holding, *box: odd_spots_in(holding, box)[:100])


def ground(request):
    place = request.place
    key = ("ground", place.holding.pk, place.role, place.units, timezone.localdate(), request.GET.urlencode())
    told = unchanged.kept(key, lambda: _body(request))
    return render(request, "overview/ground.html", told)


def _body(request) -> dict:
    """The page as text, with what its head says."""
    told = _told(request)
    body = render_to_string("overview/_ground.html", told, request) if told["count"] else ""
    return {name: told[name] for name in ("count", "total", "q")} | {"body": body}


def _told(request) -> dict:
    """All that the page reads of the database."""
    place = request.place
    all_ = look_through(place)
    counts = _counts(place.holding.pk, all_)
    frame = frame_of(request, extent_of(place.holding))
    drawing = _drawing(request, frame)
    page = _page(request, _unparted(place.holding.pk), counts)
    wanted = [*page.object_list, *drawing.marks]
    shown = all_ or summaries_for(place, wanted)
    total = sum(area for _, area in counts.values())
    return {
        "rows": [_line(place, shown[pk]) for pk in page.object_list],
        "page": page,
        "tabs": [(state, name, counts.get(PlotSummary.RANKS[state], (0, 0.0))[0]) for state, name in STATES],
        "state": request.GET.get("state", ""),
        "query": "".join(f"&{key}={request.GET[key]}" for key in ("q", "state") if request.GET.get(key)),
        "count": sum(count for count, _ in counts.values()),
        "total": showing.area(total, place.units) if total else "",
        "q": request.GET.get("q", ""),
        "drawing": _marked(drawing, frame, shown, request),
        "steps": steps(frame),
    }


def _counts(holding: int, known: dict[int, Plot]) -> dict[int | None, tuple[int, float]]:
    """How many plots ask for what, and how large they are in all, by rank; `known` are all plots, where they were read already."""
    if not known:
        return {rank: (count, area) for rank, count, area in _COUNTS(holding)}
    found: dict[int | None, tuple[int, float]] = {}
    parted = {plot.parent_id for plot in known.values()}
    for plot in known.values():
        if plot.pk not in parted:
            count, area = found.get(plot.summary.rank, (0, 0.0))
            found[plot.summary.rank] = (count + 1, area + plot.area_m2)
    return found


def _page(request, whole: QuerySet[Plot], counts: dict[int | None, tuple[int, float]]):
    """Keys of the plots of this page, what asks first; `counts` are those of all plots by what they ask."""
    wanted, state = request.GET.get("q", "").strip(), request.GET.get("state", "")
    found = whole.filter(name__icontains=wanted) if wanted else whole
    if state in PlotSummary.RANKS:
        found = found.filter(summary__rank=PlotSummary.RANKS[state])
    pages = Paginator(found.order_by("summary__rank", "name").values_list("pk", flat=True), ON_A_PAGE)
    if not wanted:
        told = [counts.get(PlotSummary.RANKS[state], (0, 0.0))] if state in PlotSummary.RANKS else counts.values()
        pages.count = sum(count for count, _ in told)  # known, so that it is not asked again
    return pages.get_page(request.GET.get("page"))


def _line(place, plot: Plot) -> PlotLine:
    summary, crop = plot.summary, crop_of(plot)
    area, group = showing.area(plot.area_m2, place.units), dict(STATES)[summary.state]
    return PlotLine(plot, area, crop.name if crop else "", rake_of(summary), summary.asks, summary.state, group, summary.last_taken)


@dataclass(frozen=True, slots=True)
class _Drawn:
    """What lies in the window: plots one by one, or squares of the grid."""

    marks: dict[int, bool]  # by the plot's key, whether it is parted in zones
    clusters: tuple
    spots: list


def _drawing(request, frame: Frame) -> _Drawn:
    holding = request.place.holding
    inside = dict(_IN_A_WINDOW(holding.pk, *frame.box))
    if len(inside) <= DRAWN_ONE_BY_ONE:
        return _Drawn(inside, (), [spot(frame, item.x, item.y, item.radius_m, item.note) for item in _SPOTS(holding.pk, *frame.box)])
    return _Drawn({}, _clusters(plots_in(holding, frame.box), frame), [])


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
    for pk, is_parted in drawn.marks.items():
        plot, summary = shown[pk], shown[pk].summary
        state = "parted" if is_parted else summary.state
        says = f"{plot.name}: in zones" if is_parted else f"{plot.name}: {summary.asks}"
        rake = None if is_parted else rake_of(summary)
        plots.append(PlotOnMap(plot.pk, plot.name, plot.kind, plot.shape, state, says, reverse("planning:bench", args=[plot.pk]), rake))
    return ground_map(frame, plots, spots=drawn.spots, clusters=drawn.clusters)
