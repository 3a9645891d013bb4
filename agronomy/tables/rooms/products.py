"""What must not be put together, and what is reached for first."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from agronomy.tables.columns import Key, Names, Within
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited


@dataclass(frozen=True, slots=True, kw_only=True)
class Pair(Cited):
    """Two groups of materials that must not meet, and how far apart they are kept."""

    key: Key
    first: Annotated[str, Names("material_groups")]
    second: Annotated[str, Names("material_groups")]
    together: Literal["apart", "never", "not in one tank", "pointless"]
    danger: Literal["fire", "gas"] | None
    days: Annotated[float, Within(0, 400, "days")]
    days_worked_in: Annotated[float | None, Within(0, 400, "days")]  # where the first was worked in; None: as on top
    reason: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Standard(Cited):
    """The material that a rule or a desk starts from for some use."""

    use: Key
    material: Annotated[str, Names("materials")]


@dataclass(frozen=True, slots=True, kw_only=True)
class Products:
    """What must not be put together, and what is reached for first."""

    pairs: Annotated[Mapping[str, Pair], Csv("compatibility/pairs.csv", "key")]
    standard: Annotated[Mapping[str, Standard], Csv("standard_materials.csv", "use")]
