"""How much sulfur to lower pH, and when to refuse."""

from itertools import pairwise

from agronomy.base.quantities import factor
from agronomy.base.record import record
from agronomy.base.said import Measure, say
from agronomy.base.uncertainty import HALF_WIDTH_80
from agronomy.base.working import Figure, Step
from agronomy.model.answers import Answer, Method, Need, Nothing, Unmet
from agronomy.model.finding import Finding
from agronomy.model.reading import Reading
from agronomy.model.soil import Soil
from agronomy.recommend.acidity.buffer_capacity import buffering_steps, caco3_per_ph, in_mix
from agronomy.recommend.acidity.caps import ApplicationLimit, depth_step, most_sulfur_worth_trying
from agronomy.tables import Tables
from agronomy.tables.rooms.acidity import SulfurRow

INSTEAD = say("Take another way: crops that like lime, a raised bed or pots of acid mix, and iron as a chelate that holds at high pH.")


def sulfur_need(
    finding: Finding,
    ph: Reading,
    *,
    target_ph: float,
    kind: str,
    is_acid_lover: bool,
    soil: Soil,
    dressing: ApplicationLimit,
    tables: Tables,
    carbonate: Reading | None = None,
) -> Answer:
    """A Need of sulfur for acidity (S_acid), Nothing, or Unmet with alternatives where free lime or the amount forbids it.

    By formula (buffer capacity) and by published table; between the two the lower half is dosed. Source: sulfur-stoichiometry,
    sulfur-table-west, sulfur-table-blueberry.
    Rates in kg of sulfur per hectare, depth in cm.
    """
    if finding.class_ != "too_alkaline":
        return Nothing("S_acid", say("Nothing to lower the pH: pH {ph:.1f} is not too high.", ph=ph.value))
    if not finding.act:
        return Nothing(
            "S_acid",
            say(
                "Nothing to lower the pH: {ph:.1f} is above {wanted:.1f} but not far enough to be worth it.",
                ph=ph.value,
                wanted=finding.wanted[1],
            ),
        )
    if ph.trust == "no":
        return Unmet("S_acid", 0.0, say("A {how} can't carry a sulfur rate. Have a laboratory or a colour kit test it.", how=ph.how))
    refusal = _too_much_carbonate(carbonate, soil, tables) if carbonate else _free_lime(ph, soil, tables)
    return refusal or _amount(ph, target_ph, kind, is_acid_lover, soil, dressing, tables, carbonate.value if carbonate else 0.0)


def _too_much_carbonate(carbonate: Reading, soil: Soil, tables: Tables) -> Unmet | None:
    """Refused above the limit; below it the carbonate is used up first, and counted."""
    if carbonate.value <= tables.acidity.carbonate_worth_destroying_pct.value:
        return None
    cost = _cost_of_lime(soil, tables) * carbonate.value
    return Unmet(
        "S_acid",
        0.0,
        say(
            "The ground holds {carbonate:g} % of free lime, which would use up {cost:.0f} of sulfur before pH moved. {instead}",
            carbonate=carbonate.value,
            cost=Measure(cost, "t/ha"),
            instead=INSTEAD,
        ),
    )


def _free_lime(ph: Reading, soil: Soil, tables: Tables) -> Unmet | None:
    if soil.free_lime:
        return Unmet(
            "S_acid",
            0.0,
            (
                say(
                    "There is free lime in this ground: sulfur would be used up on it, {cost_of_lime:.0f} for each 1 % of lime. {instead}",
                    cost_of_lime=Measure(_cost_of_lime(soil, tables), "t/ha"),
                    instead=INSTEAD,
                )
            ),
        )
    if soil.free_lime is None and ph.value >= tables.acidity.free_lime_near_certain_ph.value:
        return Unmet(
            "S_acid",
            0.0,
            say("At pH {ph:.1f} free lime is nearly certain, and sulfur would be used up on it. {instead}", ph=ph.value, instead=INSTEAD),
        )
    if soil.free_lime is None and ph.value >= tables.acidity.free_lime_probable_ph.value:
        return Unmet(
            "S_acid",
            0.0,
            (
                say(
                    "At pH {ph:.1f} there may be free lime. Drip strong vinegar on dry soil: if it fizzes, sulfur won't work. "
                    "Say so on the plot's page, then look again.",
                    ph=ph.value,
                )
            ),
        )
    return None


