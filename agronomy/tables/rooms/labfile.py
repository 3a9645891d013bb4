"""Headings, units and words in laboratories' files."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from agronomy.tables.columns import Names
from agronomy.tables.reading_files import Csv, Toml
from agronomy.tables.rooms.documents import LabWords
from agronomy.tables.row import Cited

Kind = Literal[
    "amount",
    "class",
    "client",
    "crop",
    "date",
    "depth",
    "determination",
    "index",
    "lab_number",
    "limit",
    "method",
    "ratio",
    "recommendation",
    "sample",
    "share",
    "unit",
    "value",
]


@dataclass(frozen=True, slots=True, kw_only=True)
class LabHeading(Cited):
    """A heading as laboratories write it: the analyte, or what else it is `about`; oxide or ion; whether unit and method are stated by
    the heading itself, or only usual.
    """

    heading: str
    medium: Literal["soil", "water", "leaf", "material", "any"]
    analyte: Annotated[str | None, Names("analytes")]
    about: str | None
    form: str | None
    kind: Kind
    unit: str | None
    unit_stated: bool
    method: str | None
    method_stated: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class UnitSpelling(Cited):
    """A spelling of a unit, squeezed to small letters without spaces, and the unit as the house writes it."""

    spelling: str
    unit: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Labfile:
    """Headings, units and words in laboratories' files."""

    headings: Annotated[tuple[LabHeading, ...], Csv("labfile/headings.csv")]
    units: Annotated[Mapping[str, UnitSpelling], Csv("labfile/units.csv", "spelling")]
    words: Annotated[LabWords, Toml("labfile/words.toml")]
