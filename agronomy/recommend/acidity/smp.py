"""Lime need from the SMP buffer pH, by the published table."""

from itertools import pairwise

from agronomy.base.uncertainty import HALF_WIDTH_80, band
from agronomy.base.working import Banded, Figure, Step
from agronomy.model.soil import Soil
from agronomy.tables import Tables
from agronomy.tables.rooms.acidity import Acidity, SmpRow
from agronomy.tables.row import Parameter


def smp_table_rate(buffer_ph: float, target_ph: float, tables: Tables, *, is_organic: bool = False) -> float:
    """Ag-lime [short ton/acre per 8 inches] to a target between pH 6.0 and 6.8 (organic soil: to 5.2). Source: vitosh-1995.

    Interpolates between rows and between the targets 6.0, 6.5 and 6.8. Below buffer pH 4.8 the last row is used;
    above the highest nothing is extrapolated (see method_ranges).

    >>> from agronomy.tables import load_tables
    >>> round(smp_table_rate(6.5, 6.5, load_tables()), 2)
    3.8
    """
    rows = sorted(tables.acidity.smp, key=lambda row: row.buffer_ph)
    held = min(rows[-1].buffer_ph, max(rows[0].buffer_ph, buffer_ph))
    for lower, upper in pairwise(rows):
        if lower.buffer_ph <= held <= upper.buffer_ph:
            share = (held - lower.buffer_ph) / (upper.buffer_ph - lower.buffer_ph)
            return _to_target(lower, target_ph, is_organic) * (1 - share) + _to_target(upper, target_ph, is_organic) * share
    return _to_target(rows[0], target_ph, is_organic)


def _to_target(row: SmpRow, target_ph: float, is_organic: bool) -> float:
    if is_organic:
        return row.organic_to_5_2
    if target_ph <= 6.5:
        return row.to_6_0 + (row.to_6_5 - row.to_6_0) * (target_ph - 6.0) / 0.5
    return row.to_6_5 + (row.to_6_8 - row.to_6_5) * (target_ph - 6.5) / 0.3


TABLE_DENSITY = 1.32  # g/cm3 of the soil that the table was made on (two million lb to 6 2/3 inches)


def _steps(
    source: str,
    tons: float,
    need: float,
    pure: Parameter,
    buffer_ph: float,
    target: str,
    scale: float,
    weight: float,
    depth_cm: float,
    figures: Acidity,
    soil: Soil,
) -> tuple[Step, ...]:
    return (
        Step(
            "ag-lime from the table",
            "row of the buffer pH, column of the target",
            {"buffer pH": Figure(buffer_ph, "pH"), "target": Figure(target)},
            Figure(tons, "ton/acre per 8 in"),
            source,
        ),
        Step(
            "to your depth",
            "table × depth / depth of the table" + (" × density / density of the table" if weight != 1 else ""),
            {
                "table": Figure(tons * figures.ton_per_acre_to_kg_per_ha.value, "kg/ha"),
                "depth": Figure(depth_cm, "cm"),
                "depth of the table": Figure.of(figures.smp_reference_depth_cm),
            }
            | (
                {
                    "density": Figure(soil.bulk_density_g_per_cm3, "g/cm3"),
                    "density of the table": Figure(TABLE_DENSITY, "g/cm3", "vitosh-1995"),
                }
                if weight != 1
                else {}
            ),
            Figure(tons * scale, "kg/ha"),
            source,
        ),
        Step(
            "as pure CaCO3",
            "ag-lime × share that counts as pure",
            {"ag-lime": Figure(tons * scale, "kg/ha"), "share that counts as pure": Figure.of(pure)},
            Figure(need, "kg/ha"),
            pure.source,
            pure.where,
            note=f"the share could be {pure.low:g} to {pure.high:g}",
        ),
    )


def smp_lime_need(
    buffer_ph: float, buffer_u: float, *, target_ph: float, depth_cm: float, soil: Soil, tables: Tables, is_organic: bool = False
) -> Banded:
    """Pure, fully reacting CaCO3 [kg/ha] to bring a layer to the target, with band and working. Source: vitosh-1995.

    The table's rate is for 8 inches of ag-lime; it is scaled by depth, and by bulk density only where that was measured.

    >>> from agronomy.intake.example import soil, tables
    >>> round(smp_lime_need(6.4, 0.05, target_ph=6.5, depth_cm=20, soil=soil(), tables=tables).value)
    7674
    """
    figures = tables.acidity
    tons = smp_table_rate(buffer_ph, target_ph, tables, is_organic=is_organic)
    reference = figures.smp_reference_depth_cm.value
    weight = soil.bulk_density_g_per_cm3 / TABLE_DENSITY if soil.bulk_density_measured else 1.0
    scale = figures.ton_per_acre_to_kg_per_ha.value * depth_cm / reference * weight
    pure = figures.smp_pure_share
    need = tons * scale * pure.value

    def at(buffer: float) -> float:
        return smp_table_rate(buffer, target_ph, tables, is_organic=is_organic) * scale * pure.value

    low, high = band(
        need,
        (at(buffer_ph + HALF_WIDTH_80 * buffer_u), at(buffer_ph - HALF_WIDTH_80 * buffer_u)),
        (tons * scale * pure.low, tons * scale * pure.high),
    )
    source = "vitosh-1995;smp-1961"
    target = "5.2, organic soil" if is_organic else f"{target_ph:g}"
    steps = _steps(source, tons, need, pure, buffer_ph, target, scale, weight, depth_cm, figures, soil)
    return Banded(need, low, high, steps)
