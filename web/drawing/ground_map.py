"""The holding to scale: every plot by its outline, marked by what it asks for, with the small rake where there is room."""

from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

import orjson

from agronomy.ground.shapes import Measured, measure
from web.drawing.frame import Frame, GridLine
from web.drawing.rake import SmallRake, at

WIDTH, HEIGHT = 820.0, 560.0
LETTER = 7.6


@dataclass(frozen=True, slots=True)
class PlotOnMap:
    """What the map needs to know of a plot."""

    pk: int
    name: str
    kind: str
    shape: dict[str, Any]
    state: str
    says: str
    href: str
    rake: SmallRake | None = None
    is_chosen: bool = False


@dataclass(frozen=True, slots=True)
class Mark:
    """A plot as drawn."""

    pk: int
    name: str
    label: str
    label_x: str
    label_y: str
    path: str
    rows: str  # all rows as one path
    state: str
    says: str
    href: str
    is_field: bool
    is_chosen: bool
    rake: SmallRake | None
    rake_x: str
    rake_y: str


@dataclass(frozen=True, slots=True)
class Cluster:
    """Many plots told as one: how many, and how many of them ask for something."""

    x: str
    y: str
    side: str
    middle_x: str
    middle_y: str
    count: int
    asking: int
    href: str


@dataclass(frozen=True, slots=True)
class Spot:
    """An odd spot to keep out of."""

    x: str
    y: str
    radius: str
    note: str
    pk: int | None = None


@dataclass(frozen=True, slots=True)
class MapDrawing:
    """The whole map."""

    frame: Frame
    width: str
    height: str
    columns: tuple[GridLine, ...]
    rows: tuple[GridLine, ...]
    scale_width: str
    scale_x: str
    scale_label: str
    marks: tuple[Mark, ...] = ()
    clusters: tuple[Cluster, ...] = ()
    spots: tuple[Spot, ...] = field(default=())


def ground_map(frame: Frame, plots: list[PlotOnMap], *, spots=(), clusters: tuple[Cluster, ...] = ()) -> MapDrawing:
    """The drawing of some plots; fields lie below their zones, larger ones below smaller."""
    measured = sorted(((_measured(orjson.dumps(plot.shape)), plot) for plot in plots), key=lambda pair: -pair[0].area_m2)
    bar_units = frame.step * (2 if frame.step * frame.unit_m * frame.per_metre < 90 else 1)
    bar, unit = bar_units * frame.unit_m, "m" if frame.unit_m == 1 else "ft"
    return MapDrawing(
        frame=frame,
        width=at(frame.width),
        height=at(frame.height),
        columns=frame.columns(),
        rows=frame.rows(),
        scale_width=frame.length(bar),
        scale_x=at(frame.width - 14 - bar * frame.per_metre),
        scale_label=f"{bar_units:g} {unit}",
        marks=tuple(_mark(plot, shape, frame) for shape, plot in measured),
        clusters=clusters,
        spots=tuple(spots),
    )


@lru_cache(maxsize=4096)  # shapes seldom change, and their geometry takes a map most of its time
def _measured(shape: bytes) -> Measured:
    return measure(orjson.loads(shape))


def _mark(plot: PlotOnMap, shape: Measured, frame: Frame) -> Mark:
    west, south, east, north = shape.bounds
    wide, high = (east - west) * frame.per_metre, (north - south) * frame.per_metre
    x, y = frame.x(shape.centre[0]), frame.y(shape.centre[1])
    label = _fitting(plot.name, wide)
    has_rake = plot.rake is not None and wide >= float(plot.rake.width) + 10 and high >= 66
    return Mark(
        pk=plot.pk,
        name=plot.name,
        label=label if high >= 16 else "",
        label_x=at(x),
        label_y=at(y + (5 if not has_rake else -16)),
        path=frame.path(shape.outline),
        rows=" ".join(frame.path(row, closed=False) for row in shape.rows[:200]),
        state=plot.state,
        says=plot.says,
        href=plot.href,
        is_field=plot.kind == "field",
        is_chosen=plot.is_chosen,
        rake=plot.rake if has_rake else None,
        rake_x=at(x - float(plot.rake.width) / 2) if plot.rake and has_rake else "0",
        rake_y=at(y - 10),
    )


def _fitting(name: str, wide: float) -> str:
    """The name, cut to what the plot has room for."""
    letters = int((wide - 6) / LETTER)
    if letters >= len(name):
        return name
    return f"{name[: letters - 1].rstrip()}…" if letters >= 4 else ""


def spot(frame: Frame, x: float, y: float, radius_m: float, note: str, pk: int | None = None) -> Spot:
    px, py = frame.point((x, y))
    return Spot(px, py, at(max(4.0, radius_m * frame.per_metre)), note, pk)


def cluster(frame: Frame, cell: tuple[int, int], step: float, count: int, asking: int, href: str) -> Cluster:
    """A square of the grid with its count; drawn a little smaller than its cell."""
    side = step * frame.per_metre
    x, y = frame.x(cell[0] * step), frame.y((cell[1] + 1) * step)
    return Cluster(at(x + 3), at(y + 3), at(max(side - 6, 10)), at(x + side / 2), at(y + side / 2 + 5), count, asking, href)
