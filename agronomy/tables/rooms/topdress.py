"""Nitrogen while the crop stands: until when it pays, what instruments say, and which sources act in time."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from agronomy.tables.columns import Key, Names, Within
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Fault, Parameter, rising


@dataclass(frozen=True, slots=True, kw_only=True)
class TopdressWindow(Cited):
    """When nitrogen on a standing crop pays best, the last stage at which it pays at all, and the most at once."""

    crop: Annotated[str, Names("crops")]
    best_window: str
    last_stage: str
    days_before_harvest: Annotated[float | None, Within(1, 200, "days")]
    cap_n_kg_per_ha: Annotated[float, Within(0, 150, "kg/ha of N")]
    why: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class TopdressSource(Cited):
    """How much of a material's nitrogen acts within three weeks, and what it is good and bad for."""

    material: Annotated[str, Names("materials")]
    share_3_weeks: Annotated[float, Within(0, 1, "fraction")]
    share_low: Annotated[float, Within(0, 1, "fraction")]
    share_high: Annotated[float, Within(0, 1, "fraction")]
    best_for: str
    not_for: str | None

    def faults(self) -> Iterator[Fault]:
        return rising(self, "share_low", "share_3_weeks", "share_high")


@dataclass(frozen=True, slots=True, kw_only=True)
class CardRule(Cited):
    """A colour card that was made for a crop: the critical panel, the share of leaves below it, and the dose."""

    key: Key
    crop: Annotated[str, Names("crops")]
    how_grown: str
    card: str
    critical: Annotated[float, Within(1, 8, "panel")]
    share_below: Annotated[float, Within(0.1, 1, "fraction")]
    n_low_kg_per_ha: Annotated[float, Within(0, 100, "kg/ha of N")]
    n_high_kg_per_ha: Annotated[float, Within(0, 100, "kg/ha of N")]
    cap_n_kg_per_ha: Annotated[float, Within(0, 100, "kg/ha of N")]
    most_times: Annotated[float, Within(1, 10, "times")]
    last_stage: str

    def faults(self) -> Iterator[Fault]:
        return rising(self, "n_low_kg_per_ha", "n_high_kg_per_ha", "cap_n_kg_per_ha")


@dataclass(frozen=True, slots=True, kw_only=True)
class SapRange(Cited):
    """What sap or dried stalks hold when the crop has enough, by stage, and the dose where they hold less."""

    crop: Annotated[str, Names("crops")]
    tissue: Literal["sap", "dry stalk"]
    stage: str
    stage_order: Annotated[float, Within(1, 12, "stage")]
    nutrient: Literal["NO3-N", "K"]
    low: Annotated[float, Within(50, 40_000, "mg/L, or mg/kg dry")]
    high: Annotated[float, Within(50, 40_000, "mg/L, or mg/kg dry")]
    unit: Literal["mg/L", "mg/kg dry"]
    below_dose_kg_per_ha: Annotated[float, Within(0, 120, "kg/ha")]
    cap_kg_per_ha: Annotated[float, Within(0, 150, "kg/ha")]

    def faults(self) -> Iterator[Fault]:
        yield from rising(self, "low", "high")
        yield from rising(self, "below_dose_kg_per_ha", "cap_kg_per_ha")


@dataclass(frozen=True, slots=True, kw_only=True)
class Topdressing:
    """From a leaf to a dose, or to nothing."""

    FIGURES: ClassVar[str] = "topdress/figures.toml"

    fewest_leaves: Annotated[Parameter, Within(1, 60, "leaves")]
    eye_panels: Annotated[Parameter, Within(0.05, 1, "panel")]
    lately_days: Annotated[Parameter, Within(1, 40, "days")]
    due_days: Annotated[Parameter, Within(1, 40, "days")]
    soil_nitrate_full_mg_per_kg: Annotated[Parameter, Within(5, 80, "mg/kg")]
    least_share: Annotated[Parameter, Within(0.05, 0.9, "fraction")]
    counted_below_share: Annotated[Parameter, Within(0.1, 1, "fraction")]
    garden_cap_n_kg_per_ha: Annotated[Parameter, Within(5, 100, "kg/ha")]
    skip_two_above_times: Annotated[Parameter, Within(1, 4, "times")]
    index_off: Annotated[Parameter, Within(0.001, 0.1, "fraction")]
    cold_below_c: Annotated[Parameter, Within(0, 20, "°C")]
    windows: Annotated[Mapping[str, TopdressWindow], Csv("topdress/windows.csv", "crop")]
    sources: Annotated[Mapping[str, TopdressSource], Csv("topdress/sources.csv", "material")]
    colour: Annotated[Mapping[str, CardRule], Csv("topdress/colour.csv", "key")]
    sap: Annotated[tuple[SapRange, ...], Csv("topdress/sap.csv")]
