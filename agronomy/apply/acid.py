"""Acid that brings a water's alkalinity down to a wanted pH."""

from agronomy.base.errors import OutOfRange, UnknownName, check_range
from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.interpret.water import class_word, lime_brought_kg_per_ha
from agronomy.tables import Tables
from agronomy.tables.rooms.liquids import AcidRow

PK1, PK2, MG_PER_MEQ = 6.35, 10.33, 50.04


@record(kw_only=True)
class AcidDose:
    """Acid for a water: charge [meq/L], product for 1000 L (mL of a liquid, g of a solid), nutrient it brings [mg/L], alkalinity left [mg/L
    CaCO3].

    `warnings` in the order they matter; `trained` where only trained people should handle it.
    """

    acid: str
    name: str
    meq_per_l: float
    per_1000_l: float
    unit: str
    brings: str
    brings_mg_per_l: float
    left_mg_per_l: float
    trained: bool
    warnings: tuple[str, ...]
    steps: tuple[Step, ...]


def acid_meq(alkalinity: float, ph: float, target_ph: float) -> float:
    """Acid [meq/L] for alkalinity [mg/L CaCO3] from one pH to a lower one, closed to the air. Source: acid-water; valid 30 to 500 mg/L.

    >>> round(acid_meq(250, 7.8, 6.2), 2)
    2.86
    """
    charge = alkalinity / MG_PER_MEQ
    total = (charge - _water(ph)) / _charged(ph)
    return charge - (total * _charged(target_ph) + _water(target_ph))


def _charged(ph: float) -> float:
    """Charge to a mole of carbonate at a pH."""
    h, k1, k2 = 10**-ph, 10**-PK1, 10**-PK2
    return (k1 * h + 2 * k1 * k2) / (h * h + k1 * h + k1 * k2)


def _water(ph: float) -> float:
    """Hydroxide less hydrogen [meq/L]."""
    return 1e3 * (10 ** (ph - 14) - 10**-ph)


def citric_equivalents(ph: float) -> float:
    """Charge that a mole of citric acid gives at a pH. Source: acid-water.

    >>> round(citric_equivalents(6.2), 3)
    2.352
    """
    return 1 + 1 / (1 + 10 ** (4.76 - ph)) + 1 / (1 + 10 ** (6.40 - ph))


def phosphoric_equivalents(ph: float) -> float:
    """Charge that a mole of phosphoric acid gives at a pH. Source: acid-water.

    >>> round(phosphoric_equivalents(6.2), 2)
    1.09
    """
    return 1 + 1 / (1 + 10 ** (7.20 - ph))


def _acid_step(meq: float, alkalinity: float, total: float, target_ph: float, ph: float) -> Step:
    return Step(
        "acid",
        "alkalinity / weight of a charge − (carbonate × its charge at the wanted pH + charge of the water there)",
        {
            "alkalinity": Figure(alkalinity, "mg/L CaCO3"),
            "weight of a charge": Figure(MG_PER_MEQ, "mg CaCO3/meq", "definition"),
            "carbonate": Figure(total, f"mmol/L, by pH {ph:g}"),
            "its charge at the wanted pH": Figure(_charged(target_ph), f"at pH {target_ph:g}"),
            "charge of the water there": Figure(_water(target_ph), "meq/L"),
        },
        Figure(meq, "meq/L"),
        "acid-water",
        note="closed to the air; degassing later raises pH again: test after a day",
    )


def _acid_for(alkalinity: float, ph: float, target_ph: float, acid: str, tables: Tables) -> AcidRow:
    row = tables.liquids.acids.get(acid)
    if row is None:
        raise UnknownName("acid", acid[:40], f"“{acid[:40]}” is not in our list of acids", f"use one of {', '.join(tables.liquids.acids)}")
    figures = tables.liquids
    check_range("pH of the water", ph, low=5.0, high=9.5)
    check_range("wanted pH", target_ph, low=4.5, high=8.0)
    if alkalinity > figures.alkalinity_high.value:
        raise OutOfRange(
            "alkalinity", alkalinity, f"{alkalinity:g} mg/L is too much for acid", "blend with rain water, or take another water"
        )
    check_range("alkalinity", alkalinity, low=1, high=500, unit="mg/L")
    if target_ph >= ph:
        raise OutOfRange(
            "wanted pH", target_ph, f"the water is at pH {ph:g} already", "acid only brings pH down: ask for less, or leave it"
        )
    return row


