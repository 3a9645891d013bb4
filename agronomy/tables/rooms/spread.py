"""Bands, measures, calibration."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar

from agronomy.tables.columns import Names, Within
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Fault, Parameter, rising


@dataclass(frozen=True, slots=True, kw_only=True)
class SeedLimit(Cited):
    """The most nitrogen and potash right with the seed, on light and heavy ground."""

    crop: Annotated[str, Names("crops")]
    low_capacity: Annotated[float, Within(0, 5, "g N + K2O per m of row")]
    high_capacity: Annotated[float, Within(0, 5, "g N + K2O per m of row")]

    def faults(self) -> Iterator[Fault]:
        return rising(self, "low_capacity", "high_capacity")


@dataclass(frozen=True, slots=True, kw_only=True)
class Spread:
    """Bands, measures, calibration."""

    FIGURES: ClassVar[str] = "spread/figures.toml"

    stride_m: Annotated[Parameter, Within(0.4, 1.2, "m")]
    band_low_capacity: Annotated[Parameter, Within(1, 30, "g N + K2O per m of row")]
    band_high_capacity: Annotated[Parameter, Within(1, 40, "g N + K2O per m of row")]
    low_capacity_below: Annotated[Parameter, Within(2, 30, "cmol/kg")]
    high_capacity_from: Annotated[Parameter, Within(2, 40, "cmol/kg")]
    dry_share: Annotated[Parameter, Within(0, 1, "fraction")]
    furrow_share: Annotated[Parameter, Within(0.01, 1, "fraction")]
    furrow_most: Annotated[Parameter, Within(1, 6, "times")]
    near_seed_salt_index: Annotated[Parameter, Within(5, 80, "salt index")]
    even_cv: Annotated[Parameter, Within(5, 40, "%")]
    usable_cv: Annotated[Parameter, Within(10, 60, "%")]
    spoon_error_grains: Annotated[Parameter, Within(2, 40, "%")]
    spoon_error_powder: Annotated[Parameter, Within(2, 60, "%")]
    least_portion_g: Annotated[Parameter, Within(0.2, 20, "g")]
    seed_limits: Annotated[Mapping[str, SeedLimit], Csv("spread/seed_limits.csv", "crop")]
