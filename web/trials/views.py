"""Trials: the list, a new one, its layout and values, and what it has shown."""

import secrets

from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base.errors import RuleError
from agronomy.base.numbers import parse_number
from agronomy.trial.design import Unit, blocks_needed
from web.changes.undo import undoable, undoable_deletion
from web.core import error_text
from web.drawing.trial import Size, layout
from web.query_params import key_of
from web.trials.data import DataForm
from web.trials.doses import DayForm, told_of
from web.trials.finding import trial_or_404, units_of
from web.trials.forms import EnoughForm, TrialForm
from web.trials.models import Trial
from web.trials.photos import PhotoForm, side_by_side
from web.trials.result import result_of


def trials(request):
    """The holding's trials, and how many repeats one would take."""
    form = EnoughForm(request.GET if "scatter" in request.GET else None)
    context = {"trials": Trial.objects.filter(holding=request.place.holding).select_related("plot"), "form": form}
    if form.is_bound and form.is_valid():
        data = form.cleaned_data
        context |= {"asked": True, "blocks": blocks_needed(float(data["scatter"]), data["difference"], data["arms"])}
    return render(request, "trials/trials.html", context, status=422 if form.errors else 200)


def new_trial(request):
    holding = request.place.holding
    first = {"plot": key_of(request.GET.get("plot", "")), "begun_on": timezone.localdate(), "treatments": "nothing\n"}
    form = TrialForm(request.POST or None, holding=holding, initial=first)
    if request.method == "POST" and form.is_valid():
        form.instance.treatments, form.instance.seed = form.cleaned_data["treatments"], secrets.randbelow(2**31)
        with undoable(request, f"The trial “{form.instance.name}” was laid out") as touched:
            touched.append(form.save())
        return redirect("trials:trial", form.instance.pk)
    return render(request, "trials/new.html", {"form": form}, status=422 if form.errors else 200)


def trial(request, pk: int):
    """One trial: the layout, fields for each unit, and the result as far as values are there."""
    found = trial_or_404(request, pk)
    units = units_of(found)
    typed = {"unit": dict(found.values), "before": dict(found.before)}
    errors: dict[str, dict[int, str]] = {"unit": {}, "before": {}}
    if request.method == "POST":
        for kind in typed:
            if kind == "unit" or found.before_what:
                typed[kind], errors[kind] = _typed(request.POST, kind, units)
        money = _money_in(request.POST, found)
        if not any(errors.values()):
            with undoable(request, f"Values of the trial “{found.name}” were kept", found):
                found.values, found.before = typed["unit"], typed["before"]
                found.price, found.costs = money
                found.save()
            return redirect("trials:trial", pk)
    letters = dict(zip(found.treatments, found.letters, strict=True))
    kinds = [*([("before", found.before_what)] if found.before_what else []), ("unit", found.measured)]
    context = {
        "trial": found,
        "layout": layout(units, letters, Size(found.length_m, found.width_m, found.guard_m) if found.unit_m2 else None),
        "key": list(zip(found.letters, found.treatments, strict=True)),
        "fields": [
            (kind, name, [(unit.number, typed[kind].get(str(unit.number), ""), errors[kind].get(unit.number, "")) for unit in units])
            for kind, name in kinds
        ],
        "costs": [(name, found.costs.get(name, "")) for name in found.treatments[1:]],
        "blind": "blind" in request.GET,
        "worth": f"{found.worth:.3g}",
        "doses": told_of(found, request.place.units),
        "photos": side_by_side(found),
        "photo": PhotoForm(trial=found),
        "day": DayForm(initial={"what": found.measured}),
        "data": DataForm(known=set()),
        "result": result_of(found, request.place.holding.currency),
    }
    return render(request, "trials/trial.html", context, status=422 if any(errors.values()) else 200)


def _typed(data, kind: str, units: tuple[Unit, ...]) -> tuple[dict[str, str], dict[int, str]]:
    """The values of a kind as typed, and what is wrong with them."""
    typed, errors = {}, {}
    for unit in units:
        text = data.get(f"{kind}-{unit.number}", "").strip()[:20]
        if not text:
            continue
        typed[str(unit.number)] = text
        try:
            parse_number(text, "value")
        except RuleError as error:
            errors[unit.number] = error_text(error)
    return typed, errors


def _money_in(data, of: Trial) -> tuple[float | None, dict[str, float]]:
    """Price and costs; as they were where the scorer's page has no money on it."""
    if "price" not in data:
        return of.price, of.costs
    costs = {name: cost for place, name in enumerate(of.treatments[1:], 1) if (cost := _money(data.get(f"cost-{place}", ""))) is not None}
    return _money(data["price"]), costs


def _money(text: str) -> float | None:
    try:
        return parse_number(text, "money") if text.strip() else None
    except RuleError:
        return None


@require_POST
def redraw(request, pk: int):
    """Draws another lot, as long as nothing hangs on it."""
    found = trial_or_404(request, pk)
    if not found.is_begun:
        with undoable(request, f"The trial “{found.name}” was randomised again", found):
            found.seed = secrets.randbelow(2**31)
            found.save()
    return redirect("trials:trial", pk)


@require_POST
def delete_trial(request, pk: int):
    found = trial_or_404(request, pk)
    with undoable_deletion(request, f"The trial “{found.name}” was deleted", found):
        found.delete()
    return redirect("trials:trials")
