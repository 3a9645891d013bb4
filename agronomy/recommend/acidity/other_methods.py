"""Lime need by the Mehlich and Adams-Evans buffers, by exchangeable aluminium, and by soil-type factors.

Each rule says first whether it may be used; all give pure, fully reacting CaCO3 [kg/ha] with band and working.
"""

from math import sqrt

from agronomy.base.required import required
from agronomy.base.said import say
from agronomy.base.uncertainty import HALF_WIDTH_80, band
from agronomy.base.working import Banded, Figure, Step
from agronomy.model.soil import Soil
from agronomy.recommend.acidity.method_ranges import why_not
from agronomy.tables import Tables
from agronomy.tables.rooms.acidity import SoilTypeFactor

MADE_IN = "water 1:2.5"  # the suspension in which the factors read pH
CACO3_KG_PER_CMOL = 0.5004e-3  # kg CaCO3 for each cmol/kg and kg of soil


def mehlich_tons_per_acre(ph: float, buffer_ph: float, target_ph: float, tables: Tables) -> float:
    """Ag-lime [short ton/acre per 8 in]: acidity × (target − pH) / (6.6 − pH). Source: mehlich-1976.

    For pH below 6.6, where the buffer has something to say; nothing is asked at the target and above; raises nothing below 6.6.

    >>> from agronomy.tables import load_tables
    >>> round(mehlich_tons_per_acre(5.5, 6.1, 6.5, load_tables()), 2)
    1.82
    """
    neutral = tables.acidity.mehlich_neutral_at.value
    acidity = max(0.0, neutral - buffer_ph) / tables.acidity.mehlich_per_acidity.value
    return acidity * max(0.0, target_ph - ph) / (neutral - ph)


def mehlich_lime_need(ph: float, buffer_ph: float, buffer_u: float, *, target_ph: float, depth_cm: float, tables: Tables) -> Banded:
    """The need by the Mehlich buffer; see method_ranges for where it holds. Source: mehlich-1976.

    >>> from agronomy.tables import load_tables
    >>> round(mehlich_lime_need(5.2, 6.3, 0.05, target_ph=6.4, depth_cm=15.0, tables=load_tables()).value, 2)
    1021.25
    """
    figures = tables.acidity
    pure = figures.mehlich_pure_share
    scale = figures.ton_per_acre_to_kg_per_ha.value * depth_cm / figures.smp_reference_depth_cm.value

    def at(buffer: float, share: float) -> float:
        return mehlich_tons_per_acre(ph, buffer, target_ph, tables) * scale * share

    need, reach = at(buffer_ph, pure.value), HALF_WIDTH_80 * buffer_u
    low, high = band(
        need, (at(buffer_ph + reach, pure.value), at(buffer_ph - reach, pure.value)), (at(buffer_ph, pure.low), at(buffer_ph, pure.high))
    )
    tons = mehlich_tons_per_acre(ph, buffer_ph, target_ph, tables)
    steps = (
        Step(
            "ag-lime by the Mehlich buffer",
            "max(0, neutral at − buffer pH) / acidity takes × max(0, target − pH) / (neutral at − pH)",
            {
                "neutral at": Figure.of(figures.mehlich_neutral_at),
                "buffer pH": Figure(buffer_ph, "pH"),
                "acidity takes": Figure.of(figures.mehlich_per_acidity),
                "target": Figure(target_ph, "pH"),
                "pH": Figure(ph, "pH"),
            },
            Figure(tons, "ton/acre per 8 in"),
            "mehlich-1976",
        ),
        Step(
            "as pure CaCO3, to your depth",
            "ag-lime × depth / depth of the table × share",
            {
                "ag-lime": Figure(tons * figures.ton_per_acre_to_kg_per_ha.value, "kg/ha"),
                "depth": Figure(depth_cm, "cm"),
                "depth of the table": Figure.of(figures.smp_reference_depth_cm),
                "share": Figure.of(pure),
            },
            Figure(need, "kg/ha"),
            pure.source,
            pure.where,
            note=f"the share could be {pure.low:g} to {pure.high:g}",
        ),
    )
    return Banded(need, max(0.0, low), high, steps)


def unsaturation(ph: float) -> float:
    """Share of the capacity that acid holds, from pH = 7.79 − 5.55 h + 2.27 h². Source: adams-evans-1962.

    >>> round(unsaturation(5.4), 3), round(unsaturation(6.5), 4)
    (0.558, 0.2601)
    """
    return (5.55 - sqrt(5.55**2 - 9.08 * (7.79 - ph))) / 4.54


