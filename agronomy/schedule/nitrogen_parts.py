"""Nitrogen in parts, by the stages of the crop: how much at each, and within which window.

The season's nitrogen is shared out by the crop's schedule; what goes on at sowing and what goes on at once are held to the crop's own
most, small parts join a neighbour, and a stage that is past is left out rather than made up for. Source: crop-calendars.
"""

from dataclasses import replace
from datetime import date, timedelta
from math import ceil, inf

from agronomy.base.record import record
from agronomy.model.seasons import Window, add_months, local_month
from agronomy.schedule.anchors import Season
from agronomy.tables import Tables
from agronomy.tables.rooms.growing import NitrogenLimits, NitrogenStage

AT_SOWING_UP_TO_DAY = 3
TOP_UP_TIMES = 1.25  # what is left of a season goes on at once up to so many times the crop's single dressing (own-experience)
A_FIRST_SEASON = timedelta(days=300)  # after planting what stands for years
MOST_SPELLS = 12  # of a stage that is fed every few days
A_LITTLE_OVER = 1.12  # a dressing is not parted for so little over the most at once (own-experience)
MOST_SLOW_KG_PER_HA = 100  # of nitrogen in one dressing of a meal, whatever the crop (own-experience)
LEAST_DAYS_LEFT = 4  # a window of fewer days is past


@record(kw_only=True)
class StagePart:
    """One dressing: its stage, kilograms of nitrogen to the hectare, its window, whether it goes on at sowing, a word from the guide."""

    stage: str
    kg_per_ha: float
    window: Window
    at_sowing: bool = False
    says: str = ""
    every_days: int | None = None

    def of(self, kg_per_ha: float) -> "StagePart":
        """The same part with another amount; most parts keep theirs."""
        return self if kg_per_ha == self.kg_per_ha else replace(self, kg_per_ha=kg_per_ha)

    def within(self, window: Window) -> "StagePart":
        """The same part in another window; most parts keep theirs."""
        return self if window is self.window else replace(self, window=window)


@record
class Parted:
    """The parts in order of date, the nitrogen [kg/ha] that stages now past would have had, and the row of limits."""

    parts: tuple[StagePart, ...]
    past_kg_per_ha: float
    limits: NitrogenLimits


def nitrogen_parts(
    nitrogen_kg_per_ha: float, season: Season, tables: Tables, *, is_light: bool, slow: bool = False, brought_kg_per_ha: float = 0.0
) -> Parted:
    """The parts of a season's nitrogen. `brought_kg_per_ha` comes along at sowing with other bags and is taken off what starts the crop.

    `slow`: a meal or coated feed that gives its nitrogen over months goes on in one or two parts, ahead of the first stage.

    Source: crop-calendars, n-splits.
    """
    limits = tables.growing.limits[season.growth.crop]
    stages = _just_missed_joins(_timed(tables.stages_of[limits.uses], season, is_light, limits), season, tables)
    known = _most(limits, season, is_light)
    single = limits.single_below_light if is_light else limits.single_below_other
    total = nitrogen_kg_per_ha + brought_kg_per_ha
    if total <= single or len(stages) == 1:
        stages = _single(stages, int(limits.single_order), season)
    parts = [
        StagePart(
            stage=row.stage,
            kg_per_ha=total * share,
            window=window,
            at_sowing=row.anchor in ("sow", "plant") and row.from_day <= AT_SOWING_UP_TO_DAY,
            says=row.says or "",
            every_days=int(row.every_days) if row.every_days else None,
        )
        for row, share, window in stages
    ]
    parts = _started(parts, known, brought_kg_per_ha)
    gone = [part for part in parts if _is_past(part.window, season)]
    coming = _join_small([part for part in parts if part not in gone], tables.nutrients.smallest_dressing_kg_n_per_ha.value)
    if gone and sum(part.kg_per_ha for part in coming) <= single * TOP_UP_TIMES:
        coming = [replace(coming[0], kg_per_ha=sum(part.kg_per_ha for part in coming))] if coming else []  # a top-up is one walk
    coming = [part.within(part.window.later_than(season.today)) for part in coming]
    coming = _slow(coming, season, limits, is_light) if slow else _capped(coming, limits, is_light)
    return Parted(tuple(coming), sum(part.kg_per_ha for part in gone), limits)