def acidify(alkalinity: float, ph: float, target_ph: float, acid: str, tables: Tables) -> AcidDose:
    """The acid for a water. Raises UnknownName for an acid, OutOfRange for a water that acid can't mend or a pH that is no lower.

    Source: acid-water.

    >>> from agronomy.tables import load_tables
    >>> round(acidify(250, 7.8, 6.2, "citric", load_tables()).meq_per_l, 2)
    2.86
    """
    row = _acid_for(alkalinity, ph, target_ph, acid, tables)
    meq = acid_meq(alkalinity, ph, target_ph)
    charge = alkalinity / MG_PER_MEQ
    total = (charge - _water(ph)) / _charged(ph)
    per_1000, unit, moles = _product(row, meq, target_ph)
    brings = moles * required(row.brings_g_per_mol) if row.brings else 0.0
    left = alkalinity - meq * MG_PER_MEQ
    step = _acid_step(meq, alkalinity, total, target_ph, ph)
    strength = Figure(meq * 1000 / per_1000, "mol of charge/L" if unit == "mL" else "meq/g", row.source)
    dose = Step(
        "for 1000 L",
        "charge × 1000 / strength",
        {"charge": Figure(meq, "meq/L"), "strength": strength},
        Figure(per_1000, unit),
        row.source,
        row.where,
    )
    return AcidDose(
        acid=acid,
        name=row.name,
        meq_per_l=meq,
        per_1000_l=per_1000,
        unit=unit,
        brings=row.brings or "",
        brings_mg_per_l=brings,
        left_mg_per_l=left,
        trained=not row.home,
        warnings=_warnings(row, alkalinity, left, brings, tables),
        steps=(step, dose),
    )


def _product(row: AcidRow, meq: float, ph: float) -> tuple[float, str, float]:
    """Product for 1000 L, its unit, and moles that carry a nutrient [mmol/L]."""
    if row.kind == "citric":
        return meq * required(row.grams_per_mol) / citric_equivalents(ph), "g", 0.0
    if row.kind == "phosphoric":
        equivalents = phosphoric_equivalents(ph)
        return meq * 1000 / (required(row.normality) * equivalents), "mL", meq / equivalents
    return meq * 1000 / (required(row.normality) * row.usable_share), "mL", meq


def _warnings(row: AcidRow, alkalinity: float, left: float, brings: float, tables: Tables) -> tuple[str, ...]:
    figures, said = tables.liquids, []
    if not row.home:
        said.append(
            say("Strong acid burns and blinds: for trained people with gloves, goggles and apron, water at hand, and as its label says.")
        )
    said.append(say("Acid into water, never water into acid; nothing with chlorine, lime or sulfide near."))
    if alkalinity < figures.alkalinity_low.value:
        said.append(say("So little alkalinity hardly lifts pH: leave the acid away."))
    if left < figures.residual_low.value:
        said.append(
            say(
                "This leaves {left:.0f} mg/L: below about {residual_low:.0f} pH swings with every feed.",
                left=left,
                residual_low=figures.residual_low.value,
            )
        )
    if row.brings == "P" and brings > figures.much_phosphorus_mg_per_l.value:
        said.append(say("Brings {brings:.0f} mg of phosphorus to the litre, too much to use this acid alone.", brings=brings))
    elif row.brings:
        said.append(say("Brings {brings:.0f} mg of {element} to the litre: count it.", brings=brings, element=row.brings))
    if row.key == "vinegar":
        said.append(
            say("Microbes eat vinegar within days and the alkalinity comes back: a short-term fix. Never weed-killer strength on plants.")
        )
    return tuple(said)


@record
class WaterChange:
    """One figure of a water before and after acid, each with its class in a word."""

    name: str
    unit: str
    before: float
    after: float
    was: str
    becomes: str


def before_and_after(alkalinity: float, ph: float, target_ph: float, dose: AcidDose, tables: Tables) -> tuple[WaterChange, ...]:
    """What acid makes of a water: pH, alkalinity [mg/L CaCO3], the lime in 100 mm of it [kg CaCO3/ha], and what the acid brings [mg/L].

    Source: acid-water, water_classes.csv.

    >>> from agronomy.intake.example import tables
    >>> [round(row.after, 1) for row in before_and_after(250, 7.8, 6.2, acidify(250, 7.8, 6.2, "citric", tables), tables)][:2]
    [6.2, 106.9]
    """
    left = dose.left_mg_per_l
    rows = [
        ("pH", "", "water pH", ph, target_ph),
        ("alkalinity", "mg/L CaCO₃", "alkalinity", alkalinity, left),
        (say("lime in {100 mm} of it"), "kg/ha", "", lime_brought_kg_per_ha(alkalinity, 100), lime_brought_kg_per_ha(left, 100)),
    ]
    told = [
        WaterChange(name, unit, before, after, class_word(key, before, tables), class_word(key, after, tables))
        for name, unit, key, before, after in rows
    ]
    if dose.brings:
        told.append(WaterChange(say("{brings} from the acid", brings=dose.brings), "mg/L", 0.0, dose.brings_mg_per_l, "", ""))
    return tuple(told)
