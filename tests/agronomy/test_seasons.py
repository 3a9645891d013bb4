"""Climate, soil warmth, the weather's gates, windows that bend, and what was done since a test."""

from dataclasses import replace
from datetime import date, timedelta
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from agronomy.apply.bale import start_bales
from agronomy.base.errors import RequestError, RuleError
from agronomy.intake.request import read_request
from agronomy.ledger.totals import LoggedApplication, totals
from agronomy.model.climate import air_warmth, climate_of, first_warm_day, own_climate, soil_warmth, soil_wave, yearly_wave
from agronomy.model.closed_season import ClosedSeason
from agronomy.model.labour import Away, LabourCalendar
from agronomy.plan.plan import make_plan
from agronomy.recommend.nutrients.carried import carried_nitrogen
from agronomy.schedule.calendar import calendar_of
from agronomy.schedule.gates import Weather, gate, good_days, work_of
from agronomy.schedule.intervals import breaches, next_leaf_feed, stock_off_until
from agronomy.schedule.lime_of_standing import lime_of_standing
from agronomy.schedule.programme import dated, document_of, programme_of, programmes
from standins.weather import PretendedForecast
from tests.helpers.cases import cases
from tests.helpers.requests import ACID, TABLES, document, reading

NORMALS = (0, 1.5, 5, 9.5, 14, 17.5, 19.5, 19, 15.5, 10.5, 5, 1.5)
RULES = {
    "wave": lambda day, depth_m, mean, swing, coldest: soil_wave(day, depth_m, mean, swing, coldest),
    "swing": lambda: yearly_wave(NORMALS)[1],
    "coldest": lambda: yearly_wave(NORMALS)[2],
}
CLIMATES = st.sampled_from(sorted(TABLES.climate.climates))
DAYS = st.dates(date(2026, 1, 1), date(2029, 12, 31))


@pytest.mark.parametrize("case", cases("climate"))
def test_published(case):
    assert RULES[case["what"]](**case["given"]) == pytest.approx(case["expect"], rel=case["tolerance"]), case["whose"]


@given(CLIMATES, DAYS)
def test_north_and_south_mirror_and_depth_damps(key, day):
    climate = climate_of(key, TABLES)
    mirrored = replace(climate, warmth_c=climate.warmth_c[6:] + climate.warmth_c[:6])
    half_a_year_on = day + timedelta(days=183)
    assert soil_warmth(day, climate, TABLES) == pytest.approx(soil_warmth(half_a_year_on, mirrored, TABLES), abs=0.6)
    year = [soil_warmth(date(2026, 1, 1) + timedelta(days=step), climate, TABLES) for step in range(0, 365, 7)]
    deep = [soil_warmth(date(2026, 1, 1) + timedelta(days=step), climate, TABLES, depth_m=0.5) for step in range(0, 365, 7)]
    assert max(deep) - min(deep) <= max(year) - min(year) + 1e-9


@given(CLIMATES, DAYS, st.floats(-5, 25))
def test_the_first_warm_day_is_warm_and_the_day_before_is_not(key, day, above):
    climate = climate_of(key, TABLES)
    found = first_warm_day(day, above, climate, TABLES)
    if found is None:
        assert all(soil_warmth(day + timedelta(days=step), climate, TABLES) < above for step in range(0, 366, 5))
    else:
        assert soil_warmth(found, climate, TABLES) >= above
        assert found == day or soil_warmth(found - timedelta(days=1), climate, TABLES) < above


def plan_in(climate: str | None, planting: str = "2027-04-01", crop: str = "dahlia", today: str = "2026-10-05", **plot):
    asked = document(*ACID, crop=crop, planting=planting, **plot) | {"today": today}
    return make_plan(read_request(asked | ({"climate": {"key": climate}} if climate else {}), TABLES), TABLES)


