"""Bounds and coefficients at their very edge, each with a case that another figure or a dropped bound would fail."""

import re
from dataclasses import replace
from datetime import date

import pytest

from agronomy.apply.calibration import setting_for
from agronomy.apply.tank import Part, tank, trace_share
from agronomy.base.areas import in_figures
from agronomy.base.uncertainty import band
from agronomy.dose.application import MOST_POURED_KG, is_poured
from agronomy.dose.household import bags
from agronomy.dose.rate_map import _field
from agronomy.instruments.steady import Sample, steady_lately
from agronomy.ledger.intent import Intended
from agronomy.ledger.season import season_of
from tests.helpers.requests import TABLES, plan

UREA = TABLES.materials["urea"]
DAY = date(2027, 3, 1)


def test_nothing_is_still_a_bag_and_a_full_bag_is_one():
    assert [bags(kg, replace(UREA, bag_kg=25)).count for kg in (0.0, 25.0, 25.1)] == [1, 1, 2]


@pytest.mark.parametrize(
    ("value", "spans", "expect"),
    [
        (10.0, [(11.0, 13.0)], (10.0, 13.0)),
        (10.0, [(7.0, 9.0)], (7.0, 10.0)),
        (10.0, [(7.0, 13.0), (6.0, 14.0)], (5.0, 15.0)),
        (10.0, [], (10.0, 10.0)),
    ],
)
def test_a_cause_that_lies_on_one_side_widens_that_side_alone(value, spans, expect):
    assert band(value, *spans) == pytest.approx(expect)


def test_only_little_of_a_liquid_is_poured():
    liquid = replace(UREA, form="liquid")
    assert MOST_POURED_KG == 20
    assert [is_poured(material, kg) for material, kg in ((liquid, 19.9), (liquid, 20.0), (UREA, 1.0))] == [True, False, False]


def test_what_is_neither_needed_nor_given_has_no_line_and_what_is_not_on_the_list_counts_as_nothing():
    lines = {line.what: line for line in season_of({"N": 80.0}, [], [], area_m2=10_000.0, tables=TABLES)}
    assert list(lines) == ["N"]
    assert (lines["N"].meant, lines["N"].left, lines["N"].over) == (0, 80, 0)
    over = season_of({}, [Intended("urea", 500.0, DAY, DAY, "")], [], area_m2=10_000.0, tables=TABLES)
    assert [(line.what, round(line.over)) for line in over] == [("N", 230)]


def test_a_meter_that_was_steady_is_read_for_as_long_as_is_asked_and_no_longer():
    hold, span = int(TABLES.meter.steady_hold_seconds.value), int(TABLES.meter.steady_seconds.value)
    still = [Sample(float(second), 6.1, 20.0) for second in range(span + hold + 40)]
    assert steady_lately(still, TABLES) is not None
    last = still[-1].seconds
    wild = [Sample(last + second, 6.1 + 0.5 * (second % 2), 20.0) for second in range(1, hold + 5)]
    assert steady_lately([*still, *wild[: hold - 1]], TABLES) is not None
    assert steady_lately([*still, *wild], TABLES) is None


def test_the_most_boron_of_a_spray_is_by_what_is_dissolved_in_it():
    material = TABLES.materials["octaborate"]
    most = TABLES.liquids.boron_g_per_l.value
    for times, is_told in ((0.9, False), (1.2, True)):
        rate = times * most * 400 / 1000 / trace_share(material, "B", TABLES)  # kg/ha in 400 L
        made = tank([Part(material, rate)], "leaf", TABLES, area_m2=10_000, water_l_per_ha=400, tank_l=100)
        assert any("of boron" in fault for fault in made.faults) == is_told


@pytest.mark.parametrize(
    ("typed", "expect"),
    [
        ("three quarters of an acre", "0.75 acre"),
        ("half an acre", "0.5 acre"),
        ("a third of a hectare", "0.333333 hectare"),
        ("two acres", "2 acres"),
        ("1/4 acre", "0.25 acre"),
        ("1/0 acre", "1/0 acre"),
    ],
)
def test_an_area_that_begins_with_words_is_a_number(typed, expect):
    assert in_figures(typed) == expect


def test_a_setting_between_and_past_what_was_measured():
    kept = [(10.0, 100.0), (20.0, 200.0), (0.0, 50.0), (30.0, 0.0)]
    assert setting_for(150.0, kept)[0] == pytest.approx(15.0)
    assert setting_for(50.0, kept)[0] == pytest.approx(5.0)
    assert setting_for(400.0, kept)[0] == pytest.approx(40.0)
    assert setting_for(0.5, kept)[0] == pytest.approx(0.05)
    assert setting_for(0.0, kept) is None
    assert setting_for(100.0, []) is None


def test_a_column_of_a_rate_map_fills_its_ten_letters():
    taken = set()
    assert _field("ammonium_sulfate", 1, "kgha", taken) == "as1_kgha"
    assert _field("limestone", 1, "kgha", taken) == "lime1_kgha"
    assert _field("limewash", 1, "kgha", taken) == "lima1_kgha"


def test_what_a_bale_gets_goes_on_upon_the_day_that_its_line_names():
    bales = {
        "name": "Bales on the drive",
        "kind": "bale",
        "sizes": {"count": 6, "bale_length": "100 cm", "bale_width": "45 cm", "bale_height": "35 cm"},
    }
    asked = {"today": "2027-04-20", "plot": bales | {"depth": "35 cm"}, "readings": [], "crop": {"key": "tomato", "planting": "2027-05-22"}}
    made = [(item, re.match(r"Day (\d+):", str(item.timing_note))) for item in plan(asked).applications]
    first = min(item.from_ for item, _ in made)
    told = [(item.material, (item.from_ - first).days + 1, int(day[1])) for item, day in made if day]
    assert len({material for material, *_ in told}) >= 2
    assert all(due == named for _, due, named in told), told
