"""Cautions by material and by practice, and tables that must know each other's names."""

from dataclasses import replace
from datetime import date

import pytest

from agronomy.intake.request import read_request
from agronomy.model.labour import Away, LabourCalendar
from agronomy.plan.cautions import Practice, cautions_for, material_cautions, practice_cautions
from agronomy.plan.plan import make_plan
from agronomy.schedule.gates import work_of
from agronomy.schedule.programme import WAYS, programmes
from tests.helpers.requests import ACID, TABLES, document

PLAIN = Practice(kg=100.0)
BY_PRACTICE = [
    ("spray", {"way": "leaf"}),
    ("feed_water", {"way": "water"}),
    ("dig", {"worked_in_cm": 15.0}),
    ("lift", {"bag_kg": 25.0}),
    ("machine", {"by_machine": True}),
    ("bale", {"on_bales": True}),
    ("stock", {"among_stock": True}),
]


@pytest.mark.parametrize(("key", "change"), BY_PRACTICE)
def test_each_practice_brings_its_own_caution_and_no_other(key, change):
    assert practice_cautions(PLAIN, TABLES) == []
    assert practice_cautions(replace(PLAIN, **change), TABLES) == [TABLES.cautions.practices[key].text]


def test_every_practice_of_the_table_is_known_and_edges_are_kept():
    assert {key for key, _ in BY_PRACTICE} == set(TABLES.cautions.practices)
    assert not practice_cautions(replace(PLAIN, worked_in_cm=14.0), TABLES)
    assert not practice_cautions(replace(PLAIN, bag_kg=10.0), TABLES)
    assert not practice_cautions(Practice(kg=3.0, bag_kg=25.0), TABLES)  # a few kilos are scooped, not lifted


def test_a_plan_tells_each_caution_once_and_the_label_last():
    made = make_plan(read_request(document(*ACID, kind="field", area="2 ha"), TABLES), TABLES)
    said = [caution.text for caution in made.cautions]
    assert len(said) == len(set(said))
    assert said[-1] == TABLES.cautions.materials["label"].text
    assert TABLES.cautions.practices["machine"].text in said
    assert TABLES.cautions.practices["lift"].text in said
    for item in made.applications:
        assert set(material_cautions([TABLES.materials[item.material]], TABLES)) <= set(said)
    assert cautions_for([], TABLES) == []
    bed = make_plan(read_request(document(*ACID), TABLES), TABLES)
    assert TABLES.cautions.practices["machine"].text not in [caution.text for caution in bed.cautions]


def test_tables_of_dates_know_every_group_class_and_work():
    assert {work_of(material, what, TABLES) for material in TABLES.materials.values() for what in ("CaCO3", "S_acid", "N", "P")} <= set(
        TABLES.climate.gates
    )
    turns = {key: row.turn for key, row in TABLES.climate.gates.items()}
    assert turns["lime"] < turns["sulfur"] < turns["manure"] < turns["phosphate_potash"] < turns["nitrogen"]
    assert {row.way for row in TABLES.liquids.weather} == {"leaf", "drench", "drip"}
    for programme in programmes(TABLES).values():
        assert {step.way for step in programme.steps} <= set(WAYS)
        assert {step.gate for step in programme.steps} <= {"", *TABLES.climate.step_gates}
        assert programme.says
        assert programme.anchor


def test_hands_find_the_next_day_of_work_and_the_last():
    easter = Away(date(2027, 3, 26), date(2027, 3, 29))
    hands = LabourCalendar(frozenset({4, 5}), (easter,))  # Fridays and Saturdays
    assert not hands.always
    assert LabourCalendar().always
    assert hands.first_free(date(2027, 3, 22)) == date(2027, 4, 2)  # the Friday and Saturday between are Easter's
    assert hands.last_free(date(2027, 4, 8), date(2027, 4, 2)) == date(2027, 4, 3)
    assert hands.last_free(date(2027, 4, 2), date(2027, 4, 2)) == date(2027, 4, 2)
