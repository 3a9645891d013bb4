"""Straw bales."""

from dataclasses import dataclass
from typing import Annotated, ClassVar

from agronomy.tables.columns import Within
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Parameter


@dataclass(frozen=True, slots=True, kw_only=True)
class BaleDay(Cited):
    """One day of a straw bale start."""

    day: Annotated[float, Within(1, 40, "day")]
    nitrogen_g: Annotated[float, Within(0, 100, "g N per bale")]
    p2o5_g: Annotated[float, Within(0, 60, "g P2O5 per bale")]
    k2o_g: Annotated[float, Within(0, 80, "g K2O per bale")]
    do: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Bale:
    """Straw bales."""

    FIGURES: ClassVar[str] = "spread/bale.toml"

    carbon_pct: Annotated[Parameter, Within(30, 60, "%")]
    straw_n_pct: Annotated[Parameter, Within(0.2, 2, "%")]
    kept_by_microbes: Annotated[Parameter, Within(0.1, 0.8, "fraction")]
    microbe_ratio: Annotated[Parameter, Within(4, 20, "C per N")]
    hay_share: Annotated[Parameter, Within(0.1, 1, "fraction")]
    slow_times: Annotated[Parameter, Within(1, 3, "times")]
    start_days_before: Annotated[Parameter, Within(7, 40, "days")]
    least_n_pct: Annotated[Parameter, Within(1, 46, "%")]
    start_above_c: Annotated[Parameter, Within(0, 20, "°C")]
    plant_below_c: Annotated[Parameter, Within(20, 45, "°C")]
    after_low_g: Annotated[Parameter, Within(0.2, 10, "g N per bale and week")]
    after_high_g: Annotated[Parameter, Within(0.5, 20, "g N per bale and week")]
    bale_kg: Annotated[Parameter, Within(5, 60, "kg")]
    days: Annotated[tuple[BaleDay, ...], Csv("spread/bale.csv")]
