"""Bags by aim: the same needs filled for least money, fewest bags or least loss, beside the rule; and the plot's own choice."""

from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.choose.aims import ALL_AIMS, Point, plans_by_aim, rejected, trade_offs
from agronomy.errors import RequestError
from agronomy.plan import Plan
from agronomy.request import read_request
from web.changes.undo import undoable
from web.core import say, tables
from web.drawing.front import front_drawing
from web.ground.models import Plot
from web.ground.selectors import plots_of
from web.planning import words
from web.planning.requests import request_document
from web.planning.service import crop_of, lines_by_plot, reader_of

NAMES = {"rule": "by rule", "money": "least money", "fewest": "fewest bags", "loss": "least loss"}


def _plot(request, pk: int) -> Plot:
    return get_object_or_404(plots_of(request.place.holding).select_related("holding"), pk=pk)


def aims(request, pk: int):
    plot = _plot(request, pk)
    lines = lines_by_plot([plot])[plot.pk]
    context = {"plot": plot, "crop": crop_of(plot), "chosen": plot.aim or "rule"}
    if plot.planting is None or context["crop"] is None or not lines:
        return render(request, "planning/aims.html", context)
    try:
        asked = read_request(request_document(plot, plot.planting, lines, today=timezone.localdate(), units=request.place.units), tables())
    except RequestError as error:
        return render(request, "planning/aims.html", context | {"errors": [say(item) for item in error.errors]})
    reader = reader_of(request.place, plot.area_m2)
    columns = [_column(aim, plan, reader) for aim, plan in plans_by_aim(asked, tables()).items()]
    points = trade_offs(asked, tables())
    return render(
        request,
        "planning/aims.html",
        context
        | {
            "columns": columns,
            "drawing": front_drawing(points, reader.currency),
            "points": [_told(point, reader.currency) for point in points],
            "rejected": rejected(asked, tables()),
        },
    )


def _column(aim: str, plan: Plan, reader) -> dict:
    now = [item for item in plan.applications if not item.later]
    jobs = [
        f"{job.weight} {job.name}{f', {job.times}' if job.times else ''}" for job in words.jobs(plan, timezone.localdate(), reader, tables()) if not job.later
    ]
    open_ = [item.why for item in plan.unmet if item.rate_kg_per_ha and item.what in ("N", "P", "K", "Mg", "S")]
    bags = len({item.material for item in now})
    return {"key": aim, "name": NAMES[aim], "says": ALL_AIMS[aim], "jobs": jobs, "bags": bags, "cost": f"{reader.currency}{plan.cost:.2f}", "open": open_}


def _told(point: Point, currency: str) -> dict:
    return {"bags": point.bags, "cost": f"{currency}{point.cost:.2f}", "names": ", ".join(point.names), "whole": point.is_whole}


@require_POST
def choose_aim(request, pk: int):
    plot, aim = _plot(request, pk), request.POST.get("aim", "")
    if aim not in ALL_AIMS:
        raise Http404
    with undoable(request, f"{plot.name}: bags are chosen {'by rule' if aim == 'rule' else 'for ' + NAMES[aim]}", plot):
        plot.aim = "" if aim == "rule" else aim
        plot.save()
    return redirect("planning:bench", pk)
