"""Credits as a request tells them: checked, with the field to mend named."""

import difflib
from collections.abc import Mapping
from datetime import date
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from agronomy.base.errors import NotANumber, OutOfRange, UnknownName
from agronomy.base.numbers import parse_number
from agronomy.base.quantities import parse_quantity, positive_quantity
from agronomy.base.required import required
from agronomy.model.credit import CreditSource
from agronomy.tables import Tables
from agronomy.tables.rooms.nitrogen import CropBefore, ManureRow

Amount = float | int | str


class CreditDoc(BaseModel):
    """A source of nutrients beside bought fertilizer. Which fields a kind asks for is in docs/plan-format.md.

    Bare numbers are t/ha, mg/L and mm; `on` is the day it was spread, dug in or ended.
    """

    model_config = ConfigDict(extra="forbid")
    kind: Literal["legume", "crop_before", "green_manure", "manure", "water", "straw"]
    name: str = Field(default="", max_length=80)
    counted: bool = True
    what: str | None = None
    rate: Amount | None = None
    nitrogen_pct: Amount | None = None
    nitrate_n_mg_per_l: Amount | None = None
    water: Amount | None = None
    on: date | None = None
    worked_in: str = "one_day"
    ammonium_kg_per_t: Amount | None = None
    organic_kg_per_t: Amount | None = None


ASKED = {
    "legume": ("what",),
    "crop_before": ("what",),
    "green_manure": ("rate", "nitrogen_pct"),
    "manure": ("what", "rate", "worked_in"),
    "water": ("nitrate_n_mg_per_l", "water"),
    "straw": ("rate",),
}


def kinds_with_what(tables: Tables) -> Mapping[str, Mapping[str, CropBefore | ManureRow]]:
    """What each kind of credit that names one of our rows may name. Source: n-legumes; n-crops-before; n-manure.

    >>> from agronomy.intake.example import tables
    >>> "rapeseed" in kinds_with_what(tables)["crop_before"], "rapeseed" in kinds_with_what(tables)["legume"]
    (True, False)
    """
    before = tables.nitrogen.crops_before
    return {
        "legume": {key: row for key, row in before.items() if row.legume},
        "crop_before": {key: row for key, row in before.items() if not row.legume},
        "manure": tables.nitrogen.manures,
    }


def read_credit_source(doc: CreditDoc, field: str, tables: Tables) -> CreditSource:
    """A CreditSource from its document; raises RuleErrors that name `field`."""
    for name in ASKED[doc.kind]:
        if getattr(doc, name) in (None, ""):
            raise NotANumber(f"{field}.{name}", None, f"a {doc.kind.replace('_', ' ')} wants “{name}”", "add it, or take the line out")
    rows = kinds_with_what(tables).get(doc.kind)
    if rows is not None:
        _known(required(doc.what), rows, f"{field}.what")
    _known(doc.worked_in, tables.nitrogen.worked_in, f"{field}.worked_in")
    return CreditSource(
        kind=doc.kind,
        name=doc.name,
        counted=doc.counted,
        what=doc.what,
        t_per_ha=None if doc.rate is None else positive_quantity(doc.rate, "yield", f"{field}.rate", low=0.01, high=300),
        nitrogen_pct=_number(doc.nitrogen_pct, f"{field}.nitrogen_pct", 0.1, 8),
        nitrate_n_mg_per_l=_number(doc.nitrate_n_mg_per_l, f"{field}.nitrate_n_mg_per_l", 0, 500),
        water_mm=None if doc.water is None else _depth_mm(doc.water, f"{field}.water"),
        on=doc.on,
        worked_in=doc.worked_in,
        ammonium_kg_per_t=_number(doc.ammonium_kg_per_t, f"{field}.ammonium_kg_per_t", 0, 60),
        organic_kg_per_t=_number(doc.organic_kg_per_t, f"{field}.organic_kg_per_t", 0, 140),
    )


def _number(typed: Amount | None, field: str, low: float, high: float) -> float | None:
    if typed is None:
        return None
    number = parse_number(typed, field)
    if not low <= number <= high:
        raise OutOfRange(field, typed, f"{number:g} is outside {low:g} to {high:g}", "check the number")
    return number


def _depth_mm(typed: Amount, field: str) -> float:
    mm = parse_quantity(typed, "length", field, unit="mm") * 10
    if not 1 <= mm <= 5000:
        raise OutOfRange(field, typed, f"{mm:g} mm is outside 1 to 5000 mm", "give the water of one season")
    return mm


def _known(key: str, rows: Mapping[str, object], field: str) -> None:
    if key not in rows:
        near = difflib.get_close_matches(key[:40], rows, 1, 0.5)
        mend = f"did you mean {near[0]}?" if near else f"use one of {', '.join(rows)}"
        raise UnknownName(field, key[:40], f"“{key[:40]}” is not known here", mend)