@settings(max_examples=30, deadline=None)
@given(
    CLIMATES,
    st.dates(date(2027, 1, 15), date(2027, 9, 30)),
    st.sampled_from(["dahlia", "potato", "winter_wheat", "pasture", "apple", "tea"]),
)
def test_nothing_is_dated_to_sleeping_ground(key, planting, crop):
    hemisphere = TABLES.climate.climates[key].hemisphere
    made = plan_in(key, planting.isoformat(), crop, hemisphere=hemisphere)
    climate = climate_of(key, TABLES)
    for item in made.applications:
        wanted = TABLES.climate.gates[work_of(TABLES.materials[item.material], item.what, TABLES)].soil_above_c
        least = wanted if wanted is not None else 0.5
        ever = max(
            soil_warmth(date(2027, 1, 1) + timedelta(days=step), climate, TABLES, grass=TABLES.crops[crop].is_grass)
            for step in range(0, 365, 3)
        )
        if ever > least:
            assert soil_warmth(item.from_, climate, TABLES, grass=TABLES.crops[crop].is_grass) >= least - 1e-9
        assert item.from_ <= item.to
    for series in {(item.material, item.what) for item in made.applications}:
        days = [item.from_ for item in sorted(made.applications, key=lambda item: item.dressing) if (item.material, item.what) == series]
        assert all(later - before >= timedelta(days=7) for before, later in pairwise(days))


def test_cold_ground_moves_a_date_and_says_so_with_a_way_out():
    mild, cold = plan_in("olive_shore"), plan_in("larch_heights")
    first, later = (min(item.from_ for item in made.applications if item.what == "N") for made in (mild, cold))
    assert later > first
    assert any("the nearest suitable day is about" in note for note in cold.notes)
    assert any("usually below" in item.timing_note for item in cold.applications)
    assert [item.from_ for item in plan_in(None).applications] == [item.from_ for item in plan_in("monsoon_terrace").applications]


def test_moving_the_planting_by_a_week_moves_what_hangs_on_it():
    first, second = (plan_in("olive_shore", planting) for planting in ("2027-05-12", "2027-05-19"))
    for before, after in zip(first.applications, second.applications, strict=True):
        assert after.from_ - before.from_ in (timedelta(0), timedelta(days=7))
        if before.what in ("N", "K"):
            assert after.to - before.to == timedelta(days=7)


@pytest.mark.parametrize(
    ("climate", "says"),
    [
        ({"key": "atlantis"}, "not in our list of climates"),
        ({"warmth_c": [1, 2]}, "twelve figures"),
        ({"warmth_c": [99] * 12, "rain_mm": [10] * 12}, "outside -60 to 50"),
    ],
)
def test_a_climate_that_cannot_be_is_refused(climate, says):
    with pytest.raises(RequestError, match=says):
        read_request(document(*ACID) | {"climate": climate}, TABLES)
    assert own_climate("mine", [10] * 12, [50] * 12, date(2027, 4, 20), None).last_frost_in(2028) == date(2028, 4, 20)


CALM = Weather(day=date(2027, 4, 10), low_c=6, high_c=14, rain_mm=0, wind_m_s=2, humidity=70, soil_c=12)


@pytest.mark.parametrize(
    ("work", "change", "says"),
    [
        ("lime", {"wind_m_s": 7}, "too windy"),
        ("lime", {"soil_c": -1}, "frozen"),
        ("sulfur", {"soil_c": 8}, "12 are needed"),
        ("nitrogen", {"soil_c": 4}, "5.5 are needed"),
        ("urea", {"rain_mm": 30}, "mm of rain"),
        ("leaf", {"high_c": 29}, "too hot"),
        ("leaf", {"humidity": 30}, "too dry"),
        ("manure", {"soaked": True}, "soaked"),
        ("leaf", {"high_c": 3}, "too cold"),
    ],
)
def test_gates_shut_for_their_reason_and_open_on_a_calm_day(work, change, says):
    assert gate(work, CALM, [], TABLES).good
    shut = gate(work, replace(CALM, **change), [], TABLES)
    assert not shut.good
    assert says in "; ".join(shut.why_not)
    assert "near to water" in "; ".join(gate(work, CALM, [], TABLES, slope_pct=15, water_m=5).why_not)


