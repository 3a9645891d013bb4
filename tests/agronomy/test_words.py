"""Figures in words, doubts about what was typed, and needs worked by hand."""

import pytest

from agronomy.base import showing
from agronomy.dose.household import say_bags, scoops
from agronomy.interpret.plausibility import doubt_about
from agronomy.recommend.schools.sufficiency import sufficiency_rate
from tests.helpers.cases import cases
from tests.helpers.requests import TABLES, document, need, plan, reading

SHOW = {
    "mass": showing.mass,
    "rate": showing.rate,
    "scoops": lambda kg, system, material: scoops(kg, TABLES.materials[material], system) or "",
    "bags": lambda kg, system, material: say_bags(kg, TABLES.materials[material], system),
}


@pytest.mark.parametrize("case", cases("words"))
def test_figures_in_words(case):
    assert SHOW[case["show"]](**case["given"]) == case["expect"]


@pytest.mark.parametrize(
    ("analyte", "typed", "unit", "suggested"),
    [
        ("K", "68", "%", "mg/kg"),
        ("K", "150", "mg/kg", None),
        ("P", "400", "ppm", "lb/acre"),
        ("Mg", "1.4", "mg/kg", "cmol/kg"),
        ("K", "180", "cmol/kg", "mg/kg"),
        ("P", "<2", "mg/kg", None),
        ("P", "ND", "mg/kg", None),
        ("OM", "3.4", "%", None),
    ],
)
def test_a_likely_mix_up_is_asked_about(analyte, typed, unit, suggested):
    method = TABLES.analytes[analyte].methods[0]
    doubt = doubt_about(analyte, typed, unit=unit, method=method, tables=TABLES)
    assert (doubt.unit if doubt else None) == suggested


@pytest.mark.parametrize(("test", "expect"), [(0, 60), (6, 36), (14.99, 0.04), (15, 0), (80, 0)])
def test_sufficiency_falls_in_a_straight_line_to_nought(test, expect):
    assert sufficiency_rate(test, 15.0, 60.0) == pytest.approx(expect, abs=0.01)


def test_nitrogen_by_yield_and_by_guide():
    # 22 kg/t x 6.5 t less what 2.6 % organic matter in 20 cm of loam gives
    by_yield = need(
        plan(
            document(reading("OM", 2.6, "%"), crop="spring_barley", texture="loam", depth="20 cm")
            | {"crop": {"key": "spring_barley", "yield_goal": "6.5 t/ha"}}
        ),
        "N",
    )
    given = 1e5 * 1.36 * 20 * 0.026 * 0.058 * 0.02 * 0.6  # kg/ha, at a bulk density of 1.36
    assert by_yield.rate_kg_per_ha == pytest.approx(22 * 6.5 - given, rel=0.01)
    assert by_yield.low_kg_per_ha < by_yield.rate_kg_per_ha < by_yield.high_kg_per_ha
    by_season = need(plan(document(reading("OM", 2.5, "%"), crop="dahlia")), "N")
    assert by_season.rate_kg_per_ha == pytest.approx(90, abs=1)  # the middle of 60 to 120 on ground of ordinary humus


def test_organic_soil_has_its_own_target_and_column():
    made = plan(
        document(
            reading("pH", 4.6),
            reading("buffer pH", 5.8, method="SMP"),
            reading("OM", 45, "%"),
            crop="cabbage",
            texture="loam",
            depth="20.32 cm",
        )
    )
    # 6.2 tons an acre to pH 5.2, of which 0.74 counts as pure
    assert need(made, "CaCO3").rate_kg_per_ha == pytest.approx(6.2 * 2241.7 * 0.74, rel=0.001)


def test_your_own_target_moves_the_need():
    low, high = (
        need(plan(document(reading("pH", 5.4)) | {"crop": {"key": "dahlia", "target_ph": target}}), "CaCO3").rate_kg_per_ha
        for target in (6.0, 6.8)
    )
    assert high == pytest.approx(low * 1.4 / 0.6)


def test_a_buffer_above_the_table_falls_back_and_says_so():
    found = need(plan(document(reading("pH", 5.8), reading("buffer pH", 6.95, method="SMP"))), "CaCO3")
    assert found.method == "pH, texture and organic matter"
    assert "no longer tells soils apart" in found.why
    other = need(plan(document(reading("pH", 5.8), reading("buffer pH", 6.2, method="not stated"))), "CaCO3")
    assert "no table here reads the buffer" in other.why


def test_latest_reading_counts_and_repeats_of_one_day_are_averaged():
    old_and_new = plan(
        document(reading("pH", 4.9, taken="2024-10-01"), reading("pH", 6.4, taken="2026-10-01"), reading("pH", 6.6, taken="2026-10-01"))
    )
    assert old_and_new.findings[0].value == pytest.approx(6.5)
    kit_beside_lab = plan(document(reading("pH", 5.5, how="kit"), reading("pH", 6.5, how="lab")))
    assert kit_beside_lab.findings[0].value == 6.5
