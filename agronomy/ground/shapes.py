"""Plots as shapes on the holding's metre grid: x to the east, y to the north, all in metres.

A shape is a small document, so that it can be typed, drawn, stored and sent alike:

    {"type": "rectangle", "x": 0, "y": 0, "width": 1.2, "length": 15, "turn": 0}   corner, sides, degrees anticlockwise
    {"type": "polygon", "points": [[0, 0], [10, 0], [10, 8]]}
    {"type": "circle", "x": 5, "y": 5, "radius": 2}
    {"type": "rows", "x": 0, "y": 0, "length": 40, "count": 6, "spacing": 0.75, "turn": 0}

shapely does the geometry; nothing here knows how a shape is drawn.
"""

from math import isfinite, pi
from typing import Any

from shapely import affinity
from shapely.geometry import LineString, MultiPolygon, Point, Polygon
from shapely.ops import split as split_by
from shapely.ops import unary_union

from agronomy.base.errors import OutOfRange, RuleError, UnknownName
from agronomy.base.record import record

FARTHEST_M = 50_000.0
SMALLEST_M2 = 0.01
MOST_POINTS = 2000
ROUND_TO = 3  # a millimetre


@record(kw_only=True)
class Measured:
    """What a shape measures: area [m2], row length [m] for rows, outline and centre [m], and its bounding box."""

    area_m2: float
    row_m: float | None
    outline: tuple[tuple[float, float], ...]
    rows: tuple[tuple[tuple[float, float], tuple[float, float]], ...]
    centre: tuple[float, float]
    bounds: tuple[float, float, float, float]


def measure(shape: dict[str, Any]) -> Measured:
    """Area, outline, centre and bounds of a shape; raises RuleError naming the field that is wrong.

    A circle's area is exact; its outline is a polygon of 64 corners. Rows treat a band of one spacing each. Source: definition.
    In m and m2 [m2].

    >>> measure({"type": "rectangle", "x": 0, "y": 0, "width": 1.2, "length": 15}).area_m2
    18.0
    """
    polygon = polygon_of(shape)
    area = pi * _number(shape, "radius") ** 2 if shape["type"] == "circle" else polygon.area
    rows = row_lines(shape) if shape["type"] == "rows" else ()
    centre = polygon.representative_point() if not polygon.contains(polygon.centroid) else polygon.centroid
    return Measured(
        area_m2=round(area, ROUND_TO),
        row_m=round(sum(LineString(row).length for row in rows), ROUND_TO) if rows else None,
        outline=_points(polygon),
        rows=rows,
        centre=(round(centre.x, ROUND_TO), round(centre.y, ROUND_TO)),
        bounds=tuple(round(edge, ROUND_TO) for edge in polygon.bounds),
    )


def polygon_of(shape: dict[str, Any]) -> Polygon:
    """The shape as a polygon; raises RuleError for a shape that crosses itself, is too small, or lies out of bounds.

    Source: definition.

    In metres [m].

    >>> polygon_of({"type": "rectangle", "x": 0, "y": 0, "length": 4, "width": 5}).area
    20.0
    """
    kind = shape.get("type") if isinstance(shape, dict) else None
    if kind not in _MAKERS:
        raise UnknownName("shape.type", str(kind)[:40], "this shape is not in our list", f"use one of {', '.join(_MAKERS)}")
    polygon = _MAKERS[kind](shape)
    if not polygon.is_valid:
        raise RuleError(
            "shape.points", len(shape.get("points", ())), "the outline crosses itself", "move the corner that lies on the wrong side"
        )
    if polygon.area < SMALLEST_M2:
        raise OutOfRange("shape", round(polygon.area, 4), "the shape has next to no area", "draw it larger, or type its sizes")
    if max(abs(edge) for edge in polygon.bounds) > FARTHEST_M:
        raise OutOfRange(
            "shape", polygon.bounds, f"the shape lies more than {FARTHEST_M / 1000:.0f} km from the middle of the map", "check the numbers"
        )
    return polygon


def row_lines(shape: dict[str, Any]) -> tuple:
    """The rows of a "rows" shape as lines from end to end."""
    count, spacing, length = _count(shape), _number(shape, "spacing", low=0.05, high=20), _number(shape, "length", low=0.2, high=20_000)
    x, y, turn = _number(shape, "x"), _number(shape, "y"), _number(shape, "turn", default=0.0)
    lines = (LineString([(x, y + spacing * (place + 0.5)), (x + length, y + spacing * (place + 0.5))]) for place in range(count))
    return tuple(
        tuple((round(a, ROUND_TO), round(b, ROUND_TO)) for a, b in affinity.rotate(line, turn, origin=(x, y)).coords) for line in lines
    )


def _rectangle(shape: dict) -> Polygon:
    x, y = _number(shape, "x"), _number(shape, "y")
    width, length = _number(shape, "width", low=0.05, high=20_000), _number(shape, "length", low=0.05, high=20_000)
    box = Polygon([(x, y), (x + length, y), (x + length, y + width), (x, y + width)])
    return affinity.rotate(box, _number(shape, "turn", default=0.0), origin=(x, y))


