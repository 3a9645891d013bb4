"""Rates by place for a spreader: each plot or zone, or each square of a grid, with a column for every material and dressing."""

import re
from collections.abc import Sequence
from datetime import date
from math import ceil, floor
from typing import Any

from shapely.geometry import MultiPolygon, Polygon, box

from agronomy.base.errors import RuleError
from agronomy.base.quantities import factor
from agronomy.base.record import record
from agronomy.ground.shapes import as_polygon_shape, polygon_of

MOST_SQUARES = 20_000
SMALLEST_PIECE_M2 = 0.5  # what is smaller lies on a line between two squares
FIELD_LETTERS = 10  # a column name of a dBase table has no more
UNITS = {"metric": ("kg", "ha", "kgha"), "us": ("lb", "acre", "lbac"), "uk": ("kg", "acre", "kgac")}


@record(kw_only=True)
class ZoneDose:
    """One dressing of one material on a zone: rate [kg/ha] and its days."""

    material: str
    name: str
    dressing: int
    rate_kg_per_ha: float
    start: date
    end: date
    placement: str


@record(kw_only=True)
class RateZone:
    """A plot or zone with its shape in local metres, its area [m2] and its dressings."""

    name: str
    shape: dict[str, Any]
    area_m2: float
    doses: tuple[ZoneDose, ...]

    def total_kg(self, dose: ZoneDose) -> float:
        """What a dressing takes on this zone."""
        return dose.rate_kg_per_ha * self.area_m2 / 10_000


@record(kw_only=True)
class RateColumn:
    """A column of the table: the name of its field, whose dressing it is, its unit, what all zones get together [kg], its days."""

    field: str
    material: str
    name: str
    dressing: int
    unit: str
    total_kg: float
    start: date
    end: date


def rate_columns(zones: Sequence[RateZone], system: str = "metric") -> tuple[RateColumn, ...]:
    """A column for every material and dressing on any of the zones, in order of date. Source: definition.

    Totals in kg.

    >>> square = {"type": "rectangle", "x": 0, "y": 0, "length": 100, "width": 100, "turn": 0}
    >>> dose = ZoneDose(material="urea", name="urea", dressing=1, rate_kg_per_ha=80.0, start=date(2027, 4, 1), end=date(2027, 4, 9),
    ...     placement="broadcast")
    >>> zone = RateZone(name="North", shape=square, area_m2=10_000, doses=(dose,))
    >>> [(column.field, column.unit, column.total_kg) for column in rate_columns([zone])]
    [('urea1_kgha', 'kg/ha', 80.0)]
    """
    weight, ground, ending = UNITS[system]
    found: dict[tuple[str, int], list[tuple[ZoneDose, RateZone]]] = {}
    for zone in zones:
        for dose in zone.doses:
            found.setdefault((dose.material, dose.dressing), []).append((dose, zone))
    columns: list[RateColumn] = []
    taken: set[str] = set()
    for (material, dressing), rows in found.items():
        columns.append(
            RateColumn(
                field=_field(material, dressing, ending, taken),
                material=material,
                name=rows[0][0].name,
                dressing=dressing,
                unit=f"{weight}/{ground}",
                total_kg=sum(zone.total_kg(dose) for dose, zone in rows),
                start=min(dose.start for dose, _ in rows),
                end=max(dose.end for dose, _ in rows),
            )
        )
    return tuple(sorted(columns, key=lambda column: (column.start, column.material, column.dressing)))


def _field(material: str, dressing: int, ending: str, taken: set[str]) -> str:
    """A short name for a column: a word's first letters, or the first letter of each word."""
    words = re.sub(r"[^a-z0-9_]", "", material.lower()).split("_")
    room = FIELD_LETTERS - len(ending) - 1 - len(str(dressing))
    short = (words[0] if len(words) == 1 else "".join(word[:1] for word in words))[:room]
    for letter in ["", *"abcdefghijklmnopqrstuvwxyz"]:
        name = f"{short[: room - len(letter)]}{letter}{dressing}_{ending}"
        if name not in taken:
            taken.add(name)
            return name
    raise RuleError("materials", len(taken), "there are too many materials for one map", "take the map of fewer fields")


def rate_rows(
    zones: Sequence[RateZone], columns: Sequence[RateColumn], *, system: str = "metric", grid_m: float | None = None
) -> list[tuple[str, dict[str, Any], dict[str, Any]]]:
    """The map's rows as (name, shape, attributes): a row for each zone, or for each square of a grid [m] cut to its zone.

    Attributes are the area [ha or acres] and the rate of every column. Raises RuleError where the squares would be too many.
    """
    weight, ground, _ = UNITS[system]
    per_area = factor(ground, "m2")
    to_rate = per_area / 10_000 / factor(weight, "kg")
    rows = []
    for zone in zones:
        rates = {(dose.material, dose.dressing): dose.rate_kg_per_ha * to_rate for dose in zone.doses}
        attributes = {column.field: round(rates.get((column.material, column.dressing), 0.0), 2) for column in columns}
        if grid_m is None:
            rows.append((zone.name, zone.shape, {f"area_{ground}": round(zone.area_m2 / per_area, 4)} | attributes))
            continue
        for number, piece in enumerate(_squares(zone, grid_m, MOST_SQUARES - len(rows)), 1):
            area = {f"area_{ground}": round(piece.area / per_area, 6)}
            rows.append((f"{zone.name} {number}", as_polygon_shape(piece), area | attributes))
    return rows


def _squares(zone: RateZone, grid_m: float, most: int) -> list[Polygon]:
    """The zone cut along the lines of a grid that all zones share."""
    if grid_m <= 0:
        raise RuleError("grid", grid_m, "squares have sides above zero", "give the side of a square in metres")
    outline = polygon_of(zone.shape)
    west, south, east, north = outline.bounds
    across, up = ceil(east / grid_m) - floor(west / grid_m), ceil(north / grid_m) - floor(south / grid_m)
    if across * up > most:
        raise RuleError(
            "grid", grid_m, f"squares of {grid_m:g} m would be more than {MOST_SQUARES}", "take larger squares, or fewer fields"
        )
    pieces: list[Polygon] = []
    for column in range(floor(west / grid_m), floor(west / grid_m) + across):
        for row in range(floor(south / grid_m), floor(south / grid_m) + up):
            part = outline.intersection(box(column * grid_m, row * grid_m, (column + 1) * grid_m, (row + 1) * grid_m))
            parts = part.geoms if isinstance(part, MultiPolygon) else [part]
            pieces += [piece for piece in parts if isinstance(piece, Polygon) and piece.area > SMALLEST_PIECE_M2]
    return pieces
