"""What is done on the drawing board: shapes from typed fields; drawing, cutting and merging plots."""

from typing import Any

from django.db import transaction

from agronomy.base.errors import RuleError
from agronomy.base.numbers import parse_number
from agronomy.base.required import required
from agronomy.ground.kinds import kind_row
from agronomy.ground.shapes import Measured, merge, split
from web.core import tables
from web.ground.models import Planting, Plot
from web.ground.plot_lifecycle import COPIED, fields_with
from web.ground.sizing import put_shape
from web.plots.retiring import retire

FIELDS = {
    "rectangle": ("x", "y", "length", "width", "turn"),
    "circle": ("x", "y", "radius"),
    "rows": ("x", "y", "length", "count", "spacing", "turn"),
    "polygon": ("points",),
}
_PLAIN = {"turn", "count"}


def shape_from_fields(data, unit_m: float) -> dict[str, Any]:
    """The shape typed or drawn into the board's fields, in metres. Raises RuleError."""
    kind = data.get("shape", "")
    if kind not in FIELDS:
        raise RuleError("shape", kind[:20], "no shape is drawn yet", "draw one, or type its numbers")
    if kind == "polygon":
        return {"type": "polygon", "points": points_from_text(data.get("points", ""), unit_m)}
    shape: dict[str, Any] = {"type": kind}
    for name in FIELDS[kind]:
        typed = data.get(name, "").strip() or ("0" if name == "turn" else "")
        value = parse_number(typed, name)
        shape[name] = value if name in _PLAIN else round(value * unit_m, 3)
    return shape


def points_from_text(text: str, unit_m: float) -> list[list[float]]:
    """Corners written one a line, "x y" or "x; y". Raises RuleError naming the line."""
    points = []
    for number, line in enumerate(text.strip().splitlines(), 1):
        parts = line.replace(";", " ").split()
        if len(parts) != 2:
            raise RuleError("points", line[:40], f"line {number} is not two numbers", "write east and north of each corner, such as 12.5 8")
        points.append([round(parse_number(part, f"corner {number}") * unit_m, 3) for part in parts])
    return points


def fields_from_shape(shape: dict[str, Any], unit_m: float) -> dict[str, str]:
    """The board's fields for a stored shape: the inverse of shape_from_fields."""
    if shape["type"] == "polygon":
        return {"shape": "polygon", "points": "\n".join(f"{x / unit_m:.2f} {y / unit_m:.2f}" for x, y in shape["points"])}
    values = {name: shape.get(name, 0) / (1 if name in _PLAIN else unit_m) for name in FIELDS[shape["type"]]}
    return {"shape": shape["type"]} | {name: f"{value:.2f}".rstrip("0").rstrip(".") for name, value in values.items()}


def new_plot(holding, name: str, kind: str, shape: dict[str, Any]) -> tuple[Plot, Measured]:
    """A plot made by drawing it; not stored yet. Raises RuleError."""
    row = kind_row(kind, tables())
    plot = Plot(holding=holding, name=name, kind=kind, depth_cm=row.usual_depth_cm)
    check_name(plot)
    measured = required(put_shape(plot, shape))
    if plot.area_m2 is None:
        raise RuleError(
            "kind",
            kind,
            f"an outline does not tell how large {row.plural} are",
            "make it under “New plot” first, then draw where it stands",
        )
    return plot, measured


def check_name(plot: Plot) -> None:
    if not plot.name.strip() or len(plot.name) > 120:
        raise RuleError("name", plot.name[:40], "the plot has no name, or too long a one", "type a short name")
    if Plot.objects.filter(holding=plot.holding, name=plot.name).exclude(pk=plot.pk).exists():
        raise RuleError("name", plot.name, "you have a plot of this name already", "add a number or a place to it")


@transaction.atomic
def cut(plot: Plot, line: list[list[float]]) -> list[Plot]:
    """Cuts a plot along a line. A field becomes zones within it; of anything else the largest part stays and the rest are new.

    Returns every plot that was changed or made, with their plantings copied. Raises RuleError.
    """
    if plot.shape is None:
        raise RuleError("plot", plot.name, "this plot is not on the map yet", "draw it first")
    if plot.kind == Plot.Kind.FIELD and plot.zones.exists():
        raise RuleError("plot", plot.name, "this field has zones already", "choose the zone to cut")
    if plot.kind not in (Plot.Kind.FIELD, Plot.Kind.ZONE, Plot.Kind.BED, Plot.Kind.LAWN, Plot.Kind.PASTURE):
        raise RuleError("plot", plot.name, f"a {plot.get_kind_display()} can't be cut", "draw its parts one by one")
    parts = split(plot.shape, line)
    is_field = plot.kind == Plot.Kind.FIELD
    made = []
    for place, part in enumerate(parts, 1):
        if place == 1 and not is_field:
            put_shape(plot, part)
            plot.save()
            made.append(plot)
        else:
            made.append(_part_of(plot, part, "zone" if is_field or plot.kind == Plot.Kind.ZONE else "part"))
    return made


def _part_of(plot: Plot, shape: dict[str, Any], word: str) -> Plot:
    is_field = plot.kind == Plot.Kind.FIELD
    base = plot.parent.name if plot.parent else plot.name
    part = Plot(
        holding=plot.holding,
        parent=plot if is_field else plot.parent,
        kind=Plot.Kind.ZONE if is_field else plot.kind,
        name=_free_name(plot.holding, base, word, first=1 if is_field else 2),
        **{field: getattr(plot, field) for field in fields_with(COPIED) if field != "holding"},
    )
    put_shape(part, shape)
    part.save()
    for planting in plot.plantings.all():
        Planting.objects.create(
            plot=part,
            **{
                name: getattr(planting, name)
                for name in (
                    "crop",
                    "companion",
                    "own_crop",
                    "response",
                    "planted_on",
                    "ended_on",
                    "spacing_cm",
                    "row_width_cm",
                    "yield_goal_t_per_ha",
                    "target_ph",
                    "note",
                )
            },
        )
    for gift in plot.gifts.all():
        gift.pk, gift.plot = None, part
        gift.save(force_insert=True)
    return part


def _free_name(holding, base: str, word: str, first: int) -> str:
    taken = set(Plot.objects.filter(holding=holding, name__startswith=base[:100]).values_list("name", flat=True))
    number = first
    while (name := f"{base[:100]}, {word} {number}") in taken:
        number += 1
    return name


@transaction.atomic
def join(first: Plot, others: list[Plot]) -> None:
    """Merges plots that touch into the first; readings of the others go to it with a note of where they were from, bags, probes and open
    work too; what was done on them stays with them, retired. Raises RuleError.
    """
    plots = [first, *others]
    if not others or any(plot.shape is None for plot in plots):
        raise RuleError("plots", len(plots), "merging takes two plots or more that are on the map", "tick the plots that touch")
    if len({(plot.kind, plot.parent_id) for plot in plots}) > 1:
        raise RuleError(
            "plots", len(plots), "plots of different kinds, or zones of different fields, can't be merged", "tick plots of one kind"
        )
    put_shape(first, merge([plot.shape for plot in plots]))
    first.save()
    for other in others:
        for slip in other.slips.all():
            slip.plot, slip.note = first, f"{slip.note} (taken on {other.name})".strip()
            slip.save()
        other.gifts.update(plot=first, counted=False)  # it was given to a part, so whoever merges says whether it counts for the whole
        other.samples.update(plot=first)
        retire(other, str(Plot.Retired.MERGED), into=first)