def _cost_of_lime(soil: Soil, tables: Tables) -> float:
    """Sulfur [t/ha] that 1 % of CaCO3 in the layer uses up."""
    return tables.acidity.sulfur_per_caco3.value * 0.01 * soil.soil_mass_t_per_ha


def table_sulfur(ph: float, target_ph: float, *, table: str, column: str, tables: Tables) -> float | None:
    """Sulfur [lb/acre, 6 to 8 inches] to go from pH to target by a published table, or None outside the table.

    Source: sulfur-table-west, sulfur-table-blueberry.

    >>> from agronomy.tables import load_tables
    >>> round(table_sulfur(7.5, 6.5, table="general", column="loam", tables=load_tables()), 2)
    800.0
    """
    rows = [row for row in tables.acidity.sulfur if row.table == table]
    high, low = _along(rows, ph, column), _along(rows, target_ph, column)
    return None if high is None or low is None else high - low


def _along(rows: list[SulfurRow], ph: float, column: str) -> float | None:
    for lower, upper in pairwise(rows):
        if lower.ph <= ph <= upper.ph:
            return lower.on(column) + (upper.on(column) - lower.on(column)) * (ph - lower.ph) / (upper.ph - lower.ph)
    return None


def carbonate_sulfur(carbonate_pct: float, depth_cm: float, soil: Soil, tables: Tables) -> float:
    """Sulfur [kg/ha] that a share of free carbonate [%] in the layer uses up. Source: sulfur-stoichiometry.

    >>> from agronomy.intake.example import soil, tables
    >>> round(carbonate_sulfur(1.0, 20, soil(), tables))
    8555
    """
    return tables.acidity.sulfur_per_caco3.value * carbonate_pct / 100 * 1e5 * soil.bulk_density_g_per_cm3 * depth_cm


@record(kw_only=True)
class _Amount:
    """Sulfur [kg/ha] by the formula and, where it speaks, by the table; which of them leads, and between which ends the rate lies."""

    target_ph: float
    depth_cm: float
    per_ph: float
    carbonate_pct: float
    for_carbonate: float
    by_formula: float
    pounds: float | None
    by_table: float | None
    leads: bool
    low: float
    high: float
    rate: float


def _figures(
    ph: Reading, target_ph: float, is_acid_lover: bool, soil: Soil, depth_cm: float, tables: Tables, carbonate_pct: float
) -> _Amount:
    figures = tables.acidity
    per_ph = caco3_per_ph(soil, depth_cm, tables)
    for_carbonate = carbonate_sulfur(carbonate_pct, depth_cm, soil, tables)
    by_formula = figures.sulfur_per_caco3.value * (ph.value - target_ph) * per_ph + for_carbonate
    name, column = "acid_lover" if is_acid_lover else "general", tables.textures[soil.texture].sulfur_column
    pounds = table_sulfur(ph.value, target_ph, table=name, column=column, tables=tables)
    by_table = (
        None
        if pounds is None or in_mix(soil) is not None
        else pounds * factor("lb/acre", "kg/ha") * depth_cm / figures.sulfur_table_depth_cm.value + for_carbonate
    )
    leads = by_table is not None and target_ph <= figures.sulfur_table_target_up_to.value
    ends = sorted([by_formula, by_table if by_table is not None else by_formula])
    rate = by_table if leads and by_table is not None else ends[0] + (ends[1] - ends[0]) * figures.sulfur_part_of_the_way.value
    return _Amount(
        target_ph=target_ph,
        depth_cm=depth_cm,
        per_ph=per_ph,
        carbonate_pct=carbonate_pct,
        for_carbonate=for_carbonate,
        by_formula=by_formula,
        pounds=pounds,
        by_table=by_table,
        leads=leads,
        low=ends[0],
        high=ends[1],
        rate=rate,
    )


