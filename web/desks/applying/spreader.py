"""The calibration desk: what a spreader really gives, how evenly, at which bout width; settings kept for next time."""

from typing import Any

from django import forms
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.apply.calibration import TrayTest, rate_by_bucket, rate_by_walk, setting_for, tray_test
from agronomy.base import showing
from agronomy.base.errors import RuleError
from agronomy.base.numbers import parse_number
from web.changes.undo import undoable, undoable_deletion
from web.core import error_text, tables
from web.desks.common import DeskForm, material_choices
from web.desks.models import SpreaderRun
from web.drawing.trays import tray_bars
from web.ground.fields import NumberField, QuantityField


class RunForm(forms.Form):
    """One measurement: spreader, material, setting, and what was caught in a walk, a bucket or trays."""

    spreader = forms.CharField(label="Spreader", max_length=60, help_text="Your name for it.")
    material = forms.ChoiceField(label="Material")
    setting = NumberField(low=0.01, high=1000, label="Setting")
    how = forms.ChoiceField(label="Measured by", choices=SpreaderRun.How.choices)
    swath = QuantityField("length", low=10, high=6000, label="Width it covers", required=False)
    caught = QuantityField(
        "mass", low=0.0001, high=5000, label="Spread or caught", required=False, help_text="In the walk, or in the bucket in a minute."
    )
    distance = QuantityField("length", low=100, high=500_000, label="Length of the walk", required=False)
    speed = NumberField(low=0.2, high=40, label="Speed, km/h", required=False)
    trays = forms.CharField(
        label="What each tray caught", max_length=400, required=False, help_text="From left to right, in one unit: 41 52 60 63 60 50 38"
    )
    spacing = QuantityField("length", low=5, high=1000, label="From tray to tray", required=False)
    there_and_back = forms.BooleanField(label="Driven there and back", required=False, initial=True)
    note = forms.CharField(max_length=120, required=False, label="Note")

    NEEDED = {"walk": ("swath", "caught", "distance"), "bucket": ("swath", "caught", "speed"), "trays": ("trays", "spacing")}

    def __init__(self, *args, us: bool, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["material"].choices = material_choices(tables().materials.values())
        for name, units in {"swath": ("m", "ft"), "caught": ("kg", "lb"), "distance": ("m", "ft"), "spacing": ("cm", "in")}.items():
            self.fields[name].unit = units[us]
            self.fields[name].help_text = f"{self.fields[name].help_text} A bare number counts as {units[us]}.".strip()

    def clean_trays(self) -> list[float]:
        try:
            return [parse_number(word, "trays") for word in self.cleaned_data["trays"].replace(";", " ").split()]
        except RuleError as error:
            raise forms.ValidationError(error_text(error)) from error

    def clean(self) -> dict:
        data = super().clean()
        for name in self.NEEDED.get(data.get("how", ""), ()):
            if name not in self.errors and not data.get(name):
                self.add_error(name, "This is needed for that way of measuring.")
        if not self.errors:
            try:
                self.measured = _measured(data)
            except RuleError as error:
                self.add_error("trays" if data["how"] == "trays" else "caught", error_text(error))
        return data


def _measured(data: dict) -> tuple[float | None, float | None, TrayTest | None]:
    """Rate [kg/ha], bout width [m], and the tray test where there is one."""
    if data["how"] == "walk":
        return rate_by_walk(data["caught"] * 1000, data["swath"] / 100, data["distance"] / 100), data["swath"] / 100, None
    if data["how"] == "bucket":
        return rate_by_bucket(data["caught"], data["swath"] / 100, data["speed"]), data["swath"] / 100, None
    test = tray_test(data["trays"], data["spacing"] / 100, tables(), there_and_back=data["there_and_back"])
    return None, test.best.width_m, test


class SettingForm(DeskForm):
    """Which setting for a rate."""

    of = forms.ChoiceField(label="Spreader and material")
    rate = QuantityField("rate", low=1, high=20_000, label="Wanted rate")
    units = {"rate": ("kg/ha", "lb/acre")}

    def __init__(self, query, *, us: bool, runs: list[SpreaderRun]):
        super().__init__(query, us=us)
        pairs = dict.fromkeys((run.spreader, run.material) for run in runs if run.rate_kg_per_ha)
        names = {
            f"{spreader}|{key}": f"{spreader}, {tables().materials[key].name if key in tables().materials else key}"
            for spreader, key in pairs
        }
        self.fields["of"].choices = list(names.items())


def spreader(request):
    """All kept runs, a form for a new one with what it shows, and the setting for a wanted rate."""
    holding, place = request.place.holding, request.place
    us = place.units == "us"
    runs = list(holding.spreader_runs.all())
    form = RunForm(request.POST or None, us=us)
    context: dict[str, Any] = {}
    if request.method == "POST" and form.is_valid():
        rate, bout, test = form.measured
        data = form.cleaned_data
        if "keep" in request.POST:
            with undoable(request, f"{data['spreader']} at {data['setting']:g} was kept") as touched:
                kept = SpreaderRun(
                    holding=holding,
                    measured_on=timezone.localdate(),
                    rate_kg_per_ha=rate,
                    bout_m=bout,
                    cv_pct=test.best.cv_pct if test else None,
                    **{name: data[name] for name in ("spreader", "material", "setting", "how", "note")},
                )
                kept.save()
                touched.append(kept)
            return redirect("desks:spreader")
        context = {"found": _found(rate, bout, test, place.units)}
    setting_form = SettingForm(request.GET, us=us, runs=runs)
    context |= {"form": form, "setting_form": setting_form, "runs": [_run(run, place.units) for run in runs]}
    if setting_form.is_bound and setting_form.is_valid():
        context["setting"] = _setting(setting_form.cleaned_data, runs)
    return render(request, "desks/spreader.html", context, status=422 if form.errors else 200)


def _found(rate: float | None, bout: float | None, test: TrayTest | None, units: str) -> dict:
    told: dict[str, Any] = {"rate": showing.rate(rate, units, 1e6) if rate else "", "bout": _metres(bout, units) if bout else ""}
    if test is None:
        return told
    rows = [
        {"width": _metres(item.width_m, units), "cv": f"{item.cv_pct:.0f} %", "word": item.word, "best": item is test.best}
        for item in test.bouts
    ]
    return told | {
        "cv": f"{test.cv_pct:.1f} %",
        "best": f"{test.best.cv_pct:.0f} %",
        "word": test.best.word,
        "bouts": rows,
        "drawing": tray_bars(test),
    }


def _metres(value: float, units: str) -> str:
    return showing.in_unit(value, "m", "ft" if units == "us" else "m", 3)


def _run(run: SpreaderRun, units: str) -> dict:
    material = tables().materials.get(run.material)
    said = [showing.rate(run.rate_kg_per_ha, units, 1e6)] if run.rate_kg_per_ha else []
    said += [f"bouts of {_metres(run.bout_m, units)}"] if run.bout_m else []
    said += [f"evenness {run.cv_pct:.0f} %"] if run.cv_pct is not None else []
    return {
        "pk": run.pk,
        "spreader": run.spreader,
        "setting": f"{run.setting:g}",
        "material": material.name if material else run.material,
        "said": ", ".join(said),
        "how": run.get_how_display(),
        "on": run.measured_on,
        "note": run.note,
    }


def _setting(data: dict, runs: list[SpreaderRun]) -> dict:
    spreader, _, material = data["of"].partition("|")
    kept = [
        (run.setting, run.rate_kg_per_ha) for run in runs if run.spreader == spreader and run.material == material and run.rate_kg_per_ha
    ]
    found = setting_for(data["rate"], kept)
    return {"setting": f"{found[0]:.1f}", "how": found[1]} if found else {}


@require_POST
def drop_run(request, pk: int):
    run = get_object_or_404(request.place.holding.spreader_runs, pk=pk)
    with undoable_deletion(request, "A spreader's setting was deleted", run):
        run.delete()
    return redirect("desks:spreader")
