"""Lime or acid need from pH, texture and organic matter, where no buffer test was made. Honest about its width."""

from agronomy.base.required import required
from agronomy.base.said import say
from agronomy.base.uncertainty import HALF_WIDTH_80, band
from agronomy.base.working import Banded, Figure, Step
from agronomy.model.soil import HUMUS_PER_CARBON, Soil
from agronomy.tables import Tables
from agronomy.tables.rooms.ground import Mix


def buffer_capacity(clay_pct: float, organic_matter_pct: float, tables: Tables, *, low_activity: bool = False) -> float:
    """pH buffer capacity [cmol/kg per pH unit] from clay and organic matter [%]. Source: helling-1964.

    Sound for mineral soils up to about 8 % organic matter; raises nothing.

    >>> from agronomy.tables import load_tables
    >>> round(buffer_capacity(20, 3, load_tables()), 2)
    1.77
    """
    figures = tables.acidity
    activity = figures.low_activity_buffer.value if low_activity else 1.0
    return (
        activity * figures.buffer_clay_per_pct.value * clay_pct
        + figures.buffer_carbon_per_pct.value * organic_matter_pct / HUMUS_PER_CARBON
    )


def caco3_per_ph(soil: Soil, depth_cm: float, tables: Tables) -> float:
    """Pure CaCO3 [kg/ha] that moves the layer by one pH unit in theory (no field factor); a potting mix by its own figure.

    Source: helling-1964.

    >>> from agronomy.intake.example import soil, tables
    >>> round(caco3_per_ph(soil(), 20, tables))
    2362
    """
    if (mix := in_mix(soil)) is not None:
        return per_litre(required(mix.caco3_g_per_l), depth_cm)
    mass_kg_per_ha = 1e5 * soil.bulk_density_g_per_cm3 * depth_cm
    capacity = buffer_capacity(soil.clay_pct, soil.organic_matter_pct, tables, low_activity=soil.low_activity_clay)
    return capacity * tables.acidity.caco3_per_cmol_and_kg.value * mass_kg_per_ha


def in_mix(soil: Soil) -> Mix | None:
    """The potting mix that the ground is, where clay and organic matter say nothing of it. Source: container-lime.

    Humus and clay in %.

    >>> from agronomy.intake.example import soil
    >>> in_mix(soil()) is None
    True
    """
    return soil.mix if soil.mix is not None and soil.mix.caco3_g_per_l is not None else None


def per_litre(g_per_l: float, depth_cm: float) -> float:
    """A dose per litre of mix [g/L] as kg/ha of a layer of that depth. Source: definition.

    >>> per_litre(2.0, 25.0)
    5000.0
    """
    return g_per_l * 100 * depth_cm


def buffering_steps(soil: Soil, depth_cm: float, per_ph: float, tables: Tables) -> tuple[Step, ...]:
    if (row := in_mix(soil)) is not None:
        inputs = {"for a litre": Figure(required(row.caco3_g_per_l), "g/L"), "depth": Figure(depth_cm, "cm")}
        return (Step("CaCO3 for one pH unit", "for a litre × 100 × depth", inputs, Figure(per_ph, "kg/ha"), "container-lime", row.where),)
    capacity, figures = buffer_capacity(soil.clay_pct, soil.organic_matter_pct, tables, low_activity=soil.low_activity_clay), tables.acidity
    return (
        Step(
            "buffer capacity",
            "of clay × clay" + (" × low activity" if soil.low_activity_clay else "") + " + of carbon × organic carbon",
            {
                "of clay": Figure.of(figures.buffer_clay_per_pct),
                "clay": Figure(soil.clay_pct, "%"),
                **({"low activity": Figure.of(figures.low_activity_buffer)} if soil.low_activity_clay else {}),
                "of carbon": Figure.of(figures.buffer_carbon_per_pct),
                "organic carbon": Figure(soil.organic_matter_pct / HUMUS_PER_CARBON, "%"),
            },
            Figure(capacity, "cmol/kg per pH"),
            "helling-1964;van-bemmelen",
            note="" if soil.organic_matter_known else "organic matter was not tested: an ordinary figure is used",
        ),
        Step(
            "CaCO3 for one pH unit",
            "1000 × capacity × lime for a charge × layer",
            {
                "capacity": Figure(capacity, "cmol/kg per pH"),
                "lime for a charge": Figure.of(figures.caco3_per_cmol_and_kg),
                "layer": Figure(100 * soil.bulk_density_g_per_cm3 * depth_cm, "t/ha"),
            },
            Figure(per_ph, "kg/ha"),
            "definition",
        ),
    )


