"""The guided feel test for texture, the triangle by percentages, and the fizz test for free lime."""

from agronomy.base.errors import UnknownName
from agronomy.base.record import record
from agronomy.model.soil import texture_class
from agronomy.tables import Tables


@record
class Question:
    """One step of the feel test: what to do, what to answer; `answers` are (number, words)."""

    key: str
    do: str
    question: str
    answers: tuple[tuple[int, str], ...]


@record
class Felt:
    """Where the test stands: the answers given so far in words, and the next question or the texture found."""

    said: tuple[tuple[str, str], ...]
    question: Question | None
    texture: str | None


def feel(answers: list[int], tables: Tables) -> Felt:
    """Follows the answers (numbers from 0) through the test. Raises UnknownName for an answer that a question does not have.

    Source: thien-1979. Right within one class for a beginner in 7 or 8 of 10 (unsure).

    >>> from agronomy.tables import load_tables
    >>> feel([1, 1, 0], load_tables()).texture
    'sandy loam'
    """
    asks, key, said = tables.ground.feel.ask, tables.ground.feel.first, []
    for number in answers:
        node = asks[key]
        if not 0 <= number < len(node.answers):
            raise UnknownName("answer", number, "the question has no such answer", "choose one of the answers shown")
        chosen = node.answers[number]
        said.append((node.question, chosen.say))
        if chosen.then is None:
            return Felt(tuple(said), None, chosen.texture)
        key = chosen.then
    node = asks[key]
    return Felt(tuple(said), Question(key, node.do, node.question, tuple(enumerate(answer.say for answer in node.answers))), None)


def texture_by_shares(sand_pct: float, silt_pct: float, clay_pct: float, tables: Tables) -> str:
    """Name of the texture class from percentages; raises OutOfRange where they do not add to 100. Source: usda-survey-manual.

    Shares in %.
    """
    code = texture_class(sand_pct, silt_pct, clay_pct)
    return next(name for name, row in tables.textures.items() if row.code == code)


def free_lime_from_fizz(key: str, tables: Tables) -> tuple[bool, float, float]:
    """Whether there is free lime, and carbonate from..to [%], by what a drop of dilute acid does. Source: fao-carbonate."""
    if key not in tables.ground.fizz:
        raise UnknownName("fizz", key[:40], "no such fizz", f"use one of {', '.join(tables.ground.fizz)}")
    row = tables.ground.fizz[key]
    return row.free_lime, row.carbonate_low_pct, row.carbonate_high_pct
