"""When each dressing is meant to go on: by the crop's own stages and seasons, or counted back from planting; limits bend it later."""

from collections.abc import Iterable
from dataclasses import replace
from datetime import date, timedelta
from math import ceil

from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.base.said import Measure, joined, large, say
from agronomy.base.working import Figure, Step
from agronomy.dose.application import Application, dose
from agronomy.model.answers import ACIDITY, NeedKind, Unmet
from agronomy.model.climate import Climate, first_warm_day
from agronomy.model.reading import Reading
from agronomy.model.request import Request
from agronomy.model.seasons import Window, add_months, local_month, next_season, season_windows
from agronomy.model.soil import Soil
from agronomy.products.choice import Choice
from agronomy.recommend.acidity.caps import ApplicationLimit
from agronomy.recommend.schools.by_ground import UNTESTED
from agronomy.schedule.anchors import GROWTH_NOT_BEFORE, Season
from agronomy.schedule.frost import frost_free_from, is_tender
from agronomy.schedule.nitrogen_parts import Parted, StagePart, nitrogen_parts
from agronomy.schedule.placement import Placement
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.documents import AfterPlanting, BeforePlanting
from agronomy.tables.rooms.growing import Growth

SLOW = frozenset({"months", "seasons", "years"})
FIRST_CUT_AFTER = 75  # days from sowing to the first cut of a new sward (source: own-experience)
CUT = frozenset({"cut_grass", "legume_ley"})
THROUGH_A_WINTER = timedelta(days=120)
ROOM_AFTER = 21  # days that a crop still has after a second dressing, or it comes too late
LAST_LIME_BEFORE_PLANTING = 14  # days
SECOND_HALF_AFTER = 120  # days after the first, so that a test can tell (own-experience)


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


@record(kw_only=True)
class Part:
    """One dressing's share of a choice with its window."""

    share: float
    window: Window
    pattern: str
    note: str = ""
    later: bool = False
    extra: tuple[Step, ...] = ()


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
        return calendar(anchor, note=say("No planting date was given, so a usual one is reckoned with."))
    if planting >= today:
        return calendar(planting)
    stands_for = growth.stands_high if growth.stands_unit == "days" else 365.0
    if (today - planting).days <= stands_for:
        return calendar(planting, growing=True)
    years = today.year - planting.year
    again = add_months(planting, 12 * years)
    anchor = again if again >= today else add_months(planting, 12 * (years + 1))
    return calendar(anchor, note=say("The planting date has passed, so the same day next time is reckoned with."))


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


def applications_for(
    choice: Choice, request: Request, calendar: Calendar, *, soil: Soil, dressing: ApplicationLimit | None, tables: Tables
) -> tuple[list[Application], list[Unmet]]:
    """The dressings of a choice, and what of it has to wait for a test or belonged to stages that are past.

    Source: timing-guide, crop-calendars.
    Rates in kg/ha.
    """
    what = choice.need.what
    place = Placement(request.plot, calendar.growth, calendar.stands, tables)
    unmet: list[Unmet] = []
    if what in ACIDITY:
        parts, waiting = _acidity_parts(choice, calendar, place, required(dressing), tables)
        if waiting > 0:
            told = say("More than two dressings would be needed; the rest waits for the test after them.")
            unmet.append(Unmet(what, waiting * choice.supplies.get(what, 0.0) / choice.rate_kg_per_ha, told))
    elif what == "N":
        parts, past = _nitrogen_parts(choice, calendar, place, soil, tables)
        if past > tables.nutrients.smallest_worth_spreading_kg_per_ha.value:
            told = say(
                "{past:.0f} belonged to stages that are past. It isn't made up for: late nitrogen does little good.",
                past=Measure(past, "kg/ha"),
            )
            unmet.append(Unmet("N", past, told))
    else:
        parts = _nutrient_parts(choice, calendar, place, soil, tables)
    depth_cm = dressing.treated_depth_cm if dressing else soil.depth_cm
    doses = [
        dose(
            choice,
            part.share,
            area_m2=request.plot.area_m2,
            system=request.units,
            number=number,
            count=len(parts),
            later=part.later,
            start=part.window.start,
            end=part.window.end,
            placement=part.pattern,
            depth_cm=depth_cm,
            note=joined((part.note, calendar.note)),
            extra=part.extra,
        )
        for number, part in enumerate(parts, 1)
    ]
    return doses, unmet


