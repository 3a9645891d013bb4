"""A place's climate by the month, and how warm its soil is on a day."""

from datetime import date, timedelta
from functools import lru_cache
from math import atan2, cos, exp, hypot, pi, sin, sqrt

from agronomy.base.errors import OutOfRange, UnknownName, check_range
from agronomy.base.record import record
from agronomy.tables import Tables


@record
class Climate:
    """Mean air [°C] and rain [mm] of the twelve months, usual days of the last spring and first autumn frost as (month, day), None where
    there is none.
    """

    name: str
    warmth_c: tuple[float, ...]
    rain_mm: tuple[float, ...]
    last_frost: tuple[int, int] | None
    first_frost: tuple[int, int] | None

    def last_frost_in(self, year: int) -> date | None:
        return date(year, *self.last_frost) if self.last_frost else None

    def first_frost_in(self, year: int) -> date | None:
        return date(year, *self.first_frost) if self.first_frost else None


def climate_of(key: str, tables: Tables) -> Climate:
    """A climate of the table. Raises UnknownName.

    Rain in mm, warmth in degrees. Source: climate-normals.

    >>> from agronomy.tables import load_tables
    >>> climate_of("alder_coast", load_tables()).name
    'Alder Coast: cool and damp by the sea'
    """
    row = tables.climate.climates.get(key)
    if row is None:
        raise UnknownName(
            "climate", key[:40], f"“{key[:40]}” is not in our list of climates", f"use one of {', '.join(tables.climate.climates)}"
        )
    return Climate(
        row.name,
        row.warmth_c,
        row.rain_mm,
        row.last_frost,
        row.first_frost,
    )


def own_climate(name: str, warmth_c: list[float], rain_mm: list[float], last_frost: date | None, first_frost: date | None) -> Climate:
    """A climate from a user's own twelve means. Raises OutOfRange for other than twelve, or figures that cannot be.

    Warmth in degrees, rain in mm a month. Source: user-value.

    >>> own_climate("Hill", [5.0] * 12, [80.0] * 12, None, None).name
    'Hill'
    """
    for field, values, low, high in (("warmth", warmth_c, -60, 50), ("rain", rain_mm, 0, 3000)):
        if len(values) != 12:
            raise OutOfRange(field, values, f"{len(values)} months were given", "type twelve figures, January first")
        for month, value in enumerate(values, 1):
            check_range(f"{field} of month {month}", value, low=low, high=high)
    return Climate(
        name,
        tuple(warmth_c),
        tuple(rain_mm),
        (last_frost.month, last_frost.day) if last_frost else None,
        (first_frost.month, first_frost.day) if first_frost else None,
    )


def yearly_wave(warmth_c: tuple[float, ...]) -> tuple[float, float, float]:
    """Mean [°C], swing [°C] and coldest day of the year of monthly means, by their first harmonic. Source: kusuda-form.

    >>> mean, swing, coldest = yearly_wave((0, 1.5, 5, 9.5, 14, 17.5, 19.5, 19, 15.5, 10.5, 5, 1.5))
    >>> round(mean, 3), round(swing, 3), round(coldest, 2)
    (9.875, 9.724, 18.25)
    """
    angles = [2 * pi * (month + 0.5) / 12 for month in range(12)]
    across = sum(warmth * cos(angle) for warmth, angle in zip(warmth_c, angles, strict=True)) / 6
    up = sum(warmth * sin(angle) for warmth, angle in zip(warmth_c, angles, strict=True)) / 6
    return sum(warmth_c) / 12, hypot(across, up), (365 / (2 * pi) * atan2(up, across) + 182.5) % 365


def soil_wave(day_of_year: float, depth_m: float, mean_c: float, swing_c: float, coldest_day: float, diffusivity: float = 0.043) -> float:
    """Soil temperature [°C] at a depth on a day of the year. Source: kusuda-form, within 2 °C; not for mulch, film or snow.

    >>> round(soil_wave(105, 0.10, 11.5, 8.5, 20), 2), round(soil_wave(200, 0.10, 11.5, 8.5, 20), 1)
    (10.27, 19.6)
    """
    damping = sqrt(365 * diffusivity / pi)
    return mean_c - swing_c * exp(-depth_m / damping) * cos(2 * pi / 365 * (day_of_year - coldest_day - depth_m / 2 / damping * 365 / pi))


def soil_warmth(on: date, climate: Climate, tables: Tables, *, depth_m: float = 0.10, grass: bool = False) -> float:
    """Usual soil temperature [°C] on a date. Source: kusuda-form.

    >>> from agronomy.intake.example import tables
    >>> round(soil_warmth(date(2027, 3, 1), climate_of("thornmere_vale", tables), tables))
    6
    """
    return _soil_year(climate, depth_m, *_wave_figures(tables, grass))[on.timetuple().tm_yday - 1]


