"""What a change was followed by: a plot's yield before and after, beside plots that were left as they were, and what it paid.

Years differ: what is seen between two years is never "caused". What plots without the change did in the same years is taken off.
"""

from collections.abc import Sequence

from agronomy.base.record import record

FEW = 3  # plots on each side: below it the difference says little


@record(kw_only=True)
class YearResult:
    """A plot's yield [t/ha] of a crop in a year, and what was spent on what was put on [own money per hectare]."""

    plot: str
    crop: str
    year: int
    t_per_ha: float
    money_per_ha: float


@record(kw_only=True)
class BeforeAfter:
    """The change of yield between two years [t/ha], of the plot, of the others of the same crop (None without any), and what is left of it;
    with the partial budget [own money per hectare]: what more was got less what more was spent.
    """

    before: YearResult
    after: YearResult
    others: float | None
    count: int
    followed: float
    income: float
    cost: float

    @property
    def gain(self) -> float:
        return self.income - self.cost

    @property
    def change(self) -> float:
        return self.after.t_per_ha - self.before.t_per_ha

    def says(self) -> str:
        """What may be said of it."""
        if self.others is None:
            return "No other plot had this crop in both years: the years may have made all of it. It was followed by, not caused."
        beside = f"{self.count} other plot{'s' if self.count != 1 else ''} changed by {self.others:+.1f} t/ha in the same years"
        kept = f"{beside}: {self.followed:+.1f} t/ha is what may be put to the change."
        return kept if self.count >= FEW else f"{kept} That is few; a trial with repeats would tell."


def before_after(results: Sequence[YearResult], plot: str, crop: str, years: tuple[int, int], price_per_t: float) -> BeforeAfter | None:
    """A plot's two years of one crop laid beside those of other plots; None where a yield is missing. `price_per_t` in own money.

    Source: diff-in-diff.

    >>> made = [("a", 2025, 5.0), ("a", 2026, 6.0), ("b", 2025, 5.0), ("b", 2026, 5.6)]
    >>> rows = [YearResult(plot=p, crop="onion", year=y, t_per_ha=t, money_per_ha=0.0) for p, y, t in made]
    >>> round(before_after(rows, "a", "onion", (2025, 2026), 200.0).followed, 3)
    0.4
    """
    by_key = {(row.plot, row.year): row for row in results if row.crop == crop}
    first, last = by_key.get((plot, years[0])), by_key.get((plot, years[1]))
    if first is None or last is None:
        return None
    changes = [
        by_key[name, years[1]].t_per_ha - by_key[name, years[0]].t_per_ha
        for name in {row.plot for row in results} - {plot}
        if (name, years[0]) in by_key and (name, years[1]) in by_key
    ]
    others = sum(changes) / len(changes) if changes else None
    followed = last.t_per_ha - first.t_per_ha - (others or 0.0)
    return BeforeAfter(
        before=first,
        after=last,
        others=others,
        count=len(changes),
        followed=followed,
        income=followed * price_per_t,
        cost=last.money_per_ha - first.money_per_ha,
    )
