"""The plot bench, adopting a plan, the plans that were adopted, their sheets and their working."""

from dataclasses import replace
from datetime import date

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import Http404, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base.errors import RequestError
from agronomy.base.quantities import parse_quantity
from agronomy.base.showing import depth
from agronomy.plan.plan import Plan
from web.changes.undo import undoable, undoable_deletion
from web.core import error_text, tables
from web.ground.models import Plot
from web.ground.selectors import plot_or_404, plots_of
from web.jobs.ahead import jobs_ahead
from web.jobs.intent import too_much_with
from web.jobs.making import drop, open_jobs_of
from web.jobs.models import Job
from web.planning import words
from web.planning.models import AdoptedPlan, PlanProposal
from web.planning.overlap import ask, choice_of
from web.planning.requests import request_document
from web.planning.service import (
    can_plan,
    crop_of,
    latest_plans,
    lines_by_plot,
    need_a_crop,
    no_plan,
    plan_for,
    plan_of,
    reader_for,
    reader_of,
)
from web.planning.summaries import look_through, summaries_for
from web.plans.adopting import MadePlan, adopt, adopting, comes_to_too_much, each_once, made_for
from web.plans.body import bench_body
from web.plans.not_ready import ask_knowing, is_to_be_asked
from web.prepared import Prepared
from web.query_params import keys_of
from web.unchanged import unchanged

LISTED = 120  # plots on a page of plans


def _facts(request, plot: Plot) -> dict:
    """What the head of the bench says of a plot."""
    worked, planting = "dug" if plot.dug else "left undug", plot.planting
    return {
        "plot": plot,
        "crop": crop_of(plot),
        "planting": planting,
        "stands": bool(planting and planting.planted_on and planting.planted_on < timezone.localdate()),
        "facts": [
            plot.get_kind_display(),
            *([worked, plot.texture or "texture not known"] if plot.kind not in ("container", "bale") else []),
            *_size_told(plot, request.place.units),
        ],
    }


def _size_told(plot: Plot, units: str) -> list[str]:
    """What of a plot is treated: how deep, or how many pots of which mix."""
    if plot.kind == Plot.Kind.BALE:
        return []
    if plot.kind != Plot.Kind.CONTAINER:
        return [f"treated to {depth(plot.depth_cm, units)}"]
    pots = [f"{plot.sizes['count']} of {plot.sizes['volume']}"] if plot.sizes.get("count") and plot.sizes.get("volume") else []
    return [*pots, tables().ground.mixes[plot.mix].name if plot.mix in tables().ground.mixes else "mix not said"]


def bench(request, pk: int):
    today, place = timezone.localdate(), request.place
    told = unchanged.kept(("plan", place.holding.pk, place.role, place.units, today, pk), lambda: _body(request, pk, today))
    if "body" not in told:
        return render(request, "planning/bench_waiting.html", told)
    return render(request, "planning/bench.html", told)


def _body(request, pk: int, today: date) -> dict:
    """A plot's page as text but for its form; or what is told of a plot without a plan."""
    told = _told(request, pk, today)
    plot, document = told["plot"], told["document"]
    if document is None:
        return told
    reader = reader_for(request.place, plot)
    try:
        made = bench_body(document, reader=reader, base=told["base"])
    except RequestError as error:
        return told | {"errors": [error_text(item) for item in error.errors]}
    about = told | made._asdict() | {"area": reader.ground}
    return {"pk": pk, "name": plot.name, "body": render_to_string("planning/_bench.html", about, request)}


# only their days are told here; what they hold is large
_ADOPTED: Prepared[AdoptedPlan] = Prepared(lambda plot: AdoptedPlan.objects.filter(plot=plot).defer("request", "result")[:5])


