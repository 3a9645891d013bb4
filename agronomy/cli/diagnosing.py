"""A diagnosis as a document, for the command line."""

from collections.abc import Sequence
from typing import Any

from agronomy.base.errors import RequestError, RuleError
from agronomy.diagnose.asking import Candidate, verdict
from agronomy.diagnose.causes import case_of
from agronomy.ground.crop_names import crop_named
from agronomy.tables import Tables


def diagnosis(crop: str, yes: Sequence[str], no: Sequence[str], readings: Sequence[str], tables: Tables) -> dict[str, Any]:
    """What ails a plant, as plain values; readings are texts such as `soil K=very high`. Raises RequestError. Source: symptom-weights.

    >>> from agronomy.intake.example import tables
    >>> diagnosis("tomato", ["fruit_end_rot"], [], [], tables)["candidates"][0]["cause"]
    'calcium does not reach the part'
    """
    pairs = [(kind, level) for kind, _, level in (text.partition("=") for text in readings)]
    try:
        grown = tables.crops[crop_named(crop, {}, tables)] if crop else None
        told = verdict(case_of(grown, yes, no, pairs, tables), tables)
    except RuleError as error:
        raise RequestError([error]) from None
    return {
        "first": [f"{flag.says} {flag.then}" for flag in told.flags],
        "says": told.says,
        "chains": [row.says for row in told.chains],
        "candidates": [_candidate(item) for item in told.candidates],
        "check": told.parts and {"look": told.parts.one_check, "if": [told.parts.if_a, told.parts.if_b]},
        "ask": [{"feature": row.key, "question": row.question, "answer": row.answer} for row in told.ask],
    }


def _candidate(item: Candidate) -> dict[str, Any]:
    return {
        "cause": item.cause.name,
        "how_likely": item.word,
        "share_of_this_table": round(item.share, 3),
        "speaks_for": item.speaks_for,
        "speaks_against": item.speaks_against,
        "test": item.cause.confirm,
        "leaf": item.cause.tissue,
        "first": item.cause.first,
        "makes_it_worse": item.cause.worse,
    }
