"""The form for a plot and its crop. Sizes are typed with their unit, in either system."""

from django import forms
from django.db import transaction

from agronomy.errors import check_range
from agronomy.numbers import parse_number
from agronomy.quantities import factor, positive_quantity
from agronomy.showing import number
from web.core import crop_choices, rule_errors_as_form_errors, texture_choices
from web.ground.models import Planting, Plot


class QuantityField(forms.CharField):
    """A quantity typed as `18 m2` or as a bare number in the usual unit; cleans to the base unit of its kind."""

    def __init__(self, kind: str, *, low: float, high: float, **kwargs):
        super().__init__(max_length=400, **kwargs)
        self.kind, self.low, self.high, self.unit = kind, low, high, None

    def clean(self, value):
        typed = super().clean(value)
        if typed in self.empty_values:
            return None
        with rule_errors_as_form_errors():
            return positive_quantity(typed, self.kind, self.label or self.kind, low=self.low, high=self.high, unit=self.unit)


_UNITS = {"metric": {"area": "m2", "field": "ha", "depth": "cm", "yield": "t/ha"}, "us": {"area": "ft2", "field": "acre", "depth": "in", "yield": "ton/acre"}}


class PlotForm(forms.ModelForm):
    """A plot with the crop to plan for. `units` is the system that bare numbers are taken in."""

    area = QuantityField("area", low=0.05, high=1e8, label="Area")
    depth = QuantityField("length", low=2, high=100, label="Depth you treat")
    texture = forms.ChoiceField(label="Texture of the soil", required=False)
    dug = forms.TypedChoiceField(
        label="How it is worked", coerce=lambda value: value == "yes", choices=[("yes", "dug or tilled"), ("no", "left undug")], initial="yes"
    )
    crop = forms.ChoiceField(label="Crop to plan for")
    planted_on = forms.DateField(label="Planting date", required=False, widget=forms.DateInput(format="%Y-%m-%d", attrs={"type": "date"}))
    yield_goal = QuantityField("yield", low=0.01, high=200, label="Yield hoped for", required=False, help_text="Only where you know it; it steers nitrogen.")
    target_ph = forms.CharField(label="Your own pH target", max_length=400, required=False, help_text="Leave empty to use the crop's.")

    class Meta:
        model = Plot
        fields = ["name", "kind", "texture", "dug", "free_lime", "note"]
        labels = {"kind": "Kind of ground", "free_lime": "Does dry soil fizz with strong vinegar?", "note": "Note"}
        widgets = {"note": forms.Textarea(attrs={"rows": 2})}
        help_texts = {"free_lime": "Fizzing means free lime: then sulfur can't lower pH."}

    field_order = ["name", "kind", "area", "depth", "texture", "dug", "crop", "planted_on", "free_lime", "yield_goal", "target_ph", "note"]

    def __init__(self, *args, holding, units: str, **kwargs):
        self.holding, self.units = holding, _UNITS[units]
        instance = kwargs.get("instance")
        kwargs["initial"] = self._first_values(instance) | (kwargs.get("initial") or {})
        super().__init__(*args, **kwargs)
        self.fields["crop"].choices = crop_choices()
        self.fields["texture"].choices = texture_choices()
        self.fields["area"].unit = self.units["area"]
        self.fields["area"].help_text = f"A bare number counts as {_spoken(self.units['area'])}; or write 0.4 ha, 1000 ft², 2 acre."
        self.fields["depth"].unit = self.units["depth"]
        self.fields[
            "depth"
        ].help_text = f"A bare number counts as {self.units['depth']}. Usually {'6 in' if units == 'us' else '15 cm'}, the depth you dig or till."
        self.fields["yield_goal"].unit = self.units["yield"]

    def _first_values(self, plot: Plot | None) -> dict:
        if plot is None or plot.pk is None:
            return {"depth": "6 in" if self.units["depth"] == "in" else "15 cm"}
        planting = plot.planting
        first = {
            "area": _typed(plot.area_m2, "m2", self.units["field" if plot.kind == Plot.Kind.FIELD else "area"]),
            "depth": _typed(plot.depth_cm, "cm", self.units["depth"]),
            "dug": "yes" if plot.dug else "no",
        }
        if planting:
            goal = planting.yield_goal_t_per_ha
            first |= {
                "crop": planting.crop,
                "planted_on": planting.planted_on,
                "target_ph": "" if planting.target_ph is None else f"{planting.target_ph:g}",
                "yield_goal": "" if goal is None else _typed(goal, "t/ha", self.units["yield"]),
            }
        return first

    def clean_name(self) -> str:
        name = self.cleaned_data["name"].strip()
        if Plot.objects.filter(holding=self.holding, name=name).exclude(pk=self.instance.pk).exists():
            raise forms.ValidationError("You have a plot of this name already. Add a number or a place to it.")
        return name

    def clean_target_ph(self) -> float | None:
        typed = self.cleaned_data["target_ph"]
        if not typed:
            return None
        with rule_errors_as_form_errors():
            return check_target_ph(typed)

    @transaction.atomic
    def save(self, commit: bool = True) -> tuple[Plot, Planting]:
        data, plot = self.cleaned_data, self.instance
        plot.holding, plot.area_m2, plot.depth_cm = self.holding, data["area"], data["depth"]
        plot.save()
        planting = plot.planting or Planting(plot=plot)
        planting.crop, planting.planted_on, planting.target_ph = data["crop"], data["planted_on"], data["target_ph"]
        planting.yield_goal_t_per_ha = data["yield_goal"]
        planting.save()
        return plot, planting


def check_target_ph(typed: str) -> float:
    """A pH target as typed; raises RuleError."""

    return check_range(
        "target pH", parse_number(typed, "target pH"), low=3.5, high=8.5, unit="pH", mend="crops live between 4 and 8; leave it empty to use the crop's own"
    )


def _typed(value: float, base: str, unit: str) -> str:
    """A stored quantity as a person would type it."""
    return f"{number(value / factor(unit, base), 6)} {unit}".replace("\u202f", "")


def _spoken(unit: str) -> str:
    return unit.replace("2", "²")
