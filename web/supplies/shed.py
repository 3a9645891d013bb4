"""The shed by lots: what is there, what it cost, what its own label says."""

from django import forms
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from agronomy.base import showing
from agronomy.base.errors import RuleError
from agronomy.intake.household_amounts import kg_in_bags, price_as_said
from agronomy.intake.own_material import LIMITS, LabelDoc, own_material
from agronomy.products.labels import label_of, nearest_material
from web.changes.two_tabs import TwoTabsForm
from web.changes.undo import undoable, undoable_deletion
from web.core import error_text, tables
from web.ground.fields import BagsField, NumberField, QuantityField, date_field, hint_in
from web.readings.analyses import analysis_asked_for
from web.supplies.models import StockLot
from web.supplies.stock import stock_of
from web.supplies.wanted import wanted

LABELLED = {
    "n": "Nitrogen N, %",
    "p2o5": "Phosphate P₂O₅, %",
    "k2o": "Potash K₂O, %",
    "ca": "Calcium Ca, %",
    "mg": "Magnesium Mg, %",
    "s": "Sulfur S, %",
    "cce": "Neutralising value, % of CaCO₃",
    "fineness": "Fine enough to work in a season, %",
    "density_g_per_ml": "Weight of a litre, kg",
}


class LotForm(TwoTabsForm):
    """A lot: what, how much, what it cost, how large its bags are."""

    material = forms.ChoiceField(label="Material")
    amount = BagsField("mass", low=0.001, high=1e6, label="How much is there")
    price = forms.CharField(
        label="What it cost",
        max_length=60,
        required=False,
        help_text="Such as 14.50 per {25 kg}, 30 for all, 15 a bag, or free. Empty: the list price.",
    )
    bag = QuantityField("mass", low=0.001, high=2000, label="Size of a bag", required=False)
    bought_on = date_field("Bought on", required=False)
    own_name = forms.CharField(label="Your name for it", max_length=80, required=False)
    n, p2o5, k2o, ca, mg, s, cce, fineness, density_g_per_ml = (
        NumberField(low=low, high=high, label=LABELLED[name], required=False) for name, (low, high) in LIMITS.items()
    )

    class Meta:
        model = StockLot
        fields = ["bought_on", "note"]

    def __init__(self, *args, us: bool, **kwargs):
        super().__init__(*args, **kwargs)
        self.us = us
        self.fields["material"].choices = [
            ("", "choose a material"),
            *((key, item.name) for key, item in sorted(tables().materials.items(), key=lambda pair: pair[1].name)),
        ]
        for name in ("amount", "bag"):
            self.fields[name].unit = "lb" if us else "kg"
            self.fields[
                name
            ].help_text = f"A bare number counts as {'lb' if us else 'kg'}{', or write 2 bags' if name == 'amount' else ''}."
        hint_in(self, "us" if us else "metric")
        lot = self.instance
        if lot.pk:
            kept = {
                "material": lot.material,
                "amount": showing.mass(lot.kg, "us" if us else "metric", 6),
                "price": "" if lot.price_per_kg is None else f"{lot.price_per_kg:g} per kg" if lot.price_per_kg else "free",
                "bag": "" if lot.bag_kg is None else showing.mass(lot.bag_kg, "us" if us else "metric", 6),
            }
            self.initial |= {name: value.replace("\u202f", "") for name, value in kept.items()}
        self.initial |= {"own_name" if name == "name" else name: value for name, value in (lot.label or {}).items()}
        self.order_fields(["material", "amount", "price", "bag", "bought_on", "note", "own_name", *LABELLED])

    def plain_fields(self) -> list:
        return [self[name] for name in self.fields if name != "own_name" and name not in LABELLED]

    def label_fields(self) -> list:
        return [self[name] for name in ("own_name", *LABELLED)]

    def label_open(self) -> bool:
        """Whether the label's fields are shown at once: something stands in them."""
        told = self.data or self.initial
        return bool(self.instance.label) or any(told.get(name) for name in ("own_name", *LABELLED))

    def clean(self) -> dict:
        """The label as a whole: contents that add to more than the bag are told at the field that is largest."""
        data = super().clean()
        self._count_bags(data)
        label = {"name": data.get("own_name") or None} | {name: data.get(name) for name in LABELLED}
        self.label = {name: value for name, value in label.items() if value is not None}
        base = tables().materials.get(data.get("material", ""))
        if base is not None and self.label:
            try:
                own_material(base, LabelDoc(**self.label), "label")
            except RuleError as error:
                self.add_error(error.field.removeprefix("label."), error_text(error))
        return data

    def _count_bags(self, data: dict) -> None:
        """The amount where it was told in bags, and the price, which may be for all of it or for a bag."""
        unit = "lb" if self.us else "kg"
        for name, read in (
            ("amount", lambda: kg_in_bags(data["amount"], data.get("bag"), "amount", unit=unit)),
            ("price", lambda: price_as_said(data["price"], data.get("amount"), data.get("bag"), "price")),
        ):
            if not isinstance(data.get(name), str):
                continue
            try:
                data[name] = read() if data[name] else None
            except RuleError as error:
                data.pop(name)
                self.add_error(name, error_text(error))

    def save(self, commit: bool = True) -> StockLot:
        data, lot = self.cleaned_data, self.instance
        lot.material, lot.kg, lot.price_per_kg, lot.bag_kg = data["material"], data["amount"], data["price"], data["bag"]
        lot.label = self.label or None
        return super().save(commit)


