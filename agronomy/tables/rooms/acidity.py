"""Lime and acid: need by buffer tests, caps of a dressing, sulfur tables, sieves, what pH does to nutrients."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from agronomy.tables.columns import Key, Names, Within, Words
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Fault, Parameter, rising


@dataclass(frozen=True, slots=True, kw_only=True)
class SmpRow(Cited):
    """Lime by the SMP buffer pH, to three targets."""

    buffer_ph: Annotated[float, Within(4, 7.5, "pH")]
    to_6_8: Annotated[float, Within(0, 30, "short ton/acre")]
    to_6_5: Annotated[float, Within(0, 30, "short ton/acre")]
    to_6_0: Annotated[float, Within(0, 30, "short ton/acre")]
    organic_to_5_2: Annotated[float, Within(0, 20, "short ton/acre")]

    def faults(self) -> Iterator[Fault]:
        return rising(self, "to_6_0", "to_6_5", "to_6_8")


@dataclass(frozen=True, slots=True, kw_only=True)
class Stake(Cited):
    """What is at stake below or above some pH, for which crops (a group, crops, or * for all)."""

    key: Key
    side: Literal["acid", "alkaline"]
    applies: Words
    from_ph: Annotated[float, Within(2, 9, "pH")]
    to_ph: Annotated[float, Within(4, 11, "pH")]
    says: str

    def faults(self) -> Iterator[Fault]:
        return rising(self, "from_ph", "to_ph")


@dataclass(frozen=True, slots=True, kw_only=True)
class Availability(Cited):
    """How much of a nutrient roots can reach at a pH, beside the best."""

    nutrient: Literal["N", "P", "K", "Ca", "Mg", "S", "B", "Cu", "Fe", "Mn", "Mo", "Zn"]
    ph_4: Annotated[float, Within(0, 100, "%")]
    ph_4_5: Annotated[float, Within(0, 100, "%")]
    ph_5: Annotated[float, Within(0, 100, "%")]
    ph_5_5: Annotated[float, Within(0, 100, "%")]
    ph_6: Annotated[float, Within(0, 100, "%")]
    ph_6_5: Annotated[float, Within(0, 100, "%")]
    ph_7: Annotated[float, Within(0, 100, "%")]
    ph_7_5: Annotated[float, Within(0, 100, "%")]
    ph_8: Annotated[float, Within(0, 100, "%")]
    ph_8_5: Annotated[float, Within(0, 100, "%")]

    @property
    def points(self) -> tuple[tuple[float, float], ...]:
        """pH and share, from acid to alkaline."""
        steps = ("4", "4_5", "5", "5_5", "6", "6_5", "7", "7_5", "8", "8_5")
        return tuple((float(step.replace("_", ".")), getattr(self, f"ph_{step}")) for step in steps)


@dataclass(frozen=True, slots=True, kw_only=True)
class SulfurRow(Cited):
    """Sulfur to a target pH by texture, from a published table."""

    table: Literal["general", "acid_lover"]
    ph: Annotated[float, Within(3.5, 9, "pH")]
    sand: Annotated[float, Within(0, 6000, "kg/ha")]
    loam: Annotated[float, Within(0, 6000, "kg/ha")]
    clay: Annotated[float, Within(0, 6000, "kg/ha")]
    target: Annotated[float, Within(3.5, 7.5, "pH")]

    def on(self, texture: str) -> float:
        """The figure of sand, loam or clay."""
        return {"sand": self.sand, "loam": self.loam, "clay": self.clay}[texture]


@dataclass(frozen=True, slots=True, kw_only=True)
class Cap(Cited):
    """The most of lime or sulfur in one dressing."""

    key: Key
    what: Literal["CaCO3", "S_acid"]
    situation: str
    max_kg_per_ha: Annotated[float, Within(50, 12000, "kg/ha")]
    treated_depth_cm: Annotated[float | None, Within(2, 30, "cm")]
    again_after_months: Annotated[float | None, Within(1, 36, "months")]


@dataclass(frozen=True, slots=True, kw_only=True)
class SoilTypeFactor(Cited):
    """Ground limestone for one pH unit, and the pH aimed at, by type of soil."""

    key: Key
    arable: Annotated[float, Within(2, 30, "t/ha per pH")]
    grass: Annotated[float, Within(1, 30, "t/ha per pH")]
    optimum_arable: Annotated[float, Within(5, 7.5, "pH")]
    optimum_grass: Annotated[float, Within(4.5, 7, "pH")]


@dataclass(frozen=True, slots=True, kw_only=True)
class QuickAcid(Cited):
    """A salt that acidifies in weeks, and how far it may be used."""

    material: Annotated[str, Names("materials")]
    most_g_per_m2: Annotated[float, Within(2, 150, "g/m2")]
    not_below_ph: Annotated[float, Within(3.5, 7, "pH")]
    works: str
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class MethodRange(Cited):
    """Where a method of lime need holds; outside it is not used, and the reason is told."""

    method: Literal["SMP", "Mehlich buffer", "Adams-Evans", "aluminium"]
    what: Literal["buffer pH", "organic matter", "pH", "target"]
    low: Annotated[float | None, Within(2, 9, "pH")]
    high: Annotated[float, Within(3, 40, "pH or %")]
    below_high: bool
    says: str | None

    def faults(self) -> Iterator[Fault]:
        return rising(self, "low", "high")


@dataclass(frozen=True, slots=True, kw_only=True)
class LimeSpeed(Cited):
    """How long before planting a lime of some speed must lie to serve."""

    speed: Literal["soon", "weeks", "months", "seasons", "years"]
    serves_from_months: Annotated[float, Within(0, 36, "months")]


@dataclass(frozen=True, slots=True, kw_only=True)
class Sieve(Cited):
    """Share of a lime that works by what passes a sieve, by the scheme of one guide."""

    scheme: str
    name: str
    mesh: str
    weight: Annotated[float, Within(0, 1, "fraction")]
    years: Annotated[float, Within(0.5, 10, "years")]


@dataclass(frozen=True, slots=True, kw_only=True)
class SulfurGrain(Cited):
    """Grain of a sulfur, broken up in the soil and as it comes."""

    material: Annotated[str, Names("materials")]
    grain_um: Annotated[float, Within(5, 600, "µm")]
    unbroken_um: Annotated[float | None, Within(300, 6000, "µm")]

    def faults(self) -> Iterator[Fault]:
        return rising(self, "grain_um", "unbroken_um")


@dataclass(frozen=True, slots=True, kw_only=True)
class SupposedPh(Cited):
    """The span of pH that signs on the ground suggest where nothing was tested."""

    leans: Literal["acid", "alkaline", "enough", "not known"]
    lowest: Annotated[float, Within(3.5, 8, "pH")]
    highest: Annotated[float, Within(5, 9.5, "pH")]

    def faults(self) -> Iterator[Fault]:
        return rising(self, "lowest", "highest")


@dataclass(frozen=True, slots=True, kw_only=True)
class ProductCap(Cited):
    """The most of a liming product in one dressing, where the product itself sets it."""

    material: Annotated[str, Names("materials")]
    most_kg_per_ha: Annotated[float, Within(100, 20000, "kg/ha")]
    most_on_lawn_kg_per_ha: Annotated[float, Within(100, 20000, "kg/ha")]
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Acidity:
    """Lime and acid: need by buffer tests, caps of a dressing, sulfur tables, sieves, what pH does to nutrients."""

    FIGURES: ClassVar[str] = "acidity/parameters.toml"

    smp_reference_depth_cm: Annotated[Parameter, Within(10, 40, "cm")]
    ton_per_acre_to_kg_per_ha: Annotated[Parameter, Within(2240, 2243, "kg/ha per short ton/acre")]
    smp_pure_share: Annotated[Parameter, Within(0.3, 1, "fraction")]
    field_factor: Annotated[Parameter, Within(0.5, 4, "times")]
    low_activity_from_clay_pct: Annotated[Parameter, Within(10, 60, "%")]
    low_activity_below_share: Annotated[Parameter, Within(0.1, 0.8, "fraction")]
    low_activity_buffer: Annotated[Parameter, Within(0.1, 1, "fraction")]
    buffer_clay_per_pct: Annotated[Parameter, Within(0.005, 0.5, "cmol/kg per pH and % clay")]
    buffer_carbon_per_pct: Annotated[Parameter, Within(0.05, 5, "cmol/kg per pH and % organic carbon")]
    caco3_per_cmol_and_kg: Annotated[Parameter, Within(0.0005, 0.000501, "kg CaCO3 per cmol")]
    strongly_acid_ph: Annotated[Parameter, Within(4, 5.5, "pH")]
    strongly_acid_factor: Annotated[Parameter, Within(1, 3, "times")]
    sure_by_laboratory: Annotated[Parameter, Within(0, 1, "pH")]
    sure_enough_u: Annotated[Parameter, Within(0, 2, "standard errors")]
    organic_soil_om_pct: Annotated[Parameter, Within(10, 40, "%")]
    organic_soil_target_ph: Annotated[Parameter, Within(4.5, 6, "pH")]
    organic_soil_lime_below: Annotated[Parameter, Within(4, 6, "pH")]
    sulfur_per_caco3: Annotated[Parameter, Within(0.32, 0.321, "kg S per kg CaCO3")]
    free_lime_near_certain_ph: Annotated[Parameter, Within(7.2, 8.5, "pH")]
    free_lime_probable_ph: Annotated[Parameter, Within(7, 8, "pH")]
    sulfur_table_depth_cm: Annotated[Parameter, Within(10, 30, "cm")]
    sulfur_table_target_up_to: Annotated[Parameter, Within(4, 6, "pH")]
    mg_lime_light_below: Annotated[Parameter, Within(10, 200, "mg/kg Mg")]
    mg_lime_below: Annotated[Parameter, Within(10, 200, "mg/kg Mg")]
    mg_calcitic_above: Annotated[Parameter, Within(100, 600, "mg/kg Mg")]
    second_dressing_from_share: Annotated[Parameter, Within(0, 1, "fraction")]
    mehlich_pure_share: Annotated[Parameter, Within(0.3, 1, "fraction")]
    mehlich_neutral_at: Annotated[Parameter, Within(6, 7.5, "pH")]
    adams_evans_strength: Annotated[Parameter, Within(4, 16, "cmol/kg per pH")]
    adams_evans_neutral_at: Annotated[Parameter, Within(7, 9, "pH")]
    soil_type_organic_from: Annotated[Parameter, Within(5, 20, "%")]
    soil_type_peaty_above: Annotated[Parameter, Within(15, 50, "%")]
    soil_type_arable_depth: Annotated[Parameter, Within(10, 30, "cm")]
    soil_type_grass_depth: Annotated[Parameter, Within(5, 20, "cm")]
    mehlich_per_acidity: Annotated[Parameter, Within(0.05, 1, "pH per meq/100 cm3")]
    adams_evans_field: Annotated[Parameter, Within(0.5, 4, "times")]
    aluminium_factor: Annotated[Parameter, Within(0.5, 4, "times")]
    aluminium_least: Annotated[Parameter, Within(0.05, 2, "cmol/kg")]
    soil_type_pure_share: Annotated[Parameter, Within(0.3, 1, "fraction")]
    soil_type_above_optimum: Annotated[Parameter, Within(0, 1, "pH")]
    supposed_clay_pct: Annotated[Parameter, Within(1, 60, "%")]
    container_lime_cap_g_per_l: Annotated[Parameter, Within(0.5, 10, "g/L")]
    container_sulfur_cap_g_per_l: Annotated[Parameter, Within(0.05, 3, "g/L")]
    carbonate_worth_destroying_pct: Annotated[Parameter, Within(0.1, 10, "%")]
    aluminium_factor_high: Annotated[Parameter, Within(1, 4, "times")]
    quick_times_sensible: Annotated[Parameter, Within(1, 12, "dressings")]
    sulfur_part_of_the_way: Annotated[Parameter, Within(0.02, 1, "fraction")]
    smp: Annotated[tuple[SmpRow, ...], Csv("acidity/smp.csv")]
    stakes: Annotated[tuple[Stake, ...], Csv("acidity/stakes.csv")]
    availability: Annotated[Mapping[str, Availability], Csv("acidity/availability.csv", "nutrient")]
    sulfur: Annotated[tuple[SulfurRow, ...], Csv("acidity/sulfur_tables.csv")]
    caps: Annotated[Mapping[str, Cap], Csv("acidity/caps.csv", "key")]
    product_caps: Annotated[Mapping[str, ProductCap], Csv("acidity/product_caps.csv", "material")]
    soil_type_factors: Annotated[Mapping[str, SoilTypeFactor], Csv("acidity/soil_type_factors.csv", "key")]
    quick_acid: Annotated[Mapping[str, QuickAcid], Csv("acidity/quick_acid.csv", "material")]
    method_ranges: Annotated[tuple[MethodRange, ...], Csv("acidity/method_ranges.csv")]
    lime_speeds: Annotated[Mapping[str, LimeSpeed], Csv("acidity/lime_speeds.csv", "speed")]
    sieves: Annotated[tuple[Sieve, ...], Csv("acidity/sieves.csv")]
    sulfur_grains: Annotated[Mapping[str, SulfurGrain], Csv("acidity/sulfur_grains.csv", "material")]
    supposed_ph: Annotated[Mapping[str, SupposedPh], Csv("supposed_ph.csv", "leans")]