def _acidity_parts(
    choice: Choice, calendar: Calendar, place: Placement, dressing: ApplicationLimit, tables: Tables
) -> tuple[list[Part], float]:
    """At most two dressings, each within its cap; what is beyond waits for a test."""
    is_lime = choice.need.what == NeedKind.LIME
    rule = tables.timing.lime if is_lime else tables.timing.sulfur
    rate, cap = choice.rate_kg_per_ha, dressing.max_kg_per_ha
    product = tables.acidity.product_caps.get(choice.material.key) if is_lime else None
    if product is not None:
        cap = min(cap, product.most_on_lawn_kg_per_ha if place.plot.ground == "lawn" else product.most_kg_per_ha)
    first, note = _ahead(rule, calendar, is_lime, tables)
    first, pattern = _as_planted(first, rule, calendar, place)
    if rate <= cap:
        return [Part(share=1.0, window=first, pattern=pattern, note=note)], 0.0
    is_worth_another = rate - cap >= tables.acidity.second_dressing_from_share.value * rate
    step = Step(
        "most in one dressing",
        "the smaller of rate and cap",
        {"rate": Figure(rate, "kg/ha"), "cap": Figure(cap, "kg/ha"), "ground": Figure(dressing.row.situation)},
        Figure(cap, "kg/ha"),
        dressing.row.source,
        dressing.row.where,
    )
    if not is_worth_another:
        little = say("That is the most for one dressing; the little that is missing can wait for the test.")
        return [Part(share=cap / rate, window=first, pattern=pattern, note=joined((note, little)), extra=(step,))], 0.0
    second = next_season(
        _months(rule, calendar, is_lime, tables), calendar.hemisphere, add_months(first.start, dressing.again_after_months)
    )
    rest = min(rate - cap, cap)
    second, after = _second(second, first, calendar)
    second, then = _as_planted(second, rule, calendar, place)
    parts = [
        Part(share=cap / rate, window=first, pattern=pattern, note=note, extra=(step,)),
        Part(share=rest / rate, window=second, pattern=then, note=after, later=True, extra=(step,)),
    ]
    return parts, max(0.0, rate - cap - rest)


def _second(usual: Window, first: Window, calendar: Calendar) -> tuple[Window, str]:
    """When the second half goes on, and a word on it: of what will stand for years before it is planted, where there is time."""
    told = say("The rest, once a new test shows that it is still wanted.")
    if not calendar.will_stand or usual.start <= calendar.anchor:
        return usual, told
    last = calendar.anchor - timedelta(days=LAST_LIME_BEFORE_PLANTING)
    if (last - first.start).days >= SECOND_HALF_AFTER:
        return Window(max(first.start + timedelta(days=SECOND_HALF_AFTER), last - timedelta(days=30)), last), say(
            "The rest goes in before planting, once a test shows that it is still wanted: nothing is worked in after."
        )
    return usual, say("The rest, onto the surface, once a new test shows that it is still wanted. Or plant a season later.")


def _as_planted(window: Window, rule: BeforePlanting, calendar: Calendar, place: Placement) -> tuple[Window, str]:
    """A window that ends with planting, and how it is put on: once what stands for years is in the ground, onto the surface."""
    if calendar.stands or calendar.growing:
        return window, place.before(rule, lime=True)
    if calendar.will_stand and window.start >= calendar.anchor:
        return window, place.standing(lime=True)
    if window.start < calendar.anchor < window.end:
        window = Window(window.start, calendar.anchor - timedelta(days=1))
    return window, place.before(rule, lime=True)


def _months(rule: BeforePlanting, calendar: Calendar, is_lime: bool, tables: Tables) -> list[int]:
    """The months of lime or sulfur: those of what stands, else the rule's."""
    row = tables.growing.standing.get(calendar.growth.life_form) if calendar.stands else None
    return list(rule.months) if row is None else [int(month) for month in (row.lime_months if is_lime else row.sulfur_months)]


