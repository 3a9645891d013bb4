"""What the dates of a plan hang on: the day of planting, what stands, and the climate that wakes it."""

from datetime import date, timedelta

from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.model.climate import Climate, first_warm_day
from agronomy.model.request import Request
from agronomy.model.seasons import Window, add_months, local_month, next_season
from agronomy.schedule.anchors import GROWTH_NOT_BEFORE, Season
from agronomy.schedule.frost import frost_free_from, is_tender
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.growing import Growth

THROUGH_A_WINTER = timedelta(days=120)


@record(kw_only=True)
class Calendar:
    """What the dates hang on. `anchor` is the planting day reckoned with; `note` says so where it was not given."""

    today: date
    anchor: date
    hemisphere: str
    stands: bool  # perennial already in the ground: by season, not by planting
    growing: bool
    note: str
    growth: Growth
    harvest: date | None = None
    winter_is_mild: bool | None = None
    winter_is_warm: bool = False
    wakes: tuple[int, int] | None = None

    @property
    def season(self) -> Season:
        sown = None if self.stands else self.anchor
        return Season(self.growth, sown, self.today, self.hemisphere, self.harvest, self.winter_is_mild, self.winter_is_warm, self.wakes)

    @property
    def will_stand(self) -> bool:
        """Whether it is to be planted and then stands for years."""
        return not self.stands and self.growth.stands_unit == "years"

    def late_but_useful(self, season: Window, tables: Tables) -> Window | None:
        """Now, where the season to come is months away and what stands is in growth and can still use it; else None."""
        if not self.stands or (season.start - self.today).days <= tables.timing.late.from_days:
            return None
        first, last = self.growth.growth_from_month, self.growth.growth_to_month
        if first is None or last is None:
            return None
        month, span = local_month(self.today.month, self.hemisphere), (int(last) - int(first)) % 12
        if (month - int(first)) % 12 >= max(1, span):  # its last month is too late
            return None
        return Window(self.today, self.today + timedelta(days=tables.timing.late.window_days))

    @property
    def off_the_ground(self) -> date:
        """About when an annual crop leaves the ground."""
        if self.harvest is not None:
            return self.harvest
        days = self.growth.stands_high if self.growth.stands_unit == "days" else 365.0
        usual = self.anchor + timedelta(days=round(days))
        season = self.season
        if not season.sown_before_winter:
            return usual
        # what is sown in autumn stands through to its own harvest
        harvests = (season.day_of("harvest", self.anchor.year + years) for years in (0, 1, 2))
        return max(usual, next(day for day in harvests if day - self.anchor > THROUGH_A_WINTER))


def calendar_for(
    crop: Crop,
    planting: date | None,
    today: date,
    hemisphere: str,
    tables: Tables,
    climate: Climate | None = None,
    harvest: date | None = None,
) -> Calendar:
    """The Calendar for a crop; a missing or long past planting date is replaced by a usual one, and said.

    A tender crop's usual day waits for the last frost where the climate is known. Source: crop-calendars.
    In days.

    >>> from agronomy.intake.example import bed, tables
    >>> str(calendar_for(bed().crop, None, date(2027, 3, 1), "north", tables).anchor)
    '2027-04-15'
    """
    growth = tables.growing.crops[crop.key]
    grows_on = True if hemisphere == "south" and crop.group == "arable" else None  # the grain belts of the south, where nobody says more

    def calendar(anchor: date, *, stands: bool = False, growing: bool = False, note: str = "") -> Calendar:
        return Calendar(
            today=today,
            anchor=anchor,
            hemisphere=hemisphere,
            stands=stands,
            growing=growing,
            note=note,
            growth=growth,
            harvest=harvest if harvest is not None and harvest > today else None,
            winter_is_mild=grows_on if climate is None else min(climate.warmth_c) >= tables.climate.mild_winter_from_c.value,
            winter_is_warm=bool(grows_on) if climate is None else min(climate.warmth_c) >= tables.climate.warm_winter_from_c.value,
            wakes=None if climate is None else _wakes(climate, hemisphere, crop.is_grass, tables),
        )

    usual_month = local_month(int(crop.planting_month), hemisphere)
    if crop.is_perennial and (planting is None or planting < today):
        return calendar(next_season([3, 4], hemisphere, today).start, stands=True, growing=True)
    if planting is None:
        usual = date(today.year, usual_month, 15)
        anchor = usual if usual >= today else usual.replace(year=today.year + 1)
        if climate is not None and is_tender(crop, tables):
            anchor = frost_free_from(anchor, climate, tables)
        return calendar(anchor, note=say("No planting date was given, so a usual one is used."))
    if planting >= today:
        return calendar(planting)
    stands_for = growth.stands_high if growth.stands_unit == "days" else 365.0
    if (today - planting).days <= stands_for:
        return calendar(planting, growing=True)
    years = today.year - planting.year
    again = add_months(planting, 12 * years)
    anchor = again if again >= today else add_months(planting, 12 * (years + 1))
    return calendar(anchor, note=say("The planting date has passed, so the same day next time is used."))


def _wakes(climate: Climate, hemisphere: str, grass: bool, tables: Tables) -> tuple[int, int] | None:
    """Month and day on which the ground is warm enough for roots to feed, where that is after the usual start of growth."""
    key = ("wakes", climate.warmth_c, hemisphere, grass)
    if key not in tables.kept:
        usual = date(2027, local_month(GROWTH_NOT_BEFORE, hemisphere), 1)
        above = tables.climate.gates["nitrogen"].soil_above_c or 0.0
        day = first_warm_day(usual, above, climate, tables, within_days=120, grass=grass)
        tables.kept[key] = None if day is None or day == usual else (day.month, day.day)
    return tables.kept[key]


def calendar_of(request: Request, tables: Tables) -> Calendar:
    """The Calendar of a request.

    In days. Source: crop-calendar.

    >>> from agronomy.intake.example import bed, tables
    >>> str(calendar_of(bed(), tables).anchor)
    '2027-05-01'
    """
    return calendar_for(request.crop, request.planting, request.today, request.plot.hemisphere, tables, request.climate, request.harvest)
