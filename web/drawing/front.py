"""A front of trade-offs: something counted across, money up; a hollow point does not meet every need,
a ringed one is where the plot stands.
"""

from dataclasses import dataclass

from web.drawing.rake import at

LEFT, RIGHT, TOP, BOTTOM = 70.0, 560.0, 34.0, 200.0


@dataclass(frozen=True, slots=True)
class Mark:
    """One point to draw: where it stands across, what it costs, how it is labelled below, whether all needs are met, whether it is the
    plot's.
    """

    across: float
    cost: float
    label: str
    is_whole: bool = True
    is_here: bool = False


@dataclass(frozen=True, slots=True)
class Dot:
    """One point of the front."""

    x: str
    y: str
    is_whole: bool
    is_here: bool
    price: str
    price_y: str
    label: str


@dataclass(frozen=True, slots=True)
class Front:
    """The drawing and all of it in words."""

    dots: tuple[Dot, ...]
    line: str
    axis: str
    says: str


def front_drawing(marks: list[Mark], axis: str, currency: str) -> Front | None:
    """The drawing for some marks; None where there are fewer than two to compare."""
    if len(marks) < 2:
        return None
    dearest, most = max(mark.cost for mark in marks) or 1.0, max(mark.across for mark in marks) or 1.0
    dots = []
    for mark in sorted(marks, key=lambda mark: mark.across):
        x, y = LEFT + (RIGHT - LEFT) * (0.08 + 0.88 * mark.across / most), BOTTOM - (BOTTOM - TOP) * mark.cost / dearest
        dots.append(Dot(at(x), at(y), mark.is_whole, mark.is_here, f"{currency}{mark.cost:.2f}", at(y - 13), mark.label))
    line = " ".join(f"{'L' if place else 'M'}{dot.x},{dot.y}" for place, dot in enumerate(dots))
    says = "; ".join(f"{dot.label} {axis} cost {dot.price}{'' if dot.is_whole else ' and do not meet every need'}" for dot in dots)
    return Front(tuple(dots), line, axis, says)
