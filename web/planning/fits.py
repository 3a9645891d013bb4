"""Which crop would fit where: plots by crops, as a table."""

from django.core.paginator import Paginator
from django.shortcuts import render
from django.utils import timezone

from agronomy.errors import RequestError
from agronomy.fit import best_crops, fit
from agronomy.request import read_request
from web.core import crop_choices, tables
from web.ground.models import Planting, Plot
from web.ground.selectors import plots_of
from web.planning.requests import request_document
from web.planning.service import lines_by_plot

MOST_CROPS, ON_A_PAGE, BEST = 6, 12, 4


def fits(request):
    """The chosen crops on every plot with readings, and for each plot the best of all crops of their kind."""
    known = tables().crops
    chosen = list(dict.fromkeys(key for key in request.GET.getlist("crop") if key in known))[:MOST_CROPS]
    if not chosen:
        chosen = _own_crops(request)
    plots = (
        plots_of(request.place.holding)
        .filter(zones=None, slips__medium="soil")
        .exclude(kind=Plot.Kind.BALE)
        .select_related("holding")
        .prefetch_related("gifts")
        .distinct()
    )
    page = Paginator(plots, ON_A_PAGE).get_page(request.GET.get("page"))
    lines = lines_by_plot(list(page))
    rows = [_row(request, plot, lines[plot.pk], chosen) for plot in page]
    context = {
        "rows": rows,
        "page": page,
        "chosen": chosen,
        "crops": [known[key] for key in chosen],
        "choices": crop_choices()[1:],
        "query": "".join(f"&crop={key}" for key in chosen),
        "slots": [chosen[number] if number < len(chosen) else "" for number in range(MOST_CROPS)],
    }
    return render(request, "planning/fits.html", context)


def _own_crops(request) -> list[str]:
    """The crops that the holding grows, as a beginning."""
    keys = Planting.objects.filter(plot__holding=request.place.holding).values_list("crop", flat=True).order_by("crop").distinct()
    return [key for key in keys if key in tables().crops][:MOST_CROPS]


def _row(request, plot: Plot, lines: list, chosen: list[str]) -> dict:
    planting = plot.planting or Planting(plot=plot, crop=chosen[0] if chosen else "mixed_vegetables")
    document = request_document(plot, planting, lines, today=timezone.localdate(), units=request.place.units)
    try:
        asked = read_request(document, tables())
    except RequestError:
        return {"plot": plot, "cells": [], "best": []}
    cells = [(fit(asked, tables().crops[key], tables()), planting.crop == key) for key in chosen]
    group = tables().crops[planting.crop].group if planting.crop in tables().crops else "vegetables"
    peers = [crop for crop in tables().crops.values() if crop.group == group]
    best = [item.name for item in best_crops(asked, peers, tables())[:BEST] if item.word == "well"]
    return {"plot": plot, "cells": cells, "best": best}
