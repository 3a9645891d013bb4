"""Follow up: what was seen on plots, when to look again, how it ended; and the looks that a plot can have."""

from django import forms
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from web.changes.undo import undoable, undoable_deletion
from web.core import tables
from web.desks.diagnosis.symptom_key import Said, SightingForm, answered, case_on
from web.ground.selectors import plot_or_404, plots_of
from web.records.models import Sighting
from web.records.photos import keep_photo

SHOWN = 60


def _causes() -> list[tuple[str, str]]:
    """Causes of the key that something can be confirmed as."""
    return [(row.key, row.name) for row in tables().watch.causes.values() if row.key != "other"]


class SettledForm(forms.Form):
    """How something under watch ended."""

    settled_as = forms.CharField(label="What it was", max_length=200)
    confirmed = forms.ChoiceField(
        label="A test, or a treated strip, has shown it",
        required=False,
        help_text="The key then learns from it. “It got better” shows nothing.",
    )

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["confirmed"].choices = [("", "no, or not sure"), *_causes()]


def watch(request):
    """What will be followed up, what was settled, and every plot with the looks it can have."""
    holding, today = request.place.holding, timezone.localdate()
    kept = Sighting.objects.filter(holding=holding).select_related("plot", "by")
    context = {
        "open": [_told(item, today) for item in kept.filter(settled_on=None)[:SHOWN]],
        "settled": [_told(item, today) for item in kept.exclude(settled_on=None).order_by("-settled_on")[:SHOWN]],
        "plots": plots_of(holding)[:SHOWN],
        "causes": _causes(),
    }
    return render(request, "desks/watch.html", context)


def _told(item: Sighting, today) -> dict:
    features = tables().watch.features
    return {
        "item": item,
        "signs": [features[name].answer for name in item.seen if name in features],
        "due": item.look_on is not None and item.look_on <= today and item.settled_on is None,
        "key": Said(item.plot, tuple(item.seen), tuple(item.not_seen)).address(),
    }


@require_POST
def keep_watch(request, pk: int):
    """Keeps what the key was told of a plot, with a note, a photo and a day to look again."""
    plot = plot_or_404(request, pk)
    said = answered(request.POST, plot)
    form = SightingForm(request.POST, request.FILES)
    if not form.is_valid():
        return render(request, "desks/keep_watch.html", {"plot": plot, "form": form, "said": said}, status=422)
    told = case_on(said)[1]
    with undoable(request, f"{plot.name} will be followed up") as touched:
        jpeg = form.cleaned_data["photo"]
        made = Sighting.objects.create(
            holding=plot.holding,
            plot=plot,
            seen=list(said.yes),
            not_seen=list(said.no),
            likely=told.candidates[0].cause.name[:120] if told.candidates else "",
            note=form.cleaned_data["note"],
            look_on=form.cleaned_data["look_on"],
            photo=keep_photo(plot.holding, jpeg) if jpeg else None,
            by=request.user,
        )
        touched.append(made)
    return redirect("desks:watch")


def _of(request, pk: int) -> Sighting:
    return get_object_or_404(Sighting.objects.select_related("plot"), pk=pk, holding=request.place.holding)


@require_POST
def settle_watch(request, pk: int):
    """Ends a watch with what it was."""
    found = _of(request, pk)
    form = SettledForm(request.POST)
    if not form.is_valid():
        return render(request, "desks/settle_watch.html", {"item": found, "form": form}, status=422)
    with undoable(request, f"What was seen on {found.plot.name} is settled", found):
        found.settled_on, found.settled_as = timezone.localdate(), form.cleaned_data["settled_as"]
        found.confirmed = form.cleaned_data["confirmed"]
        found.save()
    return redirect("desks:watch")


@require_POST
def drop_watch(request, pk: int):
    found = _of(request, pk)
    with undoable_deletion(request, f"What was seen on {found.plot.name} was deleted", found):
        found.delete()
    return redirect("desks:watch")
