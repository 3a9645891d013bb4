"""What the treatments put on: materials and doses, amounts for each unit, and the work as jobs."""

from datetime import timedelta

from django import forms
from django.contrib import messages
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base import showing
from agronomy.base.quantities import factor
from agronomy.trial.treating import MOST_KG_PER_HA, Treatment, mixed_up, treat
from web.changes.undo import undoable
from web.core import tables
from web.desks.common import material_choices
from web.ground.fields import UNITS, QuantityField, date_field, hint_in, typed
from web.jobs.intent import put_on_list
from web.jobs.models import Job
from web.supplies.stock import stock_of
from web.trials.finding import trial_or_404
from web.trials.models import Trial

IN_A_WEEK = timedelta(days=7)
RATES = {"metric": "Such as 200 g/m2 or 2 t/ha.", "uk": "Such as 0.8 t/acre.", "us": "Such as 5 lb/100 ft2 or 1 ton/acre."}


class DosesForm(forms.Form):
    """The ground of one unit, a material and a rate for each treatment, and what is read of each unit before."""

    length = QuantityField("length", low=5, high=200_000, label="Length of a unit, down the slope")
    width = QuantityField("length", low=5, high=200_000, label="Width of a unit")
    guard = QuantityField(
        "length",
        low=0,
        high=10_000,
        label="Guard between units",
        required=False,
        help_text="Treated but not weighed, such as {30 cm}.",
    )
    before_what = forms.CharField(
        label="Read of each unit before",
        max_length=80,
        required=False,
        help_text="Such as pH or last year’s crop. It evens out the ground.",
    )

    def __init__(self, *args, trial: Trial, units: str, **kwargs):
        unit = UNITS[units]["length"]
        sizes = {"length": trial.length_m, "width": trial.width_m, "guard": trial.guard_m or None}
        first = {name: typed(size, "m", unit) for name, size in sizes.items()} | {"before_what": trial.before_what}
        choices = material_choices(tables().materials.values(), "nothing, or nothing on the list")
        for place, name in enumerate(trial.treatments):
            dose = trial.doses.get(name, {})
            first |= {f"material_{place}": dose.get("material", ""), f"rate_{place}": typed(dose.get("rate"), "kg/ha", "kg/ha")}
        super().__init__(*args, initial=first, **kwargs)
        self.trial = trial
        for name in sizes:
            self.fields[name].unit = unit
        for place, name in enumerate(trial.treatments):
            self.fields[f"material_{place}"] = forms.ChoiceField(label=f"{name}: material", choices=choices, required=False)
            self.fields[f"rate_{place}"] = QuantityField(
                "rate", low=0, high=MOST_KG_PER_HA, label=f"{name}: rate", required=False, help_text=RATES[units]
            )
        hint_in(self, units)

    def clean(self):
        data = super().clean()
        for place, _ in enumerate(self.trial.treatments):
            if data.get(f"material_{place}") and not data.get(f"rate_{place}") and f"rate_{place}" not in self.errors:
                self.add_error(f"rate_{place}", "Say how much of it.")
        return data

    def sizes(self) -> tuple[float, float, float]:
        """Length, width and guard [m]."""
        length, width, guard = ((self.cleaned_data[name] or 0.0) * factor("cm", "m") for name in ("length", "width", "guard"))
        return length, width, guard

    def doses(self) -> dict:
        data = self.cleaned_data
        return {
            name: {"material": data[f"material_{place}"], "rate": data[f"rate_{place}"]}
            for place, name in enumerate(self.trial.treatments)
            if data.get(f"material_{place}")
        }


class DayForm(forms.Form):
    """Something to be measured on a day."""

    what = forms.CharField(label="To measure", max_length=80)
    day = date_field("On")


