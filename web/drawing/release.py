"""How much of a material's nitrogen has come free, week by week."""

from dataclasses import dataclass

from web.drawing.rake import at

LEFT, RIGHT, TOP, BOTTOM = 50.0, 570.0, 20.0, 170.0


@dataclass(frozen=True, slots=True)
class Mark:
    """One week: where it stands and how much has come free."""

    x: str
    y: str
    label_y: str
    week: str
    pct: str


@dataclass(frozen=True, slots=True)
class Release:
    """The drawing and all of it in words."""

    line: str
    marks: tuple[Mark, ...]
    says: str


def release_line(weeks: tuple[int, ...], shares: tuple[float, ...]) -> Release:
    """The line for shares [%] after some weeks, from nought on."""
    last = weeks[-1]
    marks = []
    for week, share in zip(weeks, shares, strict=True):
        y = BOTTOM - (BOTTOM - TOP) * share / 100
        marks.append(Mark(at(LEFT + (RIGHT - LEFT) * week / last), at(y), at(max(TOP + 6, y - 10)), f"{week}", f"{share:.0f} %"))
    line = f"M{at(LEFT)},{at(BOTTOM)} " + " ".join(f"L{mark.x},{mark.y}" for mark in marks)
    return Release(line, tuple(marks), "; ".join(f"{mark.pct} after {mark.week} weeks" for mark in marks))