def _ahead(rule: BeforePlanting, calendar: Calendar, is_lime: bool, tables: Tables) -> tuple[Window, str]:
    """The window well before planting, or the best that is left, with a word on what that means."""
    today, anchor, months = calendar.today, calendar.anchor, _months(rule, calendar, is_lime, tables)
    if calendar.stands:
        return next_season(months, calendar.hemisphere, today), ""
    if calendar.growing:
        return next_season(months, calendar.hemisphere, max(today, calendar.off_the_ground)), say("After this crop is off the ground.")
    earliest = max(today, anchor - timedelta(days=rule.earliest_days_before))
    latest = anchor - timedelta(days=rule.latest_days_before)
    if latest >= earliest + timedelta(days=7):
        seasons = [window for window in season_windows(months, calendar.hemisphere, earliest, latest) if window.days >= 7]
        if seasons:
            return seasons[0], ""
        if is_lime:
            return Window(earliest, min(latest, earliest + timedelta(days=60))), ""
    if not is_lime:
        window = next_season(months, calendar.hemisphere, today)
        late = (
            ""
            if window.end <= latest
            else say("It needs about half a year of warm ground: test before planting, and plant later if pH is still too high.")
        )
        return window, late
    if anchor - timedelta(days=14) > today + timedelta(days=3):
        return Window(today, min(anchor - timedelta(days=14), today + timedelta(days=21))), say(
            "Later than wished: lime wants three months, so it will only partly have worked by planting."
        )
    if calendar.will_stand:
        return next_season(months, calendar.hemisphere, calendar.anchor + timedelta(days=21)), say(
            "Too late before this planting: onto the surface after it. Lime works slowly from there; planting a season later is surer."
        )
    return next_season(months, calendar.hemisphere, calendar.off_the_ground), say("Too late before this planting: after this crop.")


def before_planting(rule: BeforePlanting, calendar: Calendar, tables: Tables) -> Window:
    """The window of a rule counted back from planting, or its season for what stands. Source: timing-guide.

    In days.
    """
    if calendar.stands:
        row = tables.growing.standing.get(calendar.growth.life_form)
        months = list(rule.months) if row is None else [int(month) for month in row.base_months]
        season = next_season(months, calendar.hemisphere, calendar.today)
        return (calendar.late_but_useful(season, tables) if rule is tables.timing.base else None) or season
    start = calendar.anchor - timedelta(days=rule.earliest_days_before)
    return Window(start, calendar.anchor - timedelta(days=rule.latest_days_before)).later_than(calendar.today)


