"""The walk over a plot: a zig-zag that keeps off edges and odd spots, with a core at even steps."""

from collections.abc import Sequence
from math import ceil
from typing import Any

from shapely import affinity
from shapely.geometry import LineString, Point, Polygon
from shapely.ops import unary_union

from agronomy.base.record import record
from agronomy.ground.shapes import polygon_of, row_lines

Place = tuple[float, float]
SMALLEST_INSET = 0.05


@record
class Walk:
    """Where to walk and where to push the corer in, in metres on the holding's grid."""

    line: tuple[Place, ...]
    cores: tuple[Place, ...]
    length_m: float
    edge_m: float


def walk(shape: dict[str, Any], cores: int, *, edge_m: float, odd_spots: Sequence[tuple[float, float, float]] = ()) -> Walk:
    """A zig-zag walk over a shape with so many cores. `odd_spots` are (x, y, radius) to keep out of. Source: sampling-guide.

    On ground too narrow for the edge asked, a smaller edge is kept. Every core lies inside the shape and outside the odd
    spots, unless the spots leave no ground at all: then they are ignored for want of any other.
    In metres [m].
    """
    whole = polygon_of(shape)
    inner, kept_edge = _inset(whole, edge_m)
    spots = unary_union([Point(x, y).buffer(radius) for x, y, radius in odd_spots])
    ground = inner.difference(spots)
    if ground.is_empty or ground.area < 0.05 * inner.area:
        ground = inner
    corners = _along_rows(shape, inner) if shape["type"] == "rows" else _zigzag(inner, cores)
    path = LineString(corners)
    inside = path.intersection(ground.buffer(1e-9))
    pieces = [piece for piece in getattr(inside, "geoms", [inside]) if isinstance(piece, LineString) and piece.length > 0]
    places = _even_steps(pieces, cores) if pieces else _scatter(ground, cores)
    return Walk(
        line=tuple((round(x, 2), round(y, 2)) for x, y in path.coords),
        cores=tuple((round(point.x, 2), round(point.y, 2)) for point in places),
        length_m=round(path.length, 1),
        edge_m=round(kept_edge, 2),
    )


def _inset(whole: Polygon, edge_m: float) -> tuple[Polygon, float]:
    edge = edge_m
    while edge > SMALLEST_INSET:
        inner = whole.buffer(-edge)
        if not inner.is_empty and inner.area > 0.25 * whole.area:
            return (max(inner.geoms, key=lambda part: part.area) if inner.geom_type == "MultiPolygon" else inner), edge
        edge /= 1.6
    return whole.buffer(-0.001), 0.0


def _zigzag(ground: Polygon, cores: int) -> list[Place]:
    """Corners of a zig-zag along the longer side of the ground, from edge to edge."""
    box = ground.minimum_rotated_rectangle
    a, b, c = list(box.exterior.coords)[:3]
    along, across = LineString([a, b]), LineString([b, c])
    if along.length < across.length:
        a, b, c = b, c, list(box.exterior.coords)[3]
        along, across = LineString([a, b]), LineString([b, c])
    ratio = along.length / max(across.length, 1e-6)
    legs = max(2, min(ceil(cores / 3), round(ratio * 2) + 1))
    dx, dy = (c[0] - b[0]), (c[1] - b[1])
    corners = []
    for place in range(legs + 1):
        base = along.interpolate(place / legs, normalized=True)
        share = 0.06 if place % 2 == 0 else 0.94
        corners.append(_pulled_in((base.x + dx * share, base.y + dy * share), ground))
    return corners


def _pulled_in(place: Place, ground: Polygon) -> Place:
    """A corner that is outside the ground, brought to its nearest point."""
    point = Point(place)
    if ground.contains(point):
        return place
    nearest = ground.exterior.interpolate(ground.exterior.project(point))
    return nearest.x, nearest.y


def _along_rows(shape: dict[str, Any], ground: Polygon) -> list[Place]:
    """Up one row and down another, so that the walk keeps between the rows' ends."""
    corners: list[Place] = []
    for number, (start, end) in enumerate(row_lines(shape)):
        ends = [_pulled_in(start, ground), _pulled_in(end, ground)]
        corners += ends if number % 2 == 0 else ends[::-1]
    return corners


def _even_steps(pieces: list[LineString], cores: int) -> list[Point]:
    total = sum(piece.length for piece in pieces)
    places, gone = [], 0.0
    targets = [(number + 0.5) * total / cores for number in range(cores)]
    for piece in pieces:
        while targets and targets[0] <= gone + piece.length + 1e-9:
            places.append(piece.interpolate(min(targets.pop(0) - gone, piece.length)))
        gone += piece.length
    return places + [pieces[-1].interpolate(1, normalized=True) for _ in targets]


def _scatter(ground, cores: int) -> list[Point]:
    """Where no line fits: the same inner point, turned a little each time, for ground of a few square decimetres."""
    middle = ground.representative_point()
    return [affinity.translate(middle, 0.001 * number, 0) for number in range(cores)]
