"""Something that was put on a plot, as the log tells it."""

from datetime import date

from agronomy.base.record import record
from agronomy.tables.material import Material


@record
class ApplicationRecord:
    """A dressing from the log: material, rate [kg/ha] and day."""

    material: Material
    rate_kg_per_ha: float
    on: date
