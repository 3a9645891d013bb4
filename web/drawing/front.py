"""The front of trade-offs: number of bags across, money up; a hollow point leaves something open."""

from dataclasses import dataclass

from agronomy.choose.aims import Point
from web.drawing.rake import at

LEFT, RIGHT, TOP, BOTTOM = 70.0, 560.0, 24.0, 200.0


@dataclass(frozen=True, slots=True)
class Dot:
    """One point of the front."""

    x: str
    y: str
    is_whole: bool
    label: str
    label_y: str
    bags: str


@dataclass(frozen=True, slots=True)
class Front:
    """The drawing and all of it in words."""

    dots: tuple[Dot, ...]
    line: str
    says: str


def front_drawing(points: list[Point], currency: str) -> Front | None:
    """The drawing for some points; None where there are fewer than two to compare."""
    if len(points) < 2:
        return None
    dearest, most = max(point.cost for point in points) or 1.0, max(point.bags for point in points)
    dots = []
    for point in points:
        x, y = LEFT + (RIGHT - LEFT) * (point.bags - 0.5) / most, BOTTOM - (BOTTOM - TOP) * point.cost / dearest
        dots.append(Dot(at(x), at(y), point.is_whole, f"{currency}{point.cost:.2f}", at(y - 12), f"{point.bags}"))
    line = " ".join(f"{'L' if place else 'M'}{dot.x},{dot.y}" for place, dot in enumerate(dots))
    says = "; ".join(f"{point.bags} bags cost {currency}{point.cost:.2f}{'' if point.is_whole else ' and leave something open'}" for point in points)
    return Front(tuple(dots), line, says)
