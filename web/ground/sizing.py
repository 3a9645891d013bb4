"""Puts what was typed or drawn onto a plot: treated area, volume, rows, shape and its window on the map."""

from typing import Any

from agronomy.ground.kinds import SIZES, kind_row, treated
from agronomy.ground.shapes import Measured, measure
from web.core import tables
from web.ground.fields import UNITS
from web.ground.models import Plot


def sized_by(kind: str) -> str:
    return kind_row(kind, tables()).sized_by


def asked_sizes(kind: str) -> dict:
    """The sizes that a kind asks for, by name (see agronomy.ground.kinds.SIZES)."""
    return SIZES[sized_by(kind)]


def put_sizes(plot: Plot, sizes: dict[str, Any], *, us: bool) -> None:
    """Reckons the treated area and volume from typed sizes. Raises RuleError."""
    made = treated(plot.kind, sizes, depth_cm=plot.depth_cm, tables=tables(), us=us)
    plot.area_m2, plot.volume_l, plot.row_m = made.area_m2, made.volume_l, made.row_m
    plot.sizes = {name: _with_unit(name, value, asked_sizes(plot.kind)[name][0], us) for name, value in sizes.items()}


def _with_unit(name: str, value: Any, kind: str, us: bool) -> Any:
    """A bare number with the unit it was meant in, so that it means the same to a reader of other units."""
    text = str(value).strip()
    if kind not in ("area", "length", "volume") or any(letter.isalpha() for letter in text):
        return value
    system = UNITS["us" if us else "metric"]
    return f"{text} {system['length' if name == 'row_length' else 'spacing' if kind == 'length' else kind]}"


def put_shape(plot: Plot, shape: dict[str, Any] | None) -> Measured | None:
    """Puts a shape on a plot, and the sizes that follow from it. Raises RuleError."""
    if shape is None:
        plot.shape = plot.west = plot.south = plot.east = plot.north = None
        return None
    measured = measure(shape)
    plot.shape = shape
    plot.west, plot.south, plot.east, plot.north = measured.bounds
    sizes = _sizes_of(plot.kind, shape, measured)
    if sizes:
        put_sizes(plot, plot.sizes | sizes, us=False)
    return measured


def _sizes_of(kind: str, shape: dict[str, Any], measured: Measured) -> dict[str, Any]:
    """The sizes of a kind that its shape tells; those that it does not tell stay as they were typed."""
    way = sized_by(kind)
    if way == "area":
        return {"area": f"{measured.area_m2!r} m2"}
    if way == "ring" and shape["type"] == "circle":
        return {"canopy": f"{2 * shape['radius']!r} m", "count": "1"}
    if way == "rows" and shape["type"] == "rows":
        return {"rows": str(round(shape["count"])), "row_length": f"{shape['length']!r} m", "row_width": f"{shape['spacing']!r} m"}
    return {}
