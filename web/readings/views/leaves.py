"""Leaves held to a colour card: a tap for each leaf."""

from itertools import pairwise

from django.shortcuts import redirect, render
from django.utils import timezone

from agronomy.base.errors import RuleError
from agronomy.instruments.leaf_card import Card, LeavesSay, judge_leaves
from web.changes.undo import undoable
from web.core import error_text
from web.ground.selectors import plots_to_choose
from web.readings.forms import default_plot
from web.readings.models import LabReport, LabResult
from web.readings.views.own_cards import cards_of

MOST_LEAVES = 200


def leaf_card(request):
    plots = plots_to_choose(request.place.holding)
    data = request.POST if request.method == "POST" else request.GET
    plot = default_plot(plots, data.get("plot"))
    if plot is None:
        return redirect("start")
    cards = cards_of(request.place.holding)
    chosen = next((item for item in cards if item.key == data.get("card")), cards[0])
    typed = (*data.get("leaves", "").split(";")[:MOST_LEAVES], data.get("add", ""))
    leaves = [level for part in typed if (level := _level(part)) is not None]
    if "undo" in data:
        leaves = leaves[:-1]
    says, error = None, ""
    while leaves and says is None:  # a leaf that can't be judged is dropped, the latest first, and the first fault is told
        try:
            says = judge_leaves(leaves, chosen)
        except RuleError as problem:
            error, leaves = error or error_text(problem), leaves[:-1]
    if "keep" in data and says and request.method == "POST" and not error:
        return redirect("slip_page", _keep(request, plot, chosen, leaves, says, data).pk)
    context = {
        "plot": plot,
        "plots": plots,
        "card": chosen,
        "cards": cards,
        "own_key": chosen.key.removeprefix("own:") if chosen.key.startswith("own:") else "",
        "panels": _panels(chosen),
        "leaves": leaves,
        "kept_leaves": ";".join(f"{leaf:g}" for leaf in leaves),
        "says": says,
        "error": error,
        "stage": data.get("stage", ""),
    }
    return render(request, "readings/leaf_card.html", context, status=422 if error else 200)


def _level(typed: str) -> float | None:
    """A leaf's level of the card, such as 3 or 3.5; None for what can't be one."""
    return float(typed) if len(typed) <= 6 and typed.isascii() and typed.replace(".", "", 1).isdigit() else None


def _panels(chosen: Card) -> list[tuple]:
    """Each panel with what a leaf between it and the next counts as, "" after the last."""
    halves = [f"{(first.level + second.level) / 2:g}" for first, second in pairwise(chosen.levels)]
    return list(zip(chosen.levels, [*halves, ""], strict=True))


def _keep(request, plot, chosen, leaves: list[float], says: LeavesSay, data) -> LabReport:
    with undoable(request, f"Leaves of {plot.name}: {says.mean:g} on {chosen.name}") as touched:
        slip = LabReport.objects.create(
            holding=request.place.holding,
            plot=plot,
            medium=LabReport.Medium.LEAF,
            how=LabReport.How.CARD,
            lab=chosen.name,
            taken_on=timezone.localdate(),
            stage=data.get("stage", "")[:80],
            position=chosen.position[:120],
            note=f"{', '.join(f'{leaf:g}' for leaf in leaves)}. {says.text}",
        )
        line = LabResult.objects.create(
            slip=slip,
            place=0,
            analyte="leaf colour",
            heading=chosen.name[:120],
            typed=f"{says.mean:g}",
            unit="panel",
            method="not stated",
            own_error=says.error,
        )
        touched += [slip, line]
    return slip