@given(CLIMATES, DAYS, st.sampled_from(sorted(TABLES.climate.gates)))
def test_the_pretended_forecast_is_the_same_again_and_every_day_has_its_verdict(key, day, work):
    service = PretendedForecast(climate_of(key, TABLES), "bed 1")
    days = service.days(day, 7)
    assert days == PretendedForecast(climate_of(key, TABLES), "bed 1").days(day, 7)
    assert [item.day for item in days] == [day + timedelta(days=ahead) for ahead in range(7)]
    assert all(item.low_c <= item.high_c and item.rain_mm >= 0 for item in days)
    for weather, verdict in zip(days, good_days(work, days, TABLES), strict=True):
        assert verdict.good == (not verdict.why_not)
        if weather.soil_c <= 0 and TABLES.climate.gates[work].frost_free:
            assert not verdict.good


def asked_after(material: str, kg: float, on: str, **more):
    doc = document(reading("pH", 5.7, method="water 1:1"), reading("K", 58, "mg/kg", "Mehlich 3"), crop="dahlia") | {"today": "2026-11-05"}
    return make_plan(read_request(doc | {"done": [{"material": material, "amount": f"{kg} kg", "on": on}]} | more, TABLES), TABLES)


def test_what_was_put_on_since_the_test_comes_off_and_what_was_before_does_not():
    none = asked_after("calcitic_limestone_ground", 0, "2026-10-20")
    lime = next(item for item in none.applications if item.what == "CaCO3")
    total = sum(item.total_kg for item in none.applications if item.what == "CaCO3")
    some = asked_after(lime.material, total / 4, "2026-10-20")
    assert sum(item.total_kg for item in some.applications if item.what == "CaCO3") < total
    whole = asked_after(lime.material, total, "2026-10-20")
    assert any("was put on since the test" in item.why for item in whole.nothing)
    before = asked_after(lime.material, total, "2026-09-20")
    assert sum(item.total_kg for item in before.applications if item.what == "CaCO3") == pytest.approx(total)
    season = asked_after("urea", 5, (date(2026, 11, 5) - timedelta(days=192)).isoformat())
    assert any(item.what == "N" for item in season.applications)
    assert not any(item.what == "N" for item in asked_after("urea", 5, "2026-11-01").applications)
    with pytest.raises(RequestError, match="not in our list of products"):
        asked_after("moon_dust", 1, "2026-11-01")


def test_totals_add_up_and_name_the_caps_that_were_passed():
    applied = [
        LoggedApplication("Bed", date(2026, 4, 1), "urea", 1.0, 0.9),
        LoggedApplication("Bed", date(2026, 6, 1), "urea", 1.0, 0.9),
        LoggedApplication("Bed", date(2025, 6, 1), "gypsum", 2.0, 0.4),
        LoggedApplication("Bed", date(2025, 7, 1), "gone", 1.0, 2.0),
    ]
    found = totals(applied, {"Bed": 50.0}, {"N": 170.0}, TABLES)
    assert [(item.year, item.money, item.over) for item in found] == [(2026, pytest.approx(1.8), ("N",)), (2025, pytest.approx(2.8), ())]
    assert found[0].total_n == pytest.approx(2 * 0.46 / 50 * 10_000)
    assert found[0].lime < 0
    assert totals([], {}, {}, TABLES) == []


def test_weather_of_own_months_is_checked_as_a_whole():
    with pytest.raises(RuleError, match="twelve"):
        own_climate("x", [1.0] * 11, [1.0] * 12, None, None)


@pytest.mark.parametrize("case", cases("seasons"))
def test_seasons_looked_over_by_hand(case):
    readings = [
        reading(analyte, value, unit, method, taken="2026-02-20" if case["today"] < "2026-09-01" else "2026-09-01")
        for analyte, value, unit, method in case["readings"]
    ]
    doc = document(
        *readings,
        crop=case["crop"],
        planting=case["planting"] or None,
        **{"texture": "loam", "hemisphere": case["hemisphere"]} | case.get("plot", {}),
    )
    made = make_plan(read_request(doc | {"today": case["today"], "climate": {"key": case["climate"]}}, TABLES), TABLES)
    found = [[item.what, item.dressing, item.from_.isoformat(), item.to.isoformat()] for item in made.applications if not item.later]
    assert found == case["expect"]
    series: dict = {}
    for item in made.applications:
        assert (
            series.setdefault((item.material, item.what, item.later), item) is item
            or item.from_ > series[item.material, item.what, item.later].from_
        )