def _told(request, pk: int, today: date) -> dict:
    """All that a plot's page reads of the database; without a document where nothing can be planned yet."""
    plot = plot_or_404(request, pk)
    lines = lines_by_plot([plot])[plot.pk]
    adopted = _ADOPTED(pk)
    document = request_document(plot, plot.planting, lines, today=today, units=request.place.units) if can_plan(plot) else None
    return _facts(request, plot) | {
        "slips": sorted({line.slip_id: line.slip for line in lines}.values(), key=lambda slip: (slip.taken_on, slip.pk), reverse=True),
        "adopted": adopted,
        "base": reverse("planning:bench", args=[pk]),
        "document": document,
        "ahead": jobs_ahead(plot, timezone.localdate(), request.place.units) if adopted else [],
        "untested": not lines and plot.kind != "bale",
    }


def bench_working(request, pk: int, key: str):
    plot = plot_or_404(request, pk)
    need_a_crop(plot)
    try:
        plan = plan_for(plot, lines_by_plot([plot])[pk], today=timezone.localdate(), units=request.place.units)
    except RequestError:
        raise no_plan(plot) from None
    return _working(request, plan, key, plot.name, back=reverse("planning:bench", args=[pk]))


def _working(request, plan: Plan, key: str, name: str, back: str):
    found = words.steps_for(plan, key, request.place.units)
    if found is None:
        raise Http404
    heading, working = found
    context = {"heading": heading, "steps": words.steps(working, request.place.units, tables()), "key": key, "name": name, "back": back}
    return render(request, "planning/_working.html" if request.htmx else "planning/working.html", context)


@require_POST
def adopt_plan(request, pk: int):
    plot = plot_or_404(request, pk)
    lines = lines_by_plot([plot])[pk]
    if not can_plan(plot):
        return redirect("planning:bench", pk)
    made = made_for(plot, lines, today=timezone.localdate(), units=request.place.units)
    if is_to_be_asked(request, made.plan):
        return ask_knowing(request, plot, made.plan)
    found = too_much_with(plot, made.plan)
    if found and not choice_of(request):
        return ask(request, plot, found, about="the plan")
    adopted = adopting(request, plot, f"The plan for {plot.name} was adopted", made)
    return redirect("planning:sheet" if request.POST.get("then") == "sheet" else "planning:adopted", adopted.pk)


def plans(request):
    """All plots with what they ask for and whether a plan was adopted: to adopt many at once, and to print."""
    place = request.place
    page = Paginator(plots_of(place.holding), LISTED).get_page(request.GET.get("page"))
    plots = list(page)
    summaries = look_through(place) or summaries_for(place, [plot.pk for plot in plots])
    latest = latest_plans(place.holding, whole=False)
    open_ = (
        PlanProposal.objects.filter(plot__holding=place.holding, state=PlanProposal.State.OPEN)
        .select_related("plot", "by")
        .defer("request", "result")
    )
    rows = [(summaries[plot.pk], latest.get(plot.pk)) for plot in plots if plot.pk in summaries]
    return render(request, "planning/plans.html", {"rows": rows, "proposals": open_, "has_sheets": bool(latest), "page": page})


@require_POST
def adopt_many(request):
    """Adopts the plans of the ticked plots as they stand, as one act with one undo; what can't be planned is told."""
    place, today = request.place, timezone.localdate()
    asked = keys_of(request.POST.getlist("plot"))
    plots = list(plots_of(place.holding).filter(pk__in=asked))
    lines = lines_by_plot(plots)
    ready: list[Plot] = []
    asking: list[Plot] = []
    for plot in plots:
        if can_plan(plot):
            (asking if comes_to_too_much(plot, lines[plot.pk], units=place.units) else ready).append(plot)
    left = [plot.name for plot in plots if plot not in ready and plot not in asking]
    made: list[tuple[Plot, MadePlan]] = []
    for plot in ready:
        try:
            made.append((plot, made_for(plot, lines[plot.pk], today=today, units=place.units)))
        except RequestError:
            left.append(plot.name)
    unsigned = [plot.name for plot, plan in made if plan.plan.not_ready]
    made = [(plot, plan) for plot, plan in made if not plan.plan.not_ready]
    if made:
        before = [job for plot, _ in made for job in open_jobs_of(plot)]
        told = f"{len(made)} plans were adopted" if len(made) != 1 else f"The plan for {made[0][0].name} was adopted"
        with undoable(request, told, *before) as touched:
            for plot, plan in made:
                adoption = adopt(plot, plan, by=request.user)
                touched += [adoption.row, *adoption.jobs]
            touched[:] = each_once(touched)
    if asking:
        names = ", ".join(plot.name for plot in asking)
        messages.warning(request, f"Not adopted, because other work on the list brings the same: {names}. Adopt them one by one.")
    if unsigned:
        messages.warning(request, f"Not adopted, because they are not ready to sign: {', '.join(unsigned)}. Their pages say why.")
    if left:
        messages.warning(request, f"Not adopted, because a crop or a sound reading is needed: {', '.join(left)}.")
    return redirect("planning:plans")


