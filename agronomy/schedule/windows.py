"""When each dressing is meant to go on, counted back from planting (or by season for what stands for years); limits bend it later."""

from dataclasses import dataclass, replace
from datetime import date, timedelta
from math import ceil

from agronomy.base.known import known
from agronomy.base.working import Figure, Step
from agronomy.dose.application import Application, dose
from agronomy.model.climate import Climate
from agronomy.model.seasons import Window, add_months, local_month, next_season, season_windows
from agronomy.model.soil import Soil
from agronomy.products.choice import Choice
from agronomy.recommend.acidity.caps import ApplicationLimit
from agronomy.schedule.frost import frost_free_from, is_tender
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.documents import AfterPlanting, BeforePlanting
from agronomy.tables.rooms.nitrogen import NitrogenCap, NitrogenSplit

GROWING_FOR_DAYS = 120  # an annual crop is taken to stand this long after planting
SLOW = frozenset({"months", "seasons", "years"})


@dataclass(frozen=True, slots=True, kw_only=True)
class Calendar:
    """What the dates hang on. `anchor` is the planting day reckoned with; `note` says so where it was not given."""

    today: date
    anchor: date
    hemisphere: str
    stands: bool  # perennial already in the ground: by season, not by planting
    growing: bool
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Part:
    """One dressing's share of a choice with its window."""

    share: float
    window: Window
    pattern: str
    note: str = ""
    later: bool = False
    extra: tuple[Step, ...] = ()


def calendar_for(
    crop: Crop, planting: date | None, today: date, hemisphere: str, tables: Tables, climate: Climate | None = None
) -> Calendar:
    """The Calendar for a crop; a missing or long past planting date is replaced by a usual one, and said.

    A tender crop's usual day waits for the last frost where the climate is known.
    """
    usual_month = local_month(int(crop.planting_month), hemisphere)
    if crop.is_perennial and (planting is None or planting < today):
        spring = next_season([3, 4], hemisphere, today)
        return Calendar(today=today, anchor=spring.start, hemisphere=hemisphere, stands=True, growing=True, note="")
    if planting is None:
        usual = date(today.year, usual_month, 15)
        anchor = usual if usual >= today else usual.replace(year=today.year + 1)
        if climate is not None and is_tender(crop, tables):
            anchor = frost_free_from(anchor, climate, tables)
        return Calendar(
            today=today,
            anchor=anchor,
            hemisphere=hemisphere,
            stands=False,
            growing=False,
            note="No planting date was given, so a usual one is reckoned with.",
        )
    if planting >= today:
        return Calendar(today=today, anchor=planting, hemisphere=hemisphere, stands=False, growing=False, note="")
    if (today - planting).days <= GROWING_FOR_DAYS:
        return Calendar(today=today, anchor=planting, hemisphere=hemisphere, stands=False, growing=True, note="")
    years = today.year - planting.year
    again = add_months(planting, 12 * years)
    anchor = again if again >= today else add_months(planting, 12 * (years + 1))
    return Calendar(
        today=today,
        anchor=anchor,
        hemisphere=hemisphere,
        stands=False,
        growing=False,
        note="The planting date has passed, so the same day next time is reckoned with.",
    )


def applications_for(
    choice: Choice,
    *,
    area_m2: float,
    system: str,
    calendar: Calendar,
    soil: Soil,
    crop: Crop,
    dressing: ApplicationLimit | None,
    tables: Tables,
) -> tuple[list[Application], float]:
    """The dressings of a choice, and the product [kg/ha] that has to wait for the test after them."""
    if choice.need.what in ("CaCO3", "S_acid"):
        parts, waiting = _acidity_parts(choice, calendar, soil, known(dressing), tables)
    else:
        parts, waiting = _nutrient_parts(choice, calendar, soil, crop, tables), 0.0
    depth_cm = dressing.treated_depth_cm if dressing else soil.depth_cm
    return [
        dose(
            choice,
            part.share,
            area_m2=area_m2,
            system=system,
            number=number,
            count=len(parts),
            later=part.later,
            start=part.window.start,
            end=part.window.end,
            placement=part.pattern,
            depth_cm=depth_cm,
            note=" ".join(filter(None, (part.note, calendar.note))),
            extra=part.extra,
        )
        for number, part in enumerate(parts, 1)
    ], waiting


def _pattern(rule: BeforePlanting | AfterPlanting, soil: Soil) -> str:
    return rule.placement_dug if soil.dug else rule.placement_undug


