"""Nutrients in the soil: critical levels by extractant, removal by harvest, micronutrients."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from agronomy.tables.columns import Key, Names, Parted, Within
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Fault, Parameter, rising


@dataclass(frozen=True, slots=True, kw_only=True)
class CriticalRow(Cited):
    """Critical level of a nutrient by one extractant for a group of crops, class edges as parts of it.

    Its own spread, critical_low to critical_high, is given as levels, or as times the level where that follows the exchange capacity.
    """

    nutrient: Annotated[str, Names("analytes")]
    method: Annotated[str, Names("methods", "any")]
    group: Literal["*", "A", "B", "C", "D"]
    critical: Annotated[float, Within(0.02, 1000, "mg/kg or %")]
    per_cec: Annotated[float, Within(0, 10, "mg/kg per cmol/kg")]
    spread: Literal["level", "times"]
    critical_low: Annotated[float, Within(0.02, 1000, "mg/kg or times")]
    critical_high: Annotated[float, Within(0.02, 1000, "mg/kg or times")]
    short_from: Annotated[float, Within(0.05, 1, "fraction")]
    building_from: Annotated[float, Within(0.3, 1, "fraction")]
    plenty_from: Annotated[float, Within(1, 10, "times")]
    excess_from: Annotated[float, Within(1.2, 100, "times")]
    texture: Literal["any", "light"]

    def faults(self) -> Iterator[Fault]:
        yield from rising(self, "short_from", "building_from", strictly=True)
        yield from rising(self, "plenty_from", "excess_from", strictly=True)
        if self.spread == "level":
            yield from rising(self, "critical_low", "critical", "critical_high")
        elif not self.critical_low <= 1 <= self.critical_high <= 3:
            yield Fault("critical_low", "a spread in times holds 1 between its ends", "write such as 0.85 and 1.3")


@dataclass(frozen=True, slots=True, kw_only=True)
class ResponseShape(Cited):
    """How the rate of a nutrient falls from a test of nought: to nothing at so many times the level, along a line that is bent so much."""

    group: Literal["A", "B", "C", "D"]
    nutrient: Literal["P", "K"]
    ends_at: Annotated[float, Within(1, 2, "times")]
    bend: Annotated[float, Within(1, 3, "power")]


@dataclass(frozen=True, slots=True, kw_only=True)
class Micronutrient(Cited):
    """How a micronutrient may be put in the ground, and when to stop."""

    analyte: Annotated[str, Names("analytes")]
    soil_low_kg_per_ha: Annotated[float | None, Within(0.02, 20, "kg/ha")]
    soil_high_kg_per_ha: Annotated[float | None, Within(0.05, 40, "kg/ha")]
    locked_above_ph: Annotated[float | None, Within(5, 8.5, "pH")]
    fixed_in_soil: bool
    says: str
    limit: str

    def faults(self) -> Iterator[Fault]:
        return rising(self, "soil_low_kg_per_ha", "soil_high_kg_per_ha")


@dataclass(frozen=True, slots=True, kw_only=True)
class TraceResponse(Cited):
    """How a crop answers to a trace element that is low: `high` is among the first to suffer, `low` hardly answers."""

    crop: Annotated[str, Names("crops")]
    element: Literal["B", "Zn", "Mn", "Fe", "Cu", "Mo"]
    response: Literal["high", "medium", "low"]


@dataclass(frozen=True, slots=True, kw_only=True)
class MicronutrientDose(Cited):
    """A usual dose of a micronutrient by one way of giving it."""

    analyte: Annotated[str, Names("analytes")]
    way: Literal["broadcast", "band", "leaf"]
    low: Annotated[float, Within(0.005, 30, "kg/ha or %")]
    high: Annotated[float, Within(0.01, 60, "kg/ha or %")]
    unit: Literal["kg/ha", "%"]
    times: Annotated[float, Within(1, 6, "times")]
    lasts: str
    forms: Annotated[tuple[str, ...], Parted(), Names("materials")]
    says: str

    def faults(self) -> Iterator[Fault]:
        return rising(self, "low", "high")


@dataclass(frozen=True, slots=True, kw_only=True)
class TraceByClass(Cited):
    """A dose of a micronutrient by how short it is and how the crop answers; its middle is given."""

    element: Literal["B", "Zn", "Mn", "Cu"]
    way: Literal["broadcast", "band", "leaf"]
    class_: Literal["very_short", "short"]
    response: Literal["high", "medium", "low"]
    low: Annotated[float, Within(0.05, 20, "kg/ha")]
    high: Annotated[float, Within(0.1, 20, "kg/ha")]
    times: Annotated[float, Within(1, 4, "times")]

    def faults(self) -> Iterator[Fault]:
        return rising(self, "low", "high")


@dataclass(frozen=True, slots=True, kw_only=True)
class BoronLimit(Cited):
    """The most boron that a crop bears in a year."""

    crop: Annotated[str, Names("crops")]
    most_kg_per_ha: Annotated[float, Within(0, 5, "kg/ha of B")]


@dataclass(frozen=True, slots=True, kw_only=True)
class RemovalRow(Cited):
    """What a tonne of harvest carries off, and a usual yield."""

    crop: Annotated[str, Names("crops")]
    n_kg_per_t: Annotated[float, Within(0.05, 80, "kg N/t")]
    p2o5_kg_per_t: Annotated[float, Within(0.02, 40, "kg P2O5/t")]
    k2o_kg_per_t: Annotated[float, Within(0.2, 80, "kg K2O/t")]
    usual_t_per_ha: Annotated[float, Within(0.3, 400, "t/ha")]
    caco3_kg_per_t: Annotated[float | None, Within(0.5, 150, "kg CaCO3/t")]


@dataclass(frozen=True, slots=True, kw_only=True)
class TissueRange(Cited):
    """What a leaf of a crop holds when it has enough, with the part and the stage that the figures were made for."""

    crop: Annotated[str, Names("crops")]
    analyte: Annotated[str, Names("analytes")]
    variant: str | None
    part: str
    stage: str
    deficient_below: Annotated[float | None, Within(0, 20_000, "% or mg/kg, mg/L of sap")]
    sufficient_low: Annotated[float, Within(0, 20_000, "% or mg/kg, mg/L of sap")]
    sufficient_high: Annotated[float, Within(0, 40_000, "% or mg/kg, mg/L of sap")]
    high_above: Annotated[float | None, Within(0, 40_000, "% or mg/kg, mg/L of sap")]
    unit: Literal["%", "mg/kg", "mg/L"]

    def faults(self) -> Iterator[Fault]:
        return rising(self, "deficient_below", "sufficient_low", "sufficient_high", "high_above")


@dataclass(frozen=True, slots=True, kw_only=True)
class Greenness(Cited):
    """Below what a greenness meter asks for nitrogen: as a share of a strip that had plenty, or in the meter's units."""

    crop: Annotated[str, Names("crops")]
    window: str
    leaf: str
    apply_below: Annotated[float, Within(0.5, 60, "share of the strip, or units")]
    basis: Literal["index", "units"]
    n_per_hundredth: Annotated[float | None, Within(1, 10, "kg/ha of N for each hundredth below the strip")]
    n_per_low: Annotated[float | None, Within(1, 10, "kg/ha of N for each hundredth")]
    n_per_high: Annotated[float | None, Within(1, 10, "kg/ha of N for each hundredth")]
    n_low_kg_per_ha: Annotated[float | None, Within(1, 60, "kg/ha of N")]
    n_high_kg_per_ha: Annotated[float | None, Within(1, 60, "kg/ha of N")]
    cap_n_kg_per_ha: Annotated[float, Within(1, 120, "kg/ha of N")]


