"""Photos of a trial: one unit on one day, laid side by side by treatment."""

from django import forms
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from web.changes.undo import undoable, undoable_deletion
from web.ground.fields import date_field
from web.records.photos import keep_photo, small_jpeg
from web.trials.finding import trial_or_404, units_of
from web.trials.models import Trial, TrialPhoto

MOST_SHOWN = 60


class PhotoForm(forms.Form):
    """A photo of one unit, from one mark, with a card in the frame."""

    unit = forms.TypedChoiceField(label="Unit", coerce=int)
    taken_on = date_field("Taken on")
    photo = forms.FileField(label="Photo", widget=forms.ClearableFileInput(attrs={"accept": "image/*", "capture": "environment"}))

    def __init__(self, *args, trial: Trial, **kwargs):
        super().__init__(*args, initial={"taken_on": timezone.localdate()}, **kwargs)
        self.fields["unit"].choices = [(unit.number, str(unit.number)) for unit in units_of(trial)]

    def clean_photo(self) -> bytes:
        return small_jpeg(self.cleaned_data["photo"])


def side_by_side(trial: Trial) -> list[tuple]:
    """Days with the photos of each treatment in their order, the latest day first."""
    treatment = {unit.number: unit.treatment for unit in units_of(trial)}
    days: dict = {}
    for row in trial.photos.all()[:MOST_SHOWN]:
        days.setdefault(row.taken_on, {}).setdefault(treatment.get(row.unit, ""), []).append(row)
    return [(day, [(name, found.get(name, [])) for name in trial.treatments if found.get(name)]) for day, found in days.items()]


@require_POST
def add_photo(request, pk: int):
    trial = trial_or_404(request, pk)
    form = PhotoForm(request.POST, request.FILES, trial=trial)
    if not form.is_valid():
        return render(request, "trials/photo.html", {"trial": trial, "form": form}, status=422)
    data = form.cleaned_data
    with undoable(request, f"A photo of {data['unit']} in the trial “{trial.name}” was kept") as touched:
        kept = keep_photo(trial.holding, data["photo"])
        touched.append(TrialPhoto.objects.create(trial=trial, unit=data["unit"], taken_on=data["taken_on"], photo=kept))
    return redirect("trials:trial", pk)


@require_POST
def drop_photo(request, pk: int):
    found = get_object_or_404(TrialPhoto.objects.select_related("trial"), pk=pk, trial__holding=request.place.holding)
    with undoable_deletion(request, f"A photo of the trial “{found.trial.name}” was deleted", found):
        found.delete()
    return redirect("trials:trial", found.trial_id)
