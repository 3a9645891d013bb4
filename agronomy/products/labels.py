"""What a bag, a lime, a sulfur or a load of manure is worth, from its label or analysis, as it comes."""

from agronomy.base.errors import OutOfRange, RuleError
from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.model.reading import Reading
from agronomy.tables import Tables
from agronomy.tables.material import Material

NUTRIENTS = ("N", "P2O5", "K2O", "Ca", "Mg", "S", "NH4-N", "Cl")
SIEVES = ("passing 2.36 mm", "passing 0.85 mm", "passing 0.25 mm")


@record
class Worth:
    """A material as it comes: % of each nutrient, effective neutralising value [% CaCO3] where it is a lime, doubts and working."""

    pct: dict[str, float]
    effective_nv_pct: float | None
    doubts: tuple[str, ...]
    steps: tuple[Step, ...]
    neutralising_value_pct: float | None = None


def worth(readings: dict[str, Reading], tables: Tables) -> Worth:
    """The Worth of a label or analysis, brought from dry matter to "as it comes" where it was given so.

    Raises OutOfRange where the parts add to more than the whole, RuleError where a dry-matter figure has no dry matter.

    Source: definition.
    """
    dry = readings.get("dry matter")
    pct: dict[str, float] = {}
    steps: list[Step] = []
    for name in NUTRIENTS:
        reading = readings.get(f"label {name}")
        if reading is not None:
            pct[name], step = _as_it_comes(name, reading, dry)
            steps += [*reading.steps[:-1], *step]
    _check_sum(pct)
    effective, lime_steps, doubts = _lime(readings, dry, tables)
    ammonium, total = pct.get("NH4-N"), pct.get("N")
    if ammonium is not None and total is not None and ammonium > total:
        doubts = (
            *doubts,
            say(
                "Ammonium nitrogen ({ammonium:g} %) is more than all nitrogen ({total:g} %). Are the two lines swapped?",
                ammonium=ammonium,
                total=total,
            ),
        )
    nv = readings.get("neutralising value")
    return Worth(pct, effective, doubts, (*steps, *lime_steps), nv.value if nv is not None else None)


def _as_it_comes(name: str, reading: Reading, dry: Reading | None) -> tuple[float, tuple[Step, ...]]:
    if reading.method != "in the dry matter":
        return reading.value, ()
    if dry is None:
        raise RuleError(
            f"label {name}",
            reading.value,
            "this is given in the dry matter, and the dry matter is missing",
            "type the dry matter, or say “as it comes”",
        )
    fresh = reading.value * dry.value / 100
    inputs = {"in the dry matter": Figure(reading.value, "%"), "dry matter": Figure(dry.value, "%")}
    return fresh, (Step(f"{name} as it comes", "in the dry matter × dry matter / 100", inputs, Figure(fresh, "%"), "definition"),)


def _check_sum(pct: dict[str, float]) -> None:
    total = sum(value for name, value in pct.items() if name != "NH4-N")
    if total > 100:
        raise OutOfRange(
            "label", round(total, 1), f"the parts add to {total:.0f} %", "check each line and whether it is per kg or per cent"
        )


def fineness(passing_236: float, passing_085: float, passing_025: float) -> float:
    """Share of a lime that works, from its sieves [fractions that pass 2.36, 0.85 and 0.25 mm]. Source: lime-fineness-tri.

    >>> round(fineness(0.95, 0.70, 0.50), 2)
    0.67
    """
    return 0.2 * (passing_236 - passing_085) + 0.6 * (passing_085 - passing_025) + passing_025


def _lime(readings: dict[str, Reading], dry: Reading | None, tables: Tables) -> tuple[float | None, tuple[Step, ...], tuple[str, ...]]:
    nv = readings.get("neutralising value")
    if nv is None:
        return None, (), ()
    shares = [readings[key].value / 100 for key in SIEVES if key in readings]
    if len(shares) < 3:
        return None, (), (say("Type all three sieves, or the lime's fineness is not known and its price can't be compared."),)
    if not shares[0] >= shares[1] >= shares[2]:
        return None, (), (say("More passes a finer sieve than a coarser one. Check the three lines."),)
    fine, kept = fineness(*shares), (dry.value / 100 if dry else 1.0)
    effective = nv.value * fine * kept
    inputs = {"neutralising value": Figure(nv.value, "% CaCO3"), "fineness": Figure(fine), "dry part": Figure(kept)}
    step = Step(
        "effective neutralising value",
        "neutralising value × fineness × dry part",
        inputs,
        Figure(effective, "% CaCO3"),
        "lime-fineness-tri",
    )
    return effective, (*nv.steps[:-1], step), ()


def label_of(found: Worth) -> dict[str, float]:
    """A Worth as what a label says of a lot: contents in %, neutralising value and the share that works in %. Source: definition.

    >>> label_of(Worth({"N": 1.2, "P2O5": 0.4}, None, (), ()))
    {'n': 1.2, 'p2o5': 0.4}
    """
    told = {name.lower(): found.pct[name] for name in ("N", "P2O5", "K2O", "Ca", "Mg", "S") if name in found.pct}
    if found.effective_nv_pct is not None and found.neutralising_value_pct:
        told |= {"cce": found.neutralising_value_pct, "fineness": 100 * found.effective_nv_pct / found.neutralising_value_pct}
    return told


def nearest_material(found: Worth, name: str, tables: Tables) -> Material:
    """The material of the table that a label is most like: by a word of its name, else by its contents [%]. Source: own-experience.

    >>> from agronomy.intake.example import tables
    >>> nearest_material(Worth({"N": 46.0}, None, (), ()), "white grains", tables).key
    'urea'
    """
    words = {word for word in name.lower().split() if len(word) > 3}
    is_lime = found.effective_nv_pct is not None
    rows = [row for row in tables.materials.values() if row.has_role("lime") == is_lime]

    def unlike(row: Material) -> float:
        if is_lime:
            return abs(row.mg - found.pct.get("Mg", 0.0))
        return sum(abs(getattr(row, key.lower()) - found.pct.get(key, 0.0)) for key in ("N", "P2O5", "K2O", "Mg", "S"))

    return min(rows, key=lambda row: (-len(words & set(row.name.lower().replace(",", "").split())), unlike(row), row.key))


def nearest_manure(name: str, tables: Tables) -> str:
    """The manure of the table whose name shares most words with what somebody calls his own; the first where none does.

    Source: own-experience.

    >>> from agronomy.intake.example import tables
    >>> nearest_manure("Slurry of our cattle, May", tables)
    'cattle_slurry'
    """
    words = set(name.lower().replace(",", " ").split())
    rows = tables.nitrogen.manures
    return max(rows, key=lambda key: len(words & set(rows[key].name.lower().replace(",", " ").split())))


def manure_nitrogen_kg_per_t(found: Worth) -> tuple[float, float] | None:
    """Ammonium and organic nitrogen [kg/t as it comes] of a manure's analysis; None where ammonium was not analysed. Source: definition.

    >>> manure_nitrogen_kg_per_t(Worth({"N": 0.5, "NH4-N": 0.2}, None, (), ()))
    (2.0, 3.0)
    """
    if "N" not in found.pct or "NH4-N" not in found.pct:
        return None
    return found.pct["NH4-N"] * 10, round((found.pct["N"] - found.pct["NH4-N"]) * 10, 6)
