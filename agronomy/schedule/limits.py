"""What holds a dressing off some days: the place, the people, the law, the harvest, and what lies on the ground already."""

from dataclasses import field
from datetime import date, timedelta

from agronomy.base.record import record
from agronomy.model.application_record import ApplicationRecord
from agronomy.model.climate import Climate
from agronomy.model.closed_season import ClosedSeason
from agronomy.model.labour import LabourCalendar
from agronomy.model.request import Request
from agronomy.model.soil import Soil
from agronomy.schedule.calendar import Calendar
from agronomy.schedule.frost import is_tender
from agronomy.schedule.placement import Placement
from agronomy.tables import Tables


@record(kw_only=True)
class Limits:
    """All that bends windows. What is not known (no climate, no harvest) bends nothing."""

    soil: Soil
    grass: bool = False
    flooded: bool = False  # a paddy stands in water because it is meant to
    covered: bool = False  # no rain comes under film
    hardens: bool = False  # woody and other standing crops that must ripen before frost
    group: str = ""
    climate: Climate | None = None
    hands: LabourCalendar = field(default_factory=LabourCalendar)
    closed: tuple[ClosedSeason, ...] = ()
    harvest: date | None = None
    done: tuple[ApplicationRecord, ...] = ()
    worked_until: date | None = None  # the last day on which anything is worked in; None where it stands already, or nobody knows
    off: date | None = None  # when a crop that is sown each year leaves the ground
    standing: str = ""  # how what comes after is put on


def limits_of(request: Request, soil: Soil, tables: Tables, calendar: Calendar | None = None) -> Limits:
    """The limits that a request sets to its dates; with its calendar, also what is no longer worked in. Source: user-value.

    In days.

    >>> from agronomy.intake.example import bed, soil, tables
    >>> limits_of(bed(), soil(), tables).grass
    False
    """
    crop = request.crop
    return Limits(
        soil=soil,
        grass=crop.is_grass,
        flooded=crop.flooded,
        covered=request.plot.is_under_film,
        hardens=crop.is_perennial and not crop.is_grass and not is_tender(crop, tables),
        group=crop.group,
        climate=request.climate,
        hands=request.hands,
        closed=request.closed,
        harvest=request.harvest,
        done=request.done,
        worked_until=None if calendar is None or calendar.stands else calendar.anchor + timedelta(days=0 if crop.is_perennial else 3),
        off=None if calendar is None or calendar.stands or crop.is_perennial else calendar.off_the_ground,
        standing="" if calendar is None else Placement(request.plot, calendar.growth, calendar.stands, tables).standing(),
    )