def estimated_lime_need(ph: float, ph_u: float, *, target_ph: float, depth_cm: float, soil: Soil, tables: Tables) -> Banded:
    """Pure CaCO3 [kg/ha] from pH, texture and organic matter. Band 0.6 to 1.6 of it, and the pH's own error.

    Valid pH 4.8 to 6.8, OM below 10 %, clay 3 to 60 %; below pH 4.8 aluminium adds 1.3. Source: helling-1964, lime-kinetics-field.

    >>> from agronomy.intake.example import soil, tables
    >>> round(estimated_lime_need(5.6, 0.1, target_ph=6.5, depth_cm=20, soil=soil(), tables=tables).value)
    3189
    """
    figures = tables.acidity
    per_ph = caco3_per_ph(soil, depth_cm, tables)
    if in_mix(soil):
        return _need_in_mix(ph, ph_u, target_ph, per_ph, depth_cm, soil, tables)
    field = figures.field_factor
    strong = figures.strongly_acid_factor.value if ph < figures.strongly_acid_ph.value else 1.0
    rise = max(0.0, target_ph - ph)
    need = rise * per_ph * field.value * strong
    reach = HALF_WIDTH_80 * ph_u * per_ph * field.value * strong
    share = need / field.value
    low, high = band(need, (need - reach, need + reach), (share * field.low, share * field.high), *_unknown_ground(need, soil, tables))
    step = Step(
        "field need",
        "rise × for one pH unit × field factor" + (" × strongly acid" if strong != 1 else ""),
        {"rise": Figure(rise, "pH"), "for one pH unit": Figure(per_ph, "kg/ha"), "field factor": Figure.of(field)}
        | ({"strongly acid": Figure.of(figures.strongly_acid_factor)} if strong != 1 else {}),
        Figure(need, "kg/ha"),
        field.source,
        field.where,
        note="; ".join(_outside_validity(ph, soil)),
    )
    return Banded(need, max(0.0, low), high, (*buffering_steps(soil, depth_cm, per_ph, tables), step))


def _need_in_mix(ph: float, ph_u: float, target_ph: float, per_ph: float, depth_cm: float, soil: Soil, tables: Tables) -> Banded:
    """Pure CaCO3 [kg/ha of mix] to lift a potting mix: mixed through, so without a field factor. Source: container-lime."""
    rise, row = max(0.0, target_ph - ph), required(soil.mix)
    need, reach = rise * per_ph, HALF_WIDTH_80 * ph_u * per_ph
    low, high = band(
        need,
        (need - reach, need + reach),
        (rise * per_litre(required(row.caco3_low), depth_cm), rise * per_litre(required(row.caco3_high), depth_cm)),
    )
    step = Step(
        "lime for the mix",
        "rise × for one pH unit",
        {"rise": Figure(rise, "pH"), "for one pH unit": Figure(per_ph, "kg/ha")},
        Figure(need, "kg/ha"),
        "container-lime",
        row.where,
    )
    return Banded(need, max(0.0, low), high, (*buffering_steps(soil, depth_cm, per_ph, tables), step))


def _unknown_ground(need: float, soil: Soil, tables: Tables) -> list[tuple[float, float]]:
    """What the need would be with other clay or organic matter, where these are only supposed."""
    spans, now = [], buffer_capacity(soil.clay_pct, soil.organic_matter_pct, tables, low_activity=soil.low_activity_clay)
    if not soil.texture_known:
        clays = tables.acidity.supposed_clay_pct
        low, high = (
            need * buffer_capacity(clay, soil.organic_matter_pct, tables, low_activity=soil.low_activity_clay) / now
            for clay in (clays.low, clays.high)
        )
        spans.append((low, high))
    if not soil.organic_matter_known:
        usual = tables.nutrients.default_organic_matter_pct
        low, high = (
            need * buffer_capacity(soil.clay_pct, om, tables, low_activity=soil.low_activity_clay) / now for om in (usual.low, usual.high)
        )
        spans.append((low, high))
    return spans


def _outside_validity(ph: float, soil: Soil) -> list[str]:
    said: list[str] = []
    if not 4.8 <= ph <= 6.8:
        said.append(say("pH {ph:.1f} is outside 4.8 to 6.8, where this was worked out", ph=ph))
    if soil.organic_matter_pct > 10:
        said.append(say("organic matter above 10 %: the estimate is weak"))
    if not 3 <= soil.clay_pct <= 60:
        said.append(say("clay outside 3 to 60 %"))
    return said
