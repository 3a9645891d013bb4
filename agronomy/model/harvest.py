"""A harvest that left the plot."""

from dataclasses import dataclass
from datetime import date

from agronomy.tables.crop import Crop


@dataclass(frozen=True, slots=True)
class Harvest:
    """What a crop yielded [t/ha, None where nobody weighed it], and when it was taken off."""

    crop: Crop
    yield_t_per_ha: float | None
    on: date
