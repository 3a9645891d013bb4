"""Windows bent until every limit is kept, whatever is dated and whatever holds it off."""

from dataclasses import replace
from datetime import date, timedelta
from itertools import combinations, pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from agronomy.base.errors import RequestError
from agronomy.intake.request import read_request
from agronomy.model.application_record import ApplicationRecord
from agronomy.model.climate import climate_of, evaporation_mm, soaked_months, soil_warmth
from agronomy.model.closed_season import ClosedSeason
from agronomy.model.labour import Away, LabourCalendar, labour_calendar_of
from agronomy.model.seasons import add_months
from agronomy.model.soil import Soil
from agronomy.plan.assess import assess
from agronomy.plan.plan import make_plan
from agronomy.products.compatibility import parting
from agronomy.schedule.arrange import arrange
from agronomy.schedule.frost import frost_free_from, frost_risk
from agronomy.schedule.gates import work_of
from agronomy.schedule.intervals import Put, breaches, leaf_feeds, too_soon
from agronomy.schedule.limits import Limits
from agronomy.schedule.loads import load_of
from tests.helpers.requests import ACID, TABLES, document, reading

WEEK = timedelta(days=7)
PLAN = make_plan(read_request(document(*ACID, crop="dahlia", planting="2027-04-01"), TABLES), TABLES)
ITEM = replace(PLAN.applications[0], placement_pattern="spread on the surface")
MATERIALS = {
    "calcitic_limestone_ground": "CaCO3",
    "hydrated_lime": "CaCO3",
    "urea": "N",
    "ammonium_sulfate": "N",
    "calcium_nitrate": "N",
    "cattle_manure": "N",
    "triple_superphosphate": "P",
    "potassium_sulfate": "K",
    "borax": "B",
}
DAYS = st.dates(date(2027, 1, 1), date(2028, 12, 1))
WHEN = st.tuples(st.sampled_from(sorted(MATERIALS)), DAYS, st.integers(6, 60))
SEASONS = st.builds(
    lambda begins, ends, what: ClosedSeason("closed by rule", frozenset(what), (begins, 1), (ends, 15)),
    st.integers(1, 12),
    st.integers(1, 12),
    st.sets(st.sampled_from(sorted(MATERIALS)), min_size=1, max_size=3),
)
HANDS = st.builds(
    lambda days, begins, length: LabourCalendar(frozenset(days), (Away(begins, begins + timedelta(days=length)),)),
    st.sets(st.integers(0, 6), min_size=1),
    DAYS,
    st.integers(0, 30),
)


def make_soil(texture: str) -> Soil:
    return assess(read_request(document(*ACID, crop="dahlia", texture=texture), TABLES), TABLES).soil


LOAM = make_soil("loam")
LIMITS = st.builds(
    Limits,
    soil=st.just(LOAM),
    group=st.sampled_from(["vegetables", "trees", "cut flowers"]),
    climate=st.sampled_from([None, *(climate_of(key, TABLES) for key in sorted(TABLES.climate.climates))]),
    hands=HANDS,
    closed=st.lists(SEASONS, max_size=2).map(tuple),
    harvest=st.none() | DAYS,
    done=st.lists(
        st.builds(lambda key, on: ApplicationRecord(TABLES.materials[key], 100.0, on), st.sampled_from(sorted(MATERIALS)), DAYS), max_size=2
    ).map(tuple),
)


def item(material: str, from_: date, days: int, dressing: int = 1):
    name = TABLES.materials[material].name
    return replace(
        ITEM, material=material, name=name, what=MATERIALS[material], from_=from_, to=from_ + timedelta(days=days), dressing=dressing
    )