def _after(rule: AfterPlanting, calendar: Calendar) -> Window:
    """The window of a later dressing, so many days after planting; what was sown in autumn waits for spring."""
    start = calendar.anchor + timedelta(days=(rule.from_days_after + rule.to_days_after) // 2)
    if local_month(start.month, calendar.hemisphere) in rule.asleep:
        start = next_season(rule.wakes, calendar.hemisphere, start).start
    return Window(start, start + timedelta(days=10)).later_than(calendar.today)


def _nutrient_parts(choice: Choice, calendar: Calendar, place: Placement, soil: Soil, tables: Tables) -> list[Part]:
    timing, what = tables.timing, choice.need.what
    first = Part(share=1.0, window=before_planting(timing.base, calendar, tables), pattern=place.before(timing.base))
    if choice.supplies.get("N", 0.0) >= tables.nutrients.smallest_worth_spreading_kg_per_ha.value and not calendar.stands:
        # a bag that brings nitrogen too goes on when the crop is sown, or it is lost before
        window = Window(calendar.anchor - timedelta(days=7), calendar.anchor + timedelta(days=3)).later_than(calendar.today)
        first = replace(first, window=window)
    if choice.need.method == UNTESTED and not calendar.growing:
        window = Window(calendar.anchor - timedelta(days=3), calendar.anchor + timedelta(days=7)).later_than(calendar.today)
        return [replace(first, window=window, pattern=place.with_the_seed())]
    if what == "S" and calendar.season.sown_before_winter and not calendar.growing:
        # sulfate washes out in winter: it goes on as growth starts
        window = calendar.season.window("growth", 0, 21)
        first = replace(first, window=window.later_than(calendar.today), pattern=place.later())
    if calendar.growing and not calendar.stands:
        start = calendar.today
        first = replace(first, window=Window(start, start + timedelta(days=14)), pattern=place.later())
    if what == "K" and calendar.growth.life_form in CUT and calendar.stands:
        return _potash_by_the_cut(choice, calendar, place, tables)
    if what == "K" and calendar.stands and choice.supplies["K"] >= tables.nutrients.potassium_at_once_standing_kg_per_ha.value:
        return _potash_with_nitrogen(calendar, place, soil, tables) or [first]
    if what == "K" and calendar.growth.life_form in CUT and not calendar.growing:
        return _potash_of_a_new_sward(first, choice.supplies["K"], calendar, place, tables)
    split = tables.nutrients.split_potassium_from_kg_per_ha.value
    if (
        what != "K"
        or tables.crops[calendar.growth.crop].group == "roots"
        or not soil.is_light
        or choice.supplies["K"] < split
        or calendar.stands
        or calendar.growing
        or calendar.season.sown_before_winter
        or (calendar.off_the_ground - calendar.anchor).days < timing.potassium_second.from_days_after + ROOM_AFTER
    ):
        return [first]
    second = timing.potassium_second
    later = Part(
        share=0.5,
        window=_after(second, calendar),
        pattern=place.later(),
        note=say("Halved, because light ground loses it; the crop wants it when flower and fruit come."),
    )
    return [replace(first, share=0.5), later]


def _potash_by_the_cut(choice: Choice, calendar: Calendar, place: Placement, tables: Tables) -> list[Part]:
    """Potash on cut grass: no more than the sward bears before the first cut, the rest after each cut, or stock get the staggers."""
    most, total = tables.nutrients.potassium_before_first_cut_kg_per_ha.value, choice.supplies["K"]
    first = min(1.0, most / total)
    note = say("Not more before the first cut: grass takes up more potassium than it needs, and magnesium goes short.")
    spring = calendar.season.window("growth", 0, 21).later_than(calendar.today)
    now = calendar.late_but_useful(spring, tables)
    parts = [Part(share=first, window=now or spring, pattern=place.later(), note="" if now else note)]
    if first < 1.0:
        rest = (1.0 - first) / 2
        for begins, told in ((1, say("After the first cut.")), (40, say("After the second cut."))):
            window = calendar.season.window("cut", begins, begins + 10).later_than(calendar.today)
            parts.append(Part(share=rest, window=window, pattern=place.later(), note=told))
    return parts


def _potash_of_a_new_sward(first: Part, total: float, calendar: Calendar, place: Placement, tables: Tables) -> list[Part]:
    """Potash [kg K/ha] of a sward to be sown and cut: in the seedbed no more than seedlings bear, the rest after the first cut."""
    share = tables.nutrients.potassium_in_a_seedbed_kg_per_ha.value / total
    if share >= 1.0:
        return [first]
    grown = calendar.anchor + timedelta(days=FIRST_CUT_AFTER)
    window = calendar.season.window("cut", 1, 11).later_than(max(calendar.today, grown))
    note = say("After the first cut: so much at once is hard on seedlings.")
    return [replace(first, share=share), Part(share=1.0 - share, window=window, pattern=place.later(), note=note)]


def _potash_with_nitrogen(calendar: Calendar, place: Placement, soil: Soil, tables: Tables) -> list[Part]:
    """Much potash on a standing crop in equal parts, on the days of its nitrogen; nothing where that goes on in one or two."""
    stages = nitrogen_parts(100.0, calendar.season, tables, is_light=soil.is_light, slow=False, brought_kg_per_ha=0.0).parts
    if len(stages) <= 2:
        return []
    step = ceil(len(stages) / tables.nutrients.potassium_parts_standing.value)
    days = [stage.window for stage in stages[::step]]
    now = calendar.late_but_useful(days[0], tables)
    days = [now, *days[: len(days) // 2]] if now else days
    note = say("In parts, with the nitrogen: so much at once scorches roots.")
    return [Part(share=1 / len(days), window=window, pattern=place.later(), note=note) for window in days]


def _nitrogen_parts(choice: Choice, calendar: Calendar, place: Placement, soil: Soil, tables: Tables) -> tuple[list[Part], float]:
    """The parts of a choice of nitrogen by the crop's stages, and the nitrogen [kg/ha] of stages that are past."""
    given = choice.supplies["N"]
    parted = nitrogen_parts(
        given,
        calendar.season,
        tables,
        is_light=soil.is_light,
        slow=choice.material.speed in SLOW,
        brought_kg_per_ha=max(0.0, choice.need.rate_kg_per_ha - given),
    )
    base = tables.timing.base
    parts = [
        Part(
            share=min(1.0, part.kg_per_ha / given),
            window=part.window,
            pattern=place.before(base) if part.at_sowing and not calendar.growing else place.later(),
            note=_stage_note(part),
            extra=(_stage_step(part, given, parted),),
        )
        for part in parted.parts
    ]
    return parts, parted.past_kg_per_ha


def _stage_note(part: StagePart) -> str:
    """The stage that a dressing falls on, and what the guide says of it."""
    every = (
        say(" Divide it into feeds every {every_days} days.", every_days=part.every_days) if part.every_days and part.every_days > 1 else ""
    )
    says = say(" {says}.", says=large(part.says)) if part.says else ""
    return say("Stage: {stage}.{says}{every}", stage=part.stage, says=says, every=every)


def _stage_step(part: StagePart, nitrogen: float, parted: Parted) -> Step:
    return Step(
        "this stage's part",
        "nitrogen of this bag × share of this stage",
        {"nitrogen of this bag": Figure(nitrogen, "kg/ha"), "share of this stage": Figure(part.kg_per_ha / nitrogen, "fraction")},
        Figure(part.kg_per_ha, "kg/ha"),
        parted.limits.source,
        parted.limits.where,
        note="the schedule's share, after the most at sowing, the most at once, and small parts joined",
    )


def retest_day(
    applications: list[Application], last_taken: date | None, soil: Soil, today: date, tables: Tables, *, on_grass: bool = False
) -> date:
    """When to test again: a year after lime or sulfur, else two years on light ground and three elsewhere; same season as last time.

    Source: retest-guide.
    In days.

    >>> from agronomy.intake.example import soil, tables
    >>> str(retest_day([], date(2027, 2, 20), soil(), date(2027, 3, 1), tables))
    '2030-02-20'
    """
    rule = tables.timing.retest
    acidity = [application for application in applications if application.what in ACIDITY]
    after = rule.months_after_ph_change_grass if on_grass else rule.months_after_ph_change
    months = after if acidity else rule.months_light if soil.is_light else rule.months_other
    due = add_months(last_taken or today, months)
    while due <= today:
        due = add_months(due, 12)
    return due


def years_old(readings: Iterable[Reading], today: date, tables: Tables) -> int | None:
    """How many years ago the newest reading of the ground was taken, where that is so long that another test comes first; else None.

    Source: retest-guide.

    >>> from agronomy.intake.example import found, tables
    >>> years_old(found().readings.values(), date(2036, 3, 1), tables)
    9
    """
    newest = max((reading.taken for reading in readings if reading.taken), default=None)
    if newest is None or add_months(newest, tables.timing.retest.months_test_first) > today:
        return None
    return (today - newest).days * 4 // 1461


def is_too_old(taken: date, today: date, tables: Tables) -> bool:
    """Whether a reading lies further back than the longest time between tests. Source: retest-guide.

    In days.

    >>> from agronomy.tables import load_tables
    >>> is_too_old(date(2026, 10, 3), date(2020, 1, 1), load_tables())
    False
    """
    return add_months(taken, tables.timing.retest.months_other) < today
