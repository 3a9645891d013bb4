"""A plan as a letter of a page, to read, print or send: the plot's plan of today, or one that was adopted."""

from django.core.paginator import Paginator
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.utils import timezone

from agronomy.base.errors import RequestError
from agronomy.base.required import required
from agronomy.intake.request import read_request
from agronomy.model.request import Request
from agronomy.plan.letter import Letter, head_of, letter
from agronomy.plan.plan import Plan, make_plan
from web.core import tables
from web.ground.selectors import plot_or_404, plots_to_plan
from web.planning.models import AdoptedPlan
from web.planning.service import asked_of, crop_of, lines_by_plot, need_a_crop, no_plan, plan_of
from web.query_params import keys_of
from web.sentences import reader_in
from web.supplies.stock import stock_of

ON_A_PAGE = 40


def _letter(request, plan: Plan, plot: str, crop: str, asked: Request | None) -> Letter:
    """Signed by who asks for it; an adviser writes to the holding, an owner to themselves and their people."""
    place = request.place
    to = place.holding.name if place.role == "adviser" else ""
    head = head_of(asked) if asked is not None else None
    return letter(plan, plot=plot, crop=crop, to=to, by=str(request.user), reader=reader_in(place.units), head=head)


def plot_letter(request, pk: int):
    """The letter of the plan as it stands today."""
    plot = plot_or_404(request, pk)
    need_a_crop(plot)
    crop = crop_of(plot)
    try:
        asked = asked_of(plot, lines_by_plot([plot])[pk], today=timezone.localdate(), units=request.place.units)
        plan = make_plan(asked, tables())
    except RequestError:
        raise no_plan(plot) from None
    context = {
        "plot": plot,
        "letter": _letter(request, plan, plot.name, required(crop).name, asked),
        "back": reverse("planning:bench", args=[pk]),
    }
    return render(request, "planning/letter.html", context)


def letters(request):
    """The letters of all plots that have a crop, those ticked or a page of all, one to a sheet of paper."""
    place, today = request.place, timezone.localdate()
    asked = keys_of(request.GET.getlist("plot"))
    found = plots_to_plan(place.holding).filter(plantings__isnull=False).distinct()
    page = Paginator(found.filter(pk__in=asked) if asked else found, ON_A_PAGE).get_page(request.GET.get("page"))
    plots = [plot for plot in page if crop_of(plot) is not None]
    lines, stock = lines_by_plot(plots), stock_of(place.holding.pk)
    told = []
    for plot in plots:
        try:
            asked_for = asked_of(plot, lines[plot.pk], today=today, units=place.units, stock=stock)
            plan = make_plan(asked_for, tables())
        except RequestError:
            continue
        told.append((plot, _letter(request, plan, plot.name, required(crop_of(plot)).name, asked_for)))
    return render(request, "planning/letters.html", {"letters": told, "page": page, "today": today})


def _asked_then(adopted: AdoptedPlan) -> Request | None:
    """The request of an adopted plan; None where its rules have changed since so that it can't be read."""
    try:
        return read_request(adopted.request, tables())
    except RequestError:
        return None


def adopted_letter(request, pk: int):
    """The letter of a plan as it was adopted."""
    adopted = get_object_or_404(AdoptedPlan.objects.select_related("plot"), pk=pk, plot__holding=request.place.holding)
    told = adopted.request["crop"]
    own = told.get("own") or {}
    row = tables().crops.get(told["key"])
    crop = own.get("name") or (row.name if row else told["key"])
    context = {
        "plot": adopted.plot,
        "letter": _letter(request, plan_of(adopted), adopted.plot.name, crop, _asked_then(adopted)),
        "written": adopted.adopted_at,
        "back": reverse("planning:adopted", args=[pk]),
    }
    return render(request, "planning/letter.html", context)
