"""The ground of one plot: texture, weight, exchange capacity and buffering, each with its working."""

from typing import Any

from agronomy.base.errors import OutOfRange, UnknownName
from agronomy.base.record import record
from agronomy.base.working import Figure, Step
from agronomy.tables import Tables
from agronomy.tables.rooms.ground import Mix
from agronomy.tables.texture import Texture

SUM_TOLERANCE = 2.0  # % by which sand, silt and clay may miss 100


def texture_class(sand_pct: float, silt_pct: float, clay_pct: float) -> str:
    """USDA texture class code of the fine earth. Source: usda-survey-manual.

    Args: shares in %, which must add to 100 within 2; they are then brought to 100.
    Raises: OutOfRange.

    >>> texture_class(40, 40, 20), texture_class(65, 5, 30), texture_class(92, 5, 3)
    ('L', 'SCL', 'S')
    """
    total = sand_pct + silt_pct + clay_pct
    if min(sand_pct, silt_pct, clay_pct) < 0 or abs(total - 100) > SUM_TOLERANCE:
        raise OutOfRange(
            "plot.sand_pct",
            f"{sand_pct:g} + {silt_pct:g} + {clay_pct:g}",
            f"the three add to {total:g} %, not 100 %",
            "check the three shares",
        )
    sand, silt, clay = (100 * share / total for share in (sand_pct, silt_pct, clay_pct))
    if silt + 1.5 * clay < 15:
        return "S"
    if silt + 2 * clay < 30:
        return "LS"
    if clay >= 40:
        return "SiC" if silt >= 40 else "C" if sand <= 45 else "SC"
    if clay >= 35 and sand > 45:
        return "SC"
    if clay >= 27:
        return "SCL" if sand > 45 else "SiCL" if sand <= 20 else "CL"
    if clay >= 20 and silt < 28 and sand > 45:
        return "SCL"
    if silt >= 80 and clay < 12:
        return "Si"
    if silt >= 50:
        return "SiL"
    return "L" if clay >= 7 and sand <= 52 and silt >= 28 else "SL"


def texture_name(typed: str, tables: Tables) -> str:
    """The texture's name from a name or code; raises UnknownName. Source: usda-survey-manual.

    >>> from agronomy.tables import load_tables
    >>> texture_name("loam", load_tables())
    'loam'
    """
    wanted = typed.strip().lower().replace("_", " ")
    for name, row in tables.textures.items():
        if wanted in (name, row.code.lower()):
            return name
    raise UnknownName("plot.texture", typed, f"“{typed[:40]}” is no texture class", f"use one of {', '.join(tables.textures)}")


HUMUS_G_PER_CM3 = 0.244  # adams-1973
HUMUS_PER_CARBON = 1.724  # van-bemmelen
CEC_CLAY, CEC_CLAY_PER_PH, CEC_CARBON, CEC_CARBON_PER_PH = 30.0, 4.4, -59.0, 51.0  # cmol/kg, helling-1964


def bulk_density(texture_g_per_cm3: float, organic_matter_pct: float) -> float:
    """Bulk density [g/cm3] for an organic matter [%], from the texture's figure at 2 %. Source: adams-1973. Valid 0 to 60 %.

    >>> round(bulk_density(1.40, 4), 3), round(bulk_density(1.40, 12), 3)
    (1.277, 0.944)
    """
    mineral = mineral_density(texture_g_per_cm3)
    return 100 / (organic_matter_pct / HUMUS_G_PER_CM3 + (100 - organic_matter_pct) / mineral)


def mineral_density(texture_g_per_cm3: float) -> float:
    """Bulk density of the mineral part alone [g/cm3], from the texture's figure at 2 % organic matter. Source: adams-1973.

    >>> round(mineral_density(1.5), 2)
    1.68
    """
    return 98 / (100 / texture_g_per_cm3 - 2 / HUMUS_G_PER_CM3)


def cec_estimate(clay_pct: float, organic_matter_pct: float, ph: float) -> float:
    """Cation exchange capacity [cmol/kg] from clay and organic matter. Source: helling-1964. Within about 30 %, pH 4 to 8.

    >>> round(cec_estimate(20, 3, 6.5), 2)
    16.46
    """
    clay = CEC_CLAY + CEC_CLAY_PER_PH * ph
    carbon = CEC_CARBON + CEC_CARBON_PER_PH * ph
    return clay_pct / 100 * clay + organic_matter_pct / HUMUS_PER_CARBON / 100 * carbon


def is_low_activity(cec: float, clay_pct: float, organic_matter_pct: float, ph: float | None, tables: Tables) -> bool:
    """Whether a measured exchange capacity [cmol/kg] is far below what the clay [%] would hold were it not kaolin or oxides.

    Source: helling-1964.

    >>> from agronomy.tables import load_tables
    >>> is_low_activity(6.0, 50.0, 2.5, 5.2, load_tables()), is_low_activity(25.0, 50.0, 2.5, 5.2, load_tables())
    (True, False)
    """
    figures, held_ph = tables.acidity, min(8.0, max(4.0, ph if ph is not None else 6.5))
    if clay_pct < figures.low_activity_from_clay_pct.value:
        return False
    by_clay = cec_estimate(clay_pct, 0.0, held_ph)
    by_humus = cec_estimate(0.0, min(organic_matter_pct, 15.0), held_ph)
    return cec - by_humus < figures.low_activity_below_share.value * by_clay


