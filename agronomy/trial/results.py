"""What a change was followed by: yields before and after, beside plots that were left as they were, and what it paid.

Years differ: what is seen between two years is never "caused". What plots without the change did in the same years is taken off.
"""

from collections.abc import Sequence
from statistics import fmean

from scipy import stats

from agronomy.base.record import record
from agronomy.base.said import Measure, say

FEW = 3  # plots on each side: below it the difference says little
LEVEL = 0.95


@record(kw_only=True)
class YearResult:
    """A plot's yield [t/ha] of a crop in a year, what was put on [own money per hectare], the share of first grade and what was lost
    in store [fractions].
    """

    plot: str
    crop: str
    year: int
    t_per_ha: float
    money_per_ha: float
    first_grade: float = 1.0
    lost: float = 0.0


@record(kw_only=True)
class Prices:
    """What a tonne brings in first and second grade, what handling one costs, and other costs of the change [own money; per hectare]."""

    first: float
    second: float = 0.0
    handling: float = 0.0
    more_per_ha: float = 0.0


@record(kw_only=True)
class BeforeAfter:
    """The change of yield between two years [t/ha] of the plots that had it, of the others (None without any), and what is left of it
    with its interval (None where the plots are too few); with the partial budget [own money per hectare]: what more was got less what
    more was spent, at the middle and at both ends. `break_even`: yield more [t/ha] from which it pays (None where nothing is earned).
    """

    before: float
    after: float
    others: float | None
    count: int
    dressed: int
    followed: float
    interval: tuple[float, float] | None
    income: float
    cost: float
    gains: tuple[float, float] | None
    break_even: float | None

    @property
    def gain(self) -> float:
        return self.income - self.cost

    def says(self) -> str:
        """What may be said of it."""
        if self.others is None:
            return say("No other plot had this crop in both years: the years may have made all of it. It was followed by, not caused.")
        beside = say(
            "{count} other plot{which} changed by {others:+.1f} in the same years",
            count=self.count,
            which="s" if self.count != 1 else "",
            others=Measure(self.others, "t/ha"),
        )
        span = (
            say(
                " ({interval:+.1f} to {up_to:+.1f})",
                interval=Measure(self.interval[0], "t/ha", bare=True),
                up_to=Measure(self.interval[1], "t/ha"),
            )
            if self.interval
            else ""
        )
        kept = say(
            "{beside}: {followed:+.1f}{span} is what may be put to the change.",
            beside=beside,
            followed=Measure(self.followed, "t/ha"),
            span=span,
        )
        return (
            kept if min(self.count, self.dressed) >= FEW else say("{kept} The plots are few; a trial with repeats would tell.", kept=kept)
        )


def income(t_per_ha: float, first_grade: float, lost: float, prices: Prices) -> float:
    """What a yield [t/ha] brings [own money per hectare] by grade, after what is lost in store. Source: partial-budget.

    >>> round(income(42.0, 0.78, 0.12, Prices(first=1400.0, second=500.0)), 1)
    44425.9
    """
    return t_per_ha * (1 - lost) * (first_grade * prices.first + (1 - first_grade) * prices.second)


def beside(dressed: Sequence[float], left: Sequence[float]) -> tuple[float, tuple[float, float] | None]:
    """Mean change of dressed plots less that of plots left as they were, and its 95 % interval by the pooled scatter.

    None for the interval where there are too few to tell. In the unit of the changes. Source: diff-in-diff.

    >>> value, (low, high) = beside([0.9, 1.0, 0.7, 1.3], [0.6, 0.5, 0.7, 0.4])
    >>> round(value, 3), round(low, 3), round(high, 3)
    (0.425, 0.081, 0.769)
    """
    value, df = fmean(dressed) - fmean(left), len(dressed) + len(left) - 2
    if df < 2:
        return value, None
    squares = sum((item - fmean(group)) ** 2 for group in (dressed, left) for item in group)
    reach = float(stats.t.ppf((1 + LEVEL) / 2, df)) * (squares / df * (1 / len(dressed) + 1 / len(left))) ** 0.5
    return value, (value - reach, value + reach)


def before_after(
    results: Sequence[YearResult], plots: Sequence[str], crop: str, years: tuple[int, int], prices: Prices
) -> BeforeAfter | None:
    """Two years of one crop on the plots that had a change, laid beside those of other plots; None where a yield is missing.

    Yields in t/ha, money per hectare. The low and high end of money take the yield's interval without any gain in grade or store at the
    low end. Source: diff-in-diff, partial-budget.

    >>> made = [("a", 2025, 5.0), ("a", 2026, 6.0), ("b", 2025, 5.0), ("b", 2026, 5.6)]
    >>> rows = [YearResult(plot=p, crop="onion", year=y, t_per_ha=t, money_per_ha=0.0) for p, y, t in made]
    >>> round(before_after(rows, ["a"], "onion", (2025, 2026), Prices(first=200.0)).followed, 3)
    0.4
    """
    by_key = {(row.plot, row.year): row for row in results if row.crop == crop}
    whole = {
        name: (by_key[name, years[0]], by_key[name, years[1]])
        for name in sorted({row.plot for row in results})
        if (name, years[0]) in by_key and (name, years[1]) in by_key
    }
    if not plots or any(name not in whole for name in plots):
        return None
    changed = [whole[name] for name in plots]
    changes = [last.t_per_ha - first.t_per_ha for first, last in changed]
    left = [last.t_per_ha - first.t_per_ha for name, (first, last) in whole.items() if name not in plots]
    followed, interval = beside(changes, left) if left else (fmean(changes), None)
    budget = _Budget([first for first, _ in changed], [last for _, last in changed], prices)
    return BeforeAfter(
        before=budget.t_before,
        after=fmean(last.t_per_ha for _, last in changed),
        others=fmean(left) if left else None,
        count=len(left),
        dressed=len(plots),
        followed=followed,
        interval=interval,
        income=budget.income(followed),
        cost=budget.cost(followed),
        gains=(budget.gain(interval[0], better=False), budget.gain(interval[1])) if interval else None,
        break_even=budget.break_even(),
    )


class _Budget:
    """What only the change changes, for a yield more or less."""

    def __init__(self, before: list[YearResult], after: list[YearResult], prices: Prices):
        self.prices, self.t_before = prices, fmean(row.t_per_ha for row in before)
        self.was, self.is_now = _graded(before), _graded(after)
        self.put_on = fmean(row.money_per_ha for row in after) - fmean(row.money_per_ha for row in before) + prices.more_per_ha

    def income(self, more: float, *, better: bool = True) -> float:
        now = self.is_now if better else self.was
        return income(self.t_before + more, *now, self.prices) - income(self.t_before, *self.was, self.prices)

    def cost(self, more: float) -> float:
        return self.put_on + more * self.prices.handling

    def gain(self, more: float, *, better: bool = True) -> float:
        return self.income(more, better=better) - self.cost(more)

    def break_even(self) -> float | None:
        a_tonne = income(1.0, *self.was, self.prices) - self.prices.handling
        return self.put_on / a_tonne if a_tonne > 0 else None


def _graded(rows: list[YearResult]) -> tuple[float, float]:
    return fmean(row.first_grade for row in rows), fmean(row.lost for row in rows)
