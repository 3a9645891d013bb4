"""A season in one view: what each plot still needs, what is on the list for it, what was done, and what is left or too much."""

from collections.abc import Sequence

from agronomy.base.record import record
from agronomy.ledger.intent import WATCHED, Intended, brought, least_worth_asking, per_hectare
from agronomy.tables import Tables


@record
class SeasonLine:
    """One nutrient of a plot [kg/ha, lime as CaCO3]: still needed, on the list, done this year.

    `left` is needed and not on the list; `over` is on the list beyond the need; both are nought where the difference is too small to ask
    about.
    """

    what: str
    needed: float
    meant: float
    done: float
    left: float
    over: float


@record
class MonthLine:
    """What is on the list for a month: how many dressings, what they bring [kg], cost at list prices and take in hours."""

    year: int
    month: int
    dressings: int
    brings: dict[str, float]
    money: float
    hours: float


def season_of(
    needs: dict[str, float], meant: Sequence[Intended], done: Sequence[Intended], *, area_m2: float, tables: Tables
) -> list[SeasonLine]:
    """A line for each watched nutrient that is needed, meant or was given. Source: definition.

    `needs` [kg/ha] are those of today's plan, which has taken off what was done since the test.

    >>> from datetime import date
    >>> from agronomy.intake.example import tables
    >>> day = date(2027, 3, 1)
    >>> line = season_of({"N": 80.0}, [Intended("urea", 100.0, day, day, "")], [], area_m2=10_000.0, tables=tables)[0]
    >>> line.what, round(line.meant), round(line.left), round(line.over)
    ('N', 46, 34, 0)
    """
    on_list, given = per_hectare(meant, area_m2, tables), per_hectare(done, area_m2, tables)
    found = []
    for what in WATCHED:
        needed, planned, put_on = needs.get(what, 0.0), on_list.get(what, 0.0), given.get(what, 0.0)
        if needed or planned or put_on:
            small = needed * tables.choice.meant_over_share.value + least_worth_asking(what, tables)
            left, over = needed - planned, planned - needed
            found.append(SeasonLine(what, needed, planned, put_on, left if left > small else 0.0, over if over > small else 0.0))
    return found


def by_month(meant: Sequence[Intended], prices: dict[str, float], tables: Tables, hours: Sequence[float] = ()) -> list[MonthLine]:
    """What is on the list month by month, by the first day of each window. `prices` per kg go before the list's; `hours` are those of each
    dressing, in the same order, where they are known. Source: definition.

    >>> from datetime import date
    >>> from agronomy.intake.example import tables
    >>> day = date(2027, 3, 1)
    >>> [(line.month, line.dressings) for line in by_month([Intended("urea", 10.0, day, day, "")], {}, tables)]
    [(3, 1)]
    """
    months: dict[tuple[int, int], list[tuple[Intended, float]]] = {}
    for item, taken in zip(meant, hours or [0.0] * len(meant), strict=True):
        months.setdefault((item.begins.year, item.begins.month), []).append((item, taken))
    return [_month(year, month, items, prices, tables) for (year, month), items in sorted(months.items())]


def _month(year: int, month: int, items: list[tuple[Intended, float]], prices: dict[str, float], tables: Tables) -> MonthLine:
    brings: dict[str, float] = {}
    money = 0.0
    for item, _ in items:
        material = tables.materials.get(item.material)
        if material is None:
            continue
        for key, kg in brought(material, item.kg).items():
            brings[key] = brings.get(key, 0.0) + kg
        money += item.kg * prices.get(item.material, material.list_price_per_kg)
    return MonthLine(year, month, len(items), brings, money, sum(taken for _, taken in items))
