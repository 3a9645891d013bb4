"""Nitrogen given beside nitrogen taken, over the weeks of a crop."""

from dataclasses import dataclass

from agronomy.apply.uptake import Balance
from agronomy.base import showing
from web.date_format import said
from web.drawing.rake import at

LEFT, RIGHT, TOP, BOTTOM = 60.0, 690.0, 16.0, 220.0


@dataclass(frozen=True, slots=True)
class Tick:
    """A week on the axis."""

    x: str
    label: str


@dataclass(frozen=True, slots=True)
class Point:
    """A week on one of the lines, with what it says when it is pointed at."""

    x: str
    y: str
    says: str


@dataclass(frozen=True, slots=True)
class Uptake:
    """The drawing: a line for what was given, one for what is taken, the ground between where it sags, points that tell, rules and ticks,
    and all of it in words.
    """

    given: str
    taken: str
    sag: str
    ticks: tuple[Tick, ...]
    rules: tuple[tuple[str, str], ...]
    points: tuple[Point, ...]
    unit: str
    says: str


def _parted(place: str) -> tuple[str, str]:
    x, _, y = place.partition(",")
    return x, y


def uptake_drawing(balance: Balance, unit: str, scale: float) -> Uptake:
    """The drawing; `scale` turns kg/ha into the reader's `unit`."""
    most = max([week.given for week in balance.weeks] + [week.taken for week in balance.weeks]) or 1.0
    last = len(balance.weeks) - 1

    def point(number: int, value: float) -> str:
        return f"{at(LEFT + (RIGHT - LEFT) * number / last)},{at(BOTTOM - (BOTTOM - TOP) * value / most)}"

    given = "M" + " L".join(point(number, week.given) for number, week in enumerate(balance.weeks))
    taken = "M" + " L".join(point(number, week.taken) for number, week in enumerate(balance.weeks))
    low = [(number, week) for number, week in enumerate(balance.weeks) if week in balance.sags]
    sag = (
        "M"
        + " L".join([point(number, week.taken) for number, week in low] + [point(number, week.given) for number, week in reversed(low)])
        + " Z"
        if low
        else ""
    )
    ticks = tuple(
        Tick(at(LEFT + (RIGHT - LEFT) * number / last), f"{said(balance.weeks[number].day, 'j M')}") for number in range(0, last + 1, 4)
    )
    says = "; ".join(
        f"by {said(week.day, 'j M')} {week.given * scale:.3g} given, {week.taken * scale:.3g} taken" for week in balance.weeks[::4]
    )
    rules = tuple((at(BOTTOM - (BOTTOM - TOP) * part / 4), showing.number(most * scale * part / 4, 2)) for part in range(1, 5))
    points = tuple(
        Point(*_parted(point(number, value)), f"{said(week.day, 'j M')}: {value * scale:.3g} {unit} {word}")
        for number, week in list(enumerate(balance.weeks))[::2]
        for value, word in ((week.given, "given"), (week.taken, "taken"))
    )
    return Uptake(given, taken, sag, ticks, rules, points, unit, f"Nitrogen in {unit}: {says}")
