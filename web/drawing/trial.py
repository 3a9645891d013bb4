"""A trial drawn: its units in blocks, each with number and letter; and every value with means and intervals."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, floor

from agronomy.trial.design import Unit
from web.drawing.history import nice_step
from web.drawing.rake import at

CELL_W, CELL_H, GAP, LEFT, ASIDE = 84.0, 46.0, 10.0, 74.0, 70.0
WIDEST, LEAST_W, LEAST_H, MOST_H = 820.0, 62.0, 34.0, 130.0
PLOT_W, PLOT_H, EDGE = 900.0, 60.0, 150.0


@dataclass(frozen=True, slots=True)
class Size:
    """A unit's length down the slope and width across, and the guard between units [m]."""

    length_m: float
    width_m: float
    guard_m: float = 0.0


@dataclass(frozen=True, slots=True)
class Cell:
    """A unit as drawn."""

    x: str
    y: str
    number: int
    letter: str


@dataclass(frozen=True, slots=True)
class Layout:
    """The drawing of a layout; rows are blocks. To scale there is a guard around all units (x, y, width, height) and a bar of so many
    metres (from, to, words); the arrow points down the slope.
    """

    width: str
    height: str
    cell_width: str
    cell_height: str
    cells: tuple[Cell, ...]
    rows: tuple[tuple[str, str], ...]
    arrow: tuple[str, str, str]  # x, and where it begins and ends
    guard: tuple[str, str, str, str] | None = None
    bar: tuple[str, str, str] | None = None
    is_cut: bool = False


def layout(units: Sequence[Unit], letters: dict[str, str], size: Size | None = None) -> Layout:
    """The units of a trial, a row to a block, to scale where their size is known."""
    blocks, places = max(unit.block for unit in units), max(unit.place for unit in units)
    wide, high, across, down = _drawn(size, places)
    edge = across if size and size.guard_m else 2.0
    cells = tuple(
        Cell(
            at(LEFT + edge + (unit.place - 1) * (wide + across)),
            at((unit.block - 1) * (high + down) + edge),
            unit.number,
            letters[unit.treatment],
        )
        for unit in units
    )
    rows = tuple((at((block - 1) * (high + down) + edge + high / 2 + 5), f"Block {block}") for block in range(1, blocks + 1))
    right, bottom = places * (wide + across) - across + 2 * edge, blocks * (high + down) - down + 2 * edge
    metres = 0.0 if size is None else nice_step(size.width_m * 4)
    return Layout(
        width=at(LEFT + right + ASIDE),
        height=at(bottom + (30 if size else 4)),
        cell_width=at(wide),
        cell_height=at(high),
        cells=cells,
        rows=rows,
        arrow=(at(LEFT + right + 22), at(edge + 4), at(bottom - edge - 4)),
        guard=(at(LEFT), at(0.0), at(right), at(bottom)) if size and size.guard_m else None,
        bar=(at(LEFT), at(LEFT + metres * wide / size.width_m), f"{metres:g} m across") if size else None,
        is_cut=size is not None and high == MOST_H,
    )


def _drawn(size: Size | None, places: int) -> tuple[float, float, float, float]:
    """Width and height of a unit, and the gaps across and down, as drawn: room for a number in the smallest, long strips cut short."""
    if size is None:
        return CELL_W, CELL_H, 4.0, GAP
    scale = WIDEST / (places * (size.width_m + size.guard_m))
    scale = max(min(scale, 2 * CELL_W / size.width_m), LEAST_W / size.width_m, LEAST_H / size.length_m)
    gap = max(2.0, size.guard_m * scale)
    return size.width_m * scale, min(size.length_m * scale, MOST_H), gap, gap


@dataclass(frozen=True, slots=True)
class Dots:
    """Every value of each treatment on one scale, with its mean; a row to a treatment."""

    width: str
    height: str
    rows: tuple[tuple[str, str, tuple[str, ...], str], ...]  # y, name, x of each value, x of the mean
    ticks: tuple[tuple[str, str], ...]
    floor: str


def dots(values: dict[str, list[float]]) -> Dots | None:
    """The Dots of values by treatment; None where there are none."""
    everything = [value for row in values.values() for value in row]
    if not everything:
        return None
    low, high = min(everything), max(everything)
    span = (high - low) or 1.0
    low, high = low - 0.08 * span, high + 0.08 * span

    def x(value: float) -> float:
        return EDGE + (PLOT_W - EDGE - 20) * (value - low) / (high - low)

    rows = tuple(
        (at(place * PLOT_H + PLOT_H / 2), name, tuple(at(x(value)) for value in row), at(x(sum(row) / len(row))) if row else "")
        for place, (name, row) in enumerate(values.items())
    )
    step = nice_step(high - low)
    ticks = tuple((at(x(step * part)), f"{step * part:.6g}") for part in range(ceil(low / step), floor(high / step) + 1))
    bottom = len(values) * PLOT_H
    return Dots(at(PLOT_W), at(bottom + 30), rows, ticks, at(bottom))