def _by_formula(ph: Reading, found: _Amount, tables: Tables) -> Step:
    inputs = {
        "sulfur for lime": Figure.of(tables.acidity.sulfur_per_caco3),
        "drop": Figure(ph.value - found.target_ph, "pH"),
        "for one pH unit": Figure(found.per_ph, "kg/ha"),
    }
    if found.for_carbonate:
        inputs["free lime"] = Figure(found.carbonate_pct, "%")
        inputs["what free lime uses up"] = Figure(found.for_carbonate, "kg/ha")
    return Step(
        "sulfur by formula",
        "sulfur for lime × drop × for one pH unit" + (" + what free lime uses up" if found.for_carbonate else ""),
        inputs,
        Figure(found.by_formula, "kg/ha"),
        "sulfur-stoichiometry",
    )


def _by_table(ph: Reading, found: _Amount, is_acid_lover: bool, soil: Soil, tables: Tables) -> list[Step]:
    if found.by_table is None or found.pounds is None:
        return []
    source = "sulfur-table-blueberry" if is_acid_lover else "sulfur-table-west"
    inputs = {
        "pH": Figure(ph.value, "pH"),
        "target": Figure(found.target_ph, "pH"),
        "column": Figure(tables.textures[soil.texture].sulfur_column),
        "table from pH to target": Figure(found.pounds * factor("lb/acre", "kg/ha"), "kg/ha", source),
        "depth": Figure(found.depth_cm, "cm"),
        "depth of the table": Figure.of(tables.acidity.sulfur_table_depth_cm),
    }
    if found.for_carbonate:
        inputs["what free lime uses up"] = Figure(found.for_carbonate, "kg/ha")
    formula = "table from pH to target × depth / depth of the table" + (" + what free lime uses up" if found.for_carbonate else "")
    return [Step("sulfur by table", formula, inputs, Figure(found.by_table, "kg/ha"), source)]


def _put_on(found: _Amount, tables: Tables) -> Step:
    figures = tables.acidity
    return Step(
        "sulfur to put on",
        "the table leads where the target is so acid" if found.leads else "lower + (higher − lower) × part of the way",
        {"lower": Figure(found.low, "kg/ha"), "higher": Figure(found.high, "kg/ha")}
        | (
            {"table leads up to": Figure.of(figures.sulfur_table_target_up_to)}
            if found.leads
            else {"part of the way": Figure.of(figures.sulfur_part_of_the_way)}
        ),
        Figure(found.rate, "kg/ha"),
        "own-experience" if not found.leads else "sulfur-table-blueberry",
        note="dose the lower half, test again after three warm months",
    )


def _method(found: _Amount) -> tuple[str, tuple[Method, ...]]:
    """The method that leads, and the other one's figure."""
    if found.by_table is None:
        return "buffer capacity", ()
    if found.leads:
        return say("table for acid-loving crops"), (Method("formula", found.by_formula),)
    return "buffer capacity and table", (Method("table", found.by_table),)


def _amount(
    ph: Reading,
    target_ph: float,
    kind: str,
    is_acid_lover: bool,
    soil: Soil,
    dressing: ApplicationLimit,
    tables: Tables,
    carbonate_pct: float,
) -> Answer:
    found = _figures(ph, target_ph, is_acid_lover, soil, dressing.treated_depth_cm, tables, carbonate_pct)
    worth = most_sulfur_worth_trying(kind, tables)
    if found.rate > worth:
        why = "It would take more sulfur than is worth trying (over {worth:.0f}). {instead}"
        return Unmet("S_acid", found.rate, say(why, worth=Measure(worth / 10, "g/m²"), instead=INSTEAD))
    reach = HALF_WIDTH_80 * ph.u / max(0.1, ph.value - target_ph) * found.rate
    method, others = _method(found)
    steps = (
        *ph.steps,
        *depth_step(dressing, soil),
        *buffering_steps(soil, found.depth_cm, found.per_ph, tables),
        _by_formula(ph, found, tables),
        *_by_table(ph, found, is_acid_lover, soil, tables),
        _put_on(found, tables),
    )
    return Need(
        what="S_acid",
        rate_kg_per_ha=found.rate,
        low_kg_per_ha=max(0.0, min(found.low, found.rate) - reach),
        high_kg_per_ha=max(found.high, found.rate) + reach,
        method=method,
        why=say(
            "To lower pH from {ph:.1f} to {target_ph:g}. Bacteria do the work, in warm ground, over months.",
            ph=ph.value,
            target_ph=target_ph,
        ),
        share_now=0.5 if ph.trust == "half" else 1.0,
        others=others,
        working=steps,
    )
