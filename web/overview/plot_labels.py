"""Labels for the plots themselves: a stake at a bed, the rim of a pot."""

from django.core.paginator import Paginator
from django.shortcuts import render
from django.urls import reverse

from agronomy.base import showing
from web.core import tables
from web.drawing.labels import LabelText, sheet_asked
from web.ground.crop_field import planting_name
from web.ground.selectors import plots_of

ON_A_PAGE = 84  # four sheets of the commonest


def plot_labels(request):
    """A label for each plot in use, some sheets at a time: name, crop, size, holding; its code opens the plot's plan."""
    place = request.place
    page = Paginator(plots_of(place.holding), ON_A_PAGE).get_page(request.GET.get("page"))
    texts = []
    for plot in page:
        crop = planting_name(plot.planting) if plot.planting else ""
        lines = tuple(filter(None, (crop, showing.area(plot.area_m2, place.units), place.holding.name)))
        texts.append(LabelText(plot.name, lines, request.build_absolute_uri(reverse("planning:bench", args=[plot.pk]))))
    asked = sheet_asked(request.GET, place.units, texts, tables().sampling.label_sheets)
    context = {"page": page, "count": page.paginator.count, "query": f"&sheet={asked['chosen']}"} | asked
    return render(request, "overview/plot_labels.html", context)