def doses(request, pk: int):
    """The form of materials and doses."""
    trial = trial_or_404(request, pk)
    form = DosesForm(request.POST or None, trial=trial, units=request.place.units)
    if request.method == "POST" and form.is_valid():
        with undoable(request, f"Doses of the trial “{trial.name}” were set", trial):
            trial.length_m, trial.width_m, trial.guard_m = form.sizes()
            trial.before_what, trial.doses = form.cleaned_data["before_what"], form.doses()
            trial.costs = _costs(trial) | trial.costs
            trial.save()
        return redirect("trials:trial", pk)
    return render(request, "trials/doses.html", {"trial": trial, "form": form}, status=422 if form.errors else 200)


def treatments_of(trial: Trial) -> list[Treatment]:
    """The treatments with a known material, in their order."""
    known = tables().materials
    return [
        treat(name, known[dose["material"]], dose["rate"], trial.unit_m2, trial.blocks)
        for name in trial.treatments
        if trial.unit_m2 and (dose := trial.doses.get(name)) and dose["material"] in known
    ]


def _costs(trial: Trial) -> dict[str, float]:
    """What the material of each treatment costs on one unit, where its price is known."""
    prices = {key: line.price_per_kg for key, line in stock_of(trial.holding_id).lines().items()}
    found = {}
    for item in treatments_of(trial):
        price = prices.get(item.material.key)
        if price is not None:
            found[item.name] = round(price * item.kg_a_unit, 4)
    return found


def told_of(trial: Trial, units: str) -> dict | None:
    """The doses in words; None where none are set."""
    found = treatments_of(trial)
    if not found:
        return None
    rows = [
        {
            "name": item.name,
            "material": item.material.name,
            "rate": showing.rate(item.rate_kg_per_ha, units, trial.unit_m2 or 1.0),
            "unit": _weighed(item.kg_a_unit, units),
            "all": _weighed(item.kg_in_all, units),
        }
        for item in found
    ]
    return {"rows": rows, "mixed": mixed_up(found, tables())}


def _weighed(kg: float, units: str) -> str:
    return f"{showing.number(kg * 1000, 3)} g" if kg < 1 else showing.mass(kg, units, 3)


@require_POST
def put_doses_on_list(request, pk: int):
    """A job for each treatment with a material."""
    trial = trial_or_404(request, pk)
    begins = max(trial.begun_on, timezone.localdate())
    jobs = [
        Job(
            holding_id=trial.holding_id,
            plot=trial.plot,
            material=item.material.key,
            name=item.material.name,
            what="trial",
            kg=item.kg_in_all,
            origin=Job.Origin.DESK,
            origin_name=f"trial {trial.name}"[:80],
            placement=f"{item.name}: {_weighed(item.kg_a_unit, 'metric')} on each of its {trial.blocks} units, by the drawing"[:200],
            from_day=begins,
            to_day=begins + IN_A_WEEK,
        )
        for item in treatments_of(trial)
    ]
    if not jobs:
        messages.error(request, "Set materials and doses first.")
        return redirect("trials:trial", pk)
    label = f"Treatments of the trial “{trial.name}” were put on the list"
    return put_on_list(request, trial.plot, jobs, label, about="these treatments") or redirect("jobs:jobs")


@require_POST
def measure_on(request, pk: int):
    """A day to measure, as a job."""
    trial = trial_or_404(request, pk)
    form = DayForm(request.POST)
    if not form.is_valid():
        return render(request, "trials/day.html", {"trial": trial, "form": form}, status=422)
    what, day = form.cleaned_data["what"], form.cleaned_data["day"]
    about = {"holding_id": trial.holding_id, "plot": trial.plot, "origin": Job.Origin.DESK, "origin_name": f"trial {trial.name}"[:80]}
    with undoable(request, f"{what} is on the list for the trial “{trial.name}”") as touched:
        touched.append(
            Job.objects.create(**about, name=f"Measure {what}"[:120], what="measure", kg=0, from_day=day, to_day=day + IN_A_WEEK)
        )
    return redirect("trials:trial", pk)
