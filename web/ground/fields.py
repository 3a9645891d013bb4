"""Form fields that take quantities as people type them."""

from django import forms

from agronomy.base.numbers import parse_number
from agronomy.base.quantities import factor, positive_quantity
from agronomy.base.said import with_measures
from agronomy.base.showing import number
from agronomy.intake.bushels import in_pounds
from agronomy.intake.household_amounts import is_in_bags, kg_in_bags
from web.core import rule_errors_as_form_errors, tables
from web.local_units import as_meant_here
from web.sentences import tell

UNITS = {
    "metric": {"area": "m2", "field": "ha", "depth": "cm", "yield": "t/ha", "length": "m", "spacing": "cm", "volume": "L"},
    "uk": {"area": "m2", "field": "acre", "depth": "cm", "yield": "t/acre", "length": "m", "spacing": "cm", "volume": "L"},
    "us": {"area": "ft2", "field": "acre", "depth": "in", "yield": "ton/acre", "length": "ft", "spacing": "in", "volume": "gal"},
}


def hint_in(form: forms.Form, units: str) -> None:
    """Tells the hints of a form, which are written in metric, in the reader's units."""
    for field in form.fields.values():
        field.help_text = tell(with_measures(str(field.help_text)), units)


class QuantityField(forms.CharField):
    """A quantity typed as `18 m2` or as a bare number in the usual unit; cleans to the base unit of its kind."""

    def __init__(self, kind: str, *, low: float, high: float, unit: str | None = None, **kwargs):
        super().__init__(max_length=400, **kwargs)
        self.kind, self.low, self.high, self.unit = kind, low, high, unit

    def clean(self, value):
        typed = super().clean(value)
        if typed in self.empty_values:
            return None
        with rule_errors_as_form_errors():
            return positive_quantity(as_meant_here(typed), self.kind, self.label or self.kind, low=self.low, high=self.high, unit=self.unit)


class YieldField(QuantityField):
    """A yield, which may be told in bushels of the crop that the form is about (`crop_key`)."""

    crop_key: str | None = None

    def __init__(self, **kwargs):
        super().__init__("yield", high=200, **kwargs)

    def clean(self, value):
        with rule_errors_as_form_errors():
            return super().clean(in_pounds(value, self.crop_key, tables(), self.label or self.kind))


class BagsField(QuantityField):
    """A mass, or a number of bags as it was typed, which waits for the size of a bag (`weighed`)."""

    def clean(self, value):
        return value.strip() if isinstance(value, str) and is_in_bags(value) else super().clean(value)

    def weighed(self, told: float | str, bag_kg: float | None) -> float:
        """Kilograms of what `clean` gave; raises RuleError where nobody knows how large a bag is, or it is beyond the bounds."""
        if not isinstance(told, str):
            return told
        kg = kg_in_bags(told, bag_kg, self.label or self.kind, unit=self.unit or "kg")
        return positive_quantity(f"{kg!r} kg", self.kind, self.label or self.kind, low=self.low, high=self.high)


class NumberField(forms.CharField):
    """A plain number in a range, with decimal comma or point."""

    def __init__(self, *, low: float, high: float, **kwargs):
        super().__init__(max_length=60, **kwargs)
        self.low, self.high = low, high
        self.widget.attrs["inputmode"] = "decimal"

    def clean(self, value):
        typed = super().clean(value)
        if typed in self.empty_values:
            return None
        with rule_errors_as_form_errors():
            found = parse_number(typed.rstrip("% "), self.label)
        if not self.low <= found <= self.high:
            raise forms.ValidationError(f"{found:g} is outside {self.low:g} to {self.high:g}. Check the number.")
        return found


def date_field(label: str, **kwargs) -> forms.DateField:
    return forms.DateField(label=label, widget=forms.DateInput(format="%Y-%m-%d", attrs={"type": "date"}), **kwargs)


def typed(value: float | None, base: str, unit: str) -> str:
    """A stored quantity as a person would type it."""
    return "" if value is None else f"{number(value / factor(unit, base), 6)} {unit}".replace("\u202f", "")


def spoken(unit: str) -> str:
    return unit.replace("2", "²")
