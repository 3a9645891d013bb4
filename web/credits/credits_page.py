"""What a plot is given anyway: nitrogen's budget line by line, each line to be counted or left out, and the rate that pays."""

from django.http import Http404
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base.errors import RequestError, RuleError
from agronomy.base.required import required
from agronomy.intake.request import read_request
from agronomy.intake.response import read_response
from agronomy.model.credit import Credit
from agronomy.plan.plan import Plan, make_plan
from agronomy.products.labels import manure_nitrogen_kg_per_t, nearest_manure
from agronomy.recommend.nutrients.credits import AUTOMATIC
from web.changes.undo import undoable, undoable_deletion
from web.core import error_text, tables
from web.credits.credit_form import CreditForm, ResponseForm
from web.drawing.budget import budget
from web.ground.models import NutrientCredit, Plot
from web.ground.selectors import plot_or_404
from web.planning import words
from web.planning.requests import request_document
from web.planning.service import crop_of, lines_by_plot, need_a_crop, reader_for
from web.planning.words import Reader
from web.query_params import key_of
from web.readings.analyses import analysis_asked_for


def given(request, pk: int):
    """The budget, a form for another gift, and one for the response to nitrogen."""
    plot = plot_or_404(request, pk)
    kind = request.POST.get("kind") or request.GET.get("kind") or "manure"
    if kind not in NutrientCredit.Kind.values:
        raise Http404
    gift = NutrientCredit(plot=plot)
    form = CreditForm(request.POST or None, instance=gift, kind=kind, units=request.place.units, initial=_from_analysis(request))
    if request.method == "POST" and form.is_valid():
        label = NutrientCredit.Kind(kind).label
        with undoable(request, f"{label[0].upper()}{label[1:]} on {plot.name} was added") as touched:
            touched.append(form.save())
        return redirect("planning:given", pk)
    context = _context(request, plot) | {
        "form": form,
        "kind": kind,
        "kinds": NutrientCredit.Kind.choices,
        "response_form": _response_form(plot),
    }
    return render(request, "planning/given.html", context, status=422 if form.errors else 200)


def _from_analysis(request) -> dict:
    """What a manure's own analysis puts into the form."""
    asked = analysis_asked_for(request)
    if asked is None:
        return {}
    slip, found = asked
    parts = manure_nitrogen_kg_per_t(found)
    told = {"name": slip.material[:80], "what": nearest_manure(slip.material, tables())}
    return told | ({"ammonium_kg_per_t": f"{parts[0]:g}", "organic_kg_per_t": f"{parts[1]:g}"} if parts else {})


def _response_form(plot: Plot, data=None) -> ResponseForm:
    return ResponseForm(data, initial=(plot.planting.response if plot.planting else None) or {})


def _context(request, plot: Plot) -> dict:
    context = {"plot": plot, "crop": crop_of(plot), "base": reverse("planning:bench", args=[plot.pk])}
    if plot.planting is None or context["crop"] is None:
        return context
    document = request_document(plot, plot.planting, lines_by_plot([plot])[plot.pk], today=timezone.localdate(), units=request.place.units)
    try:
        plan = make_plan(read_request(document, tables()), tables())
    except RequestError as error:
        return context | {"errors": [error_text(item) for item in error.errors]}
    reader = reader_for(request.place, plot)
    rows = [_row(credit, reader) for credit in plan.credits]
    return context | {
        "rows": rows,
        "answer": _answer(plan, reader),
        "drawing": budget(plan),
        "caps": plot.holding.cap_n_kg_per_ha is not None,
    }


