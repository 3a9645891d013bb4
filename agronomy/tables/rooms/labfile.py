"""Headings, units and words in laboratories' files."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from agronomy.tables.columns import Names
from agronomy.tables.reading_files import Csv, Toml
from agronomy.tables.rooms.documents import LabWords
from agronomy.tables.row import Cited, Fault

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


ADMIN = ("sample", "lab_number", "date", "depth", "crop", "client", "determination", "value", "unit", "method", "limit")
Form = Literal[
    "as CaO",
    "index x10",
    "ion CO3",
    "ion HCO3",
    "ion NH4",
    "ion NO3",
    "ion SO4",
    "oxide CaO",
    "oxide K2O",
    "oxide MgO",
    "oxide Na2O",
    "oxide P2O5",
    "oxide SO3",
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
    form: Form | None
    kind: Kind
    unit: str | None
    unit_stated: bool
    method: str | None
    method_stated: bool

    def faults(self) -> Iterator[Fault]:
        if self.kind not in ADMIN and self.analyte is None and self.about is None:
            yield Fault("about", "a heading names an analyte, or says what else it is about", "fill one of the two")


@dataclass(frozen=True, slots=True, kw_only=True)
class UnitSpelling(Cited):
    """A spelling of a unit, squeezed to small letters without spaces, and the unit as the house writes it."""

    spelling: str
    unit: str


Letters = Literal[
    "cm", "cmol", "dS", "dm", "dm3", "g", "ha", "kg", "l", "m", "mS", "meq", "mg", "ml", "mmol", "mol", "ppm", "t", "uS", "ug"
]


@dataclass(frozen=True, slots=True, kw_only=True)
class UnitScript(Cited):
    """A part of a unit in another script, and its Latin letters; `is_word` where it stands between signs, not within a run of signs."""

    spelling: str
    letters: Letters
    is_word: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Labfile:
    """Headings, units and words in laboratories' files."""

    headings: Annotated[tuple[LabHeading, ...], Csv("labfile/headings.csv")]
    units: Annotated[Mapping[str, UnitSpelling], Csv("labfile/units.csv", "spelling")]
    unit_scripts: Annotated[Mapping[str, UnitScript], Csv("labfile/unit_scripts.csv", "spelling")]
    words: Annotated[LabWords, Toml("labfile/words.toml")]
