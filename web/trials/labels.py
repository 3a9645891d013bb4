"""Labels for the units of a trial: the number and the letter, nothing that tells the scorer what it is."""

from django.shortcuts import render
from django.urls import reverse

from web.core import tables
from web.drawing.labels import LabelText, sheet_asked
from web.trials.finding import trial_or_404, units_of


def labels(request, pk: int):
    """A label for each unit; its code opens the trial with numbers only."""
    trial = trial_or_404(request, pk)
    address = request.build_absolute_uri(f"{reverse('trials:trial', args=[pk])}?blind=on")
    texts = [LabelText(str(unit.number), (trial.name, trial.plot.name, f"Block {unit.block}"), address) for unit in units_of(trial)]
    context = {"trial": trial} | sheet_asked(request.GET, request.place.units, texts, tables().sampling.label_sheets)
    return render(request, "trials/labels.html", context)
