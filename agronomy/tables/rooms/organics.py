"""Manure and compost: release, waits, tests."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar

from agronomy.tables.columns import Key, Names, Within
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Parameter


@dataclass(frozen=True, slots=True, kw_only=True)
class ReleaseClass(Cited):
    """How an organic material gives its nitrogen over the weeks."""

    release_class: Key
    name: str
    fast_share: Annotated[float, Within(0.02, 1, "fraction")]
    fast_per_week: Annotated[float, Within(0.01, 3, "per week")]
    slow_per_week: Annotated[float, Within(0.0002, 0.1, "per week")]
    q10: Annotated[float, Within(1, 4, "times per 10 °C")]


@dataclass(frozen=True, slots=True, kw_only=True)
class CarriedClass(Cited):
    """Share of organic nitrogen that comes in the second and third year."""

    release_class: Key
    year_2: Annotated[float, Within(0, 0.5, "fraction")]
    year_3: Annotated[float, Within(0, 0.5, "fraction")]

    def mineralised(self, year: int) -> float:
        """Share of organic nitrogen that comes so many whole years after it was put on (1 or 2)."""
        return (0.0, self.year_2, self.year_3)[year] if year < 3 else 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Eaten(Cited):
    """Whether a group of crops is eaten, and whether what is eaten touches the ground."""

    group: Annotated[str, Names("groups")]
    eaten: bool
    touches_ground: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Organics:
    """Manure and compost: release, waits, tests."""

    FIGURES: ClassVar[str] = "organics/figures.toml"

    p_available: Annotated[Parameter, Within(0.2, 1, "fraction")]
    k_available: Annotated[Parameter, Within(0.2, 1, "fraction")]
    raw_days_touching: Annotated[Parameter, Within(60, 365, "days")]
    raw_days_other: Annotated[Parameter, Within(30, 365, "days")]
    stock_off_days: Annotated[Parameter, Within(7, 120, "days")]
    pot_test_days: Annotated[Parameter, Within(7, 60, "days")]
    salty_ec: Annotated[Parameter, Within(1, 20, "dS/m")]
    most_layer_cm: Annotated[Parameter, Within(0.3, 15, "cm")]
    keep_meal_months: Annotated[Parameter, Within(1, 60, "months")]
    keep_damp_months: Annotated[Parameter, Within(0.2, 24, "months")]
    keep_mineral_months: Annotated[Parameter, Within(3, 240, "months")]
    uptake_half_share: Annotated[Parameter, Within(0.1, 0.9, "fraction")]
    uptake_steepness: Annotated[Parameter, Within(2, 40, "per whole time")]
    growing_weeks: Annotated[Parameter, Within(6, 40, "weeks")]
    sag_share: Annotated[Parameter, Within(0, 0.5, "fraction")]
    most_t_per_ha: Annotated[Parameter, Within(50, 1000, "t/ha")]
    poor_humus_below_pct: Annotated[Parameter, Within(0.3, 4, "%")]
    poor_humus_light_below_pct: Annotated[Parameter, Within(0.2, 5, "%")]
    new_ground_compost_t_per_ha: Annotated[Parameter, Within(20, 400, "t/ha")]
    release: Annotated[Mapping[str, ReleaseClass], Csv("organics/release.csv", "release_class")]
    carried: Annotated[Mapping[str, CarriedClass], Csv("organics/carried.csv", "release_class")]
    eaten: Annotated[Mapping[str, Eaten], Csv("organics/eaten.csv", "group")]
