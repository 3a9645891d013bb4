"""Bands, measures, calibration."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from agronomy.tables.columns import Key, Names, Parted, Within
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
class Equipment(Cited):
    """Something to spread or lift with: on beds or fields, the forms of material it takes, the least and most it lays in one pass, and
    the kinds of ground where it is taken for granted.
    """

    key: Key
    name: str
    place: Literal["any", "bed", "field"]
    takes: Annotated[tuple[str, ...], Parted(), Names("material_forms")]
    least_kg_per_ha: Annotated[float, Within(0, 20_000, "kg/ha")]
    most_kg_per_ha: Annotated[float, Within(0, 100_000, "kg/ha")]
    usual_on: Annotated[tuple[str, ...], Parted(), Names("ground_kinds")]
    ha_per_hour: Annotated[float, Within(0, 50, "ha/h")]  # nought for what does not spread
    kg_per_hour: Annotated[float, Within(0, 100_000, "kg/h")]  # with filling it again

    def faults(self) -> Iterator[Fault]:
        return rising(self, "least_kg_per_ha", "most_kg_per_ha")


@dataclass(frozen=True, slots=True, kw_only=True)
class Pack(Cited):
    """A form to buy in, other than the bag: for which forms of material, from how much on, its size, what of the price in
    bags a kilogram costs, and what one must have for it.
    """

    key: Key
    one: str
    many: str
    forms: Annotated[tuple[str, ...], Parted(), Names("material_forms")]
    amendment: bool
    from_kg: Annotated[float, Within(1, 50_000, "kg")]
    each_kg: Annotated[float, Within(1, 50_000, "kg")]
    most_kg: Annotated[float, Within(1, 50_000, "kg")]
    price_share: Annotated[float, Within(0.05, 1, "fraction")]
    wants: Annotated[str, Names("equipment")]

    @property
    def is_loose(self) -> bool:
        """Whether it is ordered by weight, not by the piece."""
        return self.each_kg >= self.most_kg and self.wants != "loader"


@dataclass(frozen=True, slots=True, kw_only=True)
class Spread:
    """Bands, measures, calibration."""

    FIGURES: ClassVar[str] = "spread/figures.toml"

    raised_times: Annotated[Parameter, Within(1, 5, "times")]
    by_hand_up_to_m2: Annotated[Parameter, Within(0, 50_000, "m2")]
    set_up_hours: Annotated[Parameter, Within(0, 2, "h")]
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
    equipment: Annotated[Mapping[str, Equipment], Csv("spread/equipment.csv", "key")]
    packs: Annotated[Mapping[str, Pack], Csv("spread/packs.csv", "key")]
    seed_limits: Annotated[Mapping[str, SeedLimit], Csv("spread/seed_limits.csv", "crop")]
