"""What can be done with what is there: only the shed, or no more money than so much; and what that leaves undone."""

from datetime import timedelta

from django import forms
from django.contrib import messages
from django.shortcuts import redirect, render
from django.utils import timezone

from agronomy.base import showing
from agronomy.base.errors import RequestError
from agronomy.intake.request import read_request
from agronomy.model.answers import SPOKEN
from agronomy.whatif.within import Within, within_means
from web.core import tables
from web.ground.fields import NumberField
from web.ground.models import Plot
from web.ground.selectors import plot_or_404
from web.jobs.intent import put_on_list
from web.jobs.models import Job
from web.planning.requests import request_document
from web.planning.service import can_plan, lines_by_plot, reader_for

A_MONTH = timedelta(days=30)


class MeansForm(forms.Form):
    """What may be spent beside what stands in the shed."""

    money = NumberField(low=0, high=1e6, label="Most to spend on this plot", required=False)

    def __init__(self, *args, currency: str, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["money"].help_text = f"In {currency}. Empty: nothing is bought, only the shed is used."


def means(request, pk: int):
    plot = plot_or_404(request, pk)
    currency = request.place.holding.currency
    form = MeansForm(request.GET if "money" in request.GET else None, currency=currency)
    context = {"plot": plot, "form": form}
    if not can_plan(plot) or plot.kind == Plot.Kind.BALE or (form.is_bound and not form.is_valid()):
        return render(request, "desks/means.html", context | {"no_plan": not can_plan(plot)}, status=422 if form.errors else 200)
    try:
        document = request_document(plot, plot.planting, lines_by_plot([plot])[plot.pk], today=timezone.localdate(), units="metric")
        told = within_means(read_request(document, tables()), tables(), most_money=form.cleaned_data["money"] if form.is_bound else None)
    except RequestError:
        return render(request, "desks/means.html", context | {"no_plan": True})
    if request.method == "POST":
        return _put_on_list(request, plot, told)
    reader = reader_for(request.place, plot)
    context |= {
        "lines": [
            (row.material.name, showing.mass(row.kg, reader.units, 2), "from the shed" if row.at_hand_kg else f"{currency}{row.cost:.2f}")
            for row in told.lines
        ],
        "cost": f"{currency}{told.cost:.2f}",
        "undone": [(SPOKEN[key], reader.nutrient(left), reader.nutrient(told.needs[key])) for key, left in told.undone.items()],
        "needs": bool(told.needs),
    }
    return render(request, "desks/means.html", context)


def work_of(plot: Plot, kilos: dict[str, float]) -> list[Job]:
    """Jobs of a month from today for some kilos of each material on a plot; not stored."""
    today, known = timezone.localdate(), tables().materials
    return [
        Job(
            holding_id=plot.holding_id,
            plot=plot,
            material=key,
            name=known[key].name,
            what="feed",
            origin=Job.Origin.DESK,
            origin_name="what there is",
            kg=kg,
            why="The best that the shed and the money allow.",
            from_day=today,
            to_day=today + A_MONTH,
        )
        for key, kg in kilos.items()
        if key in known
    ]


def _put_on_list(request, plot: Plot, told: Within):
    jobs = work_of(plot, {row.material.key: row.kg for row in told.lines})
    if not jobs:
        messages.info(request, "There is nothing to put on the list.")
        return redirect("desks:means", plot.pk)
    label = f"What the shed and the money allow on {plot.name} was added to jobs"
    return put_on_list(request, plot, jobs, label, about="what there is") or redirect("jobs:jobs")
