"""Something that was put on a plot, as the log tells it."""

from dataclasses import dataclass
from datetime import date

from agronomy.tables.material import Material


@dataclass(frozen=True, slots=True)
class ApplicationRecord:
    """A dressing from the log: material, rate [kg/ha] and day."""

    material: Material
    rate_kg_per_ha: float
    on: date
