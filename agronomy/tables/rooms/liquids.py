"""Acid for water, tanks, leaf feeds."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from agronomy.tables.columns import Key, Names, Within, Words
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Parameter


@dataclass(frozen=True, slots=True, kw_only=True)
class AcidRow(Cited):
    """An acid for water: its strength, what it brings, whether it belongs in a home."""

    key: Key
    name: str
    material: Annotated[str | None, Names("materials")]
    kind: Literal["citric", "liquid", "phosphoric"]
    normality: Annotated[float | None, Within(0.1, 40, "mol of charge/L")]
    usable_share: Annotated[float, Within(0.3, 1, "fraction")]
    grams_per_mol: Annotated[float | None, Within(50, 400, "g/mol")]
    brings: Literal["N", "P", "S"] | None
    brings_g_per_mol: Annotated[float | None, Within(5, 60, "g/mol")]
    home: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class TankPlace(Cited):
    """In which order things go into a tank, and why."""

    place: Annotated[float, Within(1, 20, "place")]
    groups: Words
    what: str
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SprayWeather(Cited):
    """The weather that a way of feeding wants."""

    way: Literal["leaf", "drench", "drip"]
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Liquids:
    """Acid for water, tanks, leaf feeds."""

    FIGURES: ClassVar[str] = "liquids/figures.toml"

    alkalinity_low: Annotated[Parameter, Within(5, 100, "mg/L CaCO3")]
    alkalinity_high: Annotated[Parameter, Within(150, 1500, "mg/L CaCO3")]
    residual_low: Annotated[Parameter, Within(10, 150, "mg/L CaCO3")]
    residual_high: Annotated[Parameter, Within(20, 250, "mg/L CaCO3")]
    mg_per_l_per_ds: Annotated[Parameter, Within(400, 900, "mg/L per dS/m")]
    stock_share: Annotated[Parameter, Within(0.2, 1, "fraction")]
    leaf_salt_tender_pct: Annotated[Parameter, Within(0.2, 10, "%")]
    leaf_salt_tough_pct: Annotated[Parameter, Within(0.5, 20, "%")]
    drip_dissolves_g_per_l: Annotated[Parameter, Within(10, 500, "g/L")]
    drip_usual_g_per_l: Annotated[Parameter, Within(0.2, 3, "g/L")]
    drip_feed_most_mm: Annotated[Parameter, Within(2, 60, "mm")]
    drip_stage_most_days: Annotated[Parameter, Within(7, 120, "days")]
    drip_season_days: Annotated[Parameter, Within(60, 300, "days")]
    drip_dug_in_share: Annotated[Parameter, Within(0, 1, "fraction")]
    leaf_water_l_per_ha: Annotated[Parameter, Within(100, 2000, "L/ha")]
    water_ec_usual: Annotated[Parameter, Within(0.0, 3, "dS/m")]
    drip_salt_ds: Annotated[Parameter, Within(0.5, 10, "dS/m")]
    wetter_pct: Annotated[Parameter, Within(0.005, 1, "% by volume")]
    boron_g_per_l: Annotated[Parameter, Within(0.02, 1, "g B/L")]
    much_phosphorus_mg_per_l: Annotated[Parameter, Within(5, 150, "mg P/L")]
    leaf_feed_days: Annotated[Parameter, Within(3, 40, "days")]
    leaf_feed_within_days: Annotated[Parameter, Within(1, 20, "days")]
    acids: Annotated[Mapping[str, AcidRow], Csv("liquids/acids.csv", "key")]
    tank_order: Annotated[tuple[TankPlace, ...], Csv("liquids/tank_order.csv")]
    weather: Annotated[tuple[SprayWeather, ...], Csv("liquids/weather.csv")]