def adams_evans_lime_need(
    ph: float, buffer_ph: float, buffer_u: float, *, target_ph: float, depth_cm: float, soil: Soil, tables: Tables
) -> Banded:
    """The need by the Adams-Evans buffer; see method_ranges. Not for soils rich in swelling clay. Source: adams-evans-1962.

    >>> from agronomy.intake.example import soil, tables
    >>> round(adams_evans_lime_need(5.2, 7.7, 0.05, target_ph=6.5, depth_cm=20, soil=soil(), tables=tables).value)
    2818
    """
    figures = tables.acidity
    field, strength, neutral = figures.adams_evans_field, figures.adams_evans_strength, figures.adams_evans_neutral_at
    mass = 1e5 * soil.bulk_density_g_per_cm3 * depth_cm

    def at(buffer: float, efficiency: float) -> float:
        capacity = strength.value * max(0.0, neutral.value - buffer) / unsaturation(ph)
        return CACO3_KG_PER_CMOL * capacity * (unsaturation(ph) - unsaturation(target_ph)) * efficiency * mass

    need, reach = at(buffer_ph, field.value), HALF_WIDTH_80 * buffer_u
    low, high = band(
        need,
        (at(buffer_ph + reach, field.value), at(buffer_ph - reach, field.value)),
        (at(buffer_ph, field.low), at(buffer_ph, field.high)),
    )
    step = Step(
        "lime by the Adams-Evans buffer",
        (
            "1000 × strength × max(0, neutral at − buffer pH) / acid share now × (acid share now − acid share then) × lime for a charge × "
            "field factor × layer"
        ),
        {
            "strength": Figure.of(strength),
            "neutral at": Figure.of(neutral),
            "buffer pH": Figure(buffer_ph, "pH"),
            "acid share now": Figure(unsaturation(ph), "fraction"),
            "acid share then": Figure(unsaturation(target_ph), "fraction"),
            "lime for a charge": Figure(CACO3_KG_PER_CMOL, "kg CaCO3 per cmol", "definition"),
            "field factor": Figure.of(field),
            "layer": Figure(mass / 1000, "t/ha"),
        },
        Figure(need, "kg/ha"),
        "adams-evans-1962",
        field.where,
    )
    return Banded(need, max(0.0, low), high, (step,))


def aluminium_fits(ph: float, aluminium: float, tables: Tables) -> str | None:
    """Why exchangeable aluminium [cmol/kg] can't tell the need, or None. Source: kamprath-1970.

    >>> from agronomy.tables import load_tables
    >>> aluminium_fits(5.2, 0.1, load_tables())
    '0.1 cmol/kg of aluminium is too little to lime by'
    """
    least = tables.acidity.aluminium_least.value
    if aluminium <= least:
        return say("{aluminium:.2g} cmol/kg of aluminium is too little to lime by", aluminium=aluminium)
    return why_not("aluminium", {"pH": ph}, tables)


def aluminium_lime_need(aluminium: float, aluminium_u: float, *, depth_cm: float, soil: Soil, tables: Tables) -> Banded:
    """Need that takes most of the aluminium out and ends near pH 5.5: factor × Al. Source: kamprath-1970.

    >>> from agronomy.intake.example import soil, tables
    >>> round(aluminium_lime_need(1.5, 0.1, depth_cm=20, soil=soil(), tables=tables).value)
    3007
    """
    factor = tables.acidity.aluminium_factor
    mass = 1e5 * soil.bulk_density_g_per_cm3 * depth_cm

    def at(al: float, by: float) -> float:
        return by * max(0.0, al) * CACO3_KG_PER_CMOL * mass

    need, reach = at(aluminium, factor.value), HALF_WIDTH_80 * aluminium_u
    low, high = band(
        need,
        (at(aluminium - reach, factor.value), at(aluminium + reach, factor.value)),
        (at(aluminium, factor.low), at(aluminium, factor.high)),
    )
    step = Step(
        "lime by exchangeable aluminium",
        "1000 × factor × aluminium × lime for a charge × layer",
        {
            "factor": Figure.of(factor),
            "aluminium": Figure(aluminium, "cmol/kg"),
            "lime for a charge": Figure(CACO3_KG_PER_CMOL, "kg CaCO3 per cmol", "definition"),
            "layer": Figure(mass / 1000, "t/ha"),
        },
        Figure(need, "kg/ha"),
        "kamprath-1970",
        factor.where,
        note="ends near pH 5.5, whatever the crop's target",
    )
    return Banded(need, low, high, (step,))


def tolerated_aluminium_lime_need(
    aluminium: float, calcium_magnesium: float, tolerated_pct: float, *, soil_mass_t_per_ha: float, tables: Tables
) -> float:
    """Need [kg CaCO3/ha] that brings aluminium down to the share of Al + Ca + Mg [cmol/kg] that the crop bears. Source: cochrane-1980.

    A need above the exchangeable aluminium itself is reckoned again with a factor of 2.

    >>> from agronomy.tables import load_tables
    >>> round(tolerated_aluminium_lime_need(2.0, 1.6, 30.0, soil_mass_t_per_ha=2200.0, tables=load_tables()), 2)
    1519.21
    """
    figures = tables.acidity
    over = aluminium - tolerated_pct / 100 * (aluminium + calcium_magnesium)
    cmol = figures.aluminium_factor.value * max(0.0, over)
    if cmol > aluminium:
        cmol = figures.aluminium_factor_high.value * max(0.0, over)
    return cmol * CACO3_KG_PER_CMOL * soil_mass_t_per_ha * 1000


