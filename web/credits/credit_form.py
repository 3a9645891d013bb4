"""The form for what a plot is given: each kind asks only for what it needs."""

from django import forms

from agronomy.base.errors import RuleError
from agronomy.intake.credit_doc import kinds_with_what
from agronomy.intake.household_amounts import is_by_volume, t_per_ha_by_volume
from web.changes.two_tabs import TwoTabsForm
from web.core import error_text, tables
from web.ground.fields import UNITS, NumberField, QuantityField, date_field
from web.ground.models import NutrientCredit

ASKED: dict[str, tuple[str, ...]] = {
    "legume": ("what", "on"),
    "crop_before": ("what", "on"),
    "green_manure": ("rate", "nitrogen_pct", "on"),
    "manure": ("what", "rate", "on", "worked_in", "ammonium_kg_per_t", "organic_kg_per_t"),
    "water": ("nitrate_n_mg_per_l", "water"),
    "straw": ("rate", "on"),
}
LABELS: dict[tuple[str, str], str] = {
    ("legume", "what"): "Which legume",
    ("legume", "on"): "Ended or dug in on",
    ("crop_before", "what"): "What stood here",
    ("crop_before", "on"): "Ended or ploughed on",
    ("green_manure", "rate"): "Dry matter dug in",
    ("green_manure", "on"): "Dug in on",
    ("manure", "what"): "Which manure",
    ("manure", "rate"): "How much, as it comes",
    ("manure", "on"): "Spread on",
    ("straw", "rate"): "Dry straw dug in",
    ("straw", "on"): "Dug in on",
}


class LoadField(QuantityField):
    """A rate by weight, or by volume, which waits for what a litre of it weighs."""

    def clean(self, value):
        return value.strip() if isinstance(value, str) and is_by_volume(value) else super().clean(value)


class CreditForm(TwoTabsForm):
    """A gift of one kind to one plot."""

    what = forms.ChoiceField(label="What")
    rate = LoadField("yield", low=0.01, high=300, label="How much")
    on = date_field("On", required=False)
    nitrogen_pct = NumberField(
        low=0.1, high=8, label="Nitrogen in its dry matter, %", help_text="Young clover or vetch has 3 to 4, rye in ear 1.2."
    )
    worked_in = forms.ChoiceField(label="Worked in")
    ammonium_kg_per_t = NumberField(
        low=0, high=60, label="Ammonium nitrogen by analysis, kg/t", required=False, help_text="Leave empty for a usual figure."
    )
    organic_kg_per_t = NumberField(low=0, high=140, label="Organic nitrogen by analysis, kg/t", required=False)
    nitrate_n_mg_per_l = NumberField(
        low=0, high=500, label="Nitrate nitrogen in the water, mg/L", help_text="From nitrate: divide by 4.43."
    )
    water = QuantityField(
        "length", low=0.1, high=500, label="Water in the season", help_text="Over the whole plot; a bare number counts as cm."
    )

    class Meta:
        model = NutrientCredit
        fields = ["name", "nitrogen_pct", "nitrate_n_mg_per_l", "on", "worked_in", "what", "ammonium_kg_per_t", "organic_kg_per_t"]
        labels = {"name": "Your name for it"}

    def __init__(self, *args, kind: str, units: str, **kwargs):
        super().__init__(*args, **kwargs)
        self.kind = kind
        asked: tuple[str, ...] = ("name", *ASKED[kind])
        for name in list(self.fields):
            if name not in asked:
                del self.fields[name]
        for name, field in self.fields.items():
            field.label = LABELS.get((kind, name), field.label)
        if "what" in self.fields:
            self.fields["what"].choices = [("", "Choose")] + [(key, row.name) for key, row in kinds_with_what(tables())[kind].items()]
        if "worked_in" in self.fields:
            self.fields["worked_in"].choices = [(key, row.name) for key, row in tables().nitrogen.worked_in.items()]
            self.initial["worked_in"] = self.instance.worked_in or "one_day"
        if "rate" in self.fields:
            self.fields["rate"].unit = UNITS[units]["yield"]
            by_volume = ", or 30 m3/ha" if units != "us" and kind == NutrientCredit.Kind.MANURE else ""
            told = (
                f"A bare number counts as {UNITS[units]['yield']}; or write {'50 lb/100 ft2' if units == 'us' else '3 kg/m2'}{by_volume}."
            )
            self.fields["rate"].help_text = told
        if "water" in self.fields:
            self.fields["water"].unit = UNITS[units]["depth"]
            self.fields[
                "water"
            ].help_text = (
                f"Over the whole plot; a bare number counts as {UNITS[units]['depth']}, or write {'14 in' if units == 'us' else '350 mm'}."
            )
        self.order_fields(asked)

    def clean(self) -> dict:
        """A rate by volume is weighed by the manure's own density."""
        data = super().clean()
        if isinstance(data.get("rate"), str):
            row = tables().nitrogen.manures.get(data.get("what", ""))
            density = tables().materials[row.material].density_g_per_ml if row else 1.0
            try:
                data["rate"] = t_per_ha_by_volume(data["rate"], density, "rate")
            except RuleError as error:
                data.pop("rate")
                self.add_error("rate", error_text(error))
        return data

    def save(self, commit: bool = True) -> NutrientCredit:
        self.instance.kind = self.kind
        if "rate" in self.cleaned_data:
            self.instance.rate_t_per_ha = self.cleaned_data["rate"]
        if "water" in self.cleaned_data:
            self.instance.water_mm = self.cleaned_data["water"] * 10
        return super().save(commit)


class ResponseForm(forms.Form):
    """Yield by nitrogen from the grower's own trials, and prices."""

    slope = NumberField(low=0, high=500, label="First kilogram of nitrogen brings, kg of crop", required=False)
    curvature = NumberField(
        low=0.0001, high=20, label="and less by this for each kg² after", required=False, help_text="The c of yield = a + b N − c N²."
    )
    nitrogen_price = forms.CharField(label="Price of nitrogen", max_length=60, required=False, help_text="Such as 1.20 per kg of nitrogen.")
    crop_price = forms.CharField(label="Price of the crop", max_length=60, required=False, help_text="Such as 0.19 per kg.")

    def clean(self) -> dict:
        data = super().clean()
        told = [name for name in self.fields if data.get(name) not in (None, "")]
        if told and len(told) < len(self.fields) and not self.errors:
            for name in self.fields:
                if name not in told:
                    self.add_error(name, "All four are needed together. Empty all four to use the budget.")
        return data