@given(st.sampled_from(sorted(TABLES.programmes)), DAYS, st.floats(0.1, 5000), CLIMATES, st.integers(1, 60))
def test_programmes_scale_move_and_keep_their_order(key, start, count, climate, later):
    programme, place = programmes(TABLES)[key], climate_of(climate, TABLES)
    plain, double = dated(programme, start, count, TABLES), dated(programme, start, 2 * count, TABLES)
    assert [row.kg for row in double] == pytest.approx([2 * row.kg for row in plain])
    moved = dated(programme, start + timedelta(days=later), count, TABLES)
    assert [after.day - before.day for before, after in zip(plain, moved, strict=True)] == [timedelta(days=later)] * len(plain)
    gated = dated(programme, start, count, TABLES, climate=place)
    assert [row.day for row in gated] == sorted(row.day for row in gated)
    for step, row in zip(programme.steps, gated, strict=True):
        gate = TABLES.climate.step_gates.get(step.gate)
        if gate and gate.of == "soil" and first_warm_day(start, gate.above_c, place, TABLES):
            assert soil_warmth(row.day, place, TABLES) >= gate.above_c - 1e-9
        if gate and gate.of == "air" and max(place.warmth_c) > gate.above_c + 1:
            assert air_warmth(row.day, place) >= gate.above_c - 1e-9
    again = programme_of(document_of(programme, "ours"), TABLES)
    assert (again.name, again.steps) == ("ours", programme.steps)


def test_a_step_waits_alone_for_a_closed_season_and_for_somebody_to_be_there():
    programme, start = programmes(TABLES)["grass_cuts"], date(2027, 3, 20)
    plain = dated(programme, start, 100, TABLES)
    season = ClosedSeason("spring rule", frozenset({plain[0].material}), (3, 1), (4, 10))
    held = dated(programme, start, 100, TABLES, closed=(season,))
    assert (held[0].day, held[0].note) == (date(2027, 4, 11), "closed season: spring rule until then")
    assert [row.day for row in held[1:]] == [row.day for row in plain[1:]]
    away = dated(programme, start, 100, TABLES, hands=LabourCalendar(away=(Away(start, start + timedelta(days=20)),)))
    assert (away[0].day, away[0].note) == (start + timedelta(days=21), "day off until then")
    assert (
        dated(programme, start, 100, TABLES, hands=LabourCalendar(weekdays=frozenset({2})))[0].day == start
    )  # a Wednesday lies within its week


def test_the_straw_bale_start_is_that_of_its_desk_whatever_feeds_it():
    programme, start = programmes(TABLES)["bale_start"], date(2027, 4, 20)
    for feed in ("urea", "feather_meal", "calcium_ammonium_nitrate"):
        rows = [row for row in dated(programme, start, 8, TABLES, instead={"urea": feed}) if row.material == feed]
        desk = start_bales(TABLES.materials[feed], 8, TABLES)
        fed = [day for day in desk.days if day.product_g]
        assert [(row.day - start).days + 1 for row in rows] == [day.day for day in fed]
        assert sum(row.kg for row in rows) == pytest.approx(desk.product_kg, rel=0.01)
    quick, slow = (dated(programme, start, 8, TABLES, instead={"urea": feed})[-1].day for feed in ("urea", "feather_meal"))
    assert slow > quick
    cold = dated(programme, date(2027, 1, 10), 8, TABLES, climate=climate_of("beech_plain", TABLES))
    assert cold[0].day > date(2027, 3, 1)
    assert "the air is usually below 7 °C" in cold[0].note


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"per": "hectare"}, "square metre, a tree, a pot"),
        ({"step": []}, "one step or more"),
        ({"step": [{"after": 9999, "do": "x"}]}, "outside"),
        ({"step": [{"after": 0, "do": " "}]}, "what to do"),
        ({"step": [{"after": 0, "do": "x", "material": "gold"}]}, "not in our list of products"),
        ({"step": [{"after": 0, "do": "x", "gate": "moon"}]}, "no such gate"),
        ({"step": [{"after": 0, "do": "x", "way": "drone"}]}, "no such way"),
    ],
)
def test_a_programme_that_cannot_be_is_refused(change, says):
    with pytest.raises(RuleError, match=says):
        programme_of({"name": "Mine", "per": "m2", "step": [{"after": 0, "do": "dig"}]} | change, TABLES)