def _acidity_parts(choice: Choice, calendar: Calendar, soil: Soil, dressing: ApplicationLimit, tables: Tables) -> tuple[list[Part], float]:
    """At most two dressings, each within its cap; what is beyond waits for a test."""
    is_lime = choice.need.what == "CaCO3"
    rule = tables.timing.lime if is_lime else tables.timing.sulfur
    rate, cap = choice.rate_kg_per_ha, dressing.max_kg_per_ha
    first, note = _ahead(rule, calendar, is_lime)
    pattern = _pattern(rule, soil)
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
        little = "That is the most for one dressing; the little that is missing can wait for the test."
        return [Part(share=cap / rate, window=first, pattern=pattern, note=f"{note} {little}".strip(), extra=(step,))], 0.0
    second = next_season(rule.months, calendar.hemisphere, add_months(first.start, dressing.again_after_months))
    rest = min(rate - cap, cap)
    after = "The rest, once a new test shows that it is still wanted."
    parts = [
        Part(share=cap / rate, window=first, pattern=pattern, note=note, extra=(step,)),
        Part(share=rest / rate, window=second, pattern=pattern, note=after, later=True, extra=(step,)),
    ]
    return parts, max(0.0, rate - cap - rest)


def _ahead(rule: BeforePlanting, calendar: Calendar, is_lime: bool) -> tuple[Window, str]:
    """The window well before planting, or the best that is left, with a word on what that means."""
    today, anchor, months = calendar.today, calendar.anchor, rule.months
    if calendar.stands:
        return next_season(months, calendar.hemisphere, today), ""
    if calendar.growing:
        return next_season(
            months, calendar.hemisphere, max(today, anchor + timedelta(days=GROWING_FOR_DAYS))
        ), "After this crop is off the ground."
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
            else "It needs about half a year of warm ground: test before planting, and plant later if pH is still too high."
        )
        return window, late
    if anchor - timedelta(days=14) > today + timedelta(days=3):
        return Window(
            today, min(anchor - timedelta(days=14), today + timedelta(days=21))
        ), "Later than wished: lime wants three months, so it will only partly have worked by planting."
    return next_season(
        months, calendar.hemisphere, anchor + timedelta(days=GROWING_FOR_DAYS)
    ), "Too late before this planting: after this crop."


def before_planting(rule: BeforePlanting, calendar: Calendar) -> Window:
    """The window of a rule counted back from planting, or its season for what stands."""
    if calendar.stands:
        return next_season(rule.months, calendar.hemisphere, calendar.today)
    start = calendar.anchor - timedelta(days=rule.earliest_days_before)
    return Window(start, calendar.anchor - timedelta(days=rule.latest_days_before)).later_than(calendar.today)


