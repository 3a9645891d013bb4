"""What a sound probe's value means for the crop that stands there: dry, salty or cold ground."""

from agronomy.base.said import Measure, say
from agronomy.interpret.salinity import yield_at
from agronomy.tables import Tables
from agronomy.tables.crop import Crop

SHALLOW_GROUPS = ("vegetables", "herbs", "bulbs", "cut flowers")


def probe_warning(quantity: str, value: float, crop: Crop, texture: str | None, tables: Tables) -> str:
    """A warning for the crop, or nothing. Source: fao-56 for water, maas-hoffman for salt, crop-calendars for warmth.

    Values in the quantity's own unit: % by volume, dS/m, °C.

    >>> from agronomy.intake.example import bed, tables
    >>> probe_warning("moisture", 14, bed().crop, "loam", tables)
    'Dry for cabbage: 14 % by volume, where 20 % is needed on loam. Water before you feed.'
    >>> probe_warning("moisture", 24, bed().crop, "loam", tables)
    \'\'
    """
    if quantity == "moisture" and texture in tables.ground.soil_water:
        return _dry(value, crop, texture, tables)
    if quantity == "ec":
        _, threshold, _ = yield_at(0.0, crop, tables)
        if value >= threshold:
            told = say(
                "Salty for {crop}: {value:.1f} dS/m at the probe, where {crop} tolerates {threshold:.1f} in the paste.",
                crop=crop.name,
                value=value,
                threshold=threshold,
            )
            return say("{told} Have salt (EC) tested before you feed.", told=told)
    if quantity == "temperature":
        row = tables.growing.limits.get(crop.key)
        if row is not None and row.first_soil_c is not None and value < row.first_soil_c:
            return say(
                "Cold for {crop}: {value:.0f}, and it takes up nitrogen from {first_soil_c:.0f} on. Wait with it.",
                crop=crop.name,
                value=Measure(value, "°C"),
                first_soil_c=Measure(row.first_soil_c, "°C"),
            )
    return ""


def _dry(value: float, crop: Crop, texture: str | None, tables: Tables) -> str:
    row, figures = tables.ground.soil_water[texture or ""], tables.ground
    share = (figures.may_dry_shallow if crop.group in SHALLOW_GROUPS else figures.may_dry).value
    least = row.full_pct - share * (row.full_pct - row.wilting_pct)
    if value >= least:
        return ""
    return say(
        "Dry for {crop}: {value:.0f} % by volume, where {least:.0f} % is needed on {texture}. Water before you feed.",
        crop=crop.name,
        value=value,
        least=least,
        texture=texture,
    )
