"""Yields in bushels, which weigh another amount with each crop."""

import re

from agronomy.base.errors import RuleError
from agronomy.base.numbers import parse_number
from agronomy.base.quantities import QUANTITY
from agronomy.base.said import say
from agronomy.tables import Tables

_BUSHELS = re.compile(r"\b(?:bu|bushels?)\b\.?", re.IGNORECASE)


def in_pounds(typed: object, crop: str | None, tables: Tables, field: str) -> object:
    """A typed yield with its bushels as pounds of the crop; what holds none is left as it is.

    Raises RuleError where nobody here knows what a bushel of the crop weighs. Source: usda-bushel.

    >>> from agronomy.intake.example import tables
    >>> in_pounds("60 bu/acre", "winter_wheat", tables, "crop.yield_goal"), in_pounds("4 t/ha", None, tables, "crop.yield_goal")
    ('3600 lb/acre', '4 t/ha')
    """
    if not isinstance(typed, str) or not _BUSHELS.search(typed):
        return typed
    row, known = tables.growing.bushels.get(crop or ""), tables.crops.get(crop or "")
    if row is None:
        name = known.name if known else "this crop"
        mend = say("write the yield by weight, such as 8 t/ha")
        raise RuleError(field, typed[:40], say("nobody here knows what a bushel of {name} weighs", name=name), mend)
    amount = QUANTITY.match(typed[:120])
    if amount is None:
        return typed
    pounds = parse_number(amount.group(1), field) * row.lb_per_bushel
    return f"{pounds:g} {_BUSHELS.sub('lb', amount.group(2))}"
