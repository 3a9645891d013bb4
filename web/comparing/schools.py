"""The approaches side by side on the same readings: what each would need, spread and cost, and where they part."""

from django.http import Http404
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base.errors import RequestError
from agronomy.intake.request import read_request
from agronomy.model.answers import SPOKEN
from agronomy.plan.plan import Plan, make_plan
from agronomy.recommend.schools.registry import SCHOOLS
from agronomy.whatif.forecast.outlook import Expected, Outlook, outlook
from web.changes.undo import undoable
from web.core import error_text, tables
from web.ground.selectors import plot_or_404
from web.planning import words
from web.planning.requests import request_document
from web.planning.service import crop_of, lines_by_plot, reader_for
from web.planning.words import Reader


def side_by_side(request, pk: int):
    """One column a school, one row a need; whys in full below."""
    plot = plot_or_404(request, pk)
    lines = lines_by_plot([plot])[plot.pk]
    context = {"plot": plot, "crop": crop_of(plot), "chosen": plot.school or plot.holding.school}
    if plot.planting is None or context["crop"] is None or not lines:
        return render(request, "planning/schools.html", context)
    document = request_document(plot, plot.planting, lines, today=timezone.localdate(), units=request.place.units)
    try:
        asked = {key: read_request(document | {"school": key}, tables()) for key in SCHOOLS}
    except RequestError as error:
        return render(request, "planning/schools.html", context | {"errors": [error_text(item) for item in error.errors]})
    reader = reader_for(request.place, plot)
    plans = {key: make_plan(item, tables()) for key, item in asked.items()}
    columns = [_column(key, plan, reader) for key, plan in plans.items()]
    outlooks = {key: outlook(item, tables()) for key, item in asked.items()}
    told = {
        "columns": columns,
        "rows": _rows(plans, reader),
        "outlook": _outlook_rows(outlooks),
        "costs": [f"{reader.currency}{item.cost:.0f}" for item in outlooks.values()],
    }
    return render(request, "planning/schools.html", context | told)


def _outlook_rows(outlooks: dict[str, Outlook]) -> list[dict]:
    """A row for each analyte that is foretold: by school, what a test would read in one, three and five years."""
    rows = []
    for analyte in ("pH", "P", "K"):
        cells = [[_foretold(item) for item in found.of(analyte)] for found in outlooks.values()]
        if any(cells):
            name = next(item.name for found in outlooks.values() for item in found.of(analyte))
            ends = {cell[-1]["value"] for cell in cells if cell}
            rows.append({"name": name, "cells": cells, "part": len(ends) > 1})
    return rows


def _foretold(item: Expected) -> dict:
    figure = "{:.1f}" if item.analyte == "pH" or item.value < 10 else "{:.0f}"
    years = "1 year" if item.years == 1 else f"{item.years} years"
    return {
        "years": years,
        "value": figure.format(item.value),
        "low": figure.format(item.low),
        "high": figure.format(item.high),
        "beyond": item.beyond,
    }


def _column(key: str, plan: Plan, reader: Reader) -> dict:
    """A school with what it would spread this season."""
    jobs = words.jobs(plan, timezone.localdate(), reader, tables())
    materials = [f"{job.weight} {job.name}{f', {job.times}' if job.times else ''}" for job in jobs if not job.later]
    cost = f"{reader.currency}{plan.cost:.2f}" if plan.cost else f"{reader.currency}0"
    return {
        "key": key,
        "name": SCHOOLS[key].NAME,
        "says": SCHOOLS[key].SAYS,
        "note": SCHOOLS[key].NOTE,
        "materials": materials,
        "cost": cost,
    }


def _rows(plans: dict[str, Plan], reader: Reader) -> list[dict]:
    """A row for each need that any school has: the rate by each, and the reason where they part."""
    rows = []
    for what, name in SPOKEN.items():
        cells = [_cell(plan, what, reader) for plan in plans.values()]
        if any(cell["rate"] for cell in cells):
            rows.append({"name": name, "cells": cells, "part": len({cell["rate"] for cell in cells}) > 1})
    return rows


def _cell(plan: Plan, what: str, reader: Reader) -> dict:
    need = next((need for need in plan.needs if need.what == what), None)
    if need:
        label, amount = words.nutrient_in(what, need.rate_kg_per_ha, reader.nutrient_form)
        shown = reader.nutrient(amount)
        return {"rate": shown if label in (what, "CaCO₃", "S") else f"{shown} {label}", "why": need.why}
    because = next((answer.why for answer in plan.nothing if answer.nutrient == what), None) or next(
        (answer.why for answer in plan.unmet if answer.what == what), ""
    )
    return {"rate": "", "why": because}


@require_POST
def choose(request, pk: int):
    """The plot goes by another school from now on; plans that were adopted stay."""
    plot = plot_or_404(request, pk)
    school = request.POST.get("school", "")
    if school not in SCHOOLS:
        raise Http404
    with undoable(request, f"{plot.name} uses the approach of {SCHOOLS[school].NAME}", plot):
        plot.school = school
        plot.save()
    return redirect("planning:bench", pk)
