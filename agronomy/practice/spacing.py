"""When a kind of exercise comes again, and at which level: boxes that grow apart. Nobody is told of a debt."""

from collections.abc import Sequence
from datetime import date, timedelta

from agronomy.practice.exercise import FULL, NONE

BOXES_DAYS = (1, 3, 7, 16, 35, 90)
LEVELS = (1, 3, 5)
KEPT = 5


def next_box(box: int, points: int) -> int:
    """The box after an answer: a full answer goes on, a half one stays, a wrong one goes two back. Source: practice-own.

    >>> next_box(2, 2), next_box(2, 1), next_box(2, 0), next_box(5, 2), next_box(1, 0)
    (3, 2, 0, 5, 0)
    """
    moved = box + 1 if points == FULL else box - 2 if points == NONE else box
    return min(max(moved, 0), len(BOXES_DAYS) - 1)


def due_on(box: int, today: date) -> date:
    """The day on which a box comes again. Source: practice-own.

    >>> str(due_on(2, date(2027, 3, 1)))
    '2027-03-08'
    """
    return today + timedelta(days=BOXES_DAYS[box])


def next_level(level: int, recent: Sequence[int]) -> int:
    """Up after four full answers of the last five, down after two wrong ones of the last three. Source: practice-own.

    >>> next_level(1, [2, 2, 1, 2, 2]), next_level(3, [2, 0, 0]), next_level(1, [2, 2])
    (3, 1, 1)
    """
    place = LEVELS.index(level)
    if len(recent) >= KEPT and list(recent[-KEPT:]).count(FULL) >= 4:
        return LEVELS[min(place + 1, len(LEVELS) - 1)]
    if list(recent[-3:]).count(NONE) >= 2:
        return LEVELS[max(place - 1, 0)]
    return level