@dataclass(frozen=True, slots=True, kw_only=True)
class LeafRatio(Cited):
    """Two nutrients of a leaf, and the ratio by weight above which one is short beside the other."""

    key: Key
    over: Annotated[str, Names("analytes")]
    under: Annotated[str, Names("analytes")]
    crops: Annotated[tuple[str, ...], Parted(), Names("crops", "*")]
    above: Annotated[float, Within(0.5, 100, "by weight")]
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class LeafWithSoil(Cited):
    """What a leaf's side and the ground's say together of a nutrient."""

    leaf: Literal["short", "right", "over"]
    soil: Literal["short", "right", "over", "none"]
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Nutrients:
    """Nutrients in the soil: critical levels by extractant, removal by harvest, micronutrients."""

    FIGURES: ClassVar[str] = "nutrients.toml"

    nitrogen_in_organic_matter: Annotated[Parameter, Within(0.03, 0.09, "fraction")]
    mineralised_a_year: Annotated[Parameter, Within(0.002, 0.1, "fraction")]
    share_in_crop_time: Annotated[Parameter, Within(0, 1, "fraction")]
    organic_matter_n_cap_kg_per_ha: Annotated[Parameter, Within(40, 300, "kg N/ha")]
    default_organic_matter_pct: Annotated[Parameter, Within(0.5, 10, "%")]
    magnesium_rate_kg_per_ha: Annotated[Parameter, Within(5, 200, "kg Mg/ha")]
    sulfur_rate_kg_per_ha: Annotated[Parameter, Within(3, 100, "kg S/ha")]
    sulfur_rate_hungry_kg_per_ha: Annotated[Parameter, Within(3, 150, "kg S/ha")]
    smallest_worth_spreading_kg_per_ha: Annotated[Parameter, Within(0.5, 30, "kg/ha")]
    worth_per_kg_n: Annotated[Parameter, Within(0.1, 20, "money/kg")]
    worth_per_kg_p: Annotated[Parameter, Within(0.1, 50, "money/kg")]
    worth_per_kg_k: Annotated[Parameter, Within(0.1, 30, "money/kg")]
    worth_per_kg_mg: Annotated[Parameter, Within(0.1, 50, "money/kg")]
    worth_per_kg_s: Annotated[Parameter, Within(0.1, 20, "money/kg")]
    room_kg_per_ha: Annotated[Parameter, Within(0, 50, "kg/ha")]
    rock_needs_ph_below: Annotated[Parameter, Within(4, 8, "pH")]
    share_beside_feeds: Annotated[Parameter, Within(0, 1, "fraction")]
    times_once_at_start: Annotated[Parameter, Within(1, 5, "times")]
    split_potassium_from_kg_per_ha: Annotated[Parameter, Within(5, 300, "kg K/ha")]
    split_potassium_arable_from_kg_per_ha: Annotated[Parameter, Within(30, 300, "kg K/ha")]
    boron_sensitive_most_kg_per_ha: Annotated[Parameter, Within(0.1, 3, "kg B/ha")]
    boron_sensitive_below_mg_per_l: Annotated[Parameter, Within(0.2, 6, "mg/L")]
    potassium_at_once_standing_kg_per_ha: Annotated[Parameter, Within(40, 400, "kg K/ha")]
    potassium_parts_standing: Annotated[Parameter, Within(1, 12, "parts")]
    potassium_in_a_seedbed_kg_per_ha: Annotated[Parameter, Within(40, 300, "kg K/ha")]
    first_cut_of_a_new_sward_days: Annotated[Parameter, Within(40, 200, "days")]
    potassium_before_first_cut_kg_per_ha: Annotated[Parameter, Within(20, 200, "kg K/ha")]
    pot_feed_hungry_g_per_l: Annotated[Parameter, Within(0.5, 8, "g/L")]
    pot_feed_medium_g_per_l: Annotated[Parameter, Within(0.5, 8, "g/L")]
    pot_feed_light_g_per_l: Annotated[Parameter, Within(0.2, 8, "g/L")]
    pot_feed_heath_g_per_l: Annotated[Parameter, Within(0.2, 8, "g/L")]
    can_share_of_pot: Annotated[Parameter, Within(0.02, 0.5, "fraction")]
    least_by_hand_kg_k_per_ha: Annotated[Parameter, Within(1, 60, "kg K/ha")]
    least_by_hand_kg_p_per_ha: Annotated[Parameter, Within(0.5, 40, "kg P/ha")]
    least_on_a_field_kg_k_per_ha: Annotated[Parameter, Within(2, 60, "kg K/ha")]
    least_on_a_field_kg_p_per_ha: Annotated[Parameter, Within(1, 40, "kg P/ha")]
    smallest_dressing_kg_n_per_ha: Annotated[Parameter, Within(2, 60, "kg N/ha")]
    trace_share: Annotated[Parameter, Within(0, 0.2, "fraction")]
    chloride_bringer_from_pct: Annotated[Parameter, Within(0.5, 40, "%")]
    strongly_acid_forming_cce: Annotated[Parameter, Within(-400, -20, "kg CaCO3/100 kg")]
    raises_ph_from_cce: Annotated[Parameter, Within(0, 40, "% CaCO3")]
    liming_cce: Annotated[Parameter, Within(0.5, 50, "kg CaCO3/100 kg")]
    urea_loses_above_ph: Annotated[Parameter, Within(6, 8.5, "pH")]
    magnesian_from_pct: Annotated[Parameter, Within(1, 12, "%")]
    own_level_short_from: Annotated[Parameter, Within(0.1, 1, "fraction")]
    own_level_building_from: Annotated[Parameter, Within(0.3, 1, "fraction")]
    own_level_plenty_from: Annotated[Parameter, Within(1, 5, "times")]
    own_level_excess_from: Annotated[Parameter, Within(1, 20, "times")]
    critical: Annotated[tuple[CriticalRow, ...], Csv("critical/*.csv")]
    responses: Annotated[tuple[ResponseShape, ...], Csv("response.csv")]
    tissue: Annotated[tuple[TissueRange, ...], Csv("leaf/tissue.csv")]
    greenness: Annotated[tuple[Greenness, ...], Csv("leaf/greenness.csv")]
    leaf_ratios: Annotated[tuple[LeafRatio, ...], Csv("leaf/ratios.csv")]
    leaf_with_soil: Annotated[tuple[LeafWithSoil, ...], Csv("leaf/with_soil.csv")]
    micronutrients: Annotated[Mapping[str, Micronutrient], Csv("micronutrients.csv", "analyte")]
    trace_responses: Annotated[tuple[TraceResponse, ...], Csv("trace_response.csv")]
    micronutrient_doses: Annotated[Mapping[tuple[str, str], MicronutrientDose], Csv("trace_doses.csv", ("analyte", "way"))]
    trace_by_class: Annotated[
        Mapping[tuple[str, str, str, str], TraceByClass], Csv("trace_by_class.csv", ("element", "way", "class_", "response"))
    ]
    boron_limits: Annotated[Mapping[str, BoronLimit], Csv("boron_limits.csv", "crop")]
    removal: Annotated[Mapping[str, RemovalRow], Csv("removal.csv", "crop")]

    def worth_per_kg(self, nutrient: str) -> Parameter:
        """What a kilogram of N, P, K, Mg or S is worth where a material brings it beside another."""
        worth: Parameter = getattr(self, f"worth_per_kg_{nutrient.lower()}")
        return worth
