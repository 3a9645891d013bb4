"""Labels for the plots themselves: a stake at a bed, the rim of a pot."""

from django.shortcuts import render
from django.urls import reverse

from agronomy.base import showing
from web.core import tables
from web.drawing.labels import LabelText, sheet_asked
from web.ground.crop_field import planting_name
from web.ground.selectors import plots_of


def plot_labels(request):
    """A label for each plot in use: name, crop, size, holding; its code opens the plot's plan."""
    place = request.place
    texts = []
    for plot in plots_of(place.holding):
        crop = planting_name(plot.planting) if plot.planting else ""
        lines = tuple(filter(None, (crop, showing.area(plot.area_m2, place.units), place.holding.name)))
        texts.append(LabelText(plot.name, lines, request.build_absolute_uri(reverse("planning:bench", args=[plot.pk]))))
    context = {"count": len(texts)} | sheet_asked(request.GET, place.units, texts, tables().sampling.label_sheets)
    return render(request, "overview/plot_labels.html", context)