def _polygon(shape: dict) -> Polygon:
    points = shape.get("points")
    if not isinstance(points, list) or len(points) < 3:
        raise RuleError(
            "shape.points", len(points) if isinstance(points, list) else None, "an outline needs three corners or more", "add a corner"
        )
    if len(points) > MOST_POINTS:
        raise RuleError("shape.points", len(points), f"{len(points)} corners are more than {MOST_POINTS}", "simplify the outline")
    try:
        corners = [(float(x), float(y)) for x, y in points]
    except (TypeError, ValueError):
        raise RuleError("shape.points", None, "a corner is not a pair of numbers", "write corners as [x, y] in metres") from None
    if not all(isfinite(value) for corner in corners for value in corner):
        raise RuleError("shape.points", None, "a corner is not a finite number", "write corners as [x, y] in metres")
    return Polygon(corners)


def _circle(shape: dict) -> Polygon:
    return Point(_number(shape, "x"), _number(shape, "y")).buffer(_number(shape, "radius", low=0.05, high=5000), quad_segs=16)


def _rows(shape: dict) -> Polygon:
    band = {**shape, "width": _count(shape) * _number(shape, "spacing", low=0.05, high=20)}
    return _rectangle(band)


_MAKERS = {"rectangle": _rectangle, "polygon": _polygon, "circle": _circle, "rows": _rows}


def _count(shape: dict) -> int:
    return round(_number(shape, "count", low=1, high=2000))


def _number(shape: dict, name: str, *, low: float = -FARTHEST_M, high: float = FARTHEST_M, default: float | None = None) -> float:
    value = shape.get(name, default)
    if isinstance(value, bool) or not isinstance(value, int | float) or not isfinite(value):
        raise RuleError(f"shape.{name}", str(value)[:40], f"the {name} is not a number", "type it in metres")
    if not low <= value <= high:
        raise OutOfRange(f"shape.{name}", value, f"{value:g} is outside {low:g} to {high:g}", "check the number; sizes are in metres")
    return float(value)


def _points(polygon: Polygon) -> tuple[tuple[float, float], ...]:
    return tuple((round(x, ROUND_TO), round(y, ROUND_TO)) for x, y in polygon.exterior.coords[:-1])


def as_polygon_shape(polygon: Polygon) -> dict[str, Any]:
    """A polygon as a shape document."""
    return {"type": "polygon", "points": [list(point) for point in _points(polygon)]}


def split(shape: dict[str, Any], line: list[list[float]]) -> list[dict[str, Any]]:
    """The parts of a shape that a line cuts it into, largest first; raises RuleError where the line does not cut through.

    Source: definition.

    Their areas add to the whole's.
    """
    polygon = polygon_of(shape)
    if len(line) < 2:
        raise RuleError("line", len(line), "a cut needs two points or more", "draw it from edge to edge")
    try:
        cut = LineString([(float(x), float(y)) for x, y in line])
    except (TypeError, ValueError):
        raise RuleError("line", None, "a point of the cut is not a pair of numbers", "write points as [x, y] in metres") from None
    parts = [part for part in split_by(polygon, _lengthened(cut)).geoms if part.area >= SMALLEST_M2]
    if len(parts) < 2:
        raise RuleError("line", line[:2], "the line does not cut through the plot", "draw it from outside one edge to outside another")
    return [as_polygon_shape(part) for part in sorted(parts, key=lambda part: (-part.area, part.bounds))]


def _lengthened(cut: LineString) -> LineString:
    """The cut with a centimetre more at both ends, for people who stop on the edge."""
    points = list(cut.coords)
    for end, inner in ((0, 1), (-1, -2)):
        (ax, ay), (bx, by) = points[end], points[inner]
        length = ((ax - bx) ** 2 + (ay - by) ** 2) ** 0.5 or 1.0
        points[end] = (ax + (ax - bx) / length * 0.5, ay + (ay - by) / length * 0.5)
    return LineString(points)


def merge(shapes: list[dict[str, Any]]) -> dict[str, Any]:
    """One shape from several that touch; raises RuleError where a gap parts them. Gaps up to 5 cm are closed. Source: definition."""
    joined = unary_union([polygon_of(shape).buffer(0.025, join_style="mitre") for shape in shapes]).buffer(-0.025, join_style="mitre")
    if isinstance(joined, MultiPolygon) or joined.is_empty:
        raise RuleError("shapes", len(shapes), "these plots do not touch", "move them together first, or keep them apart")
    return as_polygon_shape(joined.simplify(0.001))


def moved(shape: dict[str, Any], dx: float, dy: float) -> dict[str, Any]:
    """The same shape somewhere else.

    Source: definition.

    In metres [m].

    >>> moved({"type": "rectangle", "x": 0, "y": 0, "length": 4, "width": 5}, 2, 0)["x"]
    2
    """
    if shape["type"] == "polygon":
        return {**shape, "points": [[round(x + dx, ROUND_TO), round(y + dy, ROUND_TO)] for x, y in shape["points"]]}
    return {**shape, "x": round(shape["x"] + dx, ROUND_TO), "y": round(shape["y"] + dy, ROUND_TO)}
