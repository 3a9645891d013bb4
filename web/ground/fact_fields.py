"""The figures of the ground as fields of a form: made from what the core declares of each."""

from django import forms

from agronomy.base.quantities import factor
from agronomy.model.ground_facts import Fact
from web.ground.fields import NumberField, QuantityField, typed

_BASE = {"length": "cm", "volume": "L"}  # what a quantity of a kind cleans to


def fact_field(fact: Fact, units: dict[str, str]) -> forms.Field:
    """A number, or a quantity in the unit of the reader where it has one."""
    if not fact.kind:
        return NumberField(low=fact.low, high=fact.high, label=fact.label, required=False, help_text=fact.help)
    times = factor(fact.unit, _BASE[fact.kind])
    return QuantityField(
        fact.kind,
        low=fact.low * times,
        high=fact.high * times,
        unit=units[fact.typed_in],
        label=fact.label,
        required=False,
        help_text=f"{fact.help} A bare number counts as {units[fact.typed_in]}.",
    )


def fact_typed(fact: Fact, value: float | None, units: dict[str, str]) -> str:
    """What stands in the field at first."""
    if value is None:
        return ""
    return typed(value, fact.unit, units[fact.typed_in]) if fact.kind else f"{value:g}"


def fact_kept(fact: Fact, cleaned: float | None) -> float | None:
    """What the field gave, in the figure's own unit."""
    return cleaned * factor(_BASE[fact.kind], fact.unit) if fact.kind and cleaned is not None else cleaned
