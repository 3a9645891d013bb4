"""A small trace of a value over time."""

from dataclasses import dataclass

from web.drawing.rake import at

WIDTH, HEIGHT, EDGE = 460.0, 120.0, 8.0


@dataclass(frozen=True, slots=True)
class Trace:
    """The line, and its lowest and highest value."""

    width: str
    height: str
    points: str
    low: str
    high: str


def trace(values: list[tuple[float, float]], *, least_span: float = 0.2) -> Trace | None:
    """The Trace of (time, value) pairs; None for fewer than two. Small wobbles are not blown up beyond `least_span`."""
    if len(values) < 2:
        return None
    low, high = min(value for _, value in values), max(value for _, value in values)
    middle, span = (low + high) / 2, max(high - low, least_span)
    first, last = values[0][0], values[-1][0]

    def point(time: float, value: float) -> str:
        x = EDGE + (WIDTH - 2 * EDGE) * (time - first) / max(last - first, 1e-9)
        y = HEIGHT / 2 - (value - middle) / span * (HEIGHT - 2 * EDGE)
        return f"{at(x)},{at(y)}"

    return Trace(at(WIDTH), at(HEIGHT), " ".join(point(*pair) for pair in values), f"{low:.2f}", f"{high:.2f}")