@record(kw_only=True)
class Soil:
    """The ground as the later stages need it. Units stand in the names."""

    texture: str
    clay_pct: float
    is_light: bool
    is_heavy: bool
    texture_known: bool
    organic_matter_pct: float
    organic_matter_known: bool
    bulk_density_g_per_cm3: float
    bulk_density_measured: bool
    cec_cmol_per_kg: float
    cec_known: bool
    low_activity_clay: bool
    depth_cm: float
    soil_mass_t_per_ha: float
    free_lime: bool | None
    dug: bool
    steps: tuple[Step, ...]
    mix: Mix | None = None  # the row of a potting mix, for containers
    phosphorus_buffering_index: float | None = None


def _density(plot: Any, mix: Mix | None, row: Texture, om: float) -> tuple[float, list[Step]]:
    """Weight of the layer between its stones [g/cm3]: as it was measured, as the mix has it, or by texture and humus."""
    if plot.bulk_density_g_per_cm3 is not None:
        return plot.bulk_density_g_per_cm3, []
    if mix:
        told = Figure(mix.bulk_density, "g/cm3")
        return mix.bulk_density, [Step("bulk density", "usual for the mix", {"mix": Figure(mix.name)}, told, mix.source, mix.where)]
    density = bulk_density(row.bulk_density, min(om, 60.0))
    mineral = f"g/cm3, for {row.bulk_density:g} at 2 % organic matter"
    step = Step(
        "bulk density",
        "100 / (organic matter / weight of humus + (100 − organic matter) / mineral part)",
        {
            "texture": Figure(row.name),
            "mineral part": Figure(mineral_density(row.bulk_density), mineral, row.source),
            "organic matter": Figure(min(om, 60.0), "%"),
            "weight of humus": Figure(HUMUS_G_PER_CM3, "g/cm3", "adams-1973"),
        },
        Figure(density, "g/cm3"),
        "bulk-density-default;adams-1973",
    )
    return density, [step]


def _capacity(clay: float, om: float, ph: float | None) -> tuple[float, list[Step]]:
    """Exchange capacity [cmol/kg] by clay, humus and pH, where nobody measured it."""
    held_ph = min(8.0, max(4.0, ph if ph is not None else 6.5))
    capacity = max(1.0, cec_estimate(clay, min(om, 15.0), held_ph))
    step = Step(
        "exchange capacity, estimated",
        ("max(1, (clay × (of clay + of clay by pH × pH) + organic matter / humus to carbon × (of carbon + of carbon by pH × pH)) / 100)"),
        {
            "clay": Figure(clay, "%"),
            "organic matter": Figure(min(om, 15.0), "%"),
            "pH": Figure(held_ph, "pH"),
            "of clay": Figure(CEC_CLAY, "cmol/kg", "helling-1964"),
            "of clay by pH": Figure(CEC_CLAY_PER_PH, "cmol/kg per pH", "helling-1964"),
            "of carbon": Figure(CEC_CARBON, "cmol/kg", "helling-1964"),
            "of carbon by pH": Figure(CEC_CARBON_PER_PH, "cmol/kg per pH", "helling-1964"),
            "humus to carbon": Figure(HUMUS_PER_CARBON, "", "van-bemmelen"),
        },
        Figure(capacity, "cmol/kg"),
        "helling-1964;van-bemmelen",
        note="within about 30 %",
    )
    return capacity, [step]


def describe_soil(plot: Any, organic_matter_pct: float | None, cec: float | None, ph: float | None, tables: Tables) -> Soil:
    """Soil from the plot's description and, where given, measured organic matter [%], CEC [cmol/kg] and pH.

    Source: texture-midpoints, helling-1964.

    >>> from agronomy.intake.example import bed, tables
    >>> describe_soil(bed().plot, 3.0, None, 5.6, tables).clay_pct
    20.0
    """
    mix = tables.ground.mixes[plot.mix] if plot.mix else None
    row = tables.textures[plot.texture or (mix and mix.texture) or "loam"]
    clay = plot.clay_pct if plot.clay_pct is not None else row.clay
    default = tables.nutrients.default_organic_matter_pct
    om = organic_matter_pct if organic_matter_pct is not None else default.value
    density, weighed_by = _density(plot, mix, row, om)
    capacity, held_by = (cec, []) if cec is not None else _capacity(clay, om, ph)
    steps = [*weighed_by, *held_by]
    if plot.stones_pct:
        stones = {"between the stones": Figure(density, "g/cm3"), "stones": Figure(plot.stones_pct, "% by volume")}
        density *= 1 - plot.stones_pct / 100
        steps.append(Step("fine earth", "between the stones × (100 − stones) / 100", stones, Figure(density, "g/cm3"), "definition"))
    mass = 100.0 * density * plot.depth_cm
    weighed = {"bulk density": Figure(density, "g/cm3"), "depth": Figure(plot.depth_cm, "cm")}
    steps.append(Step("weight of the layer", "bulk density × depth × 100", weighed, Figure(mass, "t/ha"), "definition"))
    return Soil(
        texture=row.name,
        clay_pct=clay,
        is_light=row.light,
        is_heavy=row.heavy,
        texture_known=plot.texture is not None or mix is not None,
        organic_matter_pct=om,
        organic_matter_known=organic_matter_pct is not None,
        bulk_density_g_per_cm3=density,
        bulk_density_measured=plot.bulk_density_g_per_cm3 is not None,
        cec_cmol_per_kg=capacity,
        cec_known=cec is not None,
        low_activity_clay=cec is not None and not mix and is_low_activity(cec, clay, om, ph, tables),
        depth_cm=plot.depth_cm,
        soil_mass_t_per_ha=mass,
        free_lime=plot.free_lime,
        dug=plot.dug,
        steps=tuple(steps),
        mix=mix,
        phosphorus_buffering_index=plot.phosphorus_buffering_index,
    )
