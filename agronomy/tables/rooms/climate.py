"""Climates by the month, and the weather that work waits for."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from agronomy.tables.columns import Key, MonthDay, Within
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Parameter


@dataclass(frozen=True, slots=True, kw_only=True)
class ClimateRow(Cited):
    """A climate by the month: mean air and rain, usual frosts as month-day."""

    key: Key
    name: str
    hemisphere: Literal["north", "south"]
    t1: Annotated[float, Within(-40, 45, "°C")]
    t2: Annotated[float, Within(-40, 45, "°C")]
    t3: Annotated[float, Within(-40, 45, "°C")]
    t4: Annotated[float, Within(-40, 45, "°C")]
    t5: Annotated[float, Within(-40, 45, "°C")]
    t6: Annotated[float, Within(-40, 45, "°C")]
    t7: Annotated[float, Within(-40, 45, "°C")]
    t8: Annotated[float, Within(-40, 45, "°C")]
    t9: Annotated[float, Within(-40, 45, "°C")]
    t10: Annotated[float, Within(-40, 45, "°C")]
    t11: Annotated[float, Within(-40, 45, "°C")]
    t12: Annotated[float, Within(-40, 45, "°C")]
    r1: Annotated[float, Within(0, 900, "mm")]
    r2: Annotated[float, Within(0, 900, "mm")]
    r3: Annotated[float, Within(0, 900, "mm")]
    r4: Annotated[float, Within(0, 900, "mm")]
    r5: Annotated[float, Within(0, 900, "mm")]
    r6: Annotated[float, Within(0, 900, "mm")]
    r7: Annotated[float, Within(0, 900, "mm")]
    r8: Annotated[float, Within(0, 900, "mm")]
    r9: Annotated[float, Within(0, 900, "mm")]
    r10: Annotated[float, Within(0, 900, "mm")]
    r11: Annotated[float, Within(0, 900, "mm")]
    r12: Annotated[float, Within(0, 900, "mm")]
    last_frost: MonthDay | None
    first_frost: MonthDay | None

    @property
    def warmth_c(self) -> tuple[float, ...]:
        return tuple(getattr(self, f"t{month}") for month in range(1, 13))

    @property
    def rain_mm(self) -> tuple[float, ...]:
        return tuple(getattr(self, f"r{month}") for month in range(1, 13))


@dataclass(frozen=True, slots=True, kw_only=True)
class Gate(Cited):
    """The weather that a kind of work waits for."""

    work: Key
    soil_above_c: Annotated[float | None, Within(0, 20, "°C")]
    air_above_c: Annotated[float | None, Within(0, 20, "°C")]
    air_below_c: Annotated[float | None, Within(10, 40, "°C")]
    wind_below_m_s: Annotated[float | None, Within(1, 15, "m/s")]
    rain_below_mm: Annotated[float | None, Within(0.1, 60, "mm")]
    rain_ahead_hours: Annotated[float | None, Within(1, 120, "h")]
    humidity_above: Annotated[float | None, Within(10, 95, "%")]
    frost_free: bool
    soaked_ok: bool
    turn: Annotated[float, Within(1, 12, "turn")]
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class StepGate(Cited):
    """Warmth that a programme step waits for."""

    gate: Key
    of: Literal["air", "soil"]
    above_c: Annotated[float, Within(0, 25, "°C")]
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Climate:
    """Climates by the month, and the weather that work waits for."""

    FIGURES: ClassVar[str] = "climate/figures.toml"

    diffusivity_m2_per_day: Annotated[Parameter, Within(0.005, 0.2, "m2/day")]
    warmer_than_air_c: Annotated[Parameter, Within(-3, 6, "°C")]
    damped_bare: Annotated[Parameter, Within(0.3, 1.2, "fraction")]
    damped_grass: Annotated[Parameter, Within(0.3, 1.2, "fraction")]
    no_seasons_below_c: Annotated[Parameter, Within(0, 10, "°C")]
    sure_within_c: Annotated[Parameter, Within(0.5, 6, "°C")]
    steep_pct: Annotated[Parameter, Within(3, 40, "%")]
    near_water_m: Annotated[Parameter, Within(1, 100, "m")]
    shortest_window_days: Annotated[Parameter, Within(1, 30, "days")]
    longest_window_days: Annotated[Parameter, Within(7, 120, "days")]
    apart_days: Annotated[Parameter, Within(1, 60, "days")]
    mild_winter_from_c: Annotated[Parameter, Within(0, 20, "°C")]
    warm_winter_from_c: Annotated[Parameter, Within(0, 25, "°C")]
    soaked_heavy_mm: Annotated[Parameter, Within(10, 300, "mm/month")]
    soaked_mm: Annotated[Parameter, Within(10, 300, "mm/month")]
    soaked_light_mm: Annotated[Parameter, Within(10, 400, "mm/month")]
    after_frost_days: Annotated[Parameter, Within(0, 40, "days")]
    awake_mean_c: Annotated[Parameter, Within(5, 30, "°C")]
    last_nitrogen_weeks: Annotated[Parameter, Within(2, 26, "weeks")]
    woody_from_weeks: Annotated[Parameter, Within(0, 20, "weeks")]
    climates: Annotated[Mapping[str, ClimateRow], Csv("climate/climates.csv", "key")]
    gates: Annotated[Mapping[str, Gate], Csv("climate/gates.csv", "work")]
    step_gates: Annotated[Mapping[str, StepGate], Csv("climate/step_gates.csv", "gate")]
