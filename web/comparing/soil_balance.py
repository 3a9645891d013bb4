"""A plot looked at more closely: what roots can reach at its pH, how nutrients stand to each other, salt; and what would sharpen its
plan.
"""

from django.shortcuts import render
from django.urls import reverse
from django.utils import timezone

from agronomy.base import showing
from agronomy.base.errors import RequestError
from agronomy.intake.request import read_request
from agronomy.model.answers import SPOKEN
from agronomy.model.request import Request
from agronomy.plan.plan import make_plan
from agronomy.whatif.sharpen import Sharper, what_would_sharpen
from web.core import error_text, tables
from web.drawing.reach import reach
from web.drawing.shares import trough
from web.ground.models import Plot
from web.ground.selectors import plot_or_404
from web.planning import words
from web.planning.requests import request_document
from web.planning.service import crop_of, lines_by_plot, reader_for
from web.planning.words import Reader


def _asked(request, pk: int) -> tuple[Plot, Request | None, list[str]]:
    """A plot with the core's request for it; None and the errors where none can be made."""
    plot = plot_or_404(request, pk)
    lines = lines_by_plot([plot])[plot.pk]
    if plot.planting is None or crop_of(plot) is None or not lines:
        return plot, None, []
    try:
        return (
            plot,
            read_request(request_document(plot, plot.planting, lines, today=timezone.localdate(), units=request.place.units), tables()),
            [],
        )
    except RequestError as error:
        return plot, None, [error_text(item) for item in error.errors]


def closer(request, pk: int):
    plot, asked, errors = _asked(request, pk)
    context = {"plot": plot, "crop": crop_of(plot), "errors": errors, "base": reverse("planning:bench", args=[pk])}
    if asked is None:
        return render(request, "planning/closer.html", context)
    plan = make_plan(asked, tables())
    acidity = next((finding for finding in plan.findings if finding.analyte == "pH"), None)
    wanted = None if acidity is None else acidity.nearest_wanted
    steps = {remark.key: words.steps(remark.working, request.place.units, tables()) for remark in plan.remarks}
    return render(
        request,
        "planning/closer.html",
        context
        | {
            "acidity": acidity,
            "wanted": wanted,
            "reach": reach(acidity.value, wanted, tables()) if acidity and wanted is not None else None,
            "trough": trough(plan.shares),
            "capacity": plan.soil.cec_cmol_per_kg,
            "remarks": [(remark, steps[remark.key]) for remark in plan.remarks],
            "salt": [found for found in words.findings(plan) if found["key"] in ("finding-EC", "finding-Na")],
        },
    )


def sharpen(request, pk: int):
    """What would narrow each dose most; a part of the bench, or a page of its own."""
    plot, asked, errors = _asked(request, pk)
    reader = reader_for(request.place, plot)
    found = [_row(item, reader) for item in what_would_sharpen(asked, tables())] if asked else []
    context = {"plot": plot, "rows": found, "errors": errors}
    return render(request, "planning/_sharpen.html" if request.htmx else "planning/sharpen.html", context)


def _row(item: Sharper, reader: Reader) -> dict:
    """One measurement in words: of the dose where there is one, else of the rate."""
    if item.material_kg:
        now, then = (tuple(showing.mass(end, reader.units, 2) for end in ends) for ends in item.material_kg)
    else:
        now, then = (tuple(reader.rate(end) for end in ends) for ends in (item.now, item.then))
    return {
        "what": SPOKEN[item.what],
        "test": item.name,
        "now": f"{now[0]} to {now[1]}",
        "then": f"{then[0]} to {then[1]}",
        "by": f"{item.narrows_by * 100:.0f} %",
        "price": f"about {reader.currency}{item.price:.0f}" if item.price else "no money",
        "time": "ten minutes" if 0 < item.hours <= 0.2 else "half an hour" if item.hours else "",
    }
