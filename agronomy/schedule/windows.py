"""When each dressing is meant to go on: by the crop's own stages and seasons, or counted back from planting; limits bend it later."""

from datetime import timedelta

from agronomy.base.required import required
from agronomy.base.said import Measure, joined, large, say
from agronomy.base.working import Figure, Step
from agronomy.dose.application import Application, dose
from agronomy.model.answers import ACIDITY, NeedKind, Unmet
from agronomy.model.request import Request
from agronomy.model.seasons import Window, add_months, next_season, season_windows
from agronomy.model.soil import Soil
from agronomy.products.choice import Choice
from agronomy.recommend.acidity.caps import ApplicationLimit
from agronomy.schedule.calendar import Calendar
from agronomy.schedule.lime_of_standing import lime_of_standing
from agronomy.schedule.nitrogen_parts import Parted, StagePart, nitrogen_parts
from agronomy.schedule.nutrient_parts import before_planting, nutrient_parts
from agronomy.schedule.part import Part
from agronomy.schedule.placement import Placement
from agronomy.tables import Tables
from agronomy.tables.rooms.documents import BeforePlanting

SLOW = frozenset({"months", "seasons", "years"})
LAST_LIME_BEFORE_PLANTING = 14  # days
SECOND_HALF_AFTER = 120  # days after the first, so that a test can tell (own-experience)


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
    elif what == "N" and choice.material.has_role("organic"):
        rule = tables.timing.bulk_organic
        parts = [Part(share=1.0, window=before_planting(rule, calendar, tables), pattern=place.before(rule))]
    elif what == "N":
        parts, past = _nitrogen_parts(choice, calendar, place, soil, tables)
        if past > tables.nutrients.smallest_worth_spreading_kg_per_ha.value:
            told = say(
                "{past:.0f} belonged to stages that are past. It isn't made up for: late nitrogen does little good.",
                past=Measure(past, "kg/ha"),
            )
            unmet.append(Unmet("N", past, told))
    else:
        parts = nutrient_parts(choice, calendar, place, soil, tables)
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
        return lime_of_standing(months, calendar, tables) if is_lime else (next_season(months, calendar.hemisphere, today), "")
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
            "Later than it should be: lime needs three months, so it will only partly have worked by planting."
        )
    if calendar.will_stand:
        return next_season(months, calendar.hemisphere, calendar.anchor + timedelta(days=21)), say(
            "Too late before this planting: onto the surface after it. Lime works slowly from there; planting a season later is surer."
        )
    return next_season(months, calendar.hemisphere, calendar.off_the_ground), say("Too late before this planting: after this crop.")


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
