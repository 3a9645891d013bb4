"""Which bags: the same needs filled by several aims, the fronts between them, and the slider that stands between."""

from dataclasses import replace

from django.http import Http404
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base import showing
from agronomy.base.errors import RequestError
from agronomy.intake.request import read_request
from agronomy.model.answers import SPOKEN
from agronomy.model.request import Request
from agronomy.plan.plan import Plan, make_plan
from agronomy.whatif.account import account
from agronomy.whatif.aims import ALL_AIMS, LOST_TIMES, Point, loss_front, lost_kg, plans_by_aim, rejected, trade_offs
from agronomy.whatif.case import Case, case_for
from agronomy.whatif.wishes import conflicts
from web.changes.undo import undoable
from web.core import error_text, tables
from web.drawing.front import Mark, front_drawing
from web.ground.models import Plot
from web.ground.selectors import plot_or_404
from web.planning import words
from web.planning.requests import request_document
from web.planning.service import crop_of, lines_by_plot, reader_for
from web.query_params import whole

NAMES = {"rule": "by rule", "money": "least money", "fewest": "fewest bags", "loss": "least loss"}


def asked_for(request, plot: Plot) -> Request | None:
    """The core's request for a plot; None where a crop or a reading is missing. Raises RequestError."""
    lines = lines_by_plot([plot])[plot.pk]
    if plot.planting is None or crop_of(plot) is None or not lines:
        return None
    return read_request(request_document(plot, plot.planting, lines, today=timezone.localdate(), units=request.place.units), tables())


def aims(request, pk: int):
    plot = plot_or_404(request, pk)
    context = {"plot": plot, "crop": crop_of(plot), "chosen": plot.aim or "rule"}
    try:
        asked = asked_for(request, plot)
    except RequestError as error:
        return render(request, "planning/aims.html", context | {"errors": [error_text(item) for item in error.errors]})
    if asked is None:
        return render(request, "planning/aims.html", context)
    reader = reader_for(request.place, plot)
    case = case_for(asked, tables())
    columns = [
        _column(aim, plan, case, reader) for aim, plan in plans_by_aim(replace(asked, most_bags=None, lost_times=None), tables()).items()
    ]
    context |= {
        "columns": columns,
        "rejected": rejected(case, tables()),
        "wishes": _wishes(plot),
        "conflicts": [_conflict(item, reader) for item in conflicts(asked, tables())],
    }
    return render(request, "planning/aims.html", context | _slid(request, asked, case, reader))


def slide(request, pk: int):
    """What stands between the aims, at the slider's place: a part of the page."""
    plot = plot_or_404(request, pk)
    try:
        asked = asked_for(request, plot)
    except RequestError:
        asked = None
    if asked is None:
        raise Http404
    reader = reader_for(request.place, plot)
    return render(request, "planning/_slid.html", {"plot": plot} | _slid(request, asked, case_for(asked, tables()), reader))


def _slid(request, asked: Request, case: Case, reader) -> dict:
    """Where the slider stands, the plan there, and both fronts with that place marked."""
    points = trade_offs(case, tables())
    most = max((point.bags for point in points), default=1)
    bags = whole(request.GET.get("bags"), low=1, high=most, usual=asked.most_bags or most)
    place = whole(request.GET.get("spare"), low=0, high=len(LOST_TIMES) - 1, usual=_nearest(asked.lost_times or 0.0))
    times = LOST_TIMES[place]
    here = replace(asked, aim="money", most_bags=bags, lost_times=times or None)
    plan = make_plan(here, tables())
    spared = loss_front(case, tables())
    by_bags = [Mark(point.bags, point.cost, f"{point.bags}", point.is_whole, point.bags == bags) for point in points]
    by_loss = [
        Mark(point.lost_kg, point.cost, showing.mass(point.lost_kg, reader.units), True, point.lost_times == times) for point in spared
    ]
    return {
        "slid": _column("money", plan, case, reader),
        "bags": bags,
        "most": most,
        "spare": place,
        "most_spare": len(LOST_TIMES) - 1,
        "times": times,
        "front": front_drawing(by_bags, "bags of nutrients", reader.currency),
        "loss_front": front_drawing(by_loss, "nitrogen lost", reader.currency),
        "points": [_told(point, reader.currency) for point in points],
    }


def _nearest(times: float) -> int:
    return min(range(len(LOST_TIMES)), key=lambda place: abs(LOST_TIMES[place] - times))


def _column(aim: str, plan: Plan, case: Case, reader) -> dict:
    now = [item for item in plan.applications if not item.later]
    jobs = [
        f"{job.weight} {job.name}{f', {job.times}' if job.times else ''}"
        for job in words.jobs(plan, timezone.localdate(), reader, tables())
        if not job.later
    ]
    lines = account(plan, tables())
    materials = {item.material: item.name for item in now}
    return {
        "key": aim,
        "materials": materials.items(),
        "name": NAMES[aim],
        "says": ALL_AIMS[aim],
        "jobs": jobs,
        "bags": len({item.material for item in now}),
        "cost": f"{reader.currency}{plan.cost:.2f}",
        "lost": showing.mass(lost_kg(plan, case), reader.units),
        "open": [item.why for item in plan.unmet if item.rate_kg_per_ha and item.what in ("N", "P", "K", "Mg", "S")],
        "over": [f"{SPOKEN[line.nutrient]} by {_rate(line.nutrient, line.over, reader)}" for line in lines if line.is_over(tables())],
    }


def _rate(nutrient: str, kg_per_ha: float, reader) -> str:
    label, amount = words.nutrient_in(nutrient, kg_per_ha, reader.nutrient_form)
    return f"{reader.nutrient(amount)} {label}"


def _conflict(item, reader) -> dict:
    opens = ", ".join(f"{_rate(key, amount, reader)}" for key, amount in item.opens.items())
    return {"wish": item.wish, "opens": opens, "would": item.would, "cost": f"{reader.currency}{item.plan.cost:.2f}" if item.plan else ""}


def _wishes(plot: Plot) -> list[tuple[str, str, str]]:
    """Wishes about materials: which list, key, in words."""
    known = tables().materials
    return [
        (kind, key, f"{known[key].name} {word}")
        for kind, word in (("wanted", "first"), ("without", "left out"))
        for key in getattr(plot, kind)
        if key in known
    ]


def _told(point: Point, currency: str) -> dict:
    return {"bags": point.bags, "cost": f"{currency}{point.cost:.2f}", "names": ", ".join(point.names), "whole": point.is_whole}


@require_POST
def choose_aim(request, pk: int):
    """Goes by an aim, or by a place of the slider between them."""
    plot, aim = plot_or_404(request, pk), request.POST.get("aim", "")
    if aim not in ALL_AIMS:
        raise Http404
    bags, spare = request.POST.get("bags"), request.POST.get("spare")
    with undoable(request, f"{plot.name}: bags are chosen {'by rule' if aim == 'rule' else 'for ' + NAMES[aim]}", plot):
        plot.aim = "" if aim == "rule" else aim
        plot.most_bags = whole(bags, low=1, high=12, usual=1) if bags else None
        plot.lost_times = LOST_TIMES[whole(spare, low=0, high=len(LOST_TIMES) - 1, usual=0)] or None if spare else None
        plot.save()
    return redirect("planning:bench", pk)
