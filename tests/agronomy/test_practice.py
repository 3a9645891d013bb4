"""Exercises: every seed deals a case with one right answer, and that answer is the core's own."""

import pytest

from agronomy.practice.exercise import FULL, HALF, NONE, is_answer, mark
from agronomy.practice.kinds import KINDS, LEVELS, deal
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
