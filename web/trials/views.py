"""Trials: the list, a new one, its layout and values, and what it has shown."""

import secrets

from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base.errors import RuleError
from agronomy.base.numbers import parse_number
from agronomy.trial.analysis import Analysis, Observation, analyse, paying
from agronomy.trial.design import Unit, blocks_needed, lay_out
from web.asked import key_of
from web.changes.undo import undoable, undoable_deletion
from web.core import say
from web.drawing.trial import dots, layout
from web.trials.forms import EnoughForm, TrialForm
from web.trials.models import Trial


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


def _trial(request, pk: int) -> Trial:
    return get_object_or_404(Trial.objects.select_related("plot"), holding=request.place.holding, pk=pk)


def _units(of: Trial) -> tuple[Unit, ...]:
    return lay_out(of.treatments, of.blocks, of.seed)


def trial(request, pk: int):
    """One trial: the layout, a field for each unit, and the result as far as values are there."""
    found = _trial(request, pk)
    units = _units(found)
    errors: dict[int, str] = {}
    typed = dict(found.values)
    if request.method == "POST":
        typed, errors, money = _typed(request.POST, units, found)
        money = money if "price" in request.POST else (found.price, found.costs)  # the scorer's page has no money on it
        if not errors:
            with undoable(request, f"Values of the trial “{found.name}” were kept", found):
                found.values, found.price, found.costs = typed, *money
                found.save()
            return redirect("trials:trial", pk)
    letters = dict(zip(found.treatments, found.letters, strict=True))
    context = {
        "trial": found,
        "layout": layout(units, letters),
        "key": list(zip(found.letters, found.treatments, strict=True)),
        "units": [(unit.number, typed.get(str(unit.number), ""), errors.get(unit.number, "")) for unit in units],
        "costs": [(name, found.costs.get(name, "")) for name in found.treatments[1:]],
        "blind": "blind" in request.GET,
        "worth": f"{found.worth:.3g}",
        "result": _result(found, units, request.place.holding.currency),
    }
    return render(request, "trials/trial.html", context, status=422 if errors else 200)


def _typed(data, units: tuple[Unit, ...], of: Trial) -> tuple[dict, dict, tuple]:
    """The values as typed, what is wrong with them, and the money."""
    typed, errors = {}, {}
    for unit in units:
        text = data.get(f"unit-{unit.number}", "").strip()[:20]
        if not text:
            continue
        typed[str(unit.number)] = text
        try:
            parse_number(text, "value")
        except RuleError as error:
            errors[unit.number] = say(error)
    price, costs = _money(data.get("price", "")), {}
    for place, name in enumerate(of.treatments[1:], 1):
        cost = _money(data.get(f"cost-{place}", ""))
        if cost is not None:
            costs[name] = cost
    return typed, errors, (price, costs)


def _money(text: str) -> float | None:
    try:
        return parse_number(text, "money") if text.strip() else None
    except RuleError:
        return None


def _observed(of: Trial, units: tuple[Unit, ...]) -> list[Observation]:
    blocked = of.kind != Trial.Kind.POTS
    return [
        Observation(unit.treatment, parse_number(of.values[str(unit.number)], "value"), unit.block if blocked else None)
        for unit in units
        if str(unit.number) in of.values
    ]


def _result(of: Trial, units: tuple[Unit, ...], currency: str) -> dict | None:
    observed = _observed(of, units)
    if not observed:
        return None
    values = {name: [item.value for item in observed if item.treatment == name] for name in of.treatments}
    told: dict = {"dots": dots(values), "missing": len(units) - len(observed)}
    try:
        found = analyse(observed, of.treatments[0], of.worth, of.unit)
    except RuleError as error:
        return told | {"why_not": say(error)}
    return told | {"found": found, "rows": [_row(item, found, of, currency) for item in found.differences]}


def _row(item, found: Analysis, of: Trial, currency: str) -> dict:
    row = {"item": item, "mean": f"{item.mean:.4g}", "says": item.says}
    if of.price and item.treatment in of.costs:
        money = paying(item, found.df_error, of.price, of.costs[item.treatment])
        gain, low, high = (_sum(amount, currency) for amount in (money.gain, money.low, money.high))
        row["money"] = f"{gain} ({low} to {high}) {_ground(of.unit)}; it pays with a chance of {_in_a_hundred(money.chance)} in 100"
    return row


def _sum(amount: float, currency: str) -> str:
    return f"{'−' if amount < 0 else ''}{currency}{abs(amount):.2f}"


def _ground(unit: str) -> str:
    """For how much ground a sum stands, by the unit of what was weighed."""
    return "a hectare" if unit.endswith("/ha") else "an acre" if unit.endswith("/acre") else "for the ground of one unit"


def _in_a_hundred(chance: float) -> str:
    """A chance as people say it: nothing is certain."""
    return "more than 99" if chance > 0.99 else "less than 1" if chance < 0.01 else f"{chance * 100:.0f}"


@require_POST
def redraw(request, pk: int):
    """Draws another lot, as long as nothing was weighed."""
    found = _trial(request, pk)
    if not found.values:
        with undoable(request, f"The trial “{found.name}” was drawn anew", found):
            found.seed = secrets.randbelow(2**31)
            found.save()
    return redirect("trials:trial", pk)


@require_POST
def delete_trial(request, pk: int):
    found = _trial(request, pk)
    with undoable_deletion(request, f"The trial “{found.name}” was taken out", found):
        found.delete()
    return redirect("trials:trials")
