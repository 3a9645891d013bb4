"""Days as they usually are at a place, and what somebody says of today: for places without a weather service."""

from dataclasses import replace
from datetime import date, timedelta

from agronomy.base.record import record
from agronomy.model.climate import Climate, soil_warmth
from agronomy.schedule.gates import Weather
from agronomy.tables import Tables

SWING_C = 5.0  # from the mean to the night and to the noon; a working figure of our own
USUAL_HUMIDITY, CALM, WINDY, FROZEN_C = 75.0, 2.0, 8.0, -2.0
MUCH_RAIN_MM = 20.0


@record
class TodayIs:
    """What somebody says of today: ground "dry", "soaked" or "frozen", wind "calm" or "windy", rain to come "none" or "much"."""

    ground: str = ""
    wind: str = ""
    rain: str = ""


def usual_days(climate: Climate, first: date, count: int, tables: Tables, *, today: TodayIs | None = None) -> list[Weather]:
    """Some days by the usual warmth of their month; rain, wind and wet ground are not foretold, only told of the first day.

    Source: kusuda-form for the soil; the rest is the climate's own months.

    >>> from agronomy.intake.example import tables
    >>> from agronomy.model.climate import climate_of
    >>> days = usual_days(climate_of("thornmere_vale", tables), date(2027, 1, 10), 2, tables, today=TodayIs(ground="frozen"))
    >>> days[0].soil_c, days[1].rain_mm
    (-2.0, 0.0)
    """
    days = [_usual(first + timedelta(days=ahead), climate, tables) for ahead in range(count)]
    if today is None or not days:
        return days
    told = days[0]
    if today.ground in ("soaked", "frozen"):
        told = replace(told, soaked=today.ground == "soaked", soil_c=FROZEN_C if today.ground == "frozen" else told.soil_c)
    if today.wind:
        told = replace(told, wind_m_s=WINDY if today.wind == "windy" else CALM)
    if today.rain == "much":
        told = replace(told, rain_mm=MUCH_RAIN_MM)
    return [told, *days[1:]]


def _usual(day: date, climate: Climate, tables: Tables) -> Weather:
    mean = climate.warmth_c[day.month - 1]
    return Weather(
        day=day,
        low_c=mean - SWING_C,
        high_c=mean + SWING_C,
        rain_mm=0.0,
        wind_m_s=CALM,
        humidity=USUAL_HUMIDITY,
        soil_c=soil_warmth(day, climate, tables),
    )
