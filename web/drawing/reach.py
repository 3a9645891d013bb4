"""How much of each nutrient roots can reach, now and at the pH wanted: a hollow mark and a full one on a line each."""

from dataclasses import dataclass

from agronomy.recommend.acidity.availability import availability
from agronomy.tables import Tables
from web.drawing.rake import at

LEFT, RIGHT, TOP, STEP = 118.0, 660.0, 44.0, 27.0
NAMES = {"N": "nitrogen", "P": "phosphorus", "K": "potassium", "Ca": "calcium", "Mg": "magnesium", "S": "sulfur"}
METALS = {"Fe": "iron", "Mn": "manganese", "Zn": "zinc", "Cu": "copper", "B": "boron", "Mo": "molybdenum"}


@dataclass(frozen=True, slots=True)
class Line:
    """One nutrient: where it stands now and at the pH wanted."""

    name: str
    y: str
    text_y: str
    now_x: str
    then_x: str
    says: str


@dataclass(frozen=True, slots=True)
class Reach:
    """The drawing; `marks` are the steps of its scale."""

    height: str
    bottom: str
    lines: tuple[Line, ...]
    marks: tuple[tuple[str, str], ...]
    says: str


def reach(ph: float, wanted_ph: float, tables: Tables) -> Reach:
    """The drawing for a pH and the one wanted (the same where nothing is to change)."""
    lines = []
    for place, (key, name) in enumerate((NAMES | METALS).items()):
        now, then = availability(key, ph, tables), availability(key, wanted_ph, tables)
        y = TOP + STEP * place
        change = "as now" if abs(then - now) < 3 else f"{then:.0f} at the pH wanted"
        lines.append(Line(name, at(y), at(y + 5), at(_x(now)), at(_x(then)), f"{name} {now:.0f} of 100 now, {change}"))
    bottom = TOP + STEP * len(lines) - 8
    marks = tuple((at(_x(share)), f"{share}") for share in (0, 25, 50, 75, 100))
    return Reach(at(bottom + 10), at(bottom), tuple(lines), marks, "; ".join(line.says for line in lines))


def _x(share: float) -> float:
    return LEFT + (RIGHT - LEFT) * share / 100
