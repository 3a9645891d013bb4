"""A reading whose method has no level of ours, judged by the classes of its extractant for the use that is made of the land."""

from agronomy.base.working import Figure, Step
from agronomy.interpret.nutrients import Critical
from agronomy.model.reading import Reading
from agronomy.model.soil import Soil
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.systems import LandUseLevel


def critical_by_land_use(reading: Reading, crop: Crop, soil: Soil, tables: Tables) -> Critical | None:
    """The level [mg/kg] of the reading's extractant for the crop's use of the land, by exchange capacity, texture or phosphorus buffering
    where the classes go by them; None where no such classes are known. Source: each row's own.

    >>> from agronomy.intake.example import bed, soil, tables
    >>> from agronomy.model.reading import read
    >>> colwell = read("P", 20, unit="mg/kg", method="Colwell", how="lab", taken=None, tables=tables)
    >>> critical_by_land_use(colwell, bed().crop, soil(), tables).level
    62.0
    """
    uses = tables.systems.land_uses
    use = uses.get(crop.key) or uses[crop.group]
    rows = tables.land_use_levels_of.get((reading.analyte, reading.method, use.land_use), ())
    row = next((row for row in rows if _holds(row, soil)), None) or next((row for row in rows if row.untold), None)
    if row is None:
        return None
    edges = (row.short_from, row.building_from, row.right_from, row.plenty_from, row.excess_from)
    inputs = {"use of the land": Figure(use.land_use.replace("_", ", "))}
    if row.by == "pbi":
        known = soil.phosphorus_buffering_index
        inputs["phosphorus buffering index"] = Figure("not told" if known is None else f"{known:g}")
    step = Step("critical level", "where enough begins", inputs, Figure(row.right_from, reading.unit), row.source, row.where)
    return Critical(level=row.right_from, low=row.building_from, high=row.plenty_from, edges=edges, step=step, source=row.source)


def _holds(row: LandUseLevel, soil: Soil) -> bool:
    """Whether a row is for this ground, by what is known of it."""
    if row.by == "any":
        return True
    if row.by == "soil":
        return soil.texture_known and soil.texture in row.soil
    figure = soil.cec_cmol_per_kg if row.by == "cec" else soil.phosphorus_buffering_index
    if figure is None or (row.by_from is None and row.by_to is None):
        return False
    return (row.by_from or 0.0) <= figure and (row.by_to is None or figure < row.by_to)
