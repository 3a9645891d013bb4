"""Laying a trial out: every treatment once in each block, the order drawn by a seed that is kept; and how many blocks it takes."""

import random
from collections.abc import Sequence
from math import isnan

from scipy import integrate, stats

from agronomy.base.errors import OutOfRange, check_range
from agronomy.base.record import record

MOST_DRAWS = 500
POWER, ALPHA, MOST_BLOCKS = 0.8, 0.05, 60


@record
class Unit:
    """One plot, strip or pot of a trial: its number (block × 100 + place), block, place in it and treatment."""

    number: int
    block: int
    place: int
    treatment: str


def lay_out(treatments: Sequence[str], blocks: int, seed: int) -> tuple[Unit, ...]:
    """The units of a trial in randomised blocks. The same seed draws the same.

    A lot in which a treatment stands at the same place of its block three times in four, or always first or last, is drawn again.
    Raises OutOfRange. Source: definition of a randomised block design.

    >>> [unit.number for unit in lay_out(["A", "B"], 4, 1)][:3]
    [101, 102, 201]
    """
    check_range("blocks", blocks, low=2, high=MOST_BLOCKS)
    if not 2 <= len(set(treatments)) <= 12 or len(set(treatments)) != len(treatments):
        raise OutOfRange("treatments", len(treatments), "a trial has 2 to 12 different treatments", "name the control first")
    rng = random.Random(seed)  # noqa: S311 -- a lot that can be drawn again, guards no secret
    for _ in range(MOST_DRAWS):
        orders = [rng.sample(list(treatments), len(treatments)) for _ in range(blocks)]
        if len(treatments) == 2 or not _leans(orders):
            break
    return tuple(
        Unit(block * 100 + place, block, place, treatment)
        for block, order in enumerate(orders, 1)
        for place, treatment in enumerate(order, 1)
    )


def _leans(orders: list[list[str]]) -> bool:
    """Whether a treatment stands at one place in three blocks of four or more."""
    allowed = max(2, 3 * len(orders) // 4 - (len(orders) % 4 == 0))
    for place in range(len(orders[0])):
        column = [order[place] for order in orders]
        if max(column.count(name) for name in set(column)) > allowed:
            return True
    return False


def blocks_needed(cv_pct: float, difference_pct: float, treatments: int) -> int | None:
    """Blocks that show a difference [% of the mean] between two treatments four times in five, at the usual scatter [%].

    None beyond 60 blocks: the trial cannot answer. Two-sided, 5 %; noncentral t. Source: definition.

    >>> blocks_needed(10, 20, 2), blocks_needed(20, 10, 2)
    (7, None)
    """
    check_range("scatter", cv_pct, low=0.5, high=200, unit="%")
    check_range("difference", difference_pct, low=0.5, high=500, unit="%")
    for blocks in range(2, MOST_BLOCKS + 1):
        df = (blocks - 1) * (treatments - 1)
        shift = difference_pct / cv_pct * (blocks / 2) ** 0.5
        edge = stats.t.ppf(1 - ALPHA / 2, df)
        if _power(edge, df, shift) >= POWER:
            return blocks
    return None


def _power(edge: float, df: float, shift: float) -> float:
    """The chance that a true difference of `shift` errors is seen, by the noncentral t.

    Far out in its tail the library has no number: then by the normal law averaged over how the error itself is estimated.
    """
    missed = float(stats.nct.cdf(edge, df, shift) - stats.nct.cdf(-edge, df, shift))
    if not isnan(missed):
        return 1 - missed

    def given(spread: float) -> float:
        seen = stats.norm.sf(edge * spread - shift) + stats.norm.cdf(-edge * spread - shift)
        return float(seen * stats.chi.pdf(spread * df**0.5, df) * df**0.5)

    return float(integrate.quad(given, 0, 6, limit=200)[0])
