"""The waters that plots are watered with."""

from django import forms
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from web.changes.two_tabs import TwoTabsForm
from web.changes.undo import undoable, undoable_deletion
from web.ground.models import WaterSource


class WaterForm(TwoTabsForm):
    """A water by name and kind."""

    class Meta:
        model = WaterSource
        fields = ["name", "kind"]
        labels = {"kind": "Kind of water"}

    def clean_name(self) -> str:
        name = self.cleaned_data["name"].strip()
        if self.instance.holding.waters.filter(name=name).exclude(pk=self.instance.pk).exists():
            raise forms.ValidationError("You have a water of this name already.")
        return name


def waters(request, pk: int | None = None):
    """The list, and a form for a new water or one of the list."""
    holding = request.place.holding
    water = get_object_or_404(holding.waters, pk=pk) if pk else WaterSource(holding=holding)
    form = WaterForm(request.POST or None, instance=water)
    if request.method == "POST" and form.is_valid():
        with undoable(request, f"{form.cleaned_data['name']} was kept", *([water] if water.pk else [])) as touched:
            touched[:] = [form.save()]
        return redirect("ground:waters")
    context = {"form": form, "water": water if pk else None, "waters": holding.waters.prefetch_related("plots", "slips")}
    return render(request, "ground/waters.html", context, status=422 if form.errors else 200)


@require_POST
def delete_water(request, pk: int):
    water = get_object_or_404(request.place.holding.waters, pk=pk)
    with undoable_deletion(request, f"{water.name} was removed, with its readings", water):
        water.delete()
    return redirect("ground:waters")
