"""A plan's sentences: told to another reader, and kept beside a plan so that they can be told later."""

from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Any

from agronomy.base.said import Reader, Said, read, written
from agronomy.plan.plan import Plan

_OF_ROWS = {
    "applications": ("measure", "placement", "why", "timing_note"),
    "needs": ("why",),
    "findings": ("why",),
    "nothing": ("why",),
    "unmet": ("why",),
    "unjudged": ("why", "instead"),
    "cautions": ("text",),
    "remarks": ("says",),
    "fertigation": ("says",),
    "advice": ("says",),
    "not_ready": ("says",),
    "buy": ("says",),
}
_LISTED, _SINGLE = ("notes", "doubts"), ("headline", "next_test")


def tell_plan(plan: Plan, reader: Reader) -> Plan:
    """The same plan with all that it says in a reader's units and habit of days. Source: definition.

    >>> from agronomy.intake.example import plan
    >>> tell_plan(plan(), Reader("us")).applications[0].measure
    '21 lb'
    """
    return _each(plan, reader.tell)


def sentences_of(plan: Plan) -> dict[str, Any]:
    """The sentences of a plan that hold values, as JSON values by their text; where one text stands for several values (two amounts that
    are rounded alike), all in their order under "each". Source: definition.

    >>> from agronomy.intake.example import plan
    >>> sentences_of(plan())["worked in to 20 cm"][0]
    'worked in to {depth}'
    """
    found: dict[str, list[Any]] = {}

    def keep(text: str) -> str:
        if isinstance(text, Said) and text.carries:
            found.setdefault(str(text), []).append(written(text))
        return text

    _each(plan, keep)
    return {text: each[0] if all(one == each[0] for one in each) else {"each": each} for text, each in found.items()}


def with_sentences(plan: Plan, kept: Mapping[str, Any]) -> Plan:
    """A plan whose texts are sentences with values again, as `sentences_of` gave them. Raises ValueError, KeyError or TypeError for what
    has another shape. Source: definition.

    >>> from agronomy.intake.example import plan
    >>> with_sentences(plan(), {}) == plan()
    True
    """

    in_order = {text: iter(value["each"]) for text, value in kept.items() if isinstance(value, dict)}

    def again(text: str) -> str:
        if text not in kept:
            return text
        said = read(next(in_order[text], None) if text in in_order else kept[text])
        if said != text:
            raise ValueError(f"“{text}” is kept as another sentence")
        return said

    return _each(plan, again)


def _each(plan: Plan, act: Callable[[str], str]) -> Plan:
    changed: dict[str, Any] = {name: act(getattr(plan, name)) for name in _SINGLE}
    changed |= {name: tuple(act(text) for text in getattr(plan, name)) for name in _LISTED}
    for name, fields in _OF_ROWS.items():
        changed[name] = tuple(replace(row, **{field: act(getattr(row, field)) for field in fields}) for row in getattr(plan, name))
    changed["needs"] = tuple(
        replace(need, others=tuple(replace(other, note=act(other.note)) for other in need.others)) for need in changed["needs"]
    )
    return replace(plan, **changed)
