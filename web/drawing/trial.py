"""A trial drawn: its units in blocks, each with number and letter; and every value with means and intervals."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, floor

from agronomy.trial.design import Unit
from web.drawing.history import nice_step
from web.drawing.rake import at

CELL_W, CELL_H, GAP, LEFT = 84.0, 46.0, 10.0, 74.0
PLOT_W, PLOT_H, EDGE = 900.0, 60.0, 150.0


@dataclass(frozen=True, slots=True)
class Cell:
    """A unit as drawn."""

    x: str
    y: str
    number: int
    letter: str


@dataclass(frozen=True, slots=True)
class Layout:
    """The drawing of a layout; rows are blocks."""

    width: str
    height: str
    cell_width: str
    cell_height: str
    cells: tuple[Cell, ...]
    rows: tuple[tuple[str, str], ...]


def layout(units: Sequence[Unit], letters: dict[str, str]) -> Layout:
    """The units of a trial, a row to a block."""
    blocks = sorted({unit.block for unit in units})
    places = max(unit.place for unit in units)
    cells = tuple(
        Cell(
            at(LEFT + (unit.place - 1) * (CELL_W + 4)),
            at((unit.block - 1) * (CELL_H + GAP) + 2),
            unit.number,
            letters[unit.treatment],
        )
        for unit in units
    )
    rows = tuple((at((block - 1) * (CELL_H + GAP) + CELL_H / 2 + 7), f"Block {block}") for block in blocks)
    return Layout(at(LEFT + places * (CELL_W + 4)), at(len(blocks) * (CELL_H + GAP)), at(CELL_W), at(CELL_H), cells, rows)


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
