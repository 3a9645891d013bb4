"""What is printed for a round: labels with codes to scan, and a form for the laboratory with each bag."""

from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.utils import timezone

from agronomy.base import showing
from web.core import tables
from web.date_format import said
from web.drawing.labels import LabelText, sheet_asked
from web.sampling.models import Sample
from web.sampling.selectors import rounds_of
from web.sampling.words import layer


def _samples(request, pk: int):
    of = get_object_or_404(rounds_of(request.place.holding), pk=pk)
    return of, list(of.samples.select_related("plot").prefetch_related("plot__plantings"))


def labels(request, pk: int):
    of, samples = _samples(request, pk)
    texts = [
        LabelText(
            sample.code,
            (
                sample.plot.name,
                *([sample.get_role_display()] if sample.role != Sample.Role.WHOLE else []),
                layer(sample, request.place.units),
                request.place.holding.name,
                said(of.planned_on, "j M Y"),
            ),
            request.build_absolute_uri(reverse("sampling:at_the_plot", args=[sample.code])),
        )
        for sample in samples
    ]
    context = {"round": of} | sheet_asked(request.GET, request.place.units, texts, tables().sampling.label_sheets)
    return render(request, "sampling/labels.html", context)


def lab_forms(request, pk: int):
    of, samples = _samples(request, pk)
    rows = []
    for sample in samples:
        planting = sample.plot.planting
        crop = tables().crops.get(planting.crop) if planting else None
        rows.append(
            {
                "sample": sample,
                "crop": crop,
                "layer": layer(sample, request.place.units),
                "area": showing.area(sample.plot.area_m2, request.place.units),
            }
        )
    return render(request, "sampling/lab_forms.html", {"round": of, "rows": rows, "today": timezone.localdate()})
