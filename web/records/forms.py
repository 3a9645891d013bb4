"""What is written down when something was put on."""

from django import forms
from django.utils import timezone

from agronomy.base import showing
from agronomy.base.errors import RuleError
from agronomy.schedule.programme import WAYS
from web.core import error_text, tables
from web.ground.fields import BagsField, date_field
from web.ground.selectors import plots_to_choose
from web.records.photos import small_jpeg


class DoneForm(forms.Form):
    """How much, when, from which lot, in what weather. The planned dose stands in it already."""

    amount = BagsField("mass", low=0, high=1e6, label="How much was put on")
    done_on = date_field("On")
    lot = forms.ChoiceField(label="From", required=False)
    weather = forms.CharField(label="Weather", max_length=160, required=False)
    note = forms.CharField(label="Note", max_length=300, required=False)
    photo = forms.FileField(
        label="Photo",
        required=False,
        help_text="Kept small, without the place that a camera writes into it.",
        widget=forms.FileInput(attrs={"accept": "image/jpeg,image/png,image/webp", "capture": "environment"}),
    )
    sent_as = forms.UUIDField(required=False, widget=forms.HiddenInput)

    def __init__(self, *args, holding, material: str, units: str, kg: float | None = None, **kwargs):
        super().__init__(*args, **kwargs)
        us = units == "us"
        self.fields["amount"].unit = "lb" if us else "kg"
        self.fields["amount"].help_text = f"A bare number counts as {'lb' if us else 'kg'}; or write 2 bags."
        self.material = material
        self.lots = {str(lot.pk): lot for lot in holding.stock_lots.filter(material=material)}
        names = [
            (key, f"the shed: {showing.mass(lot.kg, units, 3)}{f', {lot.note}' if lot.note else ''}") for key, lot in self.lots.items()
        ]
        self.fields["lot"].choices = [("", "bought for it, or from elsewhere"), *names]
        self.initial.setdefault("done_on", timezone.localdate())
        if kg is not None:
            self.initial.setdefault("amount", showing.mass(kg, units, 4).replace("\u202f", ""))
        if len(names) == 1:
            self.initial.setdefault("lot", names[0][0])

    def clean(self) -> dict:
        """The amount by weight, where it was told in bags: those of the lot it came from, else the material's usual ones."""
        data = super().clean()
        lot, row = self.lots.get(data.get("lot") or ""), tables().materials.get(data.get("material", self.material))
        if "amount" in data:
            try:
                data["amount"] = self.fields["amount"].weighed(data["amount"], (lot and lot.bag_kg) or (row and row.bag_kg))
            except RuleError as error:
                self.add_error("amount", error_text(error))
        return data

    def clean_photo(self) -> bytes | None:
        """The photo as it is kept, ready to store."""
        file = self.cleaned_data["photo"]
        return small_jpeg(file) if file else None

    def clean_done_on(self):
        day = self.cleaned_data["done_on"]
        if day > timezone.localdate():
            raise forms.ValidationError("That day is still to come: a log holds what was done.")
        return day


class FreeForm(DoneForm):
    """Something that no plan asked for."""

    plot = forms.ModelChoiceField(queryset=None, label="Plot", empty_label="choose a plot")
    material = forms.ChoiceField(label="Material")
    way = forms.ChoiceField(label="It went on", choices=tuple(WAYS.items()), required=False)
    field_order = ["plot", "material", "amount", "way", "done_on", "lot", "weather", "note", "photo"]

    def __init__(self, *args, holding, units: str, **kwargs):
        super().__init__(*args, holding=holding, material="", units=units, **kwargs)
        self.fields["plot"].queryset = plots_to_choose(holding)
        self.fields["material"].choices = [
            ("", "choose a material"),
            *sorted(((key, item.name) for key, item in tables().materials.items()), key=lambda pair: pair[1]),
        ]
        self.lots = {str(lot.pk): lot for lot in holding.stock_lots.all()}
        known = tables().materials
        self.fields["lot"].choices = [
            ("", "bought for it, or from elsewhere"),
            *(
                (key, f"the shed: {showing.mass(lot.kg, units, 3)} {known[lot.material].name if lot.material in known else lot.material}")
                for key, lot in self.lots.items()
            ),
        ]

    def clean(self) -> dict:
        data = super().clean()
        lot = self.lots.get(data.get("lot") or "")
        if lot and data.get("material") and lot.material != data["material"]:
            self.add_error("lot", "That lot holds another material. Choose one of this material, or leave it.")
        return data
