"""An analyte over the years: readings with their error, what was spread, and the range that is wanted."""

from dataclasses import dataclass
from datetime import date

from web.drawing.rake import at

WIDTH, HEIGHT = 900.0, 360.0
LEFT, RIGHT, TOP, BOTTOM = 56.0, 20.0, 16.0, 96.0
SHAPES = ("circle", "square", "diamond", "triangle")


@dataclass(frozen=True, slots=True)
class Point:
    """A reading in time: value and the ends of its error, by what method, and whether it may be rated by."""

    day: date
    value: float
    low: float
    high: float
    method: str
    is_sure: bool
    says: str
    href: str


@dataclass(frozen=True, slots=True)
class DressingMark:
    """Something that was put on."""

    day: date
    label: str


@dataclass(frozen=True, slots=True)
class Ahead:
    """What a test is expected to read on a day to come, with the ends of its band."""

    day: date
    value: float
    low: float
    high: float


@dataclass(frozen=True, slots=True)
class Dot:
    """A reading as drawn."""

    path: str
    bar: str
    is_sure: bool
    says: str
    href: str


@dataclass(frozen=True, slots=True)
class History:
    """The drawing, its axes, and a key of methods."""

    width: str
    height: str
    left: str
    floor: str
    ceiling: str
    right: str
    dots: tuple[Dot, ...]
    ticks: tuple[tuple[str, str], ...]
    years: tuple[tuple[str, str], ...]
    marks: tuple[tuple[str, str, str], ...]
    band: tuple[str, str] | None
    methods: tuple[tuple[str, str], ...]
    says: str
    ahead: tuple[str, str] | None = None  # the band and the middle line of what is expected


def _shape(kind: str, x: float, y: float) -> str:
    if kind == "circle":
        return f"M{at(x - 6)} {at(y)}a6 6 0 1 0 12 0a6 6 0 1 0 -12 0z"
    if kind == "square":
        return f"M{at(x - 5)} {at(y - 5)}h10v10h-10z"
    if kind == "diamond":
        return f"M{at(x)} {at(y - 7)}l7 7l-7 7l-7 -7z"
    return f"M{at(x)} {at(y - 7)}l7 12h-14z"


def nice_step(span: float) -> float:
    """A step of 1, 2 or 5 that parts a span into six or fewer."""
    power = 1e-6
    while True:
        for nice in (1, 2, 5):
            if span / (nice * power) <= 6:
                return nice * power
        power *= 10


def history(
    points: list[Point],
    dressings: list[DressingMark],
    *,
    wanted: tuple[float, float] | None,
    today: date,
    unit: str,
    ahead: list[Ahead] | None = None,
) -> History | None:
    """The drawing of some readings; None where there is none."""
    if not points:
        return None
    ahead = ahead or []
    days = [point.day for point in points] + [dressing.day for dressing in dressings] + [today] + [item.day for item in ahead]
    first, last = date(min(days).year, 1, 1), date(max(days).year + 1, 1, 1)
    ends = [point.low for point in points] + [point.high for point in points] + list(wanted or ())
    ends += [end for item in ahead for end in (item.low, item.high)]
    step = nice_step(max(ends) - min(ends) or 1)
    low, high = (min(ends) // step) * step, (max(ends) // step + 1) * step
    inner_right, floor = WIDTH - RIGHT, HEIGHT - BOTTOM

    def x(day: date) -> float:
        return LEFT + (inner_right - LEFT) * (day - first).days / (last - first).days

    def y(value: float) -> float:
        return floor - (floor - TOP) * (value - low) / (high - low)

    methods = list(dict.fromkeys(point.method for point in points))
    kinds = {method: SHAPES[place % len(SHAPES)] for place, method in enumerate(methods)}
    dots = tuple(
        Dot(
            _shape(kinds[point.method], x(point.day), y(point.value)),
            _bar(x(point.day), y(point.low), y(point.high)),
            point.is_sure,
            point.says,
            point.href,
        )
        for point in points
    )
    count = round((high - low) / step)
    ticks = tuple((at(y(low + step * number)), f"{low + step * number:.6g}") for number in range(count + 1))
    years = tuple((at(x(date(year, 1, 1))), str(year)) for year in range(first.year, last.year))
    return History(
        at(WIDTH),
        at(HEIGHT),
        at(LEFT),
        at(floor),
        at(TOP),
        at(inner_right),
        dots,
        ticks,
        years,
        _marks(dressings, x, floor),
        (at(y(wanted[1])), at(y(wanted[0]) - y(wanted[1]))) if wanted else None,
        tuple((_shape(kinds[method], 8, 8), method) for method in methods),
        says=f"{len(points)} readings from {points[0].day:%B %Y} to {points[-1].day:%B %Y}, last {points[-1].value:.4g} {unit}".strip(),
        ahead=_ahead(points[-1], ahead, today, x, y) if ahead else None,
    )


def _ahead(last: Point, ahead: list[Ahead], today: date, x, y) -> tuple[str, str]:
    """The band and the middle line of what is expected, from the last reading on."""
    start = Ahead(today, last.value, last.low, last.high)
    along = [start, *ahead]
    upper = "L".join(f"{at(x(item.day))} {at(y(item.high))}" for item in along)
    lower = "L".join(f"{at(x(item.day))} {at(y(item.low))}" for item in reversed(along))
    return f"M{upper}L{lower}Z", "M" + "L".join(f"{at(x(item.day))} {at(y(item.value))}" for item in along)


def _bar(x: float, low: float, high: float) -> str:
    return f"M{at(x)} {at(low)}V{at(high)}M{at(x - 4)} {at(low)}h8M{at(x - 4)} {at(high)}h8"


def _marks(dressings: list[DressingMark], x, floor: float) -> tuple[tuple[str, str, str], ...]:
    """Labels of what was spread, in rows below the axis so that they do not lie on each other."""
    rows: list[float] = []
    marks = []
    for dressing in sorted(dressings, key=lambda item: item.day):
        place, width = x(dressing.day), len(dressing.label) * 7.2 + 14
        row = next((number for number, end in enumerate(rows) if end <= place), len(rows))
        rows[row : row + 1] = [place + width]
        if row < 3:
            marks.append((at(place), at(floor + 40 + 18 * row), dressing.label))
    return tuple(marks)
