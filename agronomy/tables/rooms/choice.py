"""What weighs how much when materials are chosen."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from agronomy.tables.columns import Names, Within
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Parameter


@dataclass(frozen=True, slots=True, kw_only=True)
class NitrogenForm(Cited):
    """How a nitrogen material fares in one situation."""

    material: Annotated[str, Names("materials")]
    aspect: Literal[
        "cold_spring_4_to_10_c",
        "warm_dry_surface",
        "worked_in_seedbed",
        "standing_cereal_topdress",
        "grass_after_cut_summer",
        "ph_below_5_5",
        "ph_above_7_2",
        "ph_above_7_2_rainfed",
        "flooded_rice",
        "acid_lovers",
        "lawn",
        "salty_or_chloride_sensitive",
        "autumn_dressing",
    ]
    verdict: Literal["first", "good", "fair", "poor", "never"]
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Choice:
    """What weighs how much when materials are chosen."""

    FIGURES: ClassVar[str] = "choice.toml"

    short_times: Annotated[Parameter, Within(1, 50, "times")]
    a_bag: Annotated[Parameter, Within(0, 1, "fraction")]
    lost_times: Annotated[Parameter, Within(0, 20, "times")]
    tie: Annotated[Parameter, Within(0.0001, 0.3, "fraction")]
    a_trip: Annotated[Parameter, Within(0, 0.2, "fraction")]
    nearly_times: Annotated[Parameter, Within(1, 10, "times")]
    nearly_met: Annotated[Parameter, Within(0, 0.5, "fraction")]
    window_above: Annotated[Parameter, Within(1, 3, "times")]
    window_above_secondary: Annotated[Parameter, Within(1, 10, "times")]
    secondary_room_kg_per_ha: Annotated[Parameter, Within(0, 300, "kg/ha")]
    enough_in_shed: Annotated[Parameter, Within(0.2, 1, "fraction")]
    least_worth_comparing: Annotated[Parameter, Within(0, 0.2, "fraction")]
    strong_salt_from: Annotated[Parameter, Within(10, 150, "salt index")]
    done_settles_ph: Annotated[Parameter, Within(0.1, 1, "fraction")]
    done_settles: Annotated[Parameter, Within(0.1, 1, "fraction")]
    done_counts_from: Annotated[Parameter, Within(0, 0.5, "fraction")]
    done_season_days: Annotated[Parameter, Within(30, 400, "days")]
    told_over_share: Annotated[Parameter, Within(0, 0.5, "fraction")]
    told_over_kg_per_ha: Annotated[Parameter, Within(0, 20, "kg/ha")]
    programme_least_times: Annotated[Parameter, Within(0, 1, "times")]
    programme_most_times: Annotated[Parameter, Within(1, 10, "times")]
    meant_over_share: Annotated[Parameter, Within(0, 1, "fraction")]
    meant_over_least: Annotated[Parameter, Within(0, 50, "kg/ha")]
    meant_over_lime: Annotated[Parameter, Within(0, 2000, "kg/ha")]
    meant_season_days: Annotated[Parameter, Within(60, 400, "days")]
    meant_least_share: Annotated[Parameter, Within(0, 0.5, "fraction")]
    as_planned_within: Annotated[Parameter, Within(0, 0.3, "fraction")]
    left_open_over_kg_per_ha: Annotated[Parameter, Within(0, 50, "kg/ha")]
    sane_cost_times: Annotated[Parameter, Within(1, 20, "times")]
    first_form_times: Annotated[Parameter, Within(0.3, 1, "times")]
    poor_form_times: Annotated[Parameter, Within(1, 5, "times")]
    poor_in_a_tank_times: Annotated[Parameter, Within(1, 20, "times")]
    least_lime_on_a_field_kg_per_ha: Annotated[Parameter, Within(100, 3000, "kg/ha")]
    nitrogen_form_acid_below_ph: Annotated[Parameter, Within(4, 7, "pH")]
    nitrogen_form_limy_above_ph: Annotated[Parameter, Within(6, 9, "pH")]
    little_sodium_below_mg_per_kg: Annotated[Parameter, Within(5, 100, "mg/kg")]
    acid_sulfate_below_ph: Annotated[Parameter, Within(3, 5, "pH")]
    acid_sulfate_from_mg_per_kg: Annotated[Parameter, Within(30, 2000, "mg/kg")]
    peat_from_om_pct: Annotated[Parameter, Within(10, 60, "%")]
    by_the_load_from_kg: Annotated[Parameter, Within(50, 5000, "kg")]
    mulch_drawn_aside_cm: Annotated[Parameter, Within(0.5, 20, "cm")]
    lately_days: Annotated[Parameter, Within(100, 800, "days")]
    wide_band_times: Annotated[Parameter, Within(1.5, 10, "times")]
    no_chloride_from_ds_per_m: Annotated[Parameter, Within(1, 20, "dS/m")]
    salty_water_from_ds_per_m: Annotated[Parameter, Within(0.3, 5, "dS/m")]
    salty_water_from_mg_cl_per_l: Annotated[Parameter, Within(20, 500, "mg/L")]
    water_lime_told_from_kg_per_ha: Annotated[Parameter, Within(10, 1000, "kg/ha")]
    few_bags_up_to_m2: Annotated[Parameter, Within(0, 1000, "m2")]
    few_bags_n_share: Annotated[Parameter, Within(0.2, 1, "fraction")]
    few_bags_over: Annotated[Parameter, Within(1, 3, "times")]
    few_bags_most_kg_per_ha: Annotated[Parameter, Within(200, 20000, "kg/ha")]
    few_bags_cover: Annotated[Parameter, Within(0.3, 1, "fraction")]
    least_for_each_g: Annotated[Parameter, Within(0.1, 20, "g")]
    nitrogen_days_late: Annotated[Parameter, Within(0, 60, "days")]
    organic_nitrogen_most_kg_per_ha: Annotated[Parameter, Within(50, 400, "kg N/ha")]
    untested_p_with_manure_kg_per_ha: Annotated[Parameter, Within(0, 60, "kg P/ha")]
    untested_k_with_manure_kg_per_ha: Annotated[Parameter, Within(0, 400, "kg K/ha")]
    unasked_lime_most_kg_per_ha: Annotated[Parameter, Within(0, 2000, "kg CaCO3/ha")]
    shed_serves_from: Annotated[Parameter, Within(0.05, 1, "fraction")]
    nitrogen_late_share: Annotated[Parameter, Within(0, 1, "fraction")]
    nitrogen_forms: Annotated[Mapping[tuple[str, str], NitrogenForm], Csv("choosing_nitrogen.csv", ("material", "aspect"))]
