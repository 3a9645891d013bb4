"""The price of a working kilogram as bars: the part of the bag that works is full, the filler beside it hollow."""

from dataclasses import dataclass

from agronomy.products.worth import Worth
from web.drawing.rake import at

LEFT, RIGHT, TOP, STEP = 250.0, 690.0, 8.0, 28.0
MOST_BARS = 14


@dataclass(frozen=True, slots=True)
class Bar:
    """One material: how long its price is beside the dearest drawn, and how much of its bag works."""

    name: str
    y: str
    text_y: str
    width: str
    works_width: str
    price_x: str
    price: str


@dataclass(frozen=True, slots=True)
class Bars:
    """The drawing; prices beyond five times the cheapest are cut off, and say so."""

    height: str
    bars: tuple[Bar, ...]
    says: str


CUT_OFF_AT = 5.0


def worth_bars(rows: list[Worth]) -> Bars | None:
    """Bars for the cheapest materials of one purpose; None where there are none."""
    shown = rows[:MOST_BARS]
    if not shown:
        return None
    reach = min(CUT_OFF_AT, max(row.dearer_by for row in shown))
    bars = []
    for place, row in enumerate(shown):
        y = TOP + STEP * place
        width = (RIGHT - LEFT - 70) * min(row.dearer_by, reach) / reach
        label = f"{row.dearer_by:.1f} times" if row.dearer_by >= 1.005 else "cheapest"
        bars.append(Bar(row.name, at(y), at(y + 15), at(width), at(width * min(1.0, row.works)), at(LEFT + width + 8), label))
    says = "; ".join(f"{row.name} {row.dearer_by:.1f} times the cheapest, {row.works * 100:.0f} % of the bag works" for row in shown)
    return Bars(at(TOP + STEP * len(shown)), tuple(bars), says)