@settings(max_examples=150, deadline=None)
@given(st.lists(WHEN, min_size=1, max_size=6, unique_by=lambda row: row[0]), LIMITS)
def test_every_limit_is_kept_and_nothing_is_lost(rows, limits):
    asked = [item(*row) for row in rows]
    made, conflicts = arrange(asked, limits, TABLES)
    missed = {conflict.name for conflict in conflicts if conflict.instead is None}
    assert sorted((one.material, one.total_kg) for one in made) == sorted((one.material, one.total_kg) for one in asked)
    assert [one.from_ for one in made] == sorted(one.from_ for one in made)
    meant = {one.material: one for one in asked}
    for one in made:
        assert meant[one.material].from_ <= one.from_ <= one.to
        if one.name in missed:
            continue  # no day serves: it stays where it was meant, and that is told
        material = TABLES.materials[one.material]
        assert limits.hands.free(one.from_)
        for day in (one.from_, one.to):
            assert not breaches(material, day, TABLES, harvest=limits.harvest, group=limits.group, closed=limits.closed)
        if limits.climate:
            wanted = TABLES.climate.gates[work_of(material, one.what, TABLES)].soil_above_c
            assert soil_warmth(one.from_, limits.climate, TABLES) >= (wanted if wanted is not None else 0.5)
            soaked = soaked_months(limits.climate, TABLES.climate.soaked_mm.value)
            assert one.from_.month not in soaked
        moved_away = one.from_ > meant[one.material].to
        assert moved_away == any(conflict.name == one.name for conflict in conflicts)
    lain = [(one.material.key, one.on, one.on) for one in limits.done]
    windows = [(one.material, one.from_, one.to) for one in made if one.name not in missed]
    for (key, from_, to), (other, begins, ends) in [*combinations(windows, 2), *((window, deed) for window in windows for deed in lain)]:
        found = parting(TABLES.materials[key], TABLES.materials[other], TABLES)
        if found:
            assert begins - to >= timedelta(days=found.days) or from_ - ends >= timedelta(days=found.days)


@settings(max_examples=60, deadline=None)
@given(st.lists(WHEN, min_size=1, max_size=5, unique_by=lambda row: row[0]))
def test_without_limits_only_what_undoes_each_other_moves_and_a_week_later_all_is_a_week_later(rows):
    limits = Limits(soil=LOAM)
    made, _ = arrange([item(*row) for row in rows], limits, TABLES)
    later, _ = arrange([item(key, day + WEEK, days) for key, day, days in rows], limits, TABLES)
    assert [(one.material, one.from_ + WEEK, one.to + WEEK) for one in made] == [(one.material, one.from_, one.to) for one in later]
    alone = [
        key
        for key, _, _ in rows
        if not any(parting(TABLES.materials[key], TABLES.materials[other], TABLES) for other, _, _ in rows if other != key)
    ]
    for one in made:
        if one.material in alone:
            assert one.timing_note == ITEM.timing_note


def test_lime_that_can_be_sooner_gives_way_and_else_the_nitrogen_waits():
    lime, urea = ("calcitic_limestone_ground", date(2027, 3, 1), 40), ("urea", date(2027, 4, 1), 7)
    made, conflicts = arrange([item(*urea), item(*lime)], Limits(soil=LOAM), TABLES)
    assert [(one.what, one.from_, one.to) for one in made] == [
        ("CaCO3", date(2027, 3, 1), date(2027, 3, 22)),
        ("N", date(2027, 4, 1), date(2027, 4, 8)),
    ]
    assert "By 22 Mar, so that urea" in made[0].timing_note
    assert not conflicts
    made, conflicts = arrange([item(*urea), item("calcitic_limestone_ground", date(2027, 3, 30), 10)], Limits(soil=LOAM), TABLES)
    assert made[1].from_ == date(2027, 4, 16)
    assert "10 days after" in conflicts[0].says
    assert "about 16 Apr 2027" in conflicts[0].says


def test_lime_that_is_worked_in_parts_from_nitrogen_by_three_days_alone():
    lime = replace(item("calcitic_limestone_ground", date(2027, 3, 30), 10), placement_pattern="worked in to {depth}")
    made, conflicts = arrange([item("urea", date(2027, 4, 1), 14), lime], Limits(soil=LOAM), TABLES)
    assert [(one.what, one.from_) for one in made] == [("CaCO3", date(2027, 3, 30)), ("N", date(2027, 4, 12))]
    assert not conflicts