def shed(request, pk: int | None = None):
    """The lots, and a form for a new one or one of the list."""
    holding, us = request.place.holding, request.place.units == "us"
    lot = get_object_or_404(holding.stock_lots, pk=pk) if pk else StockLot(holding=holding)
    form = LotForm(request.POST or None, instance=lot, us=us, initial=_from_analysis(request))
    if request.method == "POST" and form.is_valid():
        name = tables().materials[form.cleaned_data["material"]].name
        with undoable(request, f"{name[0].upper()}{name[1:]} in the shed was recorded", *([lot] if lot.pk else [])) as touched:
            touched[:] = [form.save()]
        return redirect("supplies:shed")
    uses: dict[str, float] = {}
    for use in wanted(holding):
        uses[use.material] = uses.get(use.material, 0.0) + use.kg
    context = {"form": form, "lot": lot if pk else None, "lots": [_lot(item, uses, request.place) for item in stock_of(holding.pk).lots]}
    return render(request, "supplies/shed.html", context, status=422 if form.errors else 200)


def _from_analysis(request) -> dict:
    """What an analysis of a material, asked for by its number, puts into the form."""
    asked = analysis_asked_for(request)
    if asked is None:
        return {}
    slip, found = asked
    return {"material": nearest_material(found, slip.material, tables()).key, "own_name": slip.material} | {
        name: f"{value:.4g}" for name, value in label_of(found).items()
    }


def _lot(item: StockLot, uses: dict[str, float], place) -> dict:
    material = tables().materials.get(item.material)
    price = "list price" if item.price_per_kg is None else f"{place.holding.currency}{item.price_per_kg:.2f} a kg"
    used = uses.get(item.material, 0.0)
    label = item.label or {}
    name = label.get("name") or (material.name if material else item.material)
    return {
        "pk": item.pk,
        "name": name,
        "labelled": any(key != "name" for key in label),
        "what": material.name if material and label.get("name") else "",
        "kg": showing.mass(item.kg, place.units, 3),
        "price": price,
        "bought_on": item.bought_on,
        "note": item.note,
        "used": showing.mass(used, place.units, 3) if used else "",
    }


@require_POST
def take_out_lot(request, pk: int):
    lot = get_object_or_404(request.place.holding.stock_lots, pk=pk)
    with undoable_deletion(request, "An item was removed from the shed", lot):
        lot.delete()
    return redirect("supplies:shed")
