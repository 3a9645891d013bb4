"""Trays across a pass as bars, and the pattern of neighbouring passes at the best bout width over them."""

from dataclasses import dataclass

from agronomy.apply.calibration import TrayTest
from web.drawing.rake import at

LEFT, RIGHT, TOP, BOTTOM = 40.0, 580.0, 20.0, 180.0


@dataclass(frozen=True, slots=True)
class Tray:
    """One tray: its bar and what it caught."""

    x: str
    y: str
    width: str
    height: str
    label_x: str
    label: str


@dataclass(frozen=True, slots=True)
class Trays:
    """The drawing: bars for one pass, a stepped line for passes laid over each other, a dashed line at their mean."""

    bars: tuple[Tray, ...]
    line: str
    mean_y: str
    says: str


def tray_bars(test: TrayTest) -> Trays:
    most = max(max(test.caught), max(test.best.pattern)) or 1.0
    step = (RIGHT - LEFT) / len(test.caught)

    def height(value: float) -> float:
        return (BOTTOM - TOP) * value / most

    bars = tuple(
        Tray(
            at(LEFT + step * place + 3),
            at(BOTTOM - height(value)),
            at(step - 6),
            at(height(value)),
            at(LEFT + step * (place + 0.5)),
            f"{value:g}",
        )
        for place, value in enumerate(test.caught)
    )
    start = LEFT + (RIGHT - LEFT - step * len(test.best.pattern)) / 2
    points = []
    for place, value in enumerate(test.best.pattern):
        y = at(BOTTOM - height(value))
        points += [f"{at(start + step * place)},{y}", f"{at(start + step * (place + 1))},{y}"]
    mean = sum(test.best.pattern) / len(test.best.pattern)
    says = (
        f"One pass caught {', '.join(bar.label for bar in bars)}; laid over each other at bouts of {test.best.width_m:g} m passes "
        f"vary by {test.best.cv_pct:.0f} %"
    )
    return Trays(bars, "M" + " L".join(points), at(BOTTOM - height(mean)), says)
