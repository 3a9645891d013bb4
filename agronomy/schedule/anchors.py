"""The days that stages of growth count from: sowing, the start of growth, bud burst, first cut, harvest; by the crop's own calendar."""

from datetime import date, timedelta

from agronomy.base.record import record
from agronomy.model.seasons import Window, add_months, local_month, months_window
from agronomy.tables.rooms.growing import Growth

EMERGES_AFTER = timedelta(days=20)  # an autumn crop that is sown in spring grows on without a rest (source: crop-calendars)
GROWTH_NOT_BEFORE = 3  # March, where no climate says more: the first month of a span is that of its mildest places
MILD_WINTER_GROWS_AFTER = timedelta(days=50)  # in a winter that never rests, stems follow the tillers at once


@record
class Season:
    """A crop's season on a plot: when it is sown or planted (None: it stands), and how it comes through the winter."""

    growth: Growth
    sown: date | None
    today: date
    hemisphere: str
    harvest: date | None = None
    winter_is_mild: bool | None = None  # whether the climate lets it grow on; None where no climate is known
    winter_is_warm: bool = False  # so warm that growth never slows
    wakes: tuple[int, int] | None = None  # month and day on which a cold climate's ground wakes, where that is later than usual

    @property
    def stands(self) -> bool:
        return self.sown is None

    @property
    def sown_before_winter(self) -> bool:
        """Whether it goes into the ground from August to December, as the north has it, and stands through the winter."""
        if self.sown is None or self.growth.life_form not in ("annual", "autumn_annual", "biennial"):
            return False
        northern = local_month(self.sown.month, self.hemisphere)
        if self.growth.life_form == "annual" and self.growth.stands_unit == "days":
            over = self.sown + timedelta(days=round(self.growth.stands_high))
            if local_month(over.month, self.hemisphere) > 8 and (over - self.sown).days < 150:
                return False  # it is harvested, or frost takes it, before the winter is through
        return 8 <= northern <= 12 or (northern <= 1 and self.growth.life_form == "autumn_annual")

    @property
    def _rests_first(self) -> bool:
        """Whether it will stand for years and is planted from late summer on: it grows from the next spring."""
        northern = local_month(self.sown.month, self.hemisphere) if self.sown is not None else 0
        return self.growth.stands_unit == "years" and (northern >= 8 or northern == 1)

    @property
    def _sown_late(self) -> bool:
        """Whether an autumn crop is sown after its usual months: nobody does so but where the winter is mild."""
        last = self.growth.plant_to_month
        northern = local_month(self.sown.month, self.hemisphere) if self.sown is not None else 0
        return last is not None and (northern > last or northern <= 1)

    def window(self, anchor: str, first: int, last: int) -> Window:
        """The window that counts so many days from an anchor (or runs from one month to another); of what stands, the next to come."""
        if self.sown is not None and anchor in ("sow", "plant"):
            return Window(self.sown + timedelta(days=first), self.sown + timedelta(days=last))
        earliest = self.today if self.sown is None else self.sown - timedelta(days=30)
        for year in range(earliest.year - 1, earliest.year + 3):
            window = self._in_year(anchor, first, last, year)
            if window.end >= earliest and (self.sown is None or anchor == "month" or window.start >= self.sown):
                return window
        raise ValueError(f"no window for {anchor} {first}..{last}")

    def _in_year(self, anchor: str, first: int, last: int, year: int) -> Window:
        if anchor == "month":
            return months_window(local_month(first, self.hemisphere), local_month(last, self.hemisphere), year)
        day = self.day_of(anchor, year)
        return Window(day + timedelta(days=first), day + timedelta(days=last))

    def day_of(self, anchor: str, year: int) -> date:
        """The day of an anchor in a year; of what is sown, growth starts after its own winter."""
        if anchor == "growth":
            return self._growth(year)
        if anchor == "bud":
            first, last = next(((row.first, row.last) for row in self.growth.parsed_stages if row.name.startswith("bud burst")), (4, 4))
            usual = date(year, local_month(last, self.hemisphere), 15 if first == last else 1)
            return usual if self.wakes is None else max(usual, date(year, *self.wakes))  # in a cold spring buds wait
        if anchor == "cut":
            return date(year, local_month(int(self.growth.harvest_from_month or 6), self.hemisphere), 15)
        if anchor == "harvest":
            if self.harvest is not None:
                return self.harvest
            month = local_month(int(self.growth.harvest_to_month or 9), self.hemisphere)
            return add_months(date(year, month, 1), 1) - timedelta(days=1)
        return date(year, local_month(int(self.growth.plant_from_month or 4), self.hemisphere), 15)  # sown or planted, where it stands

    def _growth(self, year: int) -> date:
        if self.sown is not None:
            if not self.sown_before_winter and not self._rests_first:
                return self.sown + EMERGES_AFTER
            mild = self._sown_late if self.winter_is_mild is None else self.winter_is_mild
            if self.growth.life_form == "autumn_annual" and mild:
                grows = self.sown + MILD_WINTER_GROWS_AFTER
                if self.winter_is_warm or self.winter_is_mild is None:
                    return grows
                # where it only slows down, stems wait for the longer days of February, as the north has it
                longer = date(grows.year, local_month(2, self.hemisphere), 1)
                is_dark = local_month(grows.month, self.hemisphere) in (11, 12, 1)
                return max(grows, longer if longer >= grows else longer.replace(year=grows.year + 1)) if is_dark else grows
        usual = date(year, local_month(max(GROWTH_NOT_BEFORE, int(self.growth.growth_from_month or 0)), self.hemisphere), 1)
        return usual if self.wakes is None else max(usual, date(year, *self.wakes))
