"""Suppliers: how long they take to deliver, and what they ask for what."""

from django import forms
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from agronomy.base import showing
from agronomy.intake.prices import price_per_kg
from web.changes.two_tabs import TwoTabsForm
from web.changes.undo import undoable, undoable_deletion
from web.core import rule_errors_as_form_errors, tables
from web.ground.fields import QuantityField, hint_in
from web.supplies.models import Supplier, SupplierOffer


class SupplierForm(TwoTabsForm):
    """A supplier of a holding."""

    class Meta:
        model = Supplier
        fields = ["name", "delivery_days", "note"]
        labels = {"delivery_days": "Days from order to delivery"}

    def clean_name(self) -> str:
        name = self.cleaned_data["name"]
        if Supplier.objects.filter(holding=self.instance.holding_id, name=name).exclude(pk=self.instance.pk).exists():
            raise forms.ValidationError("There is a supplier of this name already. Change that one, or give another name.")
        return name


class OfferForm(forms.Form):
    """What a supplier asks for one material."""

    material = forms.ChoiceField(label="Material")
    price = forms.CharField(label="Price", max_length=60, help_text="Such as 14.50 per {25 kg}; a bare number counts per kilogram.")
    bag = QuantityField("mass", low=0.001, high=5000, label="Size of a bag", required=False)

    def __init__(self, *args, us: bool, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["material"].choices = [
            ("", "choose a material"),
            *sorted(((key, item.name) for key, item in tables().materials.items()), key=lambda pair: pair[1]),
        ]
        self.fields["bag"].unit = "lb" if us else "kg"
        self.fields["bag"].help_text = f"A bare number counts as {'lb' if us else 'kg'}. Empty: the usual bag."
        hint_in(self, "us" if us else "metric")

    def clean_price(self) -> float:
        with rule_errors_as_form_errors():
            return price_per_kg(self.cleaned_data["price"], "price")


def suppliers(request):
    """All suppliers with what they ask, and a form for a new one."""
    holding, place = request.place.holding, request.place
    form = SupplierForm(request.POST or None, instance=Supplier(holding=holding))
    if request.method == "POST" and form.is_valid():
        with undoable(request, f"{form.cleaned_data['name']} was added as a supplier") as touched:
            touched.append(form.save())
        return redirect("supplies:supplier", touched[0].pk)
    rows = [(item, [_offer(offer, place) for offer in item.offers.all()]) for item in holding.suppliers.prefetch_related("offers")]
    return render(request, "supplies/suppliers.html", {"rows": rows, "form": form}, status=422 if form.errors else 200)


def _offer(offer: SupplierOffer, place) -> dict:
    material = tables().materials.get(offer.material)
    bag = f", in bags of {showing.mass(offer.bag_kg, place.units, 3)}" if offer.bag_kg else ""
    return {
        "pk": offer.pk,
        "name": material.name if material else offer.material,
        "price": f"{place.holding.currency}{offer.price_per_kg:.2f} a kg{bag}",
    }


def supplier(request, pk: int):
    """One supplier: its own figures, and a material it offers. An offer for a material it has already takes the place of the old one."""
    item = get_object_or_404(request.place.holding.suppliers, pk=pk)
    about = "offer" if "material" in request.POST else "supplier" if request.method == "POST" else ""
    form = SupplierForm(request.POST if about == "supplier" else None, instance=item)
    offer_form = OfferForm(request.POST if about == "offer" else None, us=request.place.units == "us")
    if about == "supplier" and form.is_valid():
        with undoable(request, f"{item.name} as a supplier was changed", item):
            form.save()
        return redirect("supplies:suppliers")
    if about == "offer" and offer_form.is_valid():
        data = offer_form.cleaned_data
        offer = SupplierOffer.objects.filter(supplier=item, material=data["material"]).first() or SupplierOffer(
            supplier=item, material=data["material"]
        )
        with undoable(
            request, f"What {item.name} asks for {tables().materials[data['material']].name}", *([offer] if offer.pk else [])
        ) as touched:
            offer.price_per_kg, offer.bag_kg = data["price"], data["bag"]
            offer.save()
            touched[:] = [offer]
        return redirect("supplies:supplier", pk)
    context = {
        "supplier": item,
        "offers": [_offer(offer, request.place) for offer in item.offers.all()],
        "form": form,
        "offer_form": offer_form,
    }
    return render(request, "supplies/supplier.html", context, status=422 if form.errors or offer_form.errors else 200)


@require_POST
def drop_supplier(request, pk: int):
    item = get_object_or_404(request.place.holding.suppliers, pk=pk)
    with undoable_deletion(request, f"{item.name} was removed from the suppliers", item):
        item.delete()
    return redirect("supplies:suppliers")


@require_POST
def drop_offer(request, pk: int):
    offer = get_object_or_404(SupplierOffer, pk=pk, supplier__holding=request.place.holding)
    supplier_id = offer.supplier_id
    with undoable_deletion(request, f"An offer of {offer.supplier.name} was deleted", offer):
        offer.delete()
    return redirect("supplies:supplier", supplier_id)
