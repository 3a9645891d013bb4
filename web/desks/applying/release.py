"""What a plan's nitrogen gives over the weeks beside what the crop takes."""

from typing import Any

from django.shortcuts import render
from django.utils import timezone

from agronomy.apply.uptake import NitrogenDressing, balance
from agronomy.base import showing
from agronomy.base.quantities import factor
from agronomy.plan.plan import make_plan
from agronomy.recommend.nutrients.credits import counted
from agronomy.schedule.calendar import calendar_for
from web.core import tables
from web.date_format import said
from web.desks.common import assessed
from web.drawing.uptake import uptake_drawing
from web.ground.selectors import plot_or_404
from web.planning.service import crop_of


def release(request, pk: int):
    plot, today = plot_or_404(request, pk), timezone.localdate()
    found = assessed(request, plot, today)
    context: dict[str, Any] = {"plot": plot, "crop": crop_of(plot)}
    if found is None:
        return render(request, "desks/release.html", context)
    plan = make_plan(found.request, tables())
    known = {**tables().materials, **found.request.own_materials}
    dressings = [
        NitrogenDressing(item.from_, known[item.material], item.rate_kg_per_ha * known[item.material].n / 100)
        for item in plan.applications
        if not item.later and known[item.material].n > 0
    ]
    need = next((item.rate_kg_per_ha for item in plan.needs if item.what == "N"), 0.0)
    ground = counted(found.credits, "N")[0]
    if need + ground <= 0:
        return render(request, "desks/release.html", context | {"none": True})
    anchor = calendar_for(
        found.request.crop, found.request.planting, today, found.request.plot.hemisphere, tables(), found.request.climate
    ).anchor
    made = balance(dressings, need + ground, max(0.0, ground), anchor, tables(), climate=found.request.climate)
    units = request.place.units
    unit, scale = ("lb/acre", 1 / factor("lb/acre", "kg/ha")) if units == "us" else ("kg/ha", 1.0)
    context |= {
        "drawing": uptake_drawing(made, unit, scale),
        "sag": _span(made.sags),
        "deepest": showing.rate(max((-week.over for week in made.sags), default=0.0), units, 1e6),
        "spill": _span(made.spills),
        "highest": showing.rate(max((week.over for week in made.spills), default=0.0), units, 1e6),
        "climate": found.request.climate.name if found.request.climate else "",
    }
    return render(request, "desks/release.html", context)


def _span(weeks: tuple) -> str:
    return f"{said(weeks[0].day, 'j M')} to {said(weeks[-1].day, 'j M')}" if weeks else ""
