"""The nitrogen budget as a bar: what the crop takes up as one measure, what it is given laid along it, and the rest."""

from dataclasses import dataclass

from agronomy.plan.plan import Plan
from web.drawing.rake import at

LEFT, RIGHT, TOP, STEP = 8.0, 712.0, 40.0, 30.0


@dataclass(frozen=True, slots=True)
class Block:
    """One line of the budget: where it lies along the measure and what it is."""

    x: str
    y: str
    width: str
    kind: str  # given, held (ties nitrogen up), out (not counted), need
    label: str
    label_x: str
    label_y: str
    is_end: bool


@dataclass(frozen=True, slots=True)
class Budget:
    """The drawing in its own coordinates, and all of it in words."""

    width: str
    height: str
    measure_width: str
    blocks: tuple[Block, ...]
    says: str


def budget(plan: Plan) -> Budget | None:
    """The drawing of a plan's nitrogen; None where there is nothing to lay out. Amounts in kg/ha of what the crop gets."""
    lines = [credit for credit in plan.credits if credit.nutrient == "N"]
    need = next((item.rate_kg_per_ha for item in plan.needs if item.what == "N"), 0.0)
    reach = _reach(lines, need)
    if reach <= 0:
        return None
    scale = (RIGHT - LEFT) / reach
    blocks, along, y = [], 0.0, TOP
    for credit in lines:
        kg = credit.kg_per_ha
        kind = "out" if not credit.counted else "held" if kg < 0 else "given"
        start = along if kg >= 0 else along + kg
        blocks.append(_block(start, abs(kg), y, kind, f"{credit.name} {kg:.0f}", scale))
        along += kg if credit.counted else 0.0
        y += STEP
    blocks.append(_block(along, need, y, "need", f"to give {need:.0f}", scale))
    says = "; ".join(block.label for block in blocks)
    return Budget(at(RIGHT + LEFT), at(y + STEP + 6), at((along + need) * scale), tuple(blocks), says)


def _reach(lines: list, need: float) -> float:
    """The furthest that any block lies along the measure [kg/ha]."""
    along, reach = 0.0, 0.0
    for credit in lines:
        reach = max(reach, along + max(0.0, credit.kg_per_ha))
        along += credit.kg_per_ha if credit.counted else 0.0
    return max(reach, along + need)


def _block(start: float, kg: float, y: float, kind: str, label: str, scale: float) -> Block:
    x, width = LEFT + max(0.0, start) * scale, max(2.0, kg * scale)
    is_end = x + width > RIGHT - 190
    return Block(at(x), at(y), at(width), kind, label, at(x - 8 if is_end else x + width + 8), at(y + 17), is_end)
