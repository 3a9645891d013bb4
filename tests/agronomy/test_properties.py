"""What must hold for every soil."""

import copy
import random

from hypothesis import example, given, settings
from hypothesis import strategies as st

from agronomy.base.numbers import parse_number
from agronomy.base.quantities import BASE_UNITS, KNOWN_UNITS, factor
from agronomy.intake.documents import plan_from_document, plan_to_document
from agronomy.intake.request import read_request
from agronomy.plan.assess import assess
from agronomy.plan.needs import side_by_side
from agronomy.recommend.schools.registry import SCHOOLS
from benchmarks.made_up import requests
from tests.helpers.requests import TABLES, document, need, plan, reading

TRACE = {"B", "Zn", "Mn", "Fe", "Cu", "Mo"}
QUICK = settings(max_examples=40, deadline=None)
CROPS = sorted(TABLES.crops)
soils = st.integers(0, 10**6).map(lambda seed: requests(1, CROPS, seed)[0])
textures = st.sampled_from(sorted(TABLES.textures))


def caco3(ph: float, buffer: float | None, **ground) -> float:
    readings = [reading("pH", ph)] + ([reading("buffer pH", buffer, method="SMP")] if buffer else [])
    found = need(plan(document(*readings, **ground)), "CaCO3")
    return found.rate_kg_per_ha if found else 0.0


@QUICK
@given(st.floats(4.6, 6.7), st.floats(0.05, 1.0), textures)
def test_more_acid_never_means_less_lime(ph, step, texture):
    assert caco3(max(4.0, ph - step), None, texture=texture) >= caco3(ph, None, texture=texture) - 1e-6


@QUICK
@given(st.floats(4.9, 6.8), st.floats(0.02, 1.0))
def test_a_lower_buffer_never_means_less_lime(buffer, step):
    assert caco3(5.5, max(4.8, buffer - step)) >= caco3(5.5, buffer) - 1e-6


@QUICK
@given(soils)
def test_twice_the_area_is_twice_the_kilos(doc):
    once = plan(doc)
    bigger = copy.deepcopy(doc)
    bigger["plot"]["area"] = f"{2 * int(doc['plot']['area'].split()[0])} m2"
    twice = plan(bigger)
    assert [item.material for item in once.applications] == [item.material for item in twice.applications]
    for small, large in zip(once.applications, twice.applications, strict=True):
        assert abs(large.total_kg - 2 * small.total_kg) <= 1e-9 * large.total_kg


@QUICK
@given(soils, st.randoms(use_true_random=False))
def test_order_of_readings_does_not_matter(doc, rng: random.Random):
    shuffled = copy.deepcopy(doc)
    rng.shuffle(shuffled["readings"])
    made = [plan_to_document(plan(version)) | {"request_sha256": ""} for version in (doc, shuffled)]
    assert made[0] == made[1]


@QUICK
@given(soils)
def test_same_request_same_plan(doc):
    assert plan_to_document(plan(doc)) == plan_to_document(plan(copy.deepcopy(doc)))


@QUICK
@given(soils)
def test_units_change_words_and_nothing_else(doc):
    metric, us = plan(doc), plan(doc, units="us")
    assert [(item.total_kg, item.from_, item.supplies) for item in metric.applications] == [
        (item.total_kg, item.from_, item.supplies) for item in us.applications
    ]


@QUICK
@given(soils)
def test_nothing_limes_past_its_target_nor_spreads_what_is_plenty(doc):
    made = plan(doc)
    crop = TABLES.crops[doc["crop"]["key"]]
    plenty = {item.analyte for item in made.findings if item.is_plenty} & {"P", "K", "Mg"}  # sulfate harms no crop
    trace = TABLES.nutrients.trace_share.value
    for item in made.applications:
        assert item.from_ <= item.to
        assert item.low_kg - 1e-9 <= item.total_kg <= item.high_kg + 1e-9
        if item.what in ("P", "K", "Mg", "S", "N"):
            assert all(item.supplies[nutrient] < trace * item.rate_kg_per_ha for nutrient in plenty & set(item.supplies))
    for found in made.findings:
        if found.analyte == "pH" and found.expected is not None:
            assert min(found.value, crop.ph_acid_to) - 1e-9 <= found.expected <= max(found.value, crop.ph_lime_to) + 1e-9


