"""Intervals that must be kept: raw manure to harvest, stock off after spreading, closed seasons, one leaf feed to the next."""

from datetime import date, timedelta

from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.base.said import say
from agronomy.model.closed_season import ClosedSeason
from agronomy.products.compatibility import parting
from agronomy.tables import Tables
from agronomy.tables.material import Material


@record
class Breach:
    """An interval that a day would break: what, the first day that keeps it (None: none does), and why."""

    what: str
    first_day: date | None
    why: str


@record
class Put:
    """Something that was put on a plot: what, on which day, by which way ("leaf" where it was sprayed)."""

    material: Material
    on: date
    way: str = ""


def breaches(
    material: Material, day: date, tables: Tables, *, harvest: date | None = None, group: str = "", closed: tuple[ClosedSeason, ...] = ()
) -> list[Breach]:
    """What a spreading on a day would break; `group` is that of the crop which stands or comes.

    Source: nop-manure; your own rules replace it.
    In days.

    >>> from agronomy.intake.example import tables
    >>> breaches(tables.materials["urea"], date(2027, 5, 1), tables)
    []
    """
    found = []
    for season in closed:
        if material.key in season.materials and season.holds(day):
            found.append(
                Breach(
                    say("closed season: {season}", season=season.name),
                    season.first_free(day),
                    say("your own table of local rules closes these days"),
                )
            )
    row = tables.organics.eaten.get(group)
    if material.never_raw_on_food and row and row.touches_ground:
        found.append(
            Breach(
                say("raw pig manure on a food bed"),
                None,
                say("its germs and worms make people ill: never raw where food touches the ground"),
            )
        )
    wait = raw_wait(material, group, tables)
    if wait is not None and harvest is not None and timedelta(0) <= harvest - day < wait:
        why = say("{days} days from spreading to harvest are needed, and there are {left}", days=wait.days, left=(harvest - day).days)
        found.append(Breach("raw manure before harvest", harvest + timedelta(days=1), why))
    return found


def raw_wait(material: Material, group: str, tables: Tables) -> timedelta | None:
    """How long raw manure must lie before the harvest of a crop that is eaten; None where nothing must wait. Source: nop-manure.

    In days.

    >>> from agronomy.intake.example import tables
    >>> raw_wait(tables.materials["urea"], "", tables) is None
    True
    """
    row = tables.organics.eaten.get(group)
    if not material.raw_manure or row is None or not row.eaten:
        return None
    return timedelta(days=int((tables.organics.raw_days_touching if row.touches_ground else tables.organics.raw_days_other).value))


def stock_off_until(material: Material, day: date, tables: Tables) -> date | None:
    """The day until which stock is kept off grass after a spreading; None where it need not be. Source: each row's own.

    In days.

    >>> from agronomy.intake.example import tables
    >>> stock_off_until(tables.materials["urea"], date(2027, 5, 1), tables) is None
    True
    """
    return day + timedelta(days=int(tables.organics.stock_off_days.value)) if material.raw_manure else None


def next_leaf_feed(last: date, tables: Tables) -> date:
    """The first day for another leaf feed. Source: micro-rates (10 to 14 days apart).

    >>> from agronomy.tables import load_tables
    >>> str(next_leaf_feed(date(2027, 6, 1), load_tables()))
    '2027-06-11'
    """
    return last + timedelta(days=int(tables.liquids.leaf_feed_days.value))


def leaf_feeds(first: date, times: int, tables: Tables) -> list[tuple[date, date]]:
    """Windows of so many leaf feeds, as near together as they may be: from the day on which each may go on. Source: micro-rates.

    In days.

    >>> from agronomy.intake.example import tables
    >>> len(leaf_feeds(date(2027, 5, 1), 3, tables))
    3
    """
    within = timedelta(days=tables.liquids.leaf_feed_within_days.value)
    days = [first]
    while len(days) < times:
        days.append(next_leaf_feed(days[-1], tables))
    return [(day, day + within) for day in days]


def longest_interval(tables: Tables) -> timedelta:
    """How far back what was put on can still make a day too early. Source: each row's own.

    In days.

    >>> from agronomy.intake.example import tables
    >>> longest_interval(tables).days > 7
    True
    """
    return timedelta(days=max(tables.liquids.leaf_feed_days.value, *(row.days for row in tables.products.pairs.values())))


def too_soon(material: Material, way: str, day: date, before: list[Put], tables: Tables) -> list[Breach]:
    """What was put on the plot lately and makes a day too early: a leaf feed before this one, or a material that must lie apart.

    Source: micro-rates, compatibility-guide.
    In days.

    >>> from agronomy.intake.example import tables
    >>> too_soon(tables.materials["urea"], "", date(2027, 5, 1), [], tables)
    []
    """
    found = []
    for put in before:
        if put.on > day:
            continue
        if way == "leaf" and put.way == "leaf" and day < next_leaf_feed(put.on, tables):
            why = say(
                "{material} was sprayed on {on:%-d %b}, and leaves need {int} days",
                material=put.material.name,
                on=put.on,
                int=int(tables.liquids.leaf_feed_days.value),
            )
            found.append(Breach(say("one leaf feed soon after another"), next_leaf_feed(put.on, tables), why))
        clash = parting(material, put.material, tables)
        if clash is not None and day < put.on + timedelta(days=clash.days):
            why = say("{material} was spread on {on:%-d %b}, and {reason}", material=put.material.name, on=put.on, reason=clash.reason)
            found.append(Breach(say("{days} days apart", days=clash.days), put.on + timedelta(days=clash.days), why))
    return sorted(found, key=lambda item: required(item.first_day), reverse=True)
