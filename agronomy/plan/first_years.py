"""The first years of what is planted to stand: little nitrogen until it bears, phosphate and potash worked in while the ground is open."""

from dataclasses import replace
from datetime import date, timedelta

from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.model.seasons import add_months, local_month
from agronomy.schedule.calendar import Calendar
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.growing import FirstYears


@record
class Youth:
    """How old a planting is in the season that is fed next: the share of a full crop's nitrogen, and the words for it."""

    share: float
    says: str
    row: FirstYears


def youth_of(crop: Crop, planting: date | None, calendar: Calendar, tables: Tables) -> Youth | None:
    """The youth of a crop that stands for years, in the season to come; None where it bears in full, or nobody said when it was planted.

    Shares are fractions. Source: the row of first_years.csv.

    >>> from agronomy.intake.example import found, tables
    >>> youth_of(tables.crops["walnut"], None, found().calendar, tables) is None
    True
    """
    row = tables.growing.first_years.get(crop.key)
    if row is None or planting is None or calendar.growth.stands_unit != "years":
        return None
    year = _season_fed(planting, calendar, tables)
    if year >= row.full_from:
        return None
    if year <= 1:
        return Youth(row.first_year, say("It is fed for its first year in the ground."), row)
    share, says = (
        (row.before_bearing, say("It is fed for year {year} in the ground: it does not bear yet.", year=year))
        if year < row.bearing_from
        else (row.first_crops, say("It is fed for year {year} in the ground: it does not bear in full yet.", year=year))
    )
    return Youth(share, says, row)


def _season_fed(planting: date, calendar: Calendar, tables: Tables) -> int:
    """Which season of growth, counted from planting, is the next to be fed; 1 is the first."""
    month = local_month(int(calendar.growth.growth_from_month or 3), calendar.hemisphere)
    starts = [date(year, month, 1) for year in range(planting.year - 1, max(planting, calendar.today).year + 2)]
    first = next(day for day in starts if day + timedelta(days=tables.timing.late.planted_days) >= planting)
    fed = calendar.today if calendar.stands else first
    grows = int(calendar.growth.growth_to_month or 10) - int(calendar.growth.growth_from_month or 3)
    coming = next((day for day in starts if add_months(day, max(1, grows % 12 - 1)) >= fed), starts[-1])
    return max(1, coming.year - first.year + 1)


def before_planting(crop: Crop, calendar: Calendar, tables: Tables) -> Crop:
    """The crop with its rates of phosphate and potash at a test of nought [kg/ha] as a correction of open ground, where it is yet to be
    planted and then stands for years. Source: the row of first_years.csv.

    >>> from agronomy.intake.example import found, tables
    >>> before_planting(tables.crops["walnut"], found().calendar, tables).p2o5_r0
    65.0
    """
    row = tables.growing.first_years.get(crop.key)
    if row is None or not calendar.will_stand or row.before_p2o5 is None or row.before_k2o is None:
        return crop
    return replace(crop, p2o5_r0=max(crop.p2o5_r0, row.before_p2o5), k2o_r0=max(crop.k2o_r0, row.before_k2o))
