"""Frost and tender crops: when they may stand outside, and what a planting before the last frost risks."""

from datetime import date, timedelta

from agronomy.base.required import required
from agronomy.base.said import say
from agronomy.model.climate import Climate
from agronomy.tables import Tables
from agronomy.tables.crop import Crop


def is_tender(crop: Crop, tables: Tables) -> bool:
    """Whether frost kills a crop above the ground. Source: crop-traits.

    Frost below 0 °C [°C].

    >>> from agronomy.intake.example import bed, tables
    >>> is_tender(bed("tomato").crop, tables)
    True
    """
    return crop.tender


def frost_free_from(day: date, climate: Climate, tables: Tables) -> date:
    """The first day from one on that usually lies between the last spring frost, with some days to spare, and the first of autumn.

    The day itself where the place knows no frost. Source: timing-guide.

    >>> from agronomy.intake.example import tables
    >>> from agronomy.model.climate import climate_of
    >>> str(frost_free_from(date(2027, 3, 1), climate_of("thornmere_vale", tables), tables))
    '2027-05-05'
    """
    if climate.last_frost is None or climate.first_frost is None:
        return day
    spare = timedelta(days=tables.climate.after_frost_days.value)
    for year in range(day.year - 1, day.year + 2):
        opens, closes = required(climate.last_frost_in(year)) + spare, required(climate.first_frost_in(year))
        if closes < opens:  # south of the equator the season runs over the turn of the year
            closes = required(climate.first_frost_in(year + 1))
        if day < closes:
            return max(day, opens)
    return day


def frost_risk(crop: Crop, planting: date, climate: Climate, tables: Tables, *, on_field: bool = False) -> str:
    """What to say of a tender crop that is to be planted while frost is still usual; empty where there is nothing to say.

    Source: timing-guide.
    In days.

    >>> from agronomy.intake.example import bed, tables
    >>> from agronomy.model.climate import climate_of
    >>> len(frost_risk(bed("tomato").crop, date(2027, 4, 1), climate_of("thornmere_vale", tables), tables)) > 0
    True
    """
    safe = frost_free_from(planting, climate, tables)
    if not is_tender(crop, tables) or safe <= planting:
        return ""
    if on_field:
        return say(
            "Frost kills {crop}, and at {split} it is usual until about {last_frost_in:%-d %b}: on a field it goes in from about "
            "{safe:%-d %b %Y}.",
            crop=crop.name,
            split=climate.name.split(":")[0],
            last_frost_in=climate.last_frost_in(safe.year),
            safe=safe,
        )
    return say(
        "Frost kills {crop}, and at {split} it is usual until about {last_frost_in:%-d %b}: under glass or fleece "
        "now, or planted from about {safe:%-d %b %Y}.",
        crop=crop.name,
        split=climate.name.split(":")[0],
        last_frost_in=climate.last_frost_in(safe.year),
        safe=safe,
    )
