"""Kinds of ground, countries, potting mixes, texture by feel, rotation."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from agronomy.tables.columns import Key, Names, Within
from agronomy.tables.reading_files import Csv, Toml
from agronomy.tables.rooms.documents import FeelTest, NewGround
from agronomy.tables.row import Cited, Fault, Parameter, rising


@dataclass(frozen=True, slots=True, kw_only=True)
class GroundKind(Cited):
    """A kind of ground: how it is sized, and whether caps and rounding go by bed or field."""

    key: Key
    name: str
    plural: str
    sized_by: Literal["area", "bales", "ring", "rows", "trees", "volume"]
    family: Literal["bed", "field"]
    usual_depth_cm: Annotated[float, Within(4, 60, "cm")]
    soil: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Country(Cited):
    """A country, and the method that its guides lime by where they have one of their own."""

    country: Key
    name: str
    lime_by: Literal["soil_type_factor"] | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Mix(Cited):
    """A potting mix: the texture it acts like, its density, lime for one pH unit."""

    key: Key
    name: str
    texture: Annotated[str | None, Names("textures")]
    bulk_density_low: Annotated[float, Within(0.05, 1.8, "g/cm3")]
    bulk_density: Annotated[float, Within(0.05, 1.8, "g/cm3")]
    bulk_density_high: Annotated[float, Within(0.05, 1.8, "g/cm3")]
    caco3_g_per_l: Annotated[float | None, Within(0.2, 10, "g/L per pH")]
    caco3_low: Annotated[float | None, Within(0.1, 10, "g/L per pH")]
    caco3_high: Annotated[float | None, Within(0.2, 15, "g/L per pH")]

    def faults(self) -> Iterator[Fault]:
        return rising(self, "bulk_density_low", "bulk_density", "bulk_density_high")


@dataclass(frozen=True, slots=True, kw_only=True)
class Fizz(Cited):
    """What an acid drop shows, and the carbonate it stands for."""

    key: Key
    looks: str
    sounds: str
    carbonate_low_pct: Annotated[float, Within(0, 60, "%")]
    carbonate_high_pct: Annotated[float, Within(0, 100, "%")]
    free_lime: bool

    def faults(self) -> Iterator[Fault]:
        return rising(self, "carbonate_low_pct", "carbonate_high_pct")


@dataclass(frozen=True, slots=True, kw_only=True)
class Rotation(Cited):
    """Years that a family of plants should stay away from a plot."""

    family: Key
    spoken: str
    years_between: Annotated[float, Within(0, 15, "years")]
    because: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SoilWater(Cited):
    """Water that a texture holds when it has drained, and where plants wilt [% by volume]."""

    texture: Annotated[str, Names("textures")]
    full_pct: Annotated[float, Within(5, 60, "% by volume")]
    wilting_pct: Annotated[float, Within(1, 40, "% by volume")]

    def faults(self) -> Iterator[Fault]:
        return rising(self, "wilting_pct", "full_pct", strictly=True)


@dataclass(frozen=True, slots=True, kw_only=True)
class MediaClass(Cited):
    """One class of an extract of potting mixes, for seedlings or by how hungry the plants are [dS/m, pH, or mg/L of extract]."""

    method: Annotated[str, Names("methods")]
    analyte: Annotated[str, Names("analytes")]
    feeders: Literal["any", "seedlings", "light", "medium", "hungry"]
    own_class: str
    class_: Literal["very_short", "short", "building", "right", "plenty", "excess"]
    at_least: Annotated[float, Within(0, 2000, "of its unit")]
    below: Annotated[float | None, Within(0, 2000, "of its unit")]

    def faults(self) -> Iterator[Fault]:
        yield from rising(self, "at_least", "below", strictly=True)


@dataclass(frozen=True, slots=True, kw_only=True)
class Ground:
    """Kinds of ground, countries, potting mixes, texture by feel, rotation."""

    FIGURES: ClassVar[str] = "ground/figures.toml"

    ring_inner_m: Annotated[Parameter, Within(0.05, 2, "m")]
    ring_inner_share: Annotated[Parameter, Within(0, 1, "fraction")]
    ring_outer_old: Annotated[Parameter, Within(0.5, 4, "times")]
    container_fill: Annotated[Parameter, Within(0.3, 1, "fraction")]
    kinds: Annotated[Mapping[str, GroundKind], Csv("ground/kinds.csv", "key")]
    may_dry: Annotated[Parameter, Within(0.1, 0.9, "fraction")]
    may_dry_shallow: Annotated[Parameter, Within(0.1, 0.9, "fraction")]
    soil_water: Annotated[Mapping[str, SoilWater], Csv("ground/soil_water.csv", "texture")]
    media: Annotated[tuple[MediaClass, ...], Csv("ground/mix_extracts.csv")]
    countries: Annotated[Mapping[str, Country], Csv("ground/countries.csv", "country")]
    mixes: Annotated[Mapping[str, Mix], Csv("ground/mixes.csv", "key")]
    fizz: Annotated[Mapping[str, Fizz], Csv("ground/fizz.csv", "key")]
    rotation: Annotated[Mapping[str, Rotation], Csv("ground/rotation.csv", "family")]
    feel: Annotated[FeelTest, Toml("ground/feel.toml")]
    new_ground: Annotated[NewGround, Toml("ground/new_ground.toml")]
