"""What tests will read, what would sharpen a plan, and what untested ground lets one suppose."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from agronomy.intake.request import read_request
from agronomy.recommend.schools.registry import SCHOOLS
from agronomy.whatif.forecast.acidity import AcidState, one_month
from agronomy.whatif.forecast.outlook import outlook
from agronomy.whatif.forecast.sulfur import eaten_um, oxidised_share, sulfur_oxidised
from agronomy.whatif.no_test import guesses, questions, without_test
from agronomy.whatif.sharpen import what_would_sharpen
from tests.helpers.cases import cases
from tests.helpers.requests import TABLES, document, plan, reading

LOAM_CAPACITY = 3449.0
POOLS = {0.05: 0.05, 0.22: 0.33, 0.69: 0.12, 4.0: 0.50}  # speed by year and share of a ground limestone


def _ph(ph, months, load=0.0, limed=False, capacity=LOAM_CAPACITY, sulfur=0.0, warmth=12.0):
    state = AcidState(ph=np.array([ph]), capacity=np.array([capacity]), load=np.ones(1), speed=np.ones(1))
    for speed, share in POOLS.items() if limed else ():
        state.add_lime(5149 * share, speed, mixed_in=True)
    if sulfur:
        state.add_sulfur(sulfur)
    for _ in range(months):
        one_month(state, load, TABLES, warmth_c=warmth)
    return float(state.ph[0])


SAND_CAPACITY = (0.044 * 8 + 0.51 * 2 / 1.724) * 0.5004e-3 * 1e5 * 1.5 * 20
RULES = {
    "ph": _ph,
    "sulfur": lambda ph, kg, months, warmth: _ph(ph, months, capacity=SAND_CAPACITY, sulfur=kg, warmth=warmth),
    "oxidised": lambda days, grain, warmth: float(sulfur_oxidised(days, grain, warmth, TABLES)),
}


@pytest.mark.parametrize("case", cases("forecast"))
def test_published(case):
    assert RULES[case["what"]](**case["given"]) == pytest.approx(case["expect"], rel=case["tolerance"], abs=0.001), case["whose"]


def asked(*readings, school="sufficiency", **ground):
    ground = {"crop": "spring_barley", "texture": "loam", "kind": "field", "area": "2 ha", "depth": "20 cm"} | ground
    return read_request(document(*readings, **ground) | {"school": school}, TABLES)


def poor(school="sufficiency", **ground):
    readings = (
        reading("pH", 5.6),
        reading("P", 9, "mg/kg", "Bray P1"),
        reading("K", 80, "mg/kg", "ammonium acetate"),
        reading("CEC", 10, "cmol/kg"),
    )
    return asked(*readings, school=school, **ground)


def test_schools_part_where_they_should_after_five_years():
    after = {school: {(item.analyte, item.years): item for item in outlook(poor(school), TABLES).expected} for school in SCHOOLS}
    assert after["build_maintain"]["P", 5].value > after["sufficiency"]["P", 5].value > after["low_input"]["P", 5].value
    assert after["sufficiency"]["pH", 1].value > 6.0
    for school in SCHOOLS:
        for item in after[school].values():
            assert item.low <= item.value <= item.high
        assert after[school]["pH", 5].beyond
        assert not after[school]["pH", 3].beyond
    assert outlook(poor(), TABLES) == outlook(poor(), TABLES)


def test_without_readings_nothing_is_foretold_and_strange_methods_are_left_out():
    assert outlook(asked(), TABLES).expected == ()
    told = outlook(asked(reading("P", 9, "mg/kg", "Morgan")), TABLES)
    assert told.of("P") == ()


def test_limy_ground_stays_limy():
    told = outlook(asked(reading("pH", 8.0), free_lime=True), TABLES).of("pH")
    assert all(item.low >= 7.2 for item in told)


@settings(max_examples=15, deadline=None)
@given(st.floats(4.6, 7.6), st.integers(4, 90), st.integers(30, 300), st.sampled_from(list(SCHOOLS)))
def test_no_school_is_foretold_to_lime_past_neutral_nor_to_leave_the_scale(ph, p, k, school):
    told = outlook(
        asked(
            reading("pH", round(ph, 1)), reading("P", p, "mg/kg", "Bray P1"), reading("K", k, "mg/kg", "ammonium acetate"), school=school
        ),
        TABLES,
    )
    for item in told.expected:
        assert np.isfinite([item.low, item.value, item.high]).all()
        if item.analyte == "pH":
            assert 3.5 <= item.value <= max(7.3, ph + 0.1)
        else:
            assert item.value > 0


def test_the_best_measurement_is_named_with_its_price_and_what_it_does():
    rough = asked(reading("pH", 5.4, how="kit"), reading("P", 9, "mg/kg", "Bray P1", how="kit"), crop="maize", planting="2027-05-01")
    found = {item.what: item for item in what_would_sharpen(rough, TABLES)}
    assert found["CaCO3"].test == "buffer_ph"
    assert found["P"].test == "nutrients"
    assert found["N"].test == "standing_nitrate"
    for item in found.values():
        assert 0 < item.narrows_by <= 1
        assert item.now[1] - item.now[0] > item.then[1] - item.then[0]
        assert item.price >= 0


def test_a_buffer_test_in_hand_is_not_asked_for_again():
    sharp = asked(reading("pH", 5.4), reading("buffer pH", 6.4, method="SMP"))
    assert all(item.test != "buffer_ph" for item in what_would_sharpen(sharp, TABLES))
    assert what_would_sharpen(asked(reading("pH", 6.6), crop="clover_ley"), TABLES) == []


def test_unknown_ground_widens_the_lime_need_and_a_feel_test_narrows_it():
    widths = []
    for texture in (None, "loam"):
        item = next(item for item in plan(document(reading("pH", 5.3), texture=texture)).needs if item.what == "CaCO3")
        widths.append(item.high_kg_per_ha - item.low_kg_per_ha)
    assert widths[0] > widths[1]


HEATH, SAND, DUNG, HAY = (
    "heath, pine wood or peat before",
    "sand: gritty, won't hold together",
    "dunged or composted heavily for years",
    "cut for hay or emptied of crops for years",
)


@pytest.mark.parametrize(
    ("ticked", "expected"),
    [
        ({HEATH, SAND}, {"pH": "acid", "P": "short", "K": "short", "OM": "not known"}),
        ({DUNG}, {"P": "plenty", "K": "plenty", "OM": "enough", "pH": "not known"}),
        ({DUNG, HAY}, {"P": "plenty", "K": "not known"}),
        (set(), dict.fromkeys(("pH", "P", "K", "Mg", "OM", "EC"), "not known")),
    ],
)
def test_signs_lean_one_way_or_cancel_out(ticked, expected):
    found = {guess.about: guess for guess in guesses(ticked, TABLES)}
    assert {about: found[about].leans for about in expected} == expected
    assert all(0 <= guess.strength < 1 for guess in found.values())


def test_untested_ground_gets_half_rates_no_lime_and_the_price_of_knowing():
    told = without_test(asked(crop="cabbage", area="100 m2", kind="bed"), {HEATH, SAND, HAY}, TABLES)
    rates = {rate.what: rate.kg_per_ha for rate in told.rates}
    assert 0 < rates["K"] <= TABLES.crops["cabbage"].k2o_r0 / 1.2046 / 2
    assert 0 < told.lime_kg_per_ha[0] < told.lime_kg_per_ha[1]
    assert told.test_price > 0
    assert "CaCO3" not in rates
    rich = {rate.what: rate.kg_per_ha for rate in without_test(asked(crop="cabbage"), {DUNG}, TABLES).rates}
    assert rich["P"] == rich["K"] == 0
    assert set(questions(TABLES)) == {"colour", "history", "feel", "growth"}


def read_ph(years: int = 1, climate: str | None = None, done: tuple = (), materials: list | None = None, readings=None) -> float:
    doc = document(
        *(readings or (reading("pH", 5.6), reading("CEC", 10, "cmol/kg"))), crop="spring_barley", texture="loam", kind="field", area="2 ha"
    )
    more = {"climate": {"key": climate}} if climate else {}
    asked = read_request(doc | more | {"done": list(done), "materials": materials}, TABLES)
    return next(item.value for item in outlook(asked, TABLES).expected if (item.analyte, item.years) == ("pH", years))


def test_lime_works_sooner_where_it_is_warm_and_wet_and_rain_that_does_not_drain_takes_little():
    cold, warm = (read_ph(climate=key) for key in ("larch_heights", "cedar_lowland"))
    assert cold < warm
    unlimed = {key: read_ph(5, key, materials=["urea"]) for key in ("steppe_mark", "alder_coast")}
    assert unlimed["steppe_mark"] > unlimed["alder_coast"]


def test_lime_that_lies_there_already_is_foretold_to_work_and_counts_once():
    done = ({"material": "calcitic_limestone_ground", "amount": "9 t", "on": "2026-10-04"},)
    assert read_ph(done=done) == pytest.approx(read_ph(), abs=0.25)
    assert read_ph(done=done, materials=["urea"]) > read_ph(materials=["urea"]) + 0.3
    assert read_ph(5, done=done, materials=["urea"]) < read_ph(1, done=done, materials=["urea"]) + 0.2


def test_sulfur_sleeps_through_the_winter_and_keeps_what_it_has_eaten():
    grain = TABLES.forecast.sulfur_grain_um.value
    state = AcidState(ph=np.array([7.0]), capacity=np.array([3000.0]), load=np.ones(1), speed=np.ones(1))
    state.add_sulfur(500.0)
    read = []
    for warmth in (20.0, 3.0, 3.0, 20.0):
        one_month(state, 0.0, TABLES, warmth_c=warmth)
        read.append(float(state.ph[0]))
    assert read[0] > read[3]
    assert read[0] == read[1] == read[2]
    assert state.sulfur[0][1][0] == pytest.approx(eaten_um(60.8, 20.0, TABLES))
    assert oxidised_share(grain, grain) == 1.0
