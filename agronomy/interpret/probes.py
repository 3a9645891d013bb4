"""What a sound probe's value means for the crop that stands there: dry, salty or cold ground."""

from agronomy.interpret.salinity import yield_at
from agronomy.tables import Tables
from agronomy.tables.crop import Crop

SHALLOW_GROUPS = ("vegetables", "herbs", "bulbs", "cut flowers")


def probe_warning(quantity: str, value: float, crop: Crop, texture: str | None, tables: Tables) -> str:
    """A warning for the crop, or nothing. Source: fao-56 for water, maas-hoffman for salt, crop-calendars for warmth.

    Values in the quantity's own unit: % by volume, dS/m, °C.

    >>> from agronomy.intake.example import bed, tables
    >>> probe_warning("moisture", 14, bed().crop, "loam", tables)
    'Dry for cabbage: 14 % by volume, where 20 % is wanted on loam. Water before you feed.'
    >>> probe_warning("moisture", 24, bed().crop, "loam", tables)
    \'\'
    """
    if quantity == "moisture" and texture in tables.ground.soil_water:
        return _dry(value, crop, texture, tables)
    if quantity == "ec":
        _, threshold, _ = yield_at(0.0, crop, tables)
        if value >= threshold:
            told = f"Salty for {crop.name}: {value:.1f} dS/m at the probe, where {crop.name} bears {threshold:.1f} in the paste."
            return f"{told} Have salt (EC) tested before you feed."
    if quantity == "temperature":
        row = tables.growing.limits.get(crop.key)
        if row is not None and row.first_soil_c is not None and value < row.first_soil_c:
            return f"Cold for {crop.name}: {value:.0f} °C, and it takes up nitrogen from {row.first_soil_c:.0f} °C on. Wait with it."
    return ""


def _dry(value: float, crop: Crop, texture: str | None, tables: Tables) -> str:
    row, figures = tables.ground.soil_water[texture or ""], tables.ground
    share = (figures.may_dry_shallow if crop.group in SHALLOW_GROUPS else figures.may_dry).value
    least = row.full_pct - share * (row.full_pct - row.wilting_pct)
    if value >= least:
        return ""
    return f"Dry for {crop.name}: {value:.0f} % by volume, where {least:.0f} % is wanted on {texture}. Water before you feed."
