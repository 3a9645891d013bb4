"""The holding's own figures: crops with ranges of their own, and critical levels that go before the tables'."""

from django import forms
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from agronomy.base.errors import RuleError
from agronomy.intake.own import OwnCropDoc, TargetDoc, own_crop, own_target
from web.changes.two_tabs import TwoTabsForm
from web.changes.undo import undoable, undoable_deletion
from web.core import error_text, tables
from web.ground.crop_field import CropField
from web.ground.fields import NumberField
from web.ground.models import OwnCrop
from web.query_params import key_of

FIGURES = {
    "ph_low": ("pH: lime below", 3, 9.5),
    "ph_lime_to": ("pH: lime to", 3, 9.5),
    "ph_high": ("pH: right up to", 3, 9.5),
    "p2o5_r0": ("Phosphate (P₂O₅) at a test of zero, kg/ha", 0, 400),
    "k2o_r0": ("Potash (K₂O) at a test of zero, kg/ha", 0, 600),
    "n_low": ("Nitrogen it takes up, low end, kg/ha", 0, 400),
    "n_high": ("Nitrogen it takes up, high end, kg/ha", 0, 500),
    "n_per_t": ("Nitrogen by yield, kg/t", 0, 80),
}
LEVELS = ("P", "K", "Mg", "Ca", "S", "OM", "Zn", "Mn", "Fe", "Cu", "B", "Mo")


class OwnCropForm(TwoTabsForm):
    """A crop of the holding's own. Figures that stay empty are those of the crop it builds on."""

    base = CropField(label="Builds on")

    class Meta:
        model = OwnCrop
        fields = ["name", "base"]
        labels = {"name": "Name of the crop"}

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["base"].offer([])
        for name, (label, low, high) in FIGURES.items():
            self.fields[name] = NumberField(low=low, high=high, label=label, required=False)
            self.initial[name] = self.instance.figures.get(name, "")

    def clean_name(self) -> str:
        name = self.cleaned_data["name"].strip()
        if self.instance.holding.own_crops.filter(name=name).exclude(pk=self.instance.pk).exists():
            raise forms.ValidationError("You have a crop of this name already.")
        return name

    def clean(self) -> dict:
        data = super().clean()
        figures = {name: data[name] for name in FIGURES if data.get(name) is not None}
        base = tables().crops.get(data.get("base"))
        if base is None or self.errors:
            return data
        if not figures:
            raise forms.ValidationError("Nothing differs from the crop it builds on. Give one figure at least.")
        try:
            own_crop(base, OwnCropDoc(name=data.get("name"), **figures), "crop")
        except RuleError as error:
            name = error.field.rsplit(".", 1)[-1]
            self.add_error(name if name in self.fields else None, error_text(error))
        self.instance.figures = figures
        return data


class LevelForm(forms.Form):
    """A critical level of the holding's own, for one method or for any."""

    analyte = forms.ChoiceField(label="Nutrient")
    method = forms.ChoiceField(label="Tested by", required=False)
    level = forms.CharField(label="Enough from, in mg/kg (organic matter in %)", max_length=40)

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        rows = tables().analytes
        self.fields["analyte"].choices = [(key, rows[key].name) for key in LEVELS]
        methods = sorted({method for key in LEVELS for method in rows[key].methods} - {"not stated"})
        self.fields["method"].choices = [("", "any method"), *((method, method) for method in methods)]

    def clean(self) -> dict:
        data = super().clean()
        if self.errors:
            return data
        try:
            target = own_target(TargetDoc(**data), "level", tables())
        except RuleError as error:
            name = error.field.rsplit(".", 1)[-1]
            self.add_error(name if name in self.fields else None, error_text(error))
            return data
        return data | {"kept": {"analyte": target.analyte, "method": target.method, "level": target.level}}


def own_figures(request):
    """Both lists, with a form for a new one of each."""
    holding = request.place.holding
    is_level = "analyte" in request.POST
    crop_form = OwnCropForm(request.POST if request.method == "POST" and not is_level else None, instance=OwnCrop(holding=holding))
    level_form = LevelForm(request.POST if is_level else None)
    if is_level and level_form.is_valid():
        kept = level_form.cleaned_data["kept"]
        with undoable(request, f"Your own level of {tables().analytes[kept['analyte']].name.lower()} was kept", holding):
            holding.levels = [row for row in holding.levels if (row["analyte"], row["method"]) != (kept["analyte"], kept["method"])] + [
                kept
            ]
            holding.save()
        return redirect("planning:own_figures")
    if request.method == "POST" and not is_level and crop_form.is_valid():
        with undoable(
            request, f"{crop_form.cleaned_data['name'][0].upper()}{crop_form.cleaned_data['name'][1:]} is one of your crops"
        ) as touched:
            touched.append(crop_form.save())
        return redirect("planning:own_figures")
    rows = tables().analytes
    context = {
        "crops": [(crop, tables().crops.get(crop.base), _told(crop)) for crop in holding.own_crops.all()],
        "levels": [(place, rows[row["analyte"]], row) for place, row in enumerate(holding.levels)],
        "crop_form": crop_form,
        "level_form": level_form,
    }
    return render(request, "planning/own_figures.html", context, status=422 if crop_form.errors or level_form.errors else 200)


def _told(crop: OwnCrop) -> list[str]:
    return [f"{FIGURES[name][0]} {value:g}" for name, value in crop.figures.items() if name in FIGURES]


def edit_crop(request, pk: int):
    crop = get_object_or_404(request.place.holding.own_crops, pk=pk)
    form = OwnCropForm(request.POST or None, instance=crop)
    if request.method == "POST" and form.is_valid():
        plantings = list(crop.plantings.all())
        with undoable(request, f"{crop.name} was changed", crop, *plantings):
            form.save()
            crop.plantings.update(crop=crop.base)
        return redirect("planning:own_figures")
    return render(request, "planning/own_crop_form.html", {"crop": crop, "form": form}, status=422 if form.errors else 200)


@require_POST
def delete_crop(request, pk: int):
    """Takes an own crop out; plantings of it go by the table's crop again."""
    crop = get_object_or_404(request.place.holding.own_crops, pk=pk)
    with undoable_deletion(request, f"{crop.name} was deleted; its plantings use the table again", crop):
        crop.delete()
    return redirect("planning:own_figures")


@require_POST
def drop_level(request):
    holding, place = request.place.holding, request.POST.get("level", "")
    at = key_of(place)
    if at is None or at >= len(holding.levels):
        raise Http404
    row = holding.levels[at]
    with undoable(request, f"Your own level of {tables().analytes[row['analyte']].name.lower()} was deleted", holding):
        holding.levels = [other for number, other in enumerate(holding.levels) if number != int(place)]
        holding.save()
    return redirect("planning:own_figures")
