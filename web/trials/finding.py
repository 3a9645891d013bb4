"""One trial of the reader's holding, and its units as drawn."""

from django.shortcuts import get_object_or_404

from agronomy.trial.design import Unit, lay_out
from web.trials.models import Trial


def trial_or_404(request, pk: int) -> Trial:
    return get_object_or_404(Trial.objects.select_related("plot"), holding=request.place.holding, pk=pk)


def units_of(trial: Trial) -> tuple[Unit, ...]:
    return lay_out(trial.treatments, trial.blocks, trial.seed)