def most_at_once(season: Season, tables: Tables, *, is_light: bool) -> float:
    """The most nitrogen [kg/ha] that a bag of something else may bring in one dressing, at planting or onto what stands.
    Source: crop-calendars.

    >>> from agronomy.intake.example import found, tables
    >>> most_at_once(found().calendar.season, tables, is_light=False)
    100.0
    """
    limits = tables.growing.limits[season.growth.crop]
    if limits.n_unit != "kg/ha":
        return inf
    once = (limits.most_once_light if is_light else limits.most_once_other) or inf
    beside = once * tables.nutrients.share_beside_feeds.value
    if season.stands:
        return beside if _is_fed_often(season, tables) else once
    if season.sown is not None and season.sown < season.today:  # what grows is fed on the same days
        return beside
    at_start = _most(limits, season, is_light)
    return min(at_start, once * tables.nutrients.times_once_at_start.value) if _is_fed_often(season, tables) else at_start


def _is_fed_often(season: Season, tables: Tables) -> bool:
    """Whether a crop is fed every few days or weeks, so that the first feed falls together with what else goes on."""
    uses = tables.growing.limits[season.growth.crop].uses
    return any(row.every_days for row in tables.growing.stages if row.set == uses)


def _is_past(window: Window, season: Season) -> bool:
    return (window.end - season.today).days < LEAST_DAYS_LEFT


def _timed(
    rows: tuple[NitrogenStage, ...], season: Season, is_light: bool, limits: NitrogenLimits
) -> list[tuple[NitrogenStage, float, Window]]:
    """Stages that have a share, with their windows, in order of date; a spring crop that is sown in autumn wakes with the growth."""
    found: list[tuple[NitrogenStage, float, Window]] = []
    years_after: list[tuple[NitrogenStage, float, Window]] = []  # what is planted now is fed by them once it stands
    wakes: Window | None = None
    first_later: float | None = None
    for row in rows:
        share = row.share_light if is_light else row.share_other
        if share <= 0:
            continue
        window = season.window(row.anchor, int(row.from_day), int(row.to_day))
        if (
            season.growth.life_form == "annual"
            and season.sown_before_winter
            and row.anchor in ("sow", "plant")
            and row.from_day > AT_SOWING_UP_TO_DAY
        ):
            if wakes is None:
                wakes, first_later = season.window("growth", 0, 21), row.from_day
                window = wakes
            else:
                after = timedelta(days=row.from_day - (first_later or 0))
                window = Window(wakes.start + after, wakes.start + after + timedelta(days=row.to_day - row.from_day))
        elif season.sown is not None and window.start < season.sown - timedelta(days=14) and season.growth.life_form != "container":
            window = Window(season.sown, season.sown + timedelta(days=14))  # a stage from before it was there joins the start
        if season.sown is not None and season.growth.stands == "stands" and window.start > season.sown + A_FIRST_SEASON:
            years_after.append((row, share, window))
            continue
        if season.stands and _after_stop(window.start, limits, season.hemisphere):
            continue
        found.append((row, share, window))
    found = found or sorted(years_after, key=lambda item: item[2].start)[:1]
    whole = sum(share for _, share, _ in found) or 1.0
    return sorted(((row, share / whole, window) for row, share, window in found), key=lambda item: item[2].start)


def _just_missed_joins(
    stages: list[tuple[NitrogenStage, float, Window]], season: Season, tables: Tables
) -> list[tuple[NitrogenStage, float, Window]]:
    """A stage that what stands has only just missed goes on with the next one of this season, not a year later."""
    late = tables.timing.late
    if not season.stands:
        return stages
    soon = [item for item in stages if (item[2].start - season.today).days <= late.just_missed_days]
    missed = [
        item
        for item in stages
        if item not in soon and 0 <= (season.today - add_months(item[2].end, -12)).days <= late.just_missed_days and item[0].anchor != "cut"
    ]
    if not soon or not missed:
        return stages
    (row, share, window), *rest = soon
    joined = (row, share + sum(item[1] for item in missed), window)
    return [joined, *rest, *(item for item in stages if item not in soon and item not in missed)]


def _after_stop(day: date, limits: NitrogenLimits, hemisphere: str) -> bool:
    """Whether a day lies after the month and day from which what stands gets no more nitrogen."""
    if limits.stop_kind != "month":
        return False
    northern = local_month(day.month, hemisphere)
    return (northern, day.day) > (int(limits.stop_value), int(limits.stop_day or 31))


def _single(stages: list[tuple[NitrogenStage, float, Window]], order: int, season: Season) -> list[tuple[NitrogenStage, float, Window]]:
    """All in the one dressing that the guide names, or in the next that is still to come."""
    named = [item for item in stages if item[0].order == order] or stages[:1]
    if _is_past(named[0][2], season):
        named = [item for item in stages if item[0].order > order and not _is_past(item[2], season)][:1] or named
    return [(row, 1.0, window) for row, _, window in named[:1]]


