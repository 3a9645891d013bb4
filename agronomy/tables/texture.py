"""A class of soil texture."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Literal

from agronomy.tables.columns import Within
from agronomy.tables.row import Cited, Fault


@dataclass(frozen=True, slots=True, kw_only=True)
class Texture(Cited):
    """One row of `data/texture.csv`: its usual make-up and weight, whether it counts as light or heavy, how much nitrogen a crop gets
    hold of on it.
    """

    name: str
    code: str
    sand: Annotated[float, Within(0, 100, "%")]
    silt: Annotated[float, Within(0, 100, "%")]
    clay: Annotated[float, Within(0, 100, "%")]
    bulk_density: Annotated[float, Within(0.9, 1.8, "g/cm3")]
    light: bool
    heavy: bool
    sulfur_column: Literal["sand", "loam", "clay"]
    n_recovery: Annotated[float, Within(0.2, 0.9, "fraction")]

    def faults(self) -> Iterator[Fault]:
        if abs(self.sand + self.silt + self.clay - 100) > 1:
            yield Fault("clay", f"sand, silt and clay add to {self.sand + self.silt + self.clay:g} %", "make them add to 100")
        if self.light and self.heavy:
            yield Fault("heavy", "ground cannot be light and heavy", "write no in one of the two")
