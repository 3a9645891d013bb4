"""The schools: published examples, and what must hold of every one of them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from agronomy.intake.request import read_request
from agronomy.recommend.schools.build_maintain import k2o_rate, p2o5_rate
from agronomy.recommend.schools.cation_balance import cation_need
from agronomy.recommend.schools.low_input import compost_t_per_ha
from agronomy.recommend.schools.registry import SCHOOLS
from agronomy.recommend.schools.removal import removal
from agronomy.recommend.schools.sufficiency import sufficiency_rate
from agronomy.whatif.fit import best_crops, fit
from tests.helpers.cases import cases
from tests.helpers.requests import TABLES, document, need, plan, reading

LB = 1.120851  # kg/ha in a lb/acre

RULES = {
    "p_build": lambda test, critical, removed_lb: p2o5_rate(test, critical, removed_lb * LB, TABLES) / LB,
    "k_build": lambda test, critical, cec, removed_lb: k2o_rate(test, critical, cec, removed_lb * LB, TABLES) / LB,
    "slan": sufficiency_rate,
    "cation": cation_need,
    "compost": lambda **given: compost_t_per_ha(**given, tables=TABLES),
    "removal": lambda crop, nutrient, goal: removal(TABLES.crops[crop], nutrient, goal, TABLES).kg_per_ha,
}


@pytest.mark.parametrize("case", cases("schools"))
def test_published(case):
    assert RULES[case["what"]](**case["given"]) == pytest.approx(case["expect"], rel=0.005, abs=0.01), case["whose"]


def ground(ph=6.4, p=12, k=90, ca=1250, mg=60, cec=12.0):
    return document(
        reading("pH", ph),
        reading("P", p, "mg/kg", "Bray P1"),
        reading("K", k, "mg/kg", "ammonium acetate"),
        reading("Ca", ca, "mg/kg", "ammonium acetate"),
        reading("Mg", mg, "mg/kg", "ammonium acetate"),
        reading("CEC", cec, "cmol/kg", "ammonium acetate"),
        crop="maize",
        texture="loam",
    )


@given(
    school=st.sampled_from(list(SCHOOLS)),
    ph=st.floats(4.8, 7.8),
    p=st.integers(1, 150),
    k=st.integers(20, 500),
    mg=st.integers(10, 400),
    cec=st.floats(2, 35),
)
def test_every_school_answers_and_none_limes_past_its_target(school, ph, p, k, mg, cec):
    made = plan(ground(round(ph, 1), p, k, 1250, mg, round(cec, 1)), school=school)
    assert made.school == school
    ph_found = next(finding for finding in made.findings if finding.analyte == "pH")
    assert ph_found.expected is None or ph_found.expected <= ph_found.wanted[1] + 1e-9
    for item in made.needs:
        assert 0 <= item.low_kg_per_ha <= item.rate_kg_per_ha <= item.high_kg_per_ha + 1e-9
        assert item.working
    for nutrient in ("P", "K"):
        finding = next((found for found in made.findings if found.analyte == nutrient), None)  # Bray P1 is not judged on limy ground
        if finding and finding.class_ == "excess" and school != "build_maintain":
            assert need(made, nutrient) is None


@given(school=st.sampled_from(list(SCHOOLS)), low=st.integers(2, 60), more=st.integers(1, 60))
def test_a_higher_test_never_asks_for_more(school, low, more):
    first, second = (need(plan(ground(p=p), school=school), "P") for p in (low, low + more))
    assert (second.rate_kg_per_ha if second else 0) <= (first.rate_kg_per_ha if first else 0) + 1e-9


def test_the_schools_part_where_they_should():
    made = {school: plan(ground(p=18, k=130), school=school) for school in SCHOOLS}
    assert need(made["sufficiency"], "P") is None  # enough for this year's crop
    assert need(made["replacement"], "P").rate_kg_per_ha == pytest.approx(8 * 6.0 / 2.2914, rel=0.01)
    assert need(made["cation_balance"], "Mg").rate_kg_per_ha > 0
    assert any("ideal ratio" in note for note in made["cation_balance"].notes)
    assert any(item.what == "N" for item in made["low_input"].unmet)
    assert need(made["low_input"], "N") is None


def test_cation_balance_declines_where_it_is_not_valid():
    limy = plan(ground(ph=7.8), school="cation_balance")
    assert any("can't be judged" in item.why for item in limy.unmet)
    short = plan(ground(ph=6.4, k=40), school="low_input")
    assert need(short, "K").rate_kg_per_ha == pytest.approx(need(plan(ground(ph=6.4, k=40)), "K").rate_kg_per_ha / 2)


@pytest.mark.parametrize(
    ("crop", "ph", "word", "why"),
    [
        ("blueberry", 4.9, "well", "suits blueberry"),
        ("blueberry", 7.6, "poorly", "can hardly be brought down"),
        ("lucerne", 4.9, "poorly", "takes years"),
        ("lucerne", 6.0, "with work", "needs lime"),
        ("maize", 6.6, "well", ""),
    ],
)
def test_crops_fit_ground_by_ph_first(crop, ph, word, why):
    asked = read_request(
        document(
            reading("pH", ph),
            reading("P", 60, "mg/kg", "Mehlich 3"),
            reading("K", 300, "mg/kg", "Mehlich 3"),
            texture="loam",
            free_lime=ph > 7.3,
        ),
        TABLES,
    )
    found = fit(asked, TABLES.crops[crop], TABLES)
    assert found.word == word
    assert why in found.why


def test_the_best_crops_come_first():
    asked = read_request(document(reading("pH", 5.0), texture="loam"), TABLES)
    found = best_crops(asked, [TABLES.crops[key] for key in ("lucerne", "blueberry", "carrot")], TABLES)
    assert found[0].crop == "blueberry"
