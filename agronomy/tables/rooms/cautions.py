"""The usual cautions."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated

from agronomy.tables.columns import Key, Within
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited


@dataclass(frozen=True, slots=True, kw_only=True)
class MaterialCaution(Cited):
    """The usual caution that comes with a material."""

    key: Key
    about: str
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PracticeCaution(Cited):
    """The usual caution that comes with a way of working."""

    key: Key
    about: str
    holds_from: Annotated[float | None, Within(0.5, 100, "cm or kg")]
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Cautions:
    """The usual cautions."""

    materials: Annotated[Mapping[str, MaterialCaution], Csv("cautions.csv", "key")]
    practices: Annotated[Mapping[str, PracticeCaution], Csv("practices.csv", "key")]
