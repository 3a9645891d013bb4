"""Cores, depths, pairs of samples, label sheets."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from agronomy.tables.columns import Key, Names, Parted, Within
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Fault, Parameter, rising


@dataclass(frozen=True, slots=True, kw_only=True)
class Cores(Cited):
    """How many cores make a sample."""

    key: Key
    kinds: Annotated[tuple[str, ...], Parted(), Names("ground_kinds")]
    up_to_m2: Annotated[float | None, Within(100, 1_000_000, "m2")]
    least: Annotated[float, Within(2, 60, "cores")]
    usual: Annotated[float, Within(3, 80, "cores")]
    most: Annotated[float, Within(3, 120, "cores")]
    edge_m: Annotated[float, Within(0, 40, "m")]

    def faults(self) -> Iterator[Fault]:
        return rising(self, "least", "usual", "most")


@dataclass(frozen=True, slots=True, kw_only=True)
class SamplingDepth(Cited):
    """How deep to sample, and why."""

    key: Key
    situation: str
    top_cm: Annotated[float, Within(0, 60, "cm")]
    bottom_cm: Annotated[float | None, Within(2, 150, "cm")]
    because: str

    def faults(self) -> Iterator[Fault]:
        return rising(self, "top_cm", "bottom_cm")


@dataclass(frozen=True, slots=True, kw_only=True)
class PairMeaning(Cited):
    """What a difference between two samples of one plot may mean."""

    analyte: Annotated[str, Names("analytes")]
    side: Literal["higher", "lower"]
    means: str
    check: str


@dataclass(frozen=True, slots=True, kw_only=True)
class LabelSheet(Cited):
    """A sheet of labels to print on."""

    key: Key
    name: str
    page_width_mm: Annotated[float, Within(100, 450, "mm")]
    page_height_mm: Annotated[float, Within(100, 450, "mm")]
    columns: Annotated[float, Within(1, 10, "labels")]
    rows: Annotated[float, Within(1, 30, "labels")]
    left_mm: Annotated[float, Within(0, 40, "mm")]
    top_mm: Annotated[float, Within(0, 60, "mm")]
    label_width_mm: Annotated[float, Within(10, 220, "mm")]
    label_height_mm: Annotated[float, Within(8, 300, "mm")]
    step_x_mm: Annotated[float, Within(10, 220, "mm")]
    step_y_mm: Annotated[float, Within(8, 300, "mm")]


@dataclass(frozen=True, slots=True, kw_only=True)
class Sampling:
    """Cores, depths, pairs of samples, label sheets."""

    FIGURES: ClassVar[str] = "sampling/figures.toml"

    spread_even: Annotated[Parameter, Within(0.02, 1, "pH")]
    spread_ordinary: Annotated[Parameter, Within(0.02, 1.5, "pH")]
    spread_patchy: Annotated[Parameter, Within(0.05, 2, "pH")]
    error_wanted: Annotated[Parameter, Within(0.02, 0.6, "pH")]
    season_half_width_days: Annotated[Parameter, Within(5, 90, "days")]
    wait_after_dressing_days: Annotated[Parameter, Within(14, 365, "days")]
    overdue_after_days: Annotated[Parameter, Within(3, 90, "days")]
    pair_difference: Annotated[Parameter, Within(0.5, 5, "standard errors")]
    cores: Annotated[Mapping[str, Cores], Csv("sampling/cores.csv", "key")]
    depths: Annotated[Mapping[str, SamplingDepth], Csv("sampling/depths.csv", "key")]
    pair_meanings: Annotated[Mapping[tuple[str, str], PairMeaning], Csv("sampling/pair_meanings.csv", ("analyte", "side"))]
    label_sheets: Annotated[Mapping[str, LabelSheet], Csv("sampling/label_sheets.csv", "key")]

    def spread(self, variability: str) -> Parameter:
        """Scatter of pH over ground that is even, ordinary or patchy."""
        return {"even": self.spread_even, "ordinary": self.spread_ordinary, "patchy": self.spread_patchy}[variability]
