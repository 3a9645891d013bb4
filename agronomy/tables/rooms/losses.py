"""How much nitrogen is lost, by form and by how it is put on."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar

from agronomy.tables.columns import Key, Within
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Parameter


@dataclass(frozen=True, slots=True, kw_only=True)
class NitrogenForm(Cited):
    """How much of a form of nitrogen is lost as ammonia, and how much of it is nitrate."""

    form: Key
    name: str
    ammonia_low_ph: Annotated[float, Within(0, 0.6, "fraction")]
    ammonia_high_ph: Annotated[float, Within(0, 0.6, "fraction")]
    nitrate_share: Annotated[float, Within(0, 1, "fraction")]
    inhibits_nitrous: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Losses:
    """How much nitrogen is lost, by form and by how it is put on."""

    FIGURES: ClassVar[str] = "nitrogen/loss_factors.toml"

    worked_in_a_day: Annotated[Parameter, Within(0, 1, "times")]
    worked_in_two_days: Annotated[Parameter, Within(0, 1, "times")]
    low_capacity: Annotated[Parameter, Within(1, 3, "times")]
    warm: Annotated[Parameter, Within(1, 3, "times")]
    cool: Annotated[Parameter, Within(0.2, 1, "times")]
    residue: Annotated[Parameter, Within(1, 3, "times")]
    banded: Annotated[Parameter, Within(0, 1, "times")]
    most: Annotated[Parameter, Within(0.1, 1, "fraction")]
    high_ph: Annotated[Parameter, Within(6, 8.5, "pH")]
    nitrous_wet: Annotated[Parameter, Within(0.001, 0.1, "fraction")]
    nitrous_organic: Annotated[Parameter, Within(0.001, 0.1, "fraction")]
    nitrous_inhibited: Annotated[Parameter, Within(0.1, 1, "times")]
    leached_light: Annotated[Parameter, Within(0, 1, "fraction")]
    warm_from_c: Annotated[Parameter, Within(10, 35, "°C")]
    cool_below_c: Annotated[Parameter, Within(0, 15, "°C")]
    low_capacity_below: Annotated[Parameter, Within(2, 30, "cmol/kg")]
    forms: Annotated[Mapping[str, NitrogenForm], Csv("nitrogen/losses.csv", "form")]
