"""Signs of ailing plants to ranked causes: constructed cases with their shares, and what asking and telling must hold."""

import csv
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from agronomy.base.errors import UnknownName
from agronomy.diagnose.asking import next_question, verdict
from agronomy.diagnose.causes import Case, case_of, shares
from agronomy.diagnose.confirmed import Confirmed, own_cases
from agronomy.diagnose.evidence import evidence_of
from tests.helpers.requests import TABLES, document, plan, reading

CASES = list(csv.DictReader((Path(__file__).parent / "cases" / "symptoms.csv").open(encoding="utf-8")))


def of(row: dict) -> Case:
    readings = [tuple(item.split("=")) for item in row["readings"].split(";") if item]
    return case_of(TABLES.crops.get(row["crop"]), row["yes"].split(), row["no"].split(), readings, TABLES)


@pytest.mark.parametrize("row", CASES, ids=[row["case"] for row in CASES])
def test_a_case_ranks_its_cause_with_its_share(row):
    found = shares(of(row), TABLES)
    assert found[row["expected"]] == pytest.approx(float(row["share_of_expected"]), abs=0.002)
    assert list(found).index(row["expected"]) < int(row["within"])
    assert sum(found.values()) == pytest.approx(1)


def test_a_tomato_that_yellows_is_told_in_words_and_ends_in_a_test():
    told = verdict(
        case_of(
            TABLES.crops["tomato"],
            ["age_old", "pat_herring", "col_yellow", "time_fruit"],
            [],
            [("soil Mg", "low"), ("soil K", "very high")],
            TABLES,
        ),
        TABLES,
    )
    assert told.says == "Looks most like: magnesium short."
    first = told.candidates[0]
    assert first.cause.confirm
    assert "soil Mg low" in first.speaks_for
    assert told.ask == ()


@given(
    st.sets(st.sampled_from(sorted(TABLES.watch.features)), max_size=6), st.sets(st.sampled_from(sorted(TABLES.watch.features)), max_size=4)
)
def test_answers_of_any_kind_give_shares_and_an_end(yes, no):
    case = case_of(None, sorted(yes), sorted(no), [], TABLES)
    assert sum(shares(case, TABLES).values()) == pytest.approx(1)
    told = verdict(case, TABLES)
    assert told.says
    assert not {row.key for row in told.ask} & {*yes, *no}


def test_asking_on_comes_to_an_end_whatever_is_answered():
    case = Case(TABLES.crops["tomato"])
    for _ in range(int(TABLES.watch.most_questions.value) + 1):
        ask = next_question(case, TABLES)
        if not ask:
            break
        case = Case(case.crop, (*case.yes, ask[0].key), case.no) if len(case.yes) < 2 else Case(case.crop, case.yes, (*case.no, ask[0].key))
    assert next_question(case, TABLES) == ()


def test_names_that_are_not_known_are_refused():
    with pytest.raises(UnknownName):
        case_of(None, ["age_ancient"], [], [], TABLES)
    with pytest.raises(UnknownName):
        case_of(None, [], [], [("soil K", "purple")], TABLES)


def test_potash_that_was_given_stands_at_the_head_of_magnesium_and_is_one_answer():
    told = verdict(
        case_of(TABLES.crops["tomato"], ["age_old", "pat_herring"], [], [("soil Mg", "low")], TABLES, known=["gr_k_heavy"]), TABLES
    )
    assert [row.head for row in told.chains] == ["k_excess"]
    assert any("potash" in text for text in told.candidates[0].speaks_for)
    disputed = case_of(None, ["age_old"], ["gr_k_heavy"], [], TABLES, known=["gr_k_heavy"])
    assert disputed.known == ()


def test_mites_and_salt_on_one_plant_are_told_as_two_and_one_cause_as_one():
    both = verdict(case_of(None, ["sign_web", "pat_stipple", "sign_crust", "pat_tip_burn", "pat_edge_burn"], [], [], TABLES), TABLES)
    assert {cause.key for cause in both.both} == {"mites", "salt"}
    assert both.says == "May be two things at once: spider mites, and salt."
    assert verdict(case_of(None, ["sign_web", "pat_stipple", "age_old", "time_heat"], [], [], TABLES), TABLES).both == ()


@pytest.mark.parametrize(
    ("crop", "yes", "flag"),
    [
        ("pear", ["form_dieback", "col_black"], "fire_blight"),
        ("tomato", ["form_fern", "form_strap", "time_muck", "dist_broad_only"], "weed_killer"),
        ("tomato", ["age_old", "pat_herring"], None),
        ("rose", ["form_dieback", "col_black"], None),
    ],
)
def test_what_must_be_said_first_is_said_first(crop, yes, flag):
    told = verdict(case_of(TABLES.crops[crop], yes, [], [], TABLES), TABLES)
    assert [item.key for item in told.flags] == ([flag] if flag else [])


@pytest.mark.parametrize(
    ("crop", "ph", "levels"),
    [
        ("cabbage", 5.2, {"5.0 to 5.3", "below 5.3", "below 6.0", "below 6.5"}),
        ("blueberry", 5.2, set()),
        ("blueberry", 6.0, {"above 5.4, acid lovers"}),
    ],
)
def test_a_reading_says_all_that_it_says_and_otherwise_to_acid_lovers(crop, ph, levels):
    made = plan(document(reading("pH", ph, method="water 1:1"), crop=crop, planting=None))
    assert {level for kind, level in evidence_of(made.findings, TABLES, crop=TABLES.crops[crop]) if kind == "pH water"} == levels


def test_confirmed_cases_move_the_key_and_no_others_do():
    seen = ["age_young", "pat_net"]
    before = shares(case_of(None, seen, [], [], TABLES), TABLES)
    own = own_cases([Confirmed("mn_short", tuple(seen), ("form_wilt",))] * 6, TABLES)
    after = shares(case_of(None, seen, [], [], TABLES, own=own), TABLES)
    assert after["mn_short"] > 1.3 * before["mn_short"]
    assert after["fe_short"] < before["fe_short"]
