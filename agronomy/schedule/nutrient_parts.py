"""Phosphate, potash and the rest before planting or on what stands; potash in parts where so much at once does harm."""

from dataclasses import replace
from datetime import timedelta
from math import ceil

from agronomy.base.said import say
from agronomy.model.seasons import Window, local_month, next_season
from agronomy.model.soil import Soil
from agronomy.products.choice import Choice
from agronomy.recommend.schools.by_ground import UNTESTED
from agronomy.schedule.calendar import Calendar
from agronomy.schedule.drip import dripped
from agronomy.schedule.nitrogen_parts import nitrogen_parts
from agronomy.schedule.part import Part
from agronomy.schedule.placement import Placement
from agronomy.tables import Tables
from agronomy.tables.rooms.documents import AfterPlanting, BeforePlanting

CUT = frozenset({"cut_grass", "legume_ley"})


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


def nutrient_parts(choice: Choice, calendar: Calendar, place: Placement, soil: Soil, tables: Tables) -> list[Part]:
    """The parts of a choice that is neither lime, sulfur nor nitrogen: shares of it, each with its window and how it goes on.

    Source: timing-guide.
    """
    timing, what, second = tables.timing, choice.need.what, tables.timing.potassium_second
    if place.plot.is_fed_by_drip and what in dripped(calendar):
        return drip_parts(choice, calendar, place, soil, tables)
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
        first = replace(first, window=_on_what_grows(choice, calendar, tables), pattern=place.later())
    if what == "K" and calendar.growth.life_form in CUT and calendar.stands:
        return _potash_by_the_cut(choice, calendar, place, tables)
    if what == "K" and calendar.stands and choice.supplies["K"] >= tables.nutrients.potassium_at_once_standing_kg_per_ha.value:
        return _potash_with_nitrogen(calendar, place, soil, tables) or [first]
    if what == "K" and calendar.growth.life_form in CUT and not calendar.growing:
        return _potash_of_a_new_sward(first, choice.supplies["K"], calendar, place, tables)
    group = tables.crops[calendar.growth.crop].group
    figures = tables.nutrients
    split = (figures.split_potassium_arable_from_kg_per_ha if group == "arable" else figures.split_potassium_from_kg_per_ha).value
    if (
        what != "K"
        or group == "roots"
        or not soil.is_light
        or choice.supplies["K"] < split
        or calendar.stands
        or calendar.growing
        or calendar.season.sown_before_winter
        or (calendar.off_the_ground - calendar.anchor).days < second.from_days_after + second.room_after_days
    ):
        return [first]
    later = Part(
        share=0.5,
        window=_after(second, calendar),
        pattern=place.later(),
        note=say("Halved, because light ground loses it; the crop needs it when flower and fruit come."),
    )
    return [replace(first, share=0.5), later]


def _on_what_grows(choice: Choice, calendar: Calendar, tables: Tables) -> Window:
    """Now; but nitrogen and sulfate on a winter crop wait for growth, or the rains take them."""
    now = Window(calendar.today, calendar.today + timedelta(days=14))
    washes = choice.need.what == "S" or choice.supplies.get("N", 0.0) >= tables.nutrients.smallest_worth_spreading_kg_per_ha.value
    if not washes or not calendar.season.sown_before_winter:
        return now
    wakes = calendar.season.window("growth", 0, 21)
    return wakes if now.start < wakes.start < calendar.off_the_ground else now


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
    grown = calendar.anchor + timedelta(days=tables.nutrients.first_cut_of_a_new_sward_days.value)
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


def drip_parts(choice: Choice, calendar: Calendar, place: Placement, soil: Soil, tables: Tables) -> list[Part]:
    """What goes through the drippers, from the first of the nitrogen's days on. Of what is still to be planted a share goes into the
    ground before. Source: fertigation-guide.
    """
    stages = nitrogen_parts(100.0, calendar.season, tables, is_light=soil.is_light, slow=False, brought_kg_per_ha=0.0).parts
    windows = [stage.window for stage in stages if calendar.stands or calendar.growing or not stage.at_sowing]
    base = Part(share=1.0, window=before_planting(tables.timing.base, calendar, tables), pattern=place.before(tables.timing.base))
    if not windows:
        return [base]
    fed = Part(share=1.0, window=windows[0], pattern=place.later())
    if calendar.stands or calendar.growing:
        return [fed]
    dug_in = tables.liquids.drip_dug_in_share.value
    return [replace(base, share=dug_in), replace(fed, share=1.0 - dug_in)]
