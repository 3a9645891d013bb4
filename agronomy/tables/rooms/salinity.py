"""Salt and sodium."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar

from agronomy.tables.columns import Names, Within
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Fault, Parameter, rising


@dataclass(frozen=True, slots=True, kw_only=True)
class SaltTolerance(Cited):
    """Salt in the saturated paste from which yield falls, and how steeply."""

    crop: Annotated[str, Names("crops")]
    threshold_ds_per_m: Annotated[float, Within(0.3, 16, "dS/m")]
    slope_pct: Annotated[float, Within(0.5, 50, "% per dS/m")]


@dataclass(frozen=True, slots=True, kw_only=True)
class EcFactor(Cited):
    """From the conductivity of an extract to that of the saturated paste."""

    method: Annotated[str, Names("methods")]
    texture: Annotated[str, Names("textures", "*")]
    factor: Annotated[float, Within(0.8, 40, "times")]
    low: Annotated[float, Within(0.5, 40, "times")]
    high: Annotated[float, Within(0.8, 50, "times")]

    def faults(self) -> Iterator[Fault]:
        return rising(self, "low", "factor", "high")


@dataclass(frozen=True, slots=True, kw_only=True)
class Salinity:
    """Salt and sodium."""

    FIGURES: ClassVar[str] = "salinity/figures.toml"

    unlisted_threshold: Annotated[Parameter, Within(0.5, 6, "dS/m")]
    unlisted_slope: Annotated[Parameter, Within(2, 40, "% per dS/m")]
    far_too_salty_yield_pct: Annotated[Parameter, Within(20, 100, "%")]
    saline_from: Annotated[Parameter, Within(1, 8, "dS/m")]
    sodic_from_pct: Annotated[Parameter, Within(4, 30, "%")]
    sodium_rising_from_pct: Annotated[Parameter, Within(1, 15, "%")]
    gypsum_kg_per_molc: Annotated[Parameter, Within(0.08, 0.09, "kg per mol of charge")]
    gypsum_to_pct: Annotated[Parameter, Within(1, 15, "%")]
    gypsum_purity: Annotated[Parameter, Within(0.3, 1, "fraction")]
    gypsum_most_at_once_kg_per_ha: Annotated[Parameter, Within(1000, 30000, "kg/ha")]
    leaching_told_from: Annotated[Parameter, Within(0, 1, "fraction")]
    leaching_times_threshold: Annotated[Parameter, Within(2, 10, "times")]
    most_leaching: Annotated[Parameter, Within(0.1, 0.9, "fraction")]
    least_sar: Annotated[Parameter, Within(0, 10, "ratio")]
    most_sar: Annotated[Parameter, Within(10, 100, "ratio")]
    flush_ponded: Annotated[Parameter, Within(0.02, 1, "fraction")]
    flush_soaks: Annotated[Parameter, Within(0.02, 1, "fraction")]
    flush_peat: Annotated[Parameter, Within(0.02, 1, "fraction")]
    soak_mm: Annotated[Parameter, Within(10, 100, "mm")]
    leached_cm: Annotated[Parameter, Within(10, 100, "cm")]
    pot_held: Annotated[Parameter, Within(0.1, 0.9, "fraction")]
    pot_push: Annotated[Parameter, Within(0.1, 1, "fraction")]
    pot_hold_feed_from: Annotated[Parameter, Within(0.5, 10, "dS/m")]
    pot_flush_from: Annotated[Parameter, Within(0.5, 15, "dS/m")]
    pot_wanted: Annotated[Parameter, Within(0.2, 6, "dS/m")]
    bed_flush_over: Annotated[Parameter, Within(0, 5, "dS/m")]
    tolerance: Annotated[Mapping[str, SaltTolerance], Csv("salinity/tolerance.csv", "crop")]
    ec_factors: Annotated[Mapping[tuple[str, str], EcFactor], Csv("salinity/ec_factors.csv", ("method", "texture"))]
