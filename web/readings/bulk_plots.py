"""Plots made in one step of the sample names in a laboratory's file."""

from django import forms

from agronomy.ground.kinds import kind_row
from web.core import tables
from web.ground.crop_field import CropField, grown_on
from web.ground.fields import QuantityField
from web.ground.models import Planting, Plot

SIZED_BY_AREA = ("bed", "field", "lawn", "pasture")


class PlotsOfNames(forms.Form):
    """What all the new plots have in common; whatever differs is changed on each plot afterwards."""

    kind = forms.ChoiceField(label="Kind of ground", choices=[choice for choice in Plot.Kind.choices if choice[0] in SIZED_BY_AREA])
    crop = CropField(label="Crop to plan for")
    area = QuantityField("area", low=0.01, high=1e8, label="Size of each")

    def __init__(self, *args, holding, units: str, **kwargs):
        super().__init__(*args, **kwargs)
        self.holding = holding
        for field in self.fields.values():
            is_choice = isinstance(field, forms.ChoiceField)
            field.widget.attrs["class"] = "form-select" if is_choice else "form-control"
            field.error_messages["required"] = "say it for all of them; each can be changed afterwards"
        self.fields["crop"].offer(holding.own_crops.all(), grown=grown_on(holding))
        self.fields["area"].unit = "ft2" if units == "us" else "m2"
        self.fields["area"].help_text = f"A bare number counts as {'ft²' if units == 'us' else 'm²'}; or write 0.4 ha, 2 acre."

    def plot(self, name: str) -> tuple[Plot, Planting]:
        """A new plot of this name with its crop, stored; a name that is taken gets a number behind it."""
        data, free, number = self.cleaned_data, name, 2
        while Plot.objects.filter(holding=self.holding, name=free).exists():
            free, number = f"{name} {number}", number + 1
        area_m2, depth_cm = data["area"], kind_row(data["kind"], tables()).usual_depth_cm
        plot = Plot(holding=self.holding, name=free, kind=data["kind"], area_m2=area_m2, depth_cm=depth_cm)
        plot.sizes = {"area": f"{area_m2!r} m2"}
        plot.save()
        planting = Planting(plot=plot)
        planting.choose_crop(data["crop"])
        planting.save()
        return plot, planting
