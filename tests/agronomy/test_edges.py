"""Bounds and coefficients at their very edge, each with a case that another figure or a dropped bound would fail."""

from dataclasses import replace
from datetime import date

import pytest

from agronomy.apply.tank import Part, tank, trace_share
from agronomy.base.uncertainty import band
from agronomy.dose.application import MOST_POURED_KG, is_poured
from agronomy.dose.household import bags
from agronomy.instruments.steady import Sample, steady_lately
from agronomy.ledger.intent import Intended
from agronomy.ledger.season import season_of
from tests.helpers.requests import TABLES

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
