"""A grower's own figures over the tables': a crop's ranges and rates, and critical levels. They are always marked as such."""

from dataclasses import replace
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from agronomy.base.errors import OutOfRange
from agronomy.base.numbers import parse_number
from agronomy.model.reading import method_key
from agronomy.model.target import Target
from agronomy.tables import Tables
from agronomy.tables.crop import Crop

Amount = float | int | str
SOURCE = "user-value"


class OwnCropDoc(BaseModel):
    """What is different from the crop of the table that it builds on; pH in water, kg/ha, kg N per tonne."""

    model_config = ConfigDict(extra="forbid")
    name: str | None = Field(default=None, max_length=80)
    ph_low: Amount | None = None
    ph_lime_to: Amount | None = None
    ph_high: Amount | None = None
    ph_acid_to: Amount | None = None
    ph_acidify_above: Amount | None = None
    p2o5_r0: Amount | None = None
    k2o_r0: Amount | None = None
    n_low: Amount | None = None
    n_high: Amount | None = None
    n_per_t: Amount | None = None


_LIMITS = {"ph": (3.0, 9.5), "p2o5_r0": (0, 400), "k2o_r0": (0, 600), "n_low": (0, 400), "n_high": (0, 500), "n_per_t": (0, 80)}
_RISING = (("ph_low", "ph_lime_to"), ("ph_lime_to", "ph_high"), ("ph_high", "ph_acidify_above"), ("n_low", "n_high"))


def own_crop(base: Crop, doc: OwnCropDoc, field: str) -> Crop:
    """The crop with the grower's own figures in place; raises OutOfRange where they contradict each other."""
    told: dict[str, Any] = {}
    for name, typed in doc.model_dump(exclude={"name"}).items():
        if typed is None or typed == "":
            continue
        low, high = _LIMITS["ph" if name.startswith("ph") else name]
        number = parse_number(typed, f"{field}.{name}")
        if not low <= number <= high:
            raise OutOfRange(f"{field}.{name}", typed, f"{number:g} is outside {low:g} to {high:g}", "check the number")
        told[name] = number
    crop = _follow(replace(base, **told), told)
    for lower, upper in _RISING:
        if getattr(crop, lower) > getattr(crop, upper):
            at_fault = lower if lower in told else upper
            raise OutOfRange(
                f"{field}.{at_fault}",
                told.get(at_fault),
                f"{_said(lower)} {getattr(crop, lower):g} is above {_said(upper)} {getattr(crop, upper):g}",
                "put them in rising order",
            )
    return replace(
        crop, name=doc.name or crop.name, source=f"{SOURCE};{crop.source}", where="your own figures over the table's", status="unsure"
    )


def _follow(crop: Crop, told: dict) -> Crop:
    """Moves the pH figures that were not told as little as it takes to stand in order with those that were."""
    lime_to = crop.ph_lime_to if "ph_lime_to" in told else min(max(crop.ph_lime_to, crop.ph_low), crop.ph_high)
    acid_to = crop.ph_acid_to if "ph_acid_to" in told else min(max(crop.ph_acid_to, crop.ph_low), crop.ph_high)
    above = crop.ph_acidify_above if "ph_acidify_above" in told else max(crop.ph_acidify_above, crop.ph_high)
    high = crop.n_high if "n_high" in told else max(crop.n_high, crop.n_low)
    return replace(crop, ph_lime_to=lime_to, ph_acid_to=acid_to, ph_acidify_above=above, n_high=high)


def _said(name: str) -> str:
    return {"ph_low": "pH from", "ph_high": "pH to", "ph_lime_to": "the pH to lime to", "ph_acidify_above": "the pH to acidify above"}.get(
        name, name
    )


class TargetDoc(BaseModel):
    """An own critical level in the base unit of the analyte, for readings by one method (empty: by any)."""

    model_config = ConfigDict(extra="forbid")
    analyte: Literal["P", "K", "Mg", "Ca", "S", "OM", "Zn", "Mn", "Fe", "Cu", "B", "Mo"]
    method: str = Field(default="", max_length=40)
    level: Amount


def own_target(doc: TargetDoc, field: str, tables: Tables) -> Target:
    """A Target from its document; raises OutOfRange for a level that no reading could have, UnknownName for a method."""
    number, row = parse_number(doc.level, f"{field}.level"), tables.analytes[doc.analyte]
    if not 0 < number <= row.hard_high:
        raise OutOfRange(
            f"{field}.level", doc.level, f"{number:g} {row.base_unit} is no level of {row.name.lower()}", "check the number and its unit"
        )
    return Target(doc.analyte, method_key(doc.method, doc.analyte, tables, f"{field}.method") if doc.method else "", number)
