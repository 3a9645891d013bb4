"""Bags for the whole holding at once: plots share them, they are bought whole, the shed comes first."""

from django import forms
from django.contrib import messages
from django.db import transaction
from django.http import Http404
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base import showing
from agronomy.model.answers import SPOKEN
from agronomy.products.buying import Use
from agronomy.whatif.holding import AIMS, PlotShare
from web.bags.bag_search import Answer, Progress, Question, kept_answer, search, stop
from web.changes.undo import undoable
from web.ground.fields import NumberField
from web.ground.models import Plot
from web.ground.selectors import plots_to_plan
from web.people.holding_lock import hold
from web.planning.requests import request_document
from web.planning.service import crop_of, lines_by_plot
from web.supplies.buying import bought, told
from web.supplies.stock import stock_of

MOST_PLOTS = 200
CENT = 0.005  # own money; sums this near are one


class MoneyForm(forms.Form):
    """What may be spent at most; empty for whatever all needs cost."""

    most = NumberField(low=0, high=1e7, label="At most to spend", required=False)


def asked_of(request, query) -> tuple[Question, list[str], dict]:
    """What is asked for the plots that have a crop and a reading, why others are left out, and the form as it was sent."""
    aim = query.get("aim", "money")
    if aim not in AIMS:
        raise Http404
    money = MoneyForm(query)
    most = money.cleaned_data["most"] if money.is_valid() else None
    form = {"aim": aim, "opened": "opened" in query, "unstocked": "unstocked" in query, "money": money, "most": most}
    holding, stock = request.place.holding, stock_of(request.place.holding.pk)
    every = plots_to_plan(holding)
    plots = list(every[:MOST_PLOTS])
    lines, today, units = lines_by_plot(plots), timezone.localdate(), request.place.units
    beyond = 0 if len(plots) < MOST_PLOTS else every.count() - MOST_PLOTS
    left_out = [f"{beyond} plots after {plots[-1].name}: bags are chosen for {MOST_PLOTS} at once"] if beyond else []
    ready = [plot for plot in plots if plot.planting is not None and crop_of(plot) is not None and lines[plot.pk]]
    left_out += [f"{plot.name}: a crop and one reading are needed first" for plot in plots if plot not in ready]
    question = Question(
        plots=tuple((plot.pk, plot.name) for plot in ready),
        documents=tuple(
            request_document(plot, plot.planting, lines[plot.pk], today=today, units=units, stock=stock)
            for plot in ready
            if plot.planting is not None
        ),
        shed=stock.lines(),
        bag_sizes=stock.bag_sizes(),
        aim=aim,
        whole_bags=not form["opened"],
        use_stock=not form["unstocked"],
        most_money=most,
    )
    return question, left_out, form


def chosen_shares(request) -> dict[int, PlotShare] | None:
    """What a page that was sent asks for, by the plot's key; None where nobody has seen it yet, or the clock ended the search."""
    found = kept_answer(asked_of(request, request.POST)[0])
    return None if found is None or found.choice.stopped else dict(zip(found.plots, found.choice.shares, strict=True))


def still_there(shares: dict[int, PlotShare]) -> list[tuple[Plot, PlotShare]]:
    """The plots with what was chosen for them, without those that were deleted meanwhile."""
    return [(plot, shares[plot.pk]) for plot in Plot.objects.filter(pk__in=shares).order_by("name")]


def shown_again(request):
    """The page itself, where something has changed since it was shown."""
    messages.info(request, "Something has changed since. This is the choice as it is now.")
    query = request.POST.copy()
    query.pop("csrfmiddlewaretoken", None)
    return redirect(f"{reverse('planning:holding_bags')}?{query.urlencode()}")


def holding_bags(request):
    """The choice, or how far it is: then the page asks again by itself."""
    question, left_out, form = asked_of(request, request.GET)
    found = search(question)
    context = form | {"aims": AIMS.items(), "says": AIMS[form["aim"]], "left_out": left_out}
    if isinstance(found, Progress):
        return render(request, "planning/holding_bags.html", context | {"progress": found})
    if found.problem:
        form["money"].add_error("most", f"With so little {found.problem}. What all needs would cost is below.")
        context["most"] = None
    context["left_out"] = left_out + list(found.left_out)
    status = 422 if form["money"].errors else 200
    as_bought = question.whole_bags and question.use_stock and question.most_money is None
    return render(request, "planning/holding_bags.html", context | _shown(found, request.place, as_bought=as_bought), status=status)


def _shown(found: Answer, place, *, as_bought: bool) -> dict:
    """An answer in the words and units of the reader. `as_bought`: whole packs, the shed first, and offers."""
    chosen, currency = found.choice, place.holding.currency
    uses = [Use(key, kg, share.name) for share in chosen.shares for key, kg in share.kg.items()]
    listed = bought(place.holding, uses) if as_bought else list(chosen.buy)  # the same list as on the page of what to buy
    cost = sum(row.cost for row in listed) if as_bought else chosen.cost
    names = {row.material: row.name for row in listed}

    def mass(kg: float) -> str:
        return showing.mass(kg, place.units, 3)

    buy = [told(row, place, timezone.localdate()) | {"plots": len(row.plots)} for row in listed]
    shares = [
        {
            "pk": plot,
            "name": share.name,
            "jobs": [f"{mass(kg)} {names[key]}" for key, kg in share.kg.items()],
            "open": ", ".join(SPOKEN[key] for key in share.open),
        }
        for plot, share in zip(found.plots, chosen.shares, strict=True)
    ]
    return {
        "buy": buy,
        "shares": shares,
        "cost": f"{currency}{cost:.2f}",
        "apart": f"{currency}{chosen.apart_cost:.2f}",
        "saves": chosen.apart_cost > chosen.cost + CENT and abs(cost - chosen.cost) < CENT,  # at the same prices
        "dressings": chosen.dressings,
        "lost": showing.mass(chosen.lost_kg, place.units),
        "gap": "nothing" if chosen.gap < 5e-4 else f"{chosen.gap * 100:.1f} %",
        "stopped": chosen.stopped,
    }


@require_POST
def stop_holding_bags(request):
    """Whoever does not want to wait goes back to the plans."""
    stop(asked_of(request, request.POST)[0].key)
    return redirect("planning:plans")


@require_POST
def use_holding_bags(request):
    """Each plot asks for the bags chosen for it from now on, and goes by least money among them."""
    shares = chosen_shares(request)  # a moment for few plots: others go on writing meanwhile
    if shares is None:
        return shown_again(request)
    with transaction.atomic():
        hold(request.place.holding.pk)
        pairs = still_there(shares)
        with undoable(request, f"Bags for the whole holding: {AIMS[request.POST.get('aim', 'money')]}", *(plot for plot, _ in pairs)):
            for plot, share in pairs:
                plot.wanted = share.chosen()
                plot.without = [key for key in plot.without if key not in plot.wanted]
                plot.aim, plot.most_bags, plot.lost_times = "money", None, None
                plot.save(update_fields=["wanted", "without", "aim", "most_bags", "lost_times"])
    return redirect("planning:plans")