def _row(credit: Credit, reader: Reader) -> dict:
    def shown(kg: float) -> str:
        label, amount = words.nutrient_in(credit.nutrient, abs(kg), reader.nutrient_form)
        sign = "−" if kg < 0 else ""
        return f"{sign}{reader.nutrient(amount)} {label}"

    low, high = sorted((credit.low, credit.high))
    return {
        "key": credit.key,
        "name": credit.name,
        "is_own": credit.key not in AUTOMATIC,
        "amount": shown(credit.kg_per_ha),
        "range": f"{shown(low).split()[0]} to {shown(high)}",
        "counted": credit.counted,
        "why": credit.why,
        "nutrient": credit.nutrient,
        "switch": credit.nutrient == "N",
        "steps": words.steps(credit.working, reader.units, tables()),
    }


def _answer(plan: Plan, reader: Reader) -> dict:
    """The nitrogen need, or why there is none."""
    need = next((place_and_need for place_and_need in enumerate(plan.needs) if place_and_need[1].what == "N"), None)
    if need is None:
        told = [answer.why for answer in plan.nothing if answer.nutrient == "N"] + [
            answer.why for answer in plan.unmet if answer.what == "N"
        ]
        return {"rate": "", "why": " ".join(told)}
    place, found = need
    low, high = (reader.rate(end) for end in (found.low_kg_per_ha, found.high_kg_per_ha))
    rate = reader.rate(found.rate_kg_per_ha)
    return {"key": f"need-{place}", "rate": rate, "low": low, "high": high, "why": found.why, "method": found.method}


@require_POST
def switch(request, pk: int):
    """Counts a line, or leaves it out."""
    plot, key = plot_or_404(request, pk), request.POST.get("line", "")
    if key in AUTOMATIC:
        left_out = key not in plot.uncounted
        with undoable(request, f"{plot.name}: {AUTOMATIC[key]} is {'left out' if left_out else 'counted'}", plot):
            plot.uncounted = sorted({*plot.uncounted, key} if left_out else set(plot.uncounted) - {key})
            plot.save()
        return redirect("planning:given", pk)
    gift = _gift_at(plot, key)
    with undoable(request, f"{plot.name}: {gift.get_kind_display()} is {'left out' if gift.counted else 'counted'}", gift):
        gift.counted = not gift.counted
        gift.save()
    return redirect("planning:given", pk)


def _gift_at(plot: Plot, key: str) -> NutrientCredit:
    """The gift that a credit's key stands for: its place in the request."""
    gifts = list(plot.gifts.all())
    at = key_of(key)
    if at is None or at >= len(gifts):
        raise Http404
    return gifts[at]


@require_POST
def take_out(request, pk: int):
    plot = plot_or_404(request, pk)
    gift = _gift_at(plot, request.POST.get("line", ""))
    with undoable_deletion(request, f"{plot.name}: {gift.get_kind_display()} was deleted", gift):
        gift.delete()
    return redirect("planning:given", pk)


@require_POST
def response(request, pk: int):
    """Keeps the response to nitrogen and the prices, or forgets them where all four are empty."""
    plot = plot_or_404(request, pk)
    need_a_crop(plot)
    planting = required(plot.planting)
    form = _response_form(plot, request.POST)
    if form.is_valid():
        _check_response(form)
    if form.errors:
        context = _context(request, plot) | {
            "form": CreditForm(instance=NutrientCredit(plot=plot), kind="manure", units=request.place.units),
            "kind": NutrientCredit.Kind.MANURE,
            "kinds": NutrientCredit.Kind.choices,
            "response_form": form,
        }
        return render(request, "planning/given.html", context, status=422)
    told = {name: value for name, value in form.cleaned_data.items() if value not in (None, "")}
    with undoable(request, f"{plot.name}: what nitrogen pays was {'kept' if told else 'forgotten'}", planting):
        planting.response = told or None
        planting.save()
    return redirect("planning:given", pk)


def _check_response(form: ResponseForm) -> None:
    """The core's own check of the four figures together; what is wrong is said beside its field."""
    told = form.cleaned_data
    if not all(told.get(name) not in (None, "") for name in form.fields):
        return
    try:
        read_response(**told, tables=tables())
    except RuleError as error:
        form.add_error(error.field.removeprefix("response."), error_text(error))
