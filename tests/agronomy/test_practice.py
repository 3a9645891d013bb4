"""Exercises: every seed deals a case with one right answer, and that answer is the core's own."""

import pytest

from agronomy.base.errors import OutOfRange
from agronomy.practice.exercise import FULL, HALF, NONE, is_answer, mark
from agronomy.practice.kinds import KINDS, LEVELS, deal
from agronomy.practice.simulator import Doses, simulate, start_of
from agronomy.products.compatibility import clash
from agronomy.tables import load_tables

TABLES = load_tables()
SEEDS = 1000


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_a_thousand_seeds_deal_sound_cases(kind):
    answers = set()
    count = SEEDS if kind not in ("diagnose", "class_reading") else SEEDS // 4  # a quarter at each level and one more
    for seed in range(count):
        dealt = deal(kind, seed, LEVELS[seed % 3], TABLES)
        keys = [key for key, _ in dealt.options]
        assert len(set(keys)) == len(keys)
        if dealt.number is None:
            assert dealt.right in keys
            assert dealt.right not in dealt.near
            assert mark(dealt, dealt.right).points == FULL
        else:
            assert dealt.number > 0
            assert mark(dealt, f"{dealt.number:.6g}").points == FULL
            assert mark(dealt, f"{dealt.number * 1.07:.6g}").points == HALF
            assert mark(dealt, f"{dealt.number * 2:.6g}").points == NONE
        assert dealt.facts
        assert all(line[-1] in ".?" and ".." not in line for line in dealt.why)
        if kind == "bad_pair":
            first, second = (TABLES.materials[key] for key in dealt.right.split("+"))
            assert clash(first, second, TABLES) is not None
            others = [key.split("+") for key in keys if key != dealt.right]
            assert all(clash(TABLES.materials[one], TABLES.materials[two], TABLES) is None for one, two in others)
        answers.add(dealt.right or dealt.number)
    assert len(answers) > 1
    assert deal(kind, 7, 3, TABLES) == deal(kind, 7, 3, TABLES)


def test_what_is_no_answer_is_not_marked():
    assert not is_answer(deal("dose", 1, 1, TABLES), "many")
    assert not is_answer(deal("claim", 1, 1, TABLES), "perhaps")


def test_the_stories_go_as_they_are_known_to_go():
    limed = simulate(start_of("overlime", TABLES), [Doses(lime_t=2)] * 5 + [Doses()] * 5, TABLES)
    assert [round(limed[year - 1].tests["pH"], 1) >= low for year, low in ((1, 6.8), (3, 7.5), (5, 7.8), (10, 7.5))] == [True] * 4
    held = simulate(start_of("sulfur_on_lime", TABLES), [Doses(sulfur_kg=500)] * 10, TABLES)
    assert held[-1].tests["pH"] >= 7.4
    piled = simulate(start_of("compost_p", TABLES), [Doses(compost_t=50)] * 10, TABLES)
    assert 75 < piled[-1].tests["P"] < 100
    drawn = simulate(start_of("hay_k", TABLES), [Doses()] * 10, TABLES)
    assert drawn[-1].tests["K"] < 60
    assert "potassium short" in drawn[-1].says
    assert [end.spent for end in drawn] == [0] * 10
    with pytest.raises(OutOfRange):
        simulate(start_of("overlime", TABLES), [Doses(lime_t=50)], TABLES)
