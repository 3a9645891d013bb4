"""The pH meter."""

from dataclasses import dataclass
from typing import Annotated, ClassVar

from agronomy.tables.columns import Within
from agronomy.tables.row import Parameter


@dataclass(frozen=True, slots=True, kw_only=True)
class Meter:
    """The pH meter."""

    FIGURES: ClassVar[str] = "meter.toml"

    nernst_mv_per_k: Annotated[Parameter, Within(0.198, 0.199, "mV per K")]
    slope_least_pct: Annotated[Parameter, Within(70, 99, "%")]
    slope_most_pct: Annotated[Parameter, Within(100, 115, "%")]
    offset_most_mv: Annotated[Parameter, Within(5, 80, "mV")]
    steady_span_ph: Annotated[Parameter, Within(0.005, 0.5, "pH")]
    steady_drift_ph_per_min: Annotated[Parameter, Within(0.005, 0.5, "pH/min")]
    steady_seconds: Annotated[Parameter, Within(2, 120, "s")]
    steady_hold_seconds: Annotated[Parameter, Within(2, 120, "s")]
    longest_seconds: Annotated[Parameter, Within(60, 3600, "s")]