def _most(limits: NitrogenLimits, season: Season, is_light: bool) -> float:
    """The most nitrogen at sowing or planting."""
    if season.sown_before_winter:
        return limits.most_autumn_light if is_light else limits.most_autumn_other
    return limits.most_at_start_light if is_light else limits.most_at_start_other


def _started(parts: list[StagePart], most: float, brought: float) -> list[StagePart]:
    """The parts with what goes on at sowing held to its most; the excess moves to the next, less what other bags bring at the start."""
    found: list[StagePart] = []
    over = 0.0
    for number, part in enumerate(parts):
        kg = part.kg_per_ha + over
        over = 0.0
        if part.at_sowing and number + 1 < len(parts) and kg > most:
            kg, over = most, kg - most
        found.append(part.of(kg))
    left = brought
    for number, part in enumerate(found):
        taken = min(part.kg_per_ha, left)
        found[number] = part.of(part.kg_per_ha - taken)
        left -= taken
    return [part for part in found if part.kg_per_ha > 0]


def _join_small(parts: list[StagePart], least: float) -> list[StagePart]:
    """Parts below the least worth a walk join the next, the last one the one before."""
    found: list[StagePart] = []
    carried = 0.0
    for number, part in enumerate(parts):
        kg = part.kg_per_ha + carried
        carried = 0.0
        if kg < least and part.every_days is None:
            if number + 1 < len(parts):
                carried = kg
                continue
            if found:
                found[-1] = found[-1].of(found[-1].kg_per_ha + kg)
                continue
        found.append(part.of(kg))
    return found


def _capped(parts: list[StagePart], limits: NitrogenLimits, is_light: bool) -> list[StagePart]:
    """No part over the crop's most at once: a larger one goes on in two or three, two weeks apart."""
    most = limits.most_once_light if is_light else limits.most_once_other
    found: list[StagePart] = []
    for part in parts:
        if part.every_days and most > 0:
            found += _in_feeds(part, most)
            continue
        count = 1 if part.at_sowing or most <= 0 else min(3, ceil(round(part.kg_per_ha / (most * A_LITTLE_OVER), 6)))
        for number in range(count):
            start = part.window.start + timedelta(days=14 * number)
            window = part.window if count == 1 else Window(start, max(start + timedelta(days=7), part.window.end))
            found.append(part.of(part.kg_per_ha / count).within(window))
    return found


def _in_feeds(part: StagePart, most: float) -> list[StagePart]:
    """A part that is fed again and again, as so many spells of its window that none is over the most at once."""
    count = max(1, min(MOST_SPELLS, ceil(round(part.kg_per_ha / most, 6))))
    days = max(1, part.window.days // count)
    starts = [part.window.start + timedelta(days=days * number) for number in range(count)]
    return [
        replace(part, kg_per_ha=part.kg_per_ha / count, window=Window(start, start + timedelta(days=max(0, days - 1)))) for start in starts
    ]


def _slow(parts: list[StagePart], season: Season, limits: NitrogenLimits, is_light: bool) -> list[StagePart]:
    """A slow feed ahead of the stages that it feeds: what starts an autumn crop, and the rest together; else all at the start."""
    if not parts:
        return parts
    ahead = timedelta(days=14)
    first, rest = parts[0], parts[1:]
    if rest and season.sown_before_winter and first.at_sowing:
        later = [replace(rest[0], kg_per_ha=sum(part.kg_per_ha for part in rest))]
        kept = [first, *later]
    else:
        ahead = timedelta() if season.sown_before_winter else ahead  # nothing feeds it before its growth starts
        window = Window(first.window.start - ahead, first.window.end - ahead).later_than(season.today)
        kept = [replace(first, kg_per_ha=sum(part.kg_per_ha for part in parts), window=window)]
    most = 2 * (limits.most_once_light if is_light else limits.most_once_other)  # slow feeds bear about twice as much at once
    found: list[StagePart] = []
    for part in kept:
        most_here = min(most or MOST_SLOW_KG_PER_HA, MOST_SLOW_KG_PER_HA)
        count = min(3, ceil(round(part.kg_per_ha / most_here, 6)))
        for number in range(count):
            shift = timedelta(days=35 * number)
            found.append(replace(part, kg_per_ha=part.kg_per_ha / count, window=Window(part.window.start + shift, part.window.end + shift)))
    return found