@given(
    st.sampled_from(["cattle_slurry", "horse_manure", "manure_compost", "urea"]),
    DAYS,
    st.integers(0, 400),
    st.booleans(),
    st.integers(1, 12),
    st.integers(1, 12),
)
def test_no_day_that_is_free_of_breaches_breaks_an_interval(key, day, until_harvest, touches, begins, ends):
    material, harvest = TABLES.materials[key], day + timedelta(days=until_harvest)
    season = ClosedSeason("winter", frozenset({"urea", "cattle_slurry"}), (begins, 1), (ends, 20))
    found = breaches(material, day, TABLES, harvest=harvest, group="vegetables" if touches else "trees", closed=(season,))
    if not found:
        assert not (key in season.materials and season.holds(day))
        assert key in ("manure_compost", "urea") or until_harvest >= (120 if touches else 90)
    for breach in found:
        if breach.what.startswith("closed"):
            assert not season.holds(breach.first_day)
            assert season.holds(breach.first_day - timedelta(days=1))
    assert not [item for item in breaches(material, day, TABLES, harvest=harvest, group="cut flowers") if "harvest" in item.what]
    assert (stock_off_until(material, day, TABLES) is None) == (key in ("manure_compost", "urea"))
    assert next_leaf_feed(day, TABLES) - day >= timedelta(days=10)


def test_manure_of_earlier_years_still_gives_and_counts_once():
    manure, compost = TABLES.materials["cattle_manure"], TABLES.materials["garden_compost"]
    by_year = [carried_nitrogen(manure, 30_000, year, TABLES) for year in (0, 1, 2, 3)]
    assert by_year == pytest.approx([0, 30_000 * 0.0054 * 0.12, 30_000 * 0.0054 * 0.05, 0])
    found = totals([LoggedApplication("Bed", date(2026, 4, 1), "garden_compost", 100.0, 0.0)], {"Bed": 100.0}, {}, TABLES)[0]
    assert found.carries == pytest.approx((10_000 * compost.n / 100 * 0.05, 10_000 * compost.n / 100 * 0.03))
    days = {"last year": "2025-11-01", "two years ago": "2024-11-01", "this season": "2026-10-20", "long ago": "2021-03-01"}
    credits = {}
    for said, on in days.items():
        doc = document(reading("pH", 6.4, method="water 1:1"), crop="dahlia", planting="2027-05-12") | {"today": "2026-11-05"}
        doc |= {"done": [{"material": "cattle_manure", "amount": "54 kg", "on": on}]}
        credits[said] = {line.key: line.kg_per_ha for line in make_plan(read_request(doc, TABLES), TABLES).credits}
        left_out = make_plan(read_request(doc | {"uncounted": ["carried"]}, TABLES), TABLES)
        assert not any(line.counted for line in left_out.credits if line.key == "carried")
    assert credits["last year"]["carried"] == pytest.approx(by_year[1])
    assert credits["two years ago"]["carried"] == pytest.approx(by_year[2])
    assert "carried" not in credits["this season"]
    assert "carried" not in credits["long ago"]


@pytest.mark.parametrize(
    ("crop", "today", "first", "last"),
    [
        ("apple", "2027-03-05", date(2027, 3, 5), date(2027, 4, 16)),  # the winter just missed: no year is lost
        ("apple", "2027-07-05", date(2027, 11, 14), date(2028, 2, 29)),  # no dust on fruit: after the last picking
        ("cactus_pot", "2027-06-05", date(2027, 6, 5), date(2027, 7, 17)),  # a pot has no winter to wait for
        ("lawn", "2027-07-05", date(2027, 11, 1), date(2027, 12, 31)),  # never in the heat
    ],
)
def test_lime_on_what_stands_keeps_clear_of_the_picking_and_loses_no_year(crop, today, first, last):
    calendar = calendar_of(read_request(document(crop=crop, planting="2019-03-15") | {"today": today}, TABLES), TABLES)
    usual = [int(month) for month in TABLES.growing.standing[calendar.growth.life_form].lime_months]
    window, _ = lime_of_standing(usual, calendar, TABLES)
    assert (window.start, window.end) == (first, last)
