"""Nitrogen: credits, manures, tests in the standing crop."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar

from agronomy.tables.columns import Key, Names, Within
from agronomy.tables.reading_files import Csv
from agronomy.tables.rooms.systems import LandUse
from agronomy.tables.row import Cited, Fault, Parameter, rising


@dataclass(frozen=True, slots=True, kw_only=True)
class CropBefore(Cited):
    """Nitrogen that what stood before leaves to the crops after it: a legume, ploughed grass, leaves of cabbages."""

    key: Key
    name: str
    legume: bool
    kg_per_ha: Annotated[float, Within(5, 300, "kg N/ha")]
    low: Annotated[float, Within(0, 300, "kg N/ha")]
    high: Annotated[float, Within(5, 300, "kg N/ha")]
    second_year_share: Annotated[float, Within(0, 1, "fraction")]
    third_year_share: Annotated[float, Within(0, 1, "fraction")]

    def share(self, year: int) -> float:
        """Share of it that comes so many whole years after."""
        return (1.0, self.second_year_share, self.third_year_share)[year] if year < 3 else 0.0

    def faults(self) -> Iterator[Fault]:
        return rising(self, "low", "kg_per_ha", "high")


@dataclass(frozen=True, slots=True, kw_only=True)
class ManureRow(Cited):
    """What a tonne of manure holds and when its nitrogen comes."""

    key: Key
    name: str
    material: Annotated[str, Names("materials")]
    ammonium_kg_per_t: Annotated[float, Within(0, 20, "kg N/t")]
    organic_kg_per_t: Annotated[float, Within(0.3, 60, "kg N/t")]
    p2o5_kg_per_t: Annotated[float, Within(0.2, 60, "kg P2O5/t")]
    k2o_kg_per_t: Annotated[float, Within(0.2, 60, "kg K2O/t")]
    year_1: Annotated[float, Within(0.01, 1, "fraction")]
    year_2: Annotated[float, Within(0, 1, "fraction")]
    year_3: Annotated[float, Within(0, 1, "fraction")]

    def mineralised(self, year: int) -> float:
        """Share of organic nitrogen that comes so many whole years after it was put on."""
        return (self.year_1, self.year_2, self.year_3)[year] if year < 3 else 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class WorkedIn(Cited):
    """Share of ammonium kept by how soon manure is worked in."""

    key: Key
    name: str
    kept: Annotated[float, Within(0.02, 1, "fraction")]


@dataclass(frozen=True, slots=True, kw_only=True)
class NitrateCritical(Cited):
    """Nitrate in the standing crop from which no side-dressing pays."""

    crop: Annotated[str, Names("crops")]
    critical_ppm: Annotated[float, Within(5, 60, "mg/kg NO3-N")]


@dataclass(frozen=True, slots=True, kw_only=True)
class WhatCropLeaves(Cited):
    """A crop of the table that leaves nitrogen by itself, and whose figure holds for it."""

    crop: Annotated[str, Names("crops")]
    leaves: Annotated[str, Names("crops_before")]


@dataclass(frozen=True, slots=True, kw_only=True)
class MostSaved(Cited):
    """The most that ground and gifts may save of a season's nitrogen, by the use of the land."""

    land_use: LandUse
    humus_kg_per_ha: Annotated[float, Within(10, 150, "kg N/ha")]
    on_peat_kg_per_ha: Annotated[float, Within(10, 200, "kg N/ha")]
    credits_share: Annotated[float, Within(0.3, 1, "fraction")]


@dataclass(frozen=True, slots=True, kw_only=True)
class Nitrogen:
    """Nitrogen: credits, manures, tests in the standing crop."""

    FIGURES: ClassVar[str] = "nitrogen/figures.toml"

    nitrate_days: Annotated[Parameter, Within(14, 200, "days")]
    nitrate_counted: Annotated[Parameter, Within(0, 1, "fraction")]
    standing_nitrate_kg_per_ppm: Annotated[Parameter, Within(2, 20, "kg N/ha per mg/kg")]
    standing_nitrate_cap_kg_per_ha: Annotated[Parameter, Within(50, 300, "kg N/ha")]
    standing_after_legume_ppm: Annotated[Parameter, Within(5, 60, "mg/kg NO3-N")]
    standing_from_day: Annotated[Parameter, Within(5, 60, "days")]
    standing_to_day: Annotated[Parameter, Within(20, 150, "days")]
    water_nitrate_counts_from: Annotated[Parameter, Within(1, 30, "mg/L")]
    water_counted: Annotated[Parameter, Within(0, 1, "fraction")]
    green_manure_at_zero_pct: Annotated[Parameter, Within(-80, 20, "%")]
    green_manure_per_pct: Annotated[Parameter, Within(5, 60, "% per % N")]
    green_manure_most_pct: Annotated[Parameter, Within(20, 100, "%")]
    green_manure_spread: Annotated[Parameter, Within(0.02, 1, "fraction")]
    straw_carbon_pct: Annotated[Parameter, Within(30, 60, "%")]
    straw_nitrogen_pct: Annotated[Parameter, Within(0.2, 2, "%")]
    straw_taken_up: Annotated[Parameter, Within(0.1, 0.8, "fraction")]
    straw_microbe_ratio: Annotated[Parameter, Within(4, 20, "C per N")]
    manure_p_counted: Annotated[Parameter, Within(0.2, 1, "fraction")]
    manure_k_counted: Annotated[Parameter, Within(0.2, 1, "fraction")]
    manure_spread: Annotated[Parameter, Within(0.02, 1, "fraction")]
    autumn_ammonium_kept: Annotated[Parameter, Within(0, 1, "fraction")]
    yield_spread: Annotated[Parameter, Within(0.02, 0.8, "fraction")]
    peat_from_pct: Annotated[Parameter, Within(10, 40, "%")]
    ordinary_humus_pct: Annotated[Parameter, Within(1, 6, "%")]
    ordinary_humus_grass_pct: Annotated[Parameter, Within(2, 12, "%")]
    leaf_short_times: Annotated[Parameter, Within(1, 3, "times")]
    leaf_far_over_times: Annotated[Parameter, Within(1, 2, "times")]
    leaf_plenty_times: Annotated[Parameter, Within(0, 1, "times")]
    season_high_most: Annotated[Parameter, Within(1, 2, "fraction")]
    grazed_share: Annotated[Parameter, Within(0, 1, "fraction")]
    season_yield_least: Annotated[Parameter, Within(0.05, 1, "fraction")]
    season_yield_most: Annotated[Parameter, Within(1, 3, "fraction")]
    most_kg_per_ha: Annotated[Parameter, Within(200, 1000, "kg N/ha")]
    what_crops_leave: Annotated[Mapping[str, WhatCropLeaves], Csv("nitrogen/what_crops_leave.csv", "crop")]
    crops_before: Annotated[Mapping[str, CropBefore], Csv("nitrogen/crops_before.csv", "key")]
    most_saved: Annotated[Mapping[str, MostSaved], Csv("nitrogen/most_saved.csv", "land_use")]
    manures: Annotated[Mapping[str, ManureRow], Csv("nitrogen/manures.csv", "key")]
    worked_in: Annotated[Mapping[str, WorkedIn], Csv("nitrogen/worked_in.csv", "key")]
    nitrate_critical: Annotated[Mapping[str, NitrateCritical], Csv("nitrogen/nitrate_critical.csv", "crop")]