def test_what_the_log_says_lies_on_the_ground_keeps_its_distance_too():
    done = (ApplicationRecord(TABLES.materials["hydrated_lime"], 900.0, date(2027, 3, 25)),)
    made, _ = arrange([item("ammonium_sulfate", date(2027, 4, 1), 7)], Limits(soil=LOAM, done=done), TABLES)
    assert made[0].from_ == date(2027, 4, 22)  # four weeks after slaked lime


def test_no_day_at_all_is_told_and_the_job_stays_where_it_was_meant():
    always = ClosedSeason("the whole year", frozenset({"urea"}), (1, 1), (12, 31))
    made, conflicts = arrange([item("urea", date(2027, 4, 1), 7)], Limits(soil=LOAM, closed=(always,)), TABLES)
    assert made[0].from_ == date(2027, 4, 1)
    assert "no suitable day comes within a year" in conflicts[0].says


@pytest.mark.parametrize(
    ("texture", "climate", "expected"),
    [
        ("clay", "alder_coast", {1, 11, 12}),
        ("loam", "alder_coast", set()),
        ("loam", "monsoon_terrace", {7, 8}),
        ("sand", "monsoon_terrace", {7}),
        ("clay", "steppe_mark", set()),
    ],
)
def test_heavy_ground_is_soaked_sooner(texture, climate, expected):
    soil = make_soil(texture)
    key = "soaked_heavy_mm" if soil.is_heavy else "soaked_light_mm" if soil.is_light else "soaked_mm"
    assert soaked_months(climate_of(climate, TABLES), getattr(TABLES.climate, key).value) == expected
    if 11 in expected:
        made, _ = arrange(
            [item("calcitic_limestone_ground", date(2026, 11, 3), 20)], Limits(soil=soil, climate=climate_of(climate, TABLES)), TABLES
        )
        assert made[0].from_ == date(2027, 2, 1)
        assert "stands soaked" in made[0].timing_note


@given(st.lists(st.floats(-20, 32), min_size=12, max_size=12))
def test_evaporation_is_nothing_in_frost_and_no_less_in_a_warmer_month(warmth):
    found = evaporation_mm(tuple(warmth))
    for (first, second), (less, more) in zip(combinations(warmth, 2), combinations(found, 2), strict=True):
        assert (first > second) <= (less >= more)
    assert all(mm == 0 for mm, mean in zip(found, warmth, strict=True) if mean <= 0)


@pytest.mark.parametrize(
    ("more", "says"),
    [
        ({"hands": {"weekdays": ["someday"]}}, "no day of the week"),
        ({"hands": {"away": [{"begins": "2027-05-01", "ends": "2027-04-01"}]}}, "ends before it begins"),
        ({"closed": [{"name": "winter", "materials": ["urea"], "begins": "13-40", "ends": "01-31"}]}, "no day of the year"),
        ({"closed": [{"name": "winter", "materials": ["moon dust"], "begins": "10-15", "ends": "01-31"}]}, "not in our list of products"),
    ],
)
def test_limits_that_cannot_be_are_refused(more, says):
    with pytest.raises(RequestError, match=says):
        read_request(document(*ACID) | more, TABLES)
    assert labour_calendar_of(["Monday", "friday"], []).weekdays == {0, 4}


def test_a_request_carries_its_limits_into_the_plan():
    limits = {"hands": {"weekdays": ["saturday"]}, "closed": [{"name": "spring", "materials": [], "begins": "03-01", "ends": "03-10"}]}
    made = make_plan(read_request(document(*ACID, crop="dahlia", planting="2027-04-01") | limits, TABLES), TABLES)
    assert all(one.from_.weekday() == 5 for one in made.applications)


