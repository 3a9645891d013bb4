"""What leaves and the ground say together, and nutrients of a leaf that stand against each other."""

from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.interpret.balance import Remark
from agronomy.interpret.leaf import LEAF
from agronomy.model.finding import Finding
from agronomy.model.reading import Reading
from agronomy.tables import Tables
from agronomy.tables.rooms.nutrients import LeafWithSoil

OVER = ("plenty", "excess")


def leaf_and_ground(leaves: dict[str, Finding], ground: dict[str, Finding], ph: Finding | None, tables: Tables) -> tuple[Remark, ...]:
    """The verdict of each leaf finding set against the soil's of the same nutrient. Source: each row of leaf/with_soil.csv.

    Leaves in % or mg/kg of dry matter, ground in mg/kg.

    >>> from agronomy.intake.example import tables
    >>> leaf_and_ground({}, {}, None, tables)
    ()
    """
    rows: dict[tuple[str, str], LeafWithSoil] = {(row.leaf, row.soil): row for row in tables.nutrients.leaf_with_soil}
    found = []
    for key, leaf in leaves.items():
        if not key.startswith(LEAF) or key.removeprefix(LEAF) not in tables.analytes:
            continue
        soil = ground.get(key.removeprefix(LEAF))
        row = rows.get((_side(leaf), "none" if soil is None else _side(soil)))
        if row is None and soil is not None and _side(leaf) == "short":
            row = rows["short", "right"]
        if row is None:
            continue
        bad_ph = say("pH ({ph:.1f}), ", ph=ph.value) if ph is not None and ph.class_ != "right" else ""
        inputs = {"leaf": Figure(leaf.class_.replace("_", " ")), "ground": Figure(soil.class_ if soil else "not tested")}
        step = Step("leaf and ground", "table", inputs, Figure(row.says), row.source, row.where)
        name = tables.analytes[key.removeprefix(LEAF)].name.lower().removesuffix(" (sulfate)")
        found.append(Remark(f"leaf-{name}", say("{name}: leaf and ground", name=name), say(row.says, name=name, ph=bad_ph), (step,)))
    return tuple(found)


def _side(finding: Finding) -> str:
    return "short" if finding.is_short else "over" if finding.class_ in OVER else "right"


def leaf_ratios(readings: dict[str, Reading], crop: str, tables: Tables) -> tuple[Remark, ...]:
    """The ratios of a leaf's nutrients that lie beyond what guides bear. Source: each row of leaf/ratios.csv.

    By weight, of dry matter.

    >>> from agronomy.intake.example import tables
    >>> leaf_ratios({}, "apple", tables)
    ()
    """
    found = []
    for row in tables.nutrients.leaf_ratios:
        over, under = readings.get(row.over), readings.get(row.under)
        if over is None or under is None or under.value <= 0 or ("*" not in row.crops and crop not in row.crops):
            continue
        ratio = over.value / under.value
        if ratio <= row.above:
            continue
        inputs = {"over": Figure(over.value, over.unit), "under": Figure(under.value, under.unit)}
        step = Step(f"{row.over} to {row.under}", "over / under", inputs, Figure(ratio, "by weight"), row.source, row.where)
        says = say(row.says, ratio=f"{ratio:.3g}", above=f"{row.above:g}")
        found.append(Remark(f"ratio-{row.key}", "balance in the leaf", says, (step,)))
    return tuple(found)
