"""A pretended weather service: a place's usual months with days drawn around them, the same for the same place and day."""

import random
from datetime import date, timedelta
from math import exp

from agronomy.model.climate import Climate, soil_warmth
from agronomy.schedule.gates import Weather
from agronomy.tables import load_tables

RAINY_SHARE = 0.38
SOAKED_FROM_MM = 35.0


class PretendedForecast:
    """Foretells days from a climate. Nothing of it is true: a real service of the same shape takes its place in the settings."""

    NAME = "an invented forecast of the demo, true of no place"

    def __init__(self, climate: Climate, place: str):
        self.climate, self.place = climate, place

    def days(self, first: date, count: int) -> list[Weather]:
        """Some days from the first on, with the soaked ones by the rain of the three days before them."""
        rain = [self._rain(first + timedelta(days=ahead)) for ahead in range(-3, count)]
        return [self._day(first + timedelta(days=ahead), rain[ahead + 3], sum(rain[ahead : ahead + 3])) for ahead in range(count)]

    def _random(self, day: date, what: str) -> random.Random:
        return random.Random(f"{self.place} {day.isoformat()} {what}")  # noqa: S311 -- a pretended day

    def _usual(self, day: date, months: tuple[float, ...]) -> float:
        """A monthly mean moved smoothly from the middle of one month to the next."""
        place = (day.month - 1) + (day.day - 15.5) / 30.4
        low = int(place // 1)
        share = place - low
        return months[low % 12] * (1 - share) + months[(low + 1) % 12] * share

    def _rain(self, day: date) -> float:
        drawn = self._random(day, "rain")
        if drawn.random() > RAINY_SHARE:
            return 0.0
        return round(drawn.expovariate(1.0) * self._usual(day, self.climate.rain_mm) / 30.4 / RAINY_SHARE, 1)

    def _day(self, day: date, rain: float, before: float) -> Weather:
        drawn = self._random(day, "air")
        mean = self._usual(day, self.climate.warmth_c) + drawn.gauss(0, 2.5)
        swing = 3.0 + 4.0 * exp(-rain / 5)
        soil = soil_warmth(day, self.climate, load_tables()) + drawn.gauss(0, 0.7)
        return Weather(
            day=day,
            low_c=round(mean - swing, 1),
            high_c=round(mean + swing, 1),
            rain_mm=rain,
            wind_m_s=round(abs(drawn.gauss(3.0, 1.8)), 1),
            humidity=round(min(98.0, max(30.0, 70 + drawn.gauss(0, 10) + min(20.0, 3 * rain))), 0),
            soil_c=round(soil, 1),
            soaked=before + rain > SOAKED_FROM_MM,
        )
