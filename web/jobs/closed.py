"""Closed seasons as the owner looked them up, and intervals that a job would break."""

from datetime import date

from django import forms
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from agronomy.schedule.intervals import Breach, ClosedSeason, breaches, stock_off_until
from web.changes.undo import undoable, undoable_deletion
from web.core import tables
from web.jobs.models import ClosedSpan, Job


class ClosedForm(forms.ModelForm):
    """A span of the year and what must not be spread in it."""

    materials = forms.MultipleChoiceField(label="Materials", widget=forms.SelectMultiple(attrs={"size": 10}))

    class Meta:
        model = ClosedSpan
        fields = ["name", "begins", "ends"]
        widgets = {name: forms.DateInput(format="%Y-%m-%d", attrs={"type": "date"}) for name in ("begins", "ends")}
        labels = {"name": "What it is called", "begins": "From", "ends": "To"}

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        nitrogenous = [(key, item.name) for key, item in tables().materials.items() if item.n > 0 or item.has_role("organic")]
        self.fields["materials"].choices = sorted(nitrogenous, key=lambda pair: pair[1])
        self.order_fields(["name", "begins", "ends", "materials"])

    def save(self, commit: bool = True) -> ClosedSpan:
        self.instance.materials = self.cleaned_data["materials"]
        return super().save(commit)


def closed_seasons(request):
    holding = request.place.holding
    form = ClosedForm(request.POST or None, instance=ClosedSpan(holding=holding))
    if request.method == "POST" and form.is_valid():
        with undoable(request, f"{form.cleaned_data['name']} was written down as a closed season") as touched:
            touched.append(form.save())
        return redirect("jobs:closed")
    known = tables().materials
    rows = [(item, ", ".join(known[key].name for key in item.materials if key in known)) for item in holding.closed_spans.all()]
    return render(request, "jobs/closed.html", {"form": form, "rows": rows}, status=422 if form.errors else 200)


@require_POST
def drop_closed(request, pk: int):
    span = get_object_or_404(request.place.holding.closed_spans, pk=pk)
    with undoable_deletion(request, f"{span.name} was taken out", span):
        span.delete()
    return redirect("jobs:closed")


def breaches_of(job: Job, day: date) -> list[Breach]:
    """What doing a job on a day would break: closed seasons, and raw manure before the harvest of what stands on the plot."""
    material = tables().materials.get(job.material)
    if material is None:
        return []
    spans = tuple(
        ClosedSeason(item.name, frozenset(item.materials), (item.begins.month, item.begins.day), (item.ends.month, item.ends.day))
        for item in job.holding.closed_spans.all()
    )
    planting = job.plot.planting
    crop = tables().crops.get(planting.crop) if planting else None
    harvest = planting.ended_on if planting else None
    return breaches(material, day, tables(), harvest=harvest, group=crop.group if crop else "", closed=spans)


def stock_off(job: Job, day: date) -> date | None:
    """Until when stock is kept off, on plots that have some."""
    material = tables().materials.get(job.material)
    return stock_off_until(material, day, tables()) if material is not None and job.plot.livestock else None
