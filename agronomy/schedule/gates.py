"""Whether a day's weather and ground let a job be done, and why not."""

from dataclasses import replace
from datetime import date
from typing import Protocol

from agronomy.base.record import record
from agronomy.base.said import Measure, say
from agronomy.model.answers import NeedKind
from agronomy.products.compatibility import groups_of
from agronomy.tables import Tables
from agronomy.tables.material import Material

FROST_C = 0.0


@record(kw_only=True)
class Weather:
    """One day: air from night to noon [°C], rain [mm], wind [m/s], humidity [%], soil at 10 cm [°C], and whether the ground is soaked."""

    day: date
    low_c: float
    high_c: float
    rain_mm: float
    wind_m_s: float
    humidity: float
    soil_c: float
    soaked: bool = False


class Forecast(Protocol):
    """A service that foretells some days for a place; real ones take the stand-in's place in the settings."""

    def days(self, first: date, count: int) -> list[Weather]: ...


@record
class Verdict:
    """A day for a job: `why_not` is empty where it can be done."""

    day: date
    why_not: tuple[str, ...]

    @property
    def good(self) -> bool:
        return not self.why_not


def work_of(material: Material, what: str, tables: Tables) -> str:
    """The kind of work that a dose is, as the table of gates names it. Source: weather-gates.

    >>> from agronomy.intake.example import tables
    >>> work_of(tables.materials["urea"], "N", tables)
    'urea'
    """
    if what == NeedKind.LIME:
        return "lime"
    if what == NeedKind.ACIDIFIER:
        return "sulfur"
    if material.has_role("organic") or "manure" in groups_of(material, tables):
        return "manure"
    if material.n > 0 and material.available_n > 0:
        return "urea" if "urea" in groups_of(material, tables) else "nitrogen"
    return "phosphate_potash"


def gate(
    work: str, day: Weather, ahead: list[Weather], tables: Tables, *, slope_pct: float | None = None, water_m: float | None = None
) -> Verdict:
    """Whether a kind of work can be done on a day, with the days after it for the rain ahead. Source: weather-gates.

    Frozen and soaked ground, and steep ground near water, bar every spreading whatever the table says.

    >>> from agronomy.intake.example import tables
    >>> gate("nitrogen", Weather(day=date(2027, 5, 1), low_c=8, high_c=16, rain_mm=0, wind_m_s=3, humidity=60, soil_c=12), [], tables).good
    True
    """
    row, figures, said = tables.climate.gates[work], tables.climate, []
    if row.frost_free and day.soil_c <= FROST_C:
        said.append("the ground is frozen")
    if day.soaked and not row.soaked_ok:
        said.append("the ground is soaked")
    if slope_pct is not None and slope_pct > figures.steep_pct.value and water_m is not None and water_m < figures.near_water_m.value:
        said.append(say("steep ground this near to water"))
    if row.soil_above_c is not None and day.soil_c < row.soil_above_c:
        said.append(
            say("the soil has {soil_c:.0f}, {soil_above_c:g} are needed", soil_c=Measure(day.soil_c, "°C"), soil_above_c=row.soil_above_c)
        )
    if row.air_above_c is not None and day.high_c < row.air_above_c:
        said.append("too cold for leaves")
    if row.air_below_c is not None and day.high_c > row.air_below_c:
        said.append(say("too hot: above {air_below_c:g}", air_below_c=Measure(row.air_below_c, "°C")))
    if row.wind_below_m_s is not None and day.wind_m_s > row.wind_below_m_s:
        said.append(
            say("too windy: {wind_m_s:.1f} m/s, {wind_below_m_s:g} at most", wind_m_s=day.wind_m_s, wind_below_m_s=row.wind_below_m_s)
        )
    if row.humidity_above is not None and day.humidity < row.humidity_above:
        said.append(say("the air is too dry for leaves to take it up"))
    if row.rain_below_mm is not None:
        days = 1 + int((row.rain_ahead_hours or 0) // 24)
        rain = sum(item.rain_mm for item in [day, *ahead][:days])
        if rain > row.rain_below_mm:
            said.append(say("{rain:.0f} of rain by then", rain=Measure(rain, "mm")))
    return Verdict(day.day, tuple(said))


def warmed(days: list[Weather], soil_now_c: float) -> list[Weather]:
    """The days ahead with the soil's warmth [°C] moved to what a probe measures now. Source: definition.

    >>> day = Weather(day=date(2027, 5, 1), low_c=8, high_c=16, rain_mm=0, wind_m_s=3, humidity=60, soil_c=12)
    >>> warmed([day], 9.5)[0].soil_c
    9.5
    """
    shift = soil_now_c - days[0].soil_c if days else 0.0
    return [replace(day, soil_c=day.soil_c + shift) for day in days]


def good_days(work: str, days: list[Weather], tables: Tables, **ground) -> list[Verdict]:
    """A verdict for each day of a forecast. Source: weather-gates.

    >>> from agronomy.intake.example import tables
    >>> day = Weather(day=date(2027, 5, 1), low_c=8, high_c=16, rain_mm=0, wind_m_s=3, humidity=60, soil_c=12)
    >>> len(good_days("nitrogen", [day], tables))
    1
    """
    return [gate(work, day, days[place + 1 :], tables, **ground) for place, day in enumerate(days)]
