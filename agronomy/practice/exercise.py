"""What an exercise is, and how an answer is taken."""

from agronomy.base.errors import RuleError
from agronomy.base.numbers import parse_number
from agronomy.base.record import record

FULL, HALF, NONE = 2, 1, 0


@record(kw_only=True)
class Exercise:
    """A question with its facts; `options` to choose from, or a number to give in `unit`.

    `right` is the key of an option, or the number; `near` are keys that are half right. `why` explains, each a sentence or two.
    """

    kind: str
    seed: int
    level: int
    asks: str
    facts: tuple[tuple[str, str], ...]
    options: tuple[tuple[str, str], ...] = ()
    right: str = ""
    number: float | None = None
    unit: str = ""
    near: frozenset[str] = frozenset()
    why: tuple[str, ...] = ()


@record
class Marked:
    """Points of 0 to 2, and what is said first."""

    points: int
    says: str


def mark(exercise: Exercise, answer: str) -> Marked:
    """Marks an answer: a number within 3 % is right and within 10 % half right. Raises RuleError for what is no number.

    Source: practice-own.

    >>> asked = Exercise(kind="dose", seed=1, level=1, asks="How much?", facts=(), number=250.0, unit="g")
    >>> mark(asked, "255").points, mark(asked, "270").points, mark(asked, "2").points
    (2, 1, 0)
    """
    if exercise.number is None:
        if answer == exercise.right:
            return Marked(FULL, "Right.")
        return Marked(HALF, "Nearly.") if answer in exercise.near else Marked(NONE, "Not so.")
    given = parse_number(answer, "answer")
    off = abs(given - exercise.number) / max(abs(exercise.number), 1e-9)
    if off <= 0.03:
        return Marked(FULL, "Right.")
    return Marked(HALF, "Nearly.") if off <= 0.1 else Marked(NONE, "Not so.")


def is_answer(exercise: Exercise, answer: str) -> bool:
    """Whether something was answered that can be marked."""
    if exercise.number is None:
        return answer in dict(exercise.options)
    try:
        parse_number(answer, "answer")
    except RuleError:
        return False
    return True
