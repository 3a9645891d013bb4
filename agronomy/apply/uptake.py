"""Nitrogen that dressings have given, week by week, beside what the crop has taken: where it sags and where it is too much."""

from datetime import date, timedelta
from math import exp

from agronomy.base.record import record
from agronomy.model.climate import Climate, soil_warmth
from agronomy.recommend.nutrients.release import released_by
from agronomy.tables import Tables
from agronomy.tables.material import Material

USUAL_WARMTH_C = 15.0  # where the climate is not said


@record
class NitrogenDressing:
    """A dressing: its day, material and nitrogen in all [kg/ha]."""

    on: date
    material: Material
    nitrogen: float


@record
class Week:
    """The end of one week: nitrogen given so far, and taken so far [kg/ha]."""

    day: date
    given: float
    taken: float

    @property
    def over(self) -> float:
        return self.given - self.taken


@record
class Balance:
    """The weeks from planting on. `sags` and `spills` are weeks in which less, or much more, is there than the crop has taken."""

    weeks: tuple[Week, ...]
    sags: tuple[Week, ...]
    spills: tuple[Week, ...]


def taken_share(share_of_time: float, tables: Tables) -> float:
    """Share of its nitrogen that a crop has taken when a share of its time is over: an S from nought to one. Source: own-experience.

    >>> from agronomy.tables import load_tables
    >>> [round(taken_share(part, load_tables()), 2) for part in (0, 0.5, 1)]
    [0.0, 0.5, 1.0]
    """
    half, steep = tables.organics.uptake_half_share.value, tables.organics.uptake_steepness.value

    def rise(part: float) -> float:
        return 1 / (1 + exp(-steep * (part - half)))

    return (rise(min(1.0, max(0.0, share_of_time))) - rise(0)) / (rise(1) - rise(0))


def balance(
    dressings: list[NitrogenDressing], uptake: float, ground_gives: float, planting: date, tables: Tables, *, climate: Climate | None = None
) -> Balance:
    """The balance of a crop's time for an uptake [kg/ha]; `ground_gives` [kg/ha] comes evenly over it, from humus and what was credited.

    Organics and coated ones give by the soil's usual warmth of each week, salts at once. Source: manure-release, within a third.
    """
    weeks, count = [], int(tables.organics.growing_weeks.value)
    for number in range(count + 1):
        day = planting + timedelta(weeks=number)
        given = sum(item.nitrogen * _given(item, day, climate, tables) for item in dressings if item.on <= day)
        weeks.append(Week(day, given + ground_gives * number / count, uptake * taken_share(number / count, tables)))
    least = tables.organics.sag_share.value * uptake
    spill = max(least, 0.5 * uptake)
    return Balance(tuple(weeks), tuple(week for week in weeks if week.over < -least), tuple(week for week in weeks if week.over > spill))


def _given(item: NitrogenDressing, day: date, climate: Climate | None, tables: Tables) -> float:
    """Share of a dressing's nitrogen come free by a day, at the mean warmth since it was put on."""
    weeks = (day - item.on).days / 7
    if weeks <= 0:
        return released_by(item.material, 1e-9, USUAL_WARMTH_C, tables)
    middle = item.on + (day - item.on) / 2
    warmth = soil_warmth(middle, climate, tables) if climate is not None else USUAL_WARMTH_C
    return released_by(item.material, weeks, warmth, tables)