def _after(rule: AfterPlanting, calendar: Calendar, count: int) -> list[Window]:
    """The windows of `count` later dressings in order, spread evenly over the rule's weeks or months."""
    if calendar.stands:
        season = next_season(rule.months, calendar.hemisphere, calendar.today)
        step = season.days // count
        starts = [season.start + timedelta(days=step * number + 21 * (number == 0 and step > 35)) for number in range(count)]
        return [Window(start, min(start + timedelta(days=14), season.end)).later_than(calendar.today) for start in starts]
    first, last = rule.from_days_after, rule.to_days_after
    windows: list[Window] = []
    sleeps = False
    for number in range(count):
        start = calendar.anchor + timedelta(days=first + (last - first) * number // count)
        if local_month(start.month, calendar.hemisphere) in rule.asleep:  # sown in autumn: the rest waits for spring
            start, sleeps = next_season(rule.wakes, calendar.hemisphere, start).start, True
        if sleeps and windows:
            start = max(start, windows[-1].start + timedelta(days=rule.apart_days))
        windows.append(Window(start, start + timedelta(days=10)).later_than(calendar.today))
    return windows


def _nutrient_parts(choice: Choice, calendar: Calendar, soil: Soil, crop: Crop, tables: Tables) -> list[Part]:
    timing, what = tables.timing, choice.need.what
    if what == "N":
        split = _slow_nitrogen_parts if choice.material.speed in SLOW else _nitrogen_parts
        return split(choice, calendar, soil, crop, tables)
    base = timing.base
    first = Part(share=1.0, window=before_planting(base, calendar), pattern=_pattern(base, soil))
    if what != "K" or not soil.is_light or choice.supplies["K"] < tables.nutrients.split_potassium_from_kg_per_ha.value:
        return [first]
    second = timing.potassium_second
    later = Part(
        share=0.5,
        window=_after(second, calendar, 1)[0],
        pattern=_pattern(second, soil),
        note="Halved, because light ground loses it; the crop wants it when flower and fruit come.",
    )
    return [replace(first, share=0.5), later]


def _slow_nitrogen_parts(choice: Choice, calendar: Calendar, soil: Soil, crop: Crop, tables: Tables) -> list[Part]:
    """At once, unless the crop bears only so much of a slow source in one dressing."""
    base, later = tables.timing.base, tables.timing.nitrogen_later
    row, nitrogen = tables.nitrogen.dressing_caps.get(crop.key), choice.supplies["N"]
    first = Part(share=1.0, window=before_planting(base, calendar), pattern=_pattern(base, soil))
    if row is None or nitrogen <= row.slow_kg_per_ha:
        return [first]
    rest = ceil(nitrogen / row.slow_kg_per_ha) - 1
    share = 1 / (rest + 1)
    note = f"In {rest + 1} dressings: {crop.name} bears no more of a slow feed at once."
    step = _split_step(row, {"crop": Figure(crop.name)}, row.slow_kg_per_ha, rest + 1)
    later_ones = [
        Part(share=share, window=window, pattern=_pattern(later, soil), note=note, extra=(step,))
        for window in _after(later, calendar, rest)
    ]
    return [replace(first, share=share, note=note, extra=(step,)), *later_ones]


def _nitrogen_parts(choice: Choice, calendar: Calendar, soil: Soil, crop: Crop, tables: Tables) -> list[Part]:
    row, cap = tables.nitrogen.splits[soil.texture], tables.nitrogen.dressing_caps.get(crop.key)
    nitrogen = choice.supplies["N"]
    base, later = tables.timing.nitrogen_base, tables.timing.nitrogen_later
    first = Part(share=1.0, window=before_planting(base, calendar), pattern=_pattern(base, soil))
    if nitrogen <= tables.nutrients.one_dressing_up_to_kg_n_per_ha.value:
        return [first]
    most = row.max_kg_per_ha if cap is None else min(row.max_kg_per_ha, cap.soluble_kg_per_ha)
    share = min(row.before_planting_share, most / nitrogen)
    rest = max(int(row.dressings) - 1, ceil(round(nitrogen * (1 - share) / most, 6)), 1)
    step = _split_step(
        row if cap is None else cap, {"texture": Figure(soil.texture), "share at planting": Figure(share, "fraction")}, most, rest + 1
    )
    note = (
        f"In {rest + 1} dressings, because {soil.texture} doesn't hold nitrogen long."
        if soil.is_light
        else f"In {rest + 1} dressings, so that less is lost."
    )
    parts = [replace(first, share=share, note=note, extra=(step,))]
    parts += [
        Part(share=(1 - share) / rest, window=window, pattern=_pattern(later, soil), note=note, extra=(step,))
        for window in _after(later, calendar, rest)
    ]
    return parts


def _split_step(row: NitrogenSplit | NitrogenCap, inputs: dict[str, Figure], most: float, dressings: int) -> Step:
    return Step(
        "split into dressings",
        "share at planting; the rest in equal dressings, none above the most for one",
        inputs | {"most in one dressing": Figure(most, "kg/ha")},
        Figure(float(dressings), "dressings"),
        row.source,
        row.where,
    )


def retest_day(applications: list[Application], last_taken: date | None, soil: Soil, today: date, tables: Tables) -> date:
    """When to test again: a year after lime or sulfur, else two years on light ground and three elsewhere; same season as last time."""
    rule = tables.timing.retest
    acidity = [application for application in applications if application.what in ("CaCO3", "S_acid")]
    months = rule.months_after_ph_change if acidity else rule.months_light if soil.is_light else rule.months_other
    due = add_months(last_taken or today, months)
    while due <= today:
        due = add_months(due, 12)
    return due


def is_too_old(taken: date, today: date, tables: Tables) -> bool:
    """Whether a reading lies further back than the longest time between tests. Source: retest-guide.

    >>> from agronomy.tables import load_tables
    >>> is_too_old(date(2026, 10, 3), date(2020, 1, 1), load_tables())
    False
    """
    return add_months(taken, tables.timing.retest.months_other) < today