def base_saturation_lime_need(cec: float, now_pct: float, target_pct: float, *, depth_cm: float) -> float:
    """Need [kg CaCO3/ha] that lifts base saturation [%] of an exchange capacity at pH 7 [cmol per litre of soil] to a target. Source:
    raij-1996.

    >>> base_saturation_lime_need(9.0, 35, 60, depth_cm=20)
    2250.0
    """
    return max(0.0, cec * (target_pct - now_pct) / 100) * 1000 * depth_cm / 20


def soil_type_row(soil: Soil, tables: Tables) -> SoilTypeFactor:
    """The row of the factors [t/ha per pH] for a soil; unknown organic matter counts as ordinary. Source: rb209-factor.

    >>> from agronomy.intake.example import soil, tables
    >>> soil_type_row(soil(), tables).arable
    7.0
    """
    om = soil.organic_matter_pct if soil.organic_matter_known else 0.0
    by_texture = "light" if soil.texture in ("sand", "loamy sand") else "heavy" if "clay" in soil.texture else "medium"
    peaty, organic = tables.acidity.soil_type_peaty_above.value, tables.acidity.soil_type_organic_from.value
    return tables.acidity.soil_type_factors["peaty" if om > peaty else "organic" if om >= organic else by_texture]


def soil_type_factor_rate(ph: float, *, is_grass: bool, soil: Soil, tables: Tables) -> float:
    """Ground limestone [t/ha] = factor × (optimum + margin − pH) for arable (20 cm) or grass (15 cm). Source: rb209-factor.

    Nothing at the optimum and above.

    >>> from agronomy.intake.example import soil, tables
    >>> round(soil_type_factor_rate(5.6, is_grass=False, soil=soil(), tables=tables), 1)
    7.7
    """
    row = soil_type_row(soil, tables)
    factor, optimum = (row.grass, row.optimum_grass) if is_grass else (row.arable, row.optimum_arable)
    return 0.0 if ph >= optimum else factor * (optimum + tables.acidity.soil_type_above_optimum.value - ph)


def soil_type_lime_need(ph: float, *, is_grass: bool, depth_cm: float, soil: Soil, tables: Tables) -> float:
    """The factor's rate as pure CaCO3 [kg/ha], to the depth treated; for showing beside another method. Source: rb209-factor.

    >>> from agronomy.intake.example import soil, tables
    >>> round(soil_type_lime_need(5.6, is_grass=False, depth_cm=20, soil=soil(), tables=tables))
    5775
    """
    figures = tables.acidity
    made_for = figures.soil_type_grass_depth if is_grass else figures.soil_type_arable_depth
    rate = soil_type_factor_rate(ph, is_grass=is_grass, soil=soil, tables=tables)
    return rate * 1000 * figures.soil_type_pure_share.value * depth_cm / made_for.value


def soil_type_lime(ph: float, *, target_ph: float, is_grass: bool, depth_cm: float, soil: Soil, tables: Tables) -> Banded:
    """The need by the factor as a lead [kg CaCO3/ha], to the crop's target but no further than the table's optimum. Source: rb209-factor.

    >>> from agronomy.intake.example import soil, tables
    >>> round(soil_type_lime(5.5, target_ph=6.5, is_grass=False, depth_cm=20, soil=soil(), tables=tables).value)
    6300
    """
    figures = tables.acidity
    row = soil_type_row(soil, tables)
    factor, optimum = (row.grass, row.optimum_grass) if is_grass else (row.arable, row.optimum_arable)
    made_for = figures.soil_type_grass_depth if is_grass else figures.soil_type_arable_depth
    aim, over, pure = min(optimum, target_ph), figures.soil_type_above_optimum, figures.soil_type_pure_share
    ph -= tables.readings.ph_methods[MADE_IN].offset
    tonnes = factor * max(0.0, aim + over.value - ph) if ph < aim else 0.0

    def at(share: float) -> float:
        return tonnes * 1000 * share * depth_cm / made_for.value

    step = Step(
        "lime by the type of soil",
        "1000 × factor × (aim + above it − pH) × pure share × depth / depth of the table",
        {
            "factor": Figure(factor, "t/ha per pH", row.source),
            "aim": Figure(aim, "pH"),
            "above it": Figure.of(over),
            "pH": Figure(ph, f"pH in {MADE_IN}"),
            "pure share": Figure.of(pure),
            "depth": Figure(depth_cm, "cm"),
            "depth of the table": Figure.of(made_for),
        },
        Figure(at(pure.value), "kg/ha"),
        "rb209-factor",
        row.where,
    )
    return Banded(at(pure.value), at(required(pure.low)), at(required(pure.high)), (step,))
