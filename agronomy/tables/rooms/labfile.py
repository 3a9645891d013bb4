"""Names in laboratories' files."""

from dataclasses import dataclass
from typing import Annotated, Literal

from agronomy.tables.columns import Names, Parted
from agronomy.tables.reading_files import Csv, Toml
from agronomy.tables.rooms.documents import LabWords
from agronomy.tables.row import Row


@dataclass(frozen=True, slots=True, kw_only=True)
class LabName(Row):
    """Names that laboratories give to an analyte."""

    medium: Literal["soil", "water", "leaf", "material"]
    analyte: Annotated[str, Names("analytes")]
    oxide: bool
    names: Annotated[tuple[str, ...], Parted("|")]


@dataclass(frozen=True, slots=True, kw_only=True)
class Labfile:
    """Names in laboratories' files."""

    names: Annotated[tuple[LabName, ...], Csv("labfile/names.csv")]
    words: Annotated[LabWords, Toml("labfile/words.toml")]
