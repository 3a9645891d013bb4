"""The shed by lots, and what has to be bought for the plans that were adopted."""

import csv

from django import forms
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy import showing
from agronomy.buying import Purchase, purchases
from agronomy.documents import dressings_in
from agronomy.request import price_per_kg
from web.changes.undo import undoable, undoable_deletion
from web.core import rule_errors_as_form_errors, tables
from web.ground.fields import QuantityField, date_field
from web.planning.models import AdoptedPlan, StockLot
from web.planning.stock import bag_sizes, lots_of, shed_lines


class LotForm(forms.ModelForm):
    """A lot: what, how much, what it cost, how large its bags are."""

    material = forms.ChoiceField(label="Material")
    amount = QuantityField("mass", low=0.001, high=1e6, label="How much is there")
    price = forms.CharField(label="What it cost", max_length=60, required=False, help_text="Such as 14.50 per 25 kg. Empty: the list price.")
    bag = QuantityField("mass", low=0.001, high=2000, label="Size of a bag", required=False)
    bought_on = date_field("Bought on", required=False)

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
            self.fields[name].help_text = f"A bare number counts as {'lb' if us else 'kg'}."
        lot = self.instance
        if lot.pk:
            kept = {"material": lot.material, "amount": showing.mass(lot.kg, "us" if us else "metric", 6), "price": "" if lot.price_per_kg is None else f"{lot.price_per_kg:g}", "bag": "" if lot.bag_kg is None else showing.mass(lot.bag_kg, "us" if us else "metric", 6)}  # fmt: skip
            self.initial |= {name: value.replace("\u202f", "") for name, value in kept.items()}
        self.order_fields(["material", "amount", "price", "bag", "bought_on", "note"])

    def clean_price(self) -> float | None:
        typed = self.cleaned_data["price"]
        if not typed:
            return None
        with rule_errors_as_form_errors():
            return price_per_kg(typed, "price")

    def save(self, commit: bool = True) -> StockLot:
        data, lot = self.cleaned_data, self.instance
        lot.material, lot.kg, lot.price_per_kg, lot.bag_kg = data["material"], data["amount"], data["price"], data["bag"]
        return super().save(commit)


def shed(request, pk: int | None = None):
    """The lots, and a form for a new one or one of the list."""
    holding, us = request.place.holding, request.place.units == "us"
    lot = get_object_or_404(holding.stock_lots, pk=pk) if pk else StockLot(holding=holding)
    form = LotForm(request.POST or None, instance=lot, us=us)
    if request.method == "POST" and form.is_valid():
        name = tables().materials[form.cleaned_data["material"]].name
        with undoable(request, f"{name[0].upper()}{name[1:]} in the shed was written down", *([lot] if lot.pk else [])) as touched:
            touched[:] = [form.save()]
        return redirect("planning:shed")
    uses = {row.material: row.needed_kg for row in _purchases(request)}
    context = {"form": form, "lot": lot if pk else None, "lots": [_lot(item, uses, request.place) for item in lots_of(holding.pk)]}
    return render(request, "planning/shed.html", context, status=422 if form.errors else 200)


def _lot(item: StockLot, uses: dict[str, float], place) -> dict:
    material = tables().materials.get(item.material)
    price = "list price" if item.price_per_kg is None else f"{place.holding.currency}{item.price_per_kg:.2f} a kg"
    used = uses.get(item.material, 0.0)
    return {"pk": item.pk, "name": material.name if material else item.material, "kg": showing.mass(item.kg, place.units, 3), "price": price, "bought_on": item.bought_on, "note": item.note, "used": showing.mass(used, place.units, 3) if used else ""}  # fmt: skip


@require_POST
def take_out_lot(request, pk: int):
    lot = get_object_or_404(request.place.holding.stock_lots, pk=pk)
    with undoable_deletion(request, "A lot was taken out of the shed", lot):
        lot.delete()
    return redirect("planning:shed")


def _purchases(request) -> list[Purchase]:
    """What the latest adopted plan of every plot still has to spread, against the shed."""
    holding, today = request.place.holding, timezone.localdate()
    latest: dict[int, AdoptedPlan] = {}
    for plan in AdoptedPlan.objects.filter(plot__holding=holding).select_related("plot").order_by("adopted_at", "pk"):
        latest[plan.plot_id] = plan
    uses = [
        (dressing.material, dressing.total_kg, plan.plot.name)
        for plan in latest.values()
        for dressing in dressings_in(plan.result)
        if dressing.last_day is None or dressing.last_day >= today
    ]
    lots = lots_of(holding.pk)
    return purchases(uses, shed_lines(lots), bag_sizes(lots), tables().materials)


def buying(request):
    rows, place = _purchases(request), request.place
    told = [_told(row, place) for row in rows]
    total = sum(row.cost for row in rows)
    return render(request, "planning/buying.html", {"rows": told, "total": f"{place.holding.currency}{total:.2f}" if total else ""})


def _told(row: Purchase, place) -> dict:
    def mass(kg: float) -> str:
        return showing.mass(kg, place.units, 3) if kg > 1e-6 else "–"

    bags = f"{row.bags} of {mass(row.bag_kg)}" if row.bags else "none"
    cost = f"{place.holding.currency}{row.cost:.2f}" if row.cost else ""
    return {"name": row.name, "needed": mass(row.needed_kg), "shed": mass(row.from_shed_kg), "bags": bags, "left": mass(row.left_over_kg), "cost": cost, "plots": ", ".join(row.plots), "buy": row.bags > 0}  # fmt: skip


def buying_csv(request):
    response = HttpResponse(content_type="text/csv; charset=utf-8", headers={"Content-Disposition": 'attachment; filename="buying.csv"'})
    writer = csv.writer(response)
    writer.writerow(["material", "needed_kg", "from_shed_kg", "bags", "bag_kg", "left_over_kg", "cost", "plots"])
    for row in _purchases(request):
        plots = "; ".join(row.plots)
        plots = f"'{plots}" if plots[:1] in "=+-@" else plots  # no spreadsheet takes it for a formula
        writer.writerow(
            [row.name, f"{row.needed_kg:.4g}", f"{row.from_shed_kg:.4g}", row.bags, f"{row.bag_kg:g}", f"{row.left_over_kg:.4g}", f"{row.cost:.2f}", plots]
        )
    return response
