"""Signs of ailing plants to ranked causes: constructed cases with their shares, and what asking and telling must hold."""

import csv
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from agronomy.base.errors import UnknownName
from agronomy.diagnose.asking import next_question, verdict
from agronomy.diagnose.causes import Case, case_of, shares
from tests.helpers.requests import TABLES

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
