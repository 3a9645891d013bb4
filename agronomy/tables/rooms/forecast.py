"""What tests become over the years."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from agronomy.tables.columns import Names, Within
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Fault, Parameter, rising


@dataclass(frozen=True, slots=True, kw_only=True)
class PhosphatePerPpm(Cited):
    """Phosphate that moves a test by one ppm."""

    method: Annotated[str, Names("methods")]
    kg_p2o5_per_ppm: Annotated[float, Within(2, 150, "kg P2O5/ha per mg/kg")]
    low: Annotated[float, Within(1, 150, "kg P2O5/ha per mg/kg")]
    high: Annotated[float, Within(2, 300, "kg P2O5/ha per mg/kg")]

    def faults(self) -> Iterator[Fault]:
        return rising(self, "low", "kg_p2o5_per_ppm", "high")


@dataclass(frozen=True, slots=True, kw_only=True)
class TrendQuestion(Cited):
    """What to ask where a reading and what was expected part by more than both errors, the commonest and cheapest first."""

    analyte: Annotated[str, Names("analytes", or_word="*")]
    direction: Literal["lower than forecast", "higher than forecast", "either"]
    text: str
    if_yes: str
    then: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Forecast:
    """What tests become over the years."""

    FIGURES: ClassVar[str] = "forecast/figures.toml"

    soil_warmth_c: Annotated[Parameter, Within(0, 30, "°C")]
    lime_fast_per_year: Annotated[Parameter, Within(0.5, 30, "per year")]
    lime_slow_per_year: Annotated[Parameter, Within(0.01, 3, "per year")]
    lime_instant_per_year: Annotated[Parameter, Within(5, 100, "per year")]
    surface_factor: Annotated[Parameter, Within(0.05, 1, "fraction")]
    lime_q10: Annotated[Parameter, Within(1, 4, "times per 10 °C")]
    leaching_load: Annotated[Parameter, Within(20, 1500, "kg CaCO3/ha and year")]
    leaching_per_ph: Annotated[Parameter, Within(0.05, 3, "fraction per pH")]
    leaching_held: Annotated[Parameter, Within(0.1, 4, "times")]
    p_half_life_years: Annotated[Parameter, Within(1, 50, "years")]
    p_floor_ppm: Annotated[Parameter, Within(0, 20, "mg/kg")]
    k2o_per_ppm: Annotated[Parameter, Within(0.5, 20, "kg K2O/ha per mg/kg")]
    k2o_leached_light: Annotated[Parameter, Within(0, 150, "kg K2O/ha and year")]
    k2o_leached: Annotated[Parameter, Within(0, 100, "kg K2O/ha and year")]
    p2o5_off_unknown: Annotated[Parameter, Within(0, 100, "kg P2O5/ha and year")]
    k2o_off_unknown: Annotated[Parameter, Within(0, 300, "kg K2O/ha and year")]
    horizon_ph_years: Annotated[Parameter, Within(1, 10, "years")]
    cv_buffering: Annotated[Parameter, Within(0.02, 1.5, "fraction")]
    cv_load: Annotated[Parameter, Within(0.02, 1.5, "fraction")]
    cv_speed: Annotated[Parameter, Within(0.02, 1.5, "fraction")]
    cv_per_ppm: Annotated[Parameter, Within(0.02, 1.5, "fraction")]
    sulfur_grain_um: Annotated[Parameter, Within(10, 500, "µm")]
    sulfur_rate_25c: Annotated[Parameter, Within(3, 200, "µg/cm2 and day")]
    sulfur_q10: Annotated[Parameter, Within(1, 5, "times per 10 °C")]
    leaching_load_dry: Annotated[Parameter, Within(0, 400, "kg CaCO3/ha and year")]
    drains_through_mm: Annotated[Parameter, Within(50, 1000, "mm/year")]
    wet_enough_share: Annotated[Parameter, Within(0, 1, "fraction")]
    dry_pace: Annotated[Parameter, Within(0, 1, "fraction")]
    cv_buffering_known: Annotated[Parameter, Within(0.05, 1, "fraction")]
    ph_same_laboratory_u: Annotated[Parameter, Within(0.03, 0.5, "pH")]
    reacted_u: Annotated[Parameter, Within(0, 1, "fraction")]
    load_u: Annotated[Parameter, Within(0, 1.5, "fraction")]
    learn_after_lime_days: Annotated[Parameter, Within(30, 730, "days")]
    learn_least_t: Annotated[Parameter, Within(0, 5, "t/ha")]
    learn_least_ph: Annotated[Parameter, Within(0, 1, "pH")]
    cv_per_ppm_known: Annotated[Parameter, Within(0.05, 1, "fraction")]
    cv_removal: Annotated[Parameter, Within(0.02, 1, "fraction")]
    given_u: Annotated[Parameter, Within(0, 1, "fraction")]
    learn_after_p_days: Annotated[Parameter, Within(7, 365, "days")]
    learn_after_k_days: Annotated[Parameter, Within(7, 365, "days")]
    upkeep_lime_years: Annotated[Parameter, Within(1, 10, "years")]
    learn_least_oxide: Annotated[Parameter, Within(0, 200, "kg/ha")]
    stated_half_width: Annotated[Parameter, Within(1, 3, "errors")]
    learnt_most_times: Annotated[Parameter, Within(1.5, 10, "times")]
    learnt_floor: Annotated[Parameter, Within(0.1, 1, "times")]
    learnt_cap: Annotated[Parameter, Within(1, 5, "times")]
    questions: Annotated[tuple[TrendQuestion, ...], Csv("forecast/questions.csv")]
    p_per_ppm: Annotated[Mapping[str, PhosphatePerPpm], Csv("forecast/p_per_ppm.csv", "method")]