def _wave_figures(tables: Tables, grass: bool) -> tuple[float, ...]:
    figures = tables.climate
    damped = figures.damped_grass if grass else figures.damped_bare
    return tuple(figure.value for figure in (figures.no_seasons_below_c, damped, figures.warmer_than_air_c, figures.diffusivity_m2_per_day))


@lru_cache(maxsize=64)
def _soil_year(
    climate: Climate, depth_m: float, no_seasons_c: float, damped: float, warmer_c: float, diffusivity: float
) -> tuple[float, ...]:
    """Usual soil temperature [°C] of all 366 days of a year: a search for a warm day asks for hundreds of them."""
    mean, swing, coldest = yearly_wave(climate.warmth_c)
    swing = 0.0 if swing < no_seasons_c else swing * damped
    return tuple(soil_wave(day, depth_m, mean + warmer_c, swing, coldest, diffusivity) for day in range(1, 367))


def warm_season_mean(climate: Climate, above_c: float, tables: Tables, *, grass: bool = False) -> float:
    """Mean soil temperature [°C] of all days that are usually warmer than so much; `above_c` itself where none is. Source: kusuda-form.

    >>> from agronomy.intake.example import tables
    >>> round(warm_season_mean(climate_of("thornmere_vale", tables), 5.0, tables))
    12
    """
    days = [soil_warmth(date(2027, 1, 1) + timedelta(days=ahead), climate, tables, grass=grass) for ahead in range(365)]
    warm = [warmth for warmth in days if warmth > above_c]
    return sum(warm) / len(warm) if warm else above_c


def air_warmth(on: date, climate: Climate) -> float:
    """Usual mean air temperature [°C] on a date, by the yearly wave of the monthly means. Source: kusuda-form.

    >>> from agronomy.intake.example import tables
    >>> round(air_warmth(date(2027, 7, 20), climate_of("thornmere_vale", tables)))
    18
    """
    mean, swing, coldest = yearly_wave(climate.warmth_c)
    return soil_wave(on.timetuple().tm_yday, 0.0, mean, swing, coldest)


def first_warm_day(
    earliest: date, above_c: float, climate: Climate, tables: Tables, *, within_days: int = 366, grass: bool = False
) -> date | None:
    """The first day from `earliest` on whose soil is usually warm enough; None where none comes in time. Source: kusuda-form.

    Warmth in degrees, time in days.

    >>> from agronomy.intake.example import tables
    >>> first_warm_day(date(2027, 1, 1), 8.0, climate_of("thornmere_vale", tables), tables).month
    3
    """
    days = (earliest + timedelta(days=ahead) for ahead in range(within_days))
    return next((day for day in days if soil_warmth(day, climate, tables, grass=grass) >= above_c), None)


def first_mild_day(earliest: date, above_c: float, climate: Climate, *, within_days: int = 366) -> date | None:
    """The first day from `earliest` on whose air is usually mild enough; None where none comes in time. Source: invented-climates.

    Warmth in degrees, time in days.

    >>> from agronomy.intake.example import tables
    >>> first_mild_day(date(2027, 1, 1), 5.0, climate_of("thornmere_vale", tables)).month
    3
    """
    days = (earliest + timedelta(days=ahead) for ahead in range(within_days))
    return next((day for day in days if air_warmth(day, climate) >= above_c), None)


def evaporation_mm(warmth_c: tuple[float, ...]) -> tuple[float, ...]:
    """What plants and ground could give off in each month [mm], from twelve mean air temperatures, for days of twelve hours. Source:
    thornthwaite-1948.

    >>> round(evaporation_mm((10.0,) * 12)[0], 1), round(evaporation_mm((25.0,) * 12)[0], 1)
    (48.9, 112.0)
    """
    heat = sum((max(0.0, warmth) / 5) ** 1.514 for warmth in warmth_c)
    if heat == 0:
        return (0.0,) * 12
    power = 6.75e-7 * heat**3 - 7.71e-5 * heat**2 + 1.792e-2 * heat + 0.49239
    return tuple(16 * (10 * max(0.0, warmth) / heat) ** power for warmth in warmth_c)


def soaked_months(climate: Climate, surplus_mm: float) -> frozenset[int]:
    """Months (1 to 12) whose usual rain goes so far beyond what can evaporate that ground stands soaked. Source: soaked-ground.

    Rain and surplus in mm a month.

    >>> from agronomy.intake.example import tables
    >>> sorted(soaked_months(climate_of("thornmere_vale", tables), 60.0))
    []
    """
    pairs = zip(climate.rain_mm, evaporation_mm(climate.warmth_c), strict=True)
    return frozenset(month for month, (rain, evaporated) in enumerate(pairs, 1) if rain - evaporated > surplus_mm)
