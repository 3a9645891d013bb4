"""Where an analyte is heading, and what the plot's own tests have shown of its ground; with the switch that lets plans go by it."""

from datetime import timedelta

from django.contrib import messages
from django.shortcuts import redirect
from django.urls import reverse
from django.views.decorators.http import require_POST

from agronomy.base import showing
from agronomy.base.errors import RequestError, RuleError
from agronomy.model.request import Request
from agronomy.whatif.forecast.learned import Learned, learn, what_to_ask
from agronomy.whatif.forecast.learned_pools import LearnedPool, learn_pool
from agronomy.whatif.forecast.outlook import outlook
from agronomy.whatif.upkeep import upkeep
from web.changes.undo import undoable
from web.core import tables
from web.date_format import said
from web.drawing.history import Ahead
from web.ground.models import Plot
from web.ground.selectors import plot_or_404
from web.planning import words
from web.planning.service import request_of

YEARS = (1, 2, 3, 4, 5)
FORETOLD = ("pH", "P", "K")


def ahead_of(asked: Request | None, analyte: str) -> list[Ahead]:
    """What tests would read in the years to come if the plan is followed; nothing for what is not foretold."""
    if asked is None or analyte not in FORETOLD:
        return []
    try:
        told = outlook(asked, tables(), years=YEARS).of(analyte)
    except (RuleError, RequestError):
        return []
    return [Ahead(asked.today + timedelta(days=365 * item.years), item.value, item.low, item.high) for item in told]


def upkeep_of(asked: Request | None, analyte: str, plot: Plot, units: str) -> dict | None:
    """What holds the plot where it is, once it is right, in words; None where nothing is known of it."""
    if asked is None or analyte not in FORETOLD:
        return None
    try:
        told = upkeep(asked, analyte, tables())
    except (RuleError, RequestError):
        return None
    if told is None:
        return None
    name = {"CaCO3": "lime, as pure CaCO₃", "S_acid": "sulfur", "P2O5": "P₂O₅", "K2O": "K₂O"}[told.what]
    return {
        "name": name,
        "a_year": showing.rate(told.a_year, units, plot.area_m2) if told.a_year >= 1 else "",
        "each": showing.rate(told.each, units, plot.area_m2),
        "years": told.years,
        "from_crop": analyte != "pH",
        "steps": words.steps((told.step,), units, tables()),
    }


def learned_of(asked: Request | None, analyte: str) -> Learned | LearnedPool | None:
    """What the plot's tests have shown of its pH, P or K; None for what nothing is learnt of."""
    if asked is None or analyte not in FORETOLD:
        return None
    try:
        return learn(asked, tables()) if analyte == "pH" else learn_pool(asked, analyte, tables())
    except RuleError:
        return None


def told_of(found: Learned | LearnedPool | None, analyte: str, plot: Plot, units: str) -> dict | None:
    """What was learnt, for the page."""
    if found is None or not found.intervals:
        return None
    shown = "{:.1f}" if analyte == "pH" else "{:.0f}"
    asks = [
        {
            "days": f"{said(item.begins)} to {said(item.ends)}",
            "expected": " ".join((shown.format(item.expected), f"({shown.format(item.low)} to {shown.format(item.high)})")),
            "read": shown.format(item.read),
            "why": item.why,
        }
        for item in found.intervals
    ]
    kept = _kept(plot, analyte)
    return {
        "says": found.says,
        "known": found.is_known,
        "intervals": asks,
        "questions": what_to_ask(analyte, found.intervals[-1].off, tables()),
        "used": bool(kept),
        "stale": bool(kept) and found.is_known and kept != _as_kept(found),
        "steps": words.steps(found.working, units, tables()),
    }


def _kept(plot: Plot, analyte: str) -> dict | None:
    """What plans for the plot go by now, where they go by its own tests."""
    return plot.own_buffering if analyte == "pH" else (plot.own_pools or {}).get(analyte)


def _as_kept(found: Learned | LearnedPool) -> dict:
    """What was learnt, as a plot keeps it and a request carries it."""
    kept = {name: round(getattr(found, name), 2) for name in ("times", "low", "high")} | {"tests": found.tests}
    return kept if isinstance(found, Learned) else kept | {"taken": round(found.taken, 2)}


@require_POST
def switch_learned(request, pk: int):
    """Lets plans go by the plot's own tests of one analyte, or by the table again."""
    plot = plot_or_404(request, pk)
    analyte = request.POST.get("analyte", "pH")
    found = learned_of(request_of(plot, request.place.units), analyte) if "use" in request.POST else None
    if "use" in request.POST and (found is None or not found.is_known):
        messages.error(request, "Nothing is learnt of this ground yet, so plans use the table.")
    elif analyte in FORETOLD:
        name = "lime" if analyte == "pH" else tables().analytes[analyte].name.lower()
        with undoable(request, f"{plot.name}: {name} goes by {'its own tests' if found else 'the table'}", plot):
            kept = _as_kept(found) if found else None
            if analyte == "pH":
                plot.own_buffering = kept
            else:
                others = {key: value for key, value in (plot.own_pools or {}).items() if key != analyte}
                plot.own_pools = others | ({analyte: kept} if kept else {})
            plot.save()
    return redirect(f"{reverse('chart_page', args=[pk])}?analyte={analyte if analyte in FORETOLD else 'pH'}")