def test_a_lawn_bears_only_so_much_nitrogen_in_one_dressing():
    doc = document(reading("pH", 6.4, method="water 1:1"), crop="lawn", planting=None, texture="clay", kind="lawn") | {
        "materials": ["ammonium_sulfate"]
    }
    made = make_plan(read_request(doc, TABLES), TABLES)
    dressings = [one for one in made.applications if one.what == "N"]
    assert len(dressings) >= 2
    assert all(one.supplies["N"] <= 50 + 1e-9 for one in dressings)
    slow = make_plan(read_request(doc | {"materials": ["feather_meal"]}, TABLES), TABLES)
    assert all(one.supplies["N"] <= 75 + 1e-9 for one in slow.applications if one.what == "N")


def test_leaf_feeds_keep_their_distance_and_so_does_what_was_put_on_lately():
    first = date(2027, 6, 1)
    days = [begins for begins, _ in leaf_feeds(first, 3, TABLES)]
    spray, urea, lime = (TABLES.materials[key] for key in ("manganese_sulfate", "urea", "hydrated_lime"))
    for before, after in pairwise(days):
        assert not too_soon(spray, "leaf", after, [Put(spray, before, "leaf")], TABLES)
        found = too_soon(spray, "leaf", after - timedelta(days=1), [Put(spray, before, "leaf")], TABLES)
        assert found[0].first_day == after
        assert not too_soon(spray, "", after - timedelta(days=1), [Put(spray, before, "leaf")], TABLES)
    found = too_soon(urea, "", first, [Put(lime, first - timedelta(days=9)), Put(urea, first)], TABLES)
    assert [(item.what, item.first_day) for item in found] == [("28 days apart", first + timedelta(days=19))]
    assert not too_soon(urea, "", first, [Put(lime, first + timedelta(days=1))], TABLES)


@given(st.sampled_from(sorted(TABLES.climate.climates)), DAYS)
def test_tender_crops_stand_between_the_frosts_in_either_hemisphere(key, day):
    climate = climate_of(key, TABLES)
    free = frost_free_from(day, climate, TABLES)
    assert day <= free <= day + timedelta(days=366)
    assert frost_free_from(free, climate, TABLES) == free
    if climate.last_frost is None:
        assert free == day
        return
    spare = timedelta(days=7)
    opened = max(
        climate.last_frost_in(year) + spare for year in range(free.year - 1, free.year + 1) if climate.last_frost_in(year) + spare <= free
    )
    closes = min(climate.first_frost_in(year) for year in range(opened.year, opened.year + 2) if climate.first_frost_in(year) > opened)
    assert opened <= free < closes
    said = frost_risk(TABLES.crops["dahlia"], day, climate, TABLES)
    assert bool(said) == (free > day)
    assert not frost_risk(TABLES.crops["tulip"], day, climate, TABLES)


def test_a_planting_before_the_frost_is_told_and_a_usual_day_waits_for_it():
    doc = document(*ACID, crop="dahlia", planting="2027-04-20") | {"climate": {"key": "larch_heights"}}
    assert any("Frost kills dahlia" in note for note in make_plan(read_request(doc, TABLES), TABLES).notes)
    usual = make_plan(read_request(document(*ACID, crop="dahlia", planting=None) | {"climate": {"key": "larch_heights"}}, TABLES), TABLES)
    first = min(one.from_ for one in usual.applications if one.what == "N")
    assert first >= date(2027, 5, 28)