@QUICK
@given(
    st.sampled_from([(kind, unit) for kind, units in KNOWN_UNITS.items() for unit in units if unit in units and kind in BASE_UNITS]),
    st.floats(1e-6, 1e6),
)
def test_a_unit_there_and_back_changes_nothing(known, value):
    kind, unit = known
    there = value * factor(unit, BASE_UNITS[kind])
    assert abs(there / factor(unit, BASE_UNITS[kind]) - value) <= 1e-9 * value


@QUICK
@given(st.floats(0.001, 99999, allow_nan=False).map(lambda value: round(value, 2)))
def test_decimal_comma_reads_as_decimal_point(value):
    text = f"{value:.2f}"
    assert parse_number(text.replace(".", ",")) == parse_number(text)


@QUICK
@given(soils, st.sampled_from(list(SCHOOLS)))
@example(requests(1, CROPS, 448)[0], "sufficiency")  # the nitrogen of a phosphate too thin to lay was not given back
def test_what_is_spread_and_what_stays_open_add_up_to_the_need(doc, school):
    made = plan(doc, school=school)
    for item in made.needs:
        spread = sum(dose.supplies[item.what] for dose in made.applications if dose.what == item.what)
        open_ = sum(left.rate_kg_per_ha for left in made.unmet if left.what == item.what and "cap of" not in left.why)
        along = sum(dose.supplies.get(item.what, 0.0) for dose in made.applications if dose.what != item.what)
        if spread:
            # what is too little for a second dressing waits for the test, and the dose says so
            waits = TABLES.acidity.second_dressing_from_share.value if item.what in ("CaCO3", "S_acid") else 0.0
            assert spread + open_ + along >= item.rate_kg_per_ha * (1 - waits - 1e-6)
            # what is too thin to lay is raised to what the spreader lays, and says so
            raised = any(step.name == "least in one pass" for dose in made.applications if dose.what == item.what for step in dose.working)
            assert raised or spread <= item.rate_kg_per_ha * (1 + 1e-6)
        else:  # nothing of its own is spread: it is said open, or another material brings it
            assert (
                open_ > 0
                or any(answer.nutrient == item.what for answer in made.nothing)
                or any(left.what == item.what for left in made.unmet)
            )


@QUICK
@given(soils, st.sampled_from(["P", "K", "Mg"]), st.floats(1.05, 6.0), st.sampled_from(list(SCHOOLS)))
def test_a_higher_test_never_asks_for_more_in_any_school(doc, nutrient, times, school):
    richer = copy.deepcopy(doc)
    for row in richer["readings"]:
        if row["analyte"] == nutrient and isinstance(row["value"], int | float):
            row["value"] = row["value"] * times
    rates = [(need(plan(version, school=school), nutrient), version) for version in (doc, richer)]
    now, then = (found.rate_kg_per_ha if found else 0.0 for found, _ in rates)
    assert then <= now + 1e-6


@QUICK
@given(soils)
def test_plenty_is_never_a_need_but_where_a_school_gives_back_what_is_carried_off(doc):
    for school in ("sufficiency", "replacement", "cation_balance", "low_input"):
        made = plan(doc, school=school)
        plenty = {found.analyte for found in made.findings if found.is_plenty}
        assert not plenty & {item.what for item in made.needs} - {"CaCO3", "S_acid", "N"}


@QUICK
@given(soils)
def test_all_five_schools_side_by_side_answer_as_each_alone(doc):
    asked = read_request(doc, TABLES)
    together = side_by_side(assess(asked, TABLES), TABLES)
    for school, answers in together.items():
        alone = plan(doc, school=school)
        assert [(item.what, item.rate_kg_per_ha) for item in answers.needs()] == [
            (item.what, item.rate_kg_per_ha) for item in alone.needs if item.what not in TRACE
        ]


@QUICK
@given(soils)
def test_a_plan_comes_back_whole_from_its_document_with_all_its_lines(doc):
    written = plan_to_document(plan(doc, credits=[{"kind": "straw", "rate": 2}]))
    assert plan_to_document(plan_from_document(written)) == written
    assert {"credits", "remarks", "shares"} <= set(written)
