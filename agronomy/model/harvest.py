"""A harvest that left the plot."""

from datetime import date

from agronomy.base.record import record
from agronomy.tables.crop import Crop


@record
class Harvest:
    """What a crop yielded [t/ha, None where nobody weighed it], and when it was taken off."""

    crop: Crop
    yield_t_per_ha: float | None
    on: date