@settings(max_examples=25, deadline=None)
@given(
    st.sampled_from(["beech_plain", "thornmere_vale", "steppe_mark"]),
    st.integers(1, 12),
    st.sampled_from(["dahlia", "potato", "winter_wheat", "apple", "pasture"]),
)
def test_the_south_is_dated_as_the_north_half_a_year_on(key, month, crop):
    north = climate_of(key, TABLES)
    mirrored = {
        "name": "mirror",
        "warmth_c": [*north.warmth_c[6:], *north.warmth_c[:6]],
        "rain_mm": [*north.rain_mm[6:], *north.rain_mm[:6]],
    }
    mirrored |= {name: add_months(getattr(north, name)(2027), 6).isoformat() for name in ("last_frost_in", "first_frost_in")}
    mirrored = {key.removesuffix("_in"): value for key, value in mirrored.items()}
    planting = date(2027, month, 10)
    plans = []
    for hemisphere, climate, on in (("north", {"key": key}, planting), ("south", mirrored, add_months(planting, 6))):
        today = add_months(on, -5)
        readings = [one | {"taken": today.isoformat()} for one in ACID]
        doc = document(*readings, crop=crop, planting=on.isoformat(), hemisphere=hemisphere) | {
            "today": today.isoformat(),
            "climate": climate,
        }
        plans.append(make_plan(read_request(doc, TABLES), TABLES))
    ours, theirs = (sorted((one.what, one.dressing, one.from_) for one in made.applications) for made in plans)
    assert [(what, number) for what, number, _ in ours] == [(what, number) for what, number, _ in theirs]
    sleep = date(2027, TABLES.timing.potassium_second.asleep[0], 1)
    for (what, _, here), (_, _, there) in zip(ours, theirs, strict=True):
        # months are not of one length, and warm days are found by the day of the year;
        # a day at the edge of winter may fall on either side of it
        falls_asleep = what == "N" and abs((here.replace(year=2027) - sleep).days) <= 8
        assert abs((add_months(here, 6) - there).days) <= 8 or falls_asleep


def test_manure_by_the_load_settles_before_planting_and_pigs_never_feed_a_food_bed():
    asked = document(reading("pH", 6.5, method="water 1:1"), crop="cabbage", planting="2027-05-12", texture="loam")
    manure = TABLES.materials["cattle_manure"]

    def load(**more):
        request = read_request(asked | more, TABLES)
        return load_of(manure, 30, request, assess(request, TABLES).soil, TABLES)

    assert [(made.from_, made.to, made.total_kg) for made, _ in [load()]] == [(date(2027, 3, 31), date(2027, 4, 28), pytest.approx(54.0))]
    limed, _ = load(done=[{"material": "hydrated_lime", "amount": "5 kg", "on": "2027-03-20"}], today="2027-03-21")
    assert limed.from_ == date(2027, 4, 17)  # four weeks after slaked lime
    early = asked["crop"] | {"harvest": "2027-07-20"}
    _, said = load(crop=early)
    assert "raw manure before harvest" in said
    pig, day = TABLES.materials["pig_manure"], date(2027, 1, 10)
    assert [found.first_day for found in breaches(pig, day, TABLES, group="vegetables")] == [None]
    assert not breaches(pig, day, TABLES, group="trees")
    made, conflicts = arrange([replace(ITEM, material="pig_manure", name=pig.name, what="N")], Limits(soil=LOAM, group="roots"), TABLES)
    assert made[0].from_ == ITEM.from_
    assert "never raw" in conflicts[0].says


@given(st.sampled_from(sorted(TABLES.climate.climates)), DAYS)
def test_what_must_harden_gets_no_nitrogen_before_frost(key, day):
    climate = climate_of(key, TABLES)
    limits = Limits(soil=LOAM, climate=climate, hardens=True)
    made, _ = arrange([item("calcium_nitrate", day, 14)], limits, TABLES)
    grass, _ = arrange([item("calcium_nitrate", day, 14)], replace(limits, hardens=False), TABLES)
    assert made[0].from_ >= grass[0].from_
    if climate.first_frost is None:
        assert made[0].from_ == grass[0].from_
        return
    start = made[0].from_
    frost = min(climate.first_frost_in(year) for year in range(start.year, start.year + 2) if climate.first_frost_in(year) >= start)
    last = max(climate.last_frost_in(year) for year in range(start.year - 1, start.year + 2) if climate.last_frost_in(year) < frost)
    assert start <= frost - timedelta(weeks=10)
    assert start >= last - timedelta(weeks=5) or start <= frost - timedelta(weeks=10)
