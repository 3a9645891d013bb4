"""National systems of classes: what a guide calls a reading, and which of our neutral classes that is."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from agronomy.tables.columns import Names, Parted, Within
from agronomy.tables.material import K_IN_K2O, MG_IN_MGO, P_IN_P2O5
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Fault, rising


@dataclass(frozen=True, slots=True, kw_only=True)
class System(Cited):
    """A system for one analyte: its name, country, the method that it reads, and mg/kg for one of its units."""

    system: str
    analyte: Annotated[str, Names("analytes")]
    name: str
    country: str
    method: Annotated[str, Names("methods")]
    to_mg_per_kg: Annotated[float, Within(0.01, 100, "mg/kg per unit")]


@dataclass(frozen=True, slots=True, kw_only=True)
class SystemClass(Cited):
    """One class of one system for some crops on some ground, in the system's own unit."""

    system: str
    analyte: Annotated[str, Names("analytes")]
    crops: Annotated[tuple[str, ...], Parted()]
    soil: str
    by: Literal["clay_pct", "cec", "pbi"] | None
    by_from: Annotated[float | None, Within(0, 1000, "by")]
    by_to: Annotated[float | None, Within(0, 10_000, "by")]
    round_to: Annotated[float | None, Within(0.01, 10, "unit")]
    own_class: str
    neutral: Literal["very_short", "short", "building", "right", "plenty", "excess"]
    at_least: Annotated[float, Within(0, 10_000, "unit")]
    below: Annotated[float | None, Within(0, 10_000, "unit")]

    def faults(self) -> Iterator[Fault]:
        yield from rising(self, "at_least", "below", strictly=True)


@dataclass(frozen=True, slots=True, kw_only=True)
class GuideRate(Cited):
    """What a guide prints for a class of its system, for some crops: kg/ha of the oxide or element at a yield, or a share of removal or
    a step above it.
    """

    SHARES: ClassVar[Mapping[str, float]] = {"P2O5": P_IN_P2O5, "K2O": K_IN_K2O, "MgO": MG_IN_MGO}

    system: Annotated[str, Names("systems")]
    analyte: Annotated[str, Names("analytes")]
    crops: Annotated[tuple[str, ...], Parted(), Names("crops_and_groups", "*")]
    own_class: str
    low: Annotated[float, Within(0, 600, "kg/ha, or times")]
    high: Annotated[float, Within(0, 600, "kg/ha, or times")]
    oxide: Literal["P2O5", "K2O", "MgO", "P", "K"] | None
    basis: Literal["a_year", "times_removal", "above_removal"]
    yield_t_per_ha: Annotated[float | None, Within(0.5, 200, "t/ha")]
    cut: Literal["silage, first cut", "silage, second cut"] | None

    def faults(self) -> Iterator[Fault]:
        yield from rising(self, "low", "high")

    @property
    def element_share(self) -> float:
        """Element in a kilogram of what is printed [fraction]."""
        return self.SHARES.get(self.oxide or "", 1.0)


LandUse = Literal["arable_temperate", "arable_tropical", "fruit", "garden", "grassland", "rice", "turf", "vegetables"]
_Level = Annotated[float, Within(0, 5000, "mg/kg")]


@dataclass(frozen=True, slots=True, kw_only=True)
class LandUseLevel(Cited):
    """Where the classes of one extractant begin for one use of the land, by a figure or the texture of the ground; `untold` marks the row
    that serves where nobody knows that figure.
    """

    nutrient: Annotated[str, Names("analytes")]
    method: Annotated[str, Names("methods")]
    land_use: LandUse
    by: Literal["any", "soil", "cec", "pbi"]
    soil: Annotated[tuple[str, ...], Parted(), Names("textures")]
    by_from: Annotated[float | None, Within(0, 2000, "cmol/kg or PBI")]
    by_to: Annotated[float | None, Within(0, 2000, "cmol/kg or PBI")]
    untold: bool
    short_from: _Level
    building_from: _Level
    right_from: _Level
    plenty_from: _Level
    excess_from: _Level

    def faults(self) -> Iterator[Fault]:
        yield from rising(self, "short_from", "building_from", "right_from", "plenty_from", "excess_from")


@dataclass(frozen=True, slots=True, kw_only=True)
class LandUseOf(Cited):
    """Which use of the land a crop or a group of crops is."""

    name: Annotated[str, Names("crops_and_groups")]
    land_use: LandUse


@dataclass(frozen=True, slots=True, kw_only=True)
class Systems:
    """National systems of classes, and classes by use of the land where a method has no level of ours."""

    land_use_levels: Annotated[tuple[LandUseLevel, ...], Csv("land_use/classes.csv")]
    land_uses: Annotated[Mapping[str, LandUseOf], Csv("land_use/land_uses.csv", "name")]
    systems: Annotated[tuple[System, ...], Csv("systems/systems.csv")]
    classes: Annotated[tuple[SystemClass, ...], Csv("systems/classes.csv")]
    rates: Annotated[tuple[GuideRate, ...], Csv("systems/rates.csv")]