def sheets(request):
    """The sheets of the latest plans of all plots, one after the other, for the printer."""
    found = sorted(latest_plans(request.place.holding).values(), key=lambda plan: plan.plot.name)
    told = [kept(request, plan) for plan in found]
    return render(request, "planning/sheets.html", {"sheets": told})


def _adopted(request, pk: int) -> AdoptedPlan:
    found = AdoptedPlan.objects.filter(plot__holding=request.place.holding).select_related("plot", "adopted_by")
    return get_object_or_404(found, pk=pk)


def kept(request, adopted: AdoptedPlan | PlanProposal) -> dict:
    """A kept plan as it was, in the units the reader now likes."""
    document = adopted.request
    area_m2 = parse_quantity(document["plot"]["area"], "area", "area")
    planting = document["crop"]["planting"]
    shown = words.present(
        plan_of(adopted),
        today=date.fromisoformat(document["today"]),
        planting=date.fromisoformat(planting) if planting else None,
        reader=reader_of(request.place, area_m2, adopted.plot.litres_of_mix),
        tables=tables(),
    )
    crop = tables().crops.get(document["crop"]["key"])
    own = document["crop"].get("own")
    if crop and own and own.get("name"):
        crop = replace(crop, name=own["name"])
    ground = document["plot"]
    is_soil = ground["kind"] not in ("container", "bale")
    facts = ["dug" if ground["dug"] else "left undug", ground["texture"] or "texture not known"] if is_soil else []
    facts += _size_told(adopted.plot, request.place.units)
    return shown | {
        "adopted": adopted,
        "plot": adopted.plot,
        "crop": crop,
        "planted_on": planting and date.fromisoformat(planting),
        "facts": facts,
        "base": reverse("planning:adopted" if isinstance(adopted, AdoptedPlan) else "planning:proposal", args=[adopted.pk]),
    }


def adopted_plan(request, pk: int):
    """A plan as it was adopted; the latest of a plot also tells the jobs that came of it."""
    adopted = _adopted(request, pk)
    latest = adopted.plot.adopted_plans.values_list("pk", flat=True).first() == pk
    ahead = jobs_ahead(adopted.plot, timezone.localdate(), request.place.units) if latest else []
    return render(request, "planning/adopted.html", kept(request, adopted) | {"ahead": ahead})


def sheet(request, pk: int):
    return render(request, "planning/sheet.html", kept(request, _adopted(request, pk)))


def adopted_working(request, pk: int, key: str):
    adopted = _adopted(request, pk)
    return _working(request, plan_of(adopted), key, adopted.plot.name, back=reverse("planning:adopted", args=[pk]))


def adopted_json(request, pk: int):
    """The kept plan in the open format, with the request it answers."""
    adopted = _adopted(request, pk)
    headers = {"Content-Disposition": f'attachment; filename="plan-{adopted.pk}.json"'}
    return JsonResponse(
        {"request": adopted.request, "plan": adopted.result}, headers=headers, json_dumps_params={"indent": 2, "ensure_ascii": False}
    )


@require_POST
def withdraw(request, pk: int):
    adopted = _adopted(request, pk)
    plot_id = adopted.plot_id
    with undoable_deletion(request, f"The plan for {adopted.plot.name} was withdrawn", adopted):
        drop(adopted.jobs.filter(state=Job.State.OPEN))
        adopted.delete()
    return redirect("planning:bench", plot_id)
