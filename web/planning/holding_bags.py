"""Bags for the whole holding at once: plots share them, they are bought whole, the shed comes first."""

from django import forms
from django.db import transaction
from django.http import Http404
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base import showing
from agronomy.base.errors import OutOfRange, RequestError
from agronomy.intake.request import read_request
from agronomy.model.answers import SPOKEN
from agronomy.whatif.case import Case, case_for
from agronomy.whatif.holding import AIMS, HoldingChoice, PlotShare, choose_for_holding
from web.changes.undo import undoable
from web.core import say, tables
from web.ground.fields import NumberField
from web.ground.models import Plot
from web.ground.selectors import plots_of
from web.people.hold import hold
from web.planning.requests import request_document
from web.planning.service import crop_of, lines_by_plot
from web.supplies.stock import stock_of

MOST_PLOTS = 120


class MoneyForm(forms.Form):
    """What may be spent at most; empty for whatever all needs cost."""

    most = NumberField(low=0, high=1e7, label="At most to spend", required=False)


def _cases(request) -> tuple[list[tuple[Plot, Case]], list[str]]:
    """The plots that can be planned for, and why others can't."""
    holding = request.place.holding
    plots = list(plots_of(holding).select_related("holding").prefetch_related("gifts", "log")[:MOST_PLOTS])
    lines, stock = lines_by_plot(plots), stock_of(holding.pk)
    found, left_out = [], []
    for plot in plots:
        if plot.planting is None or crop_of(plot) is None or not lines[plot.pk]:
            left_out.append(f"{plot.name}: a crop and one reading are needed first")
            continue
        try:
            asked = read_request(
                request_document(plot, plot.planting, lines[plot.pk], today=timezone.localdate(), units=request.place.units, stock=stock),
                tables(),
            )
        except RequestError as error:
            left_out.append(f"{plot.name}: {say(error.errors[0])}")
            continue
        found.append((plot, case_for(asked, tables())))
    return found, left_out


def chosen_bags(request, query) -> tuple[list[tuple[Plot, Case]], list[str], HoldingChoice, dict]:
    """The plots with what is known of them, why others are left out, the choice, and what was asked."""
    aim = query.get("aim", "money")
    if aim not in AIMS:
        raise Http404
    money = MoneyForm(query)
    most = money.cleaned_data["most"] if money.is_valid() else None
    asked = {"aim": aim, "opened": "opened" in query, "unstocked": "unstocked" in query, "money": money, "most": most}
    pairs, left_out = _cases(request)
    stock = stock_of(request.place.holding.pk)

    def chosen_for(most_money: float | None) -> HoldingChoice:
        return choose_for_holding(
            [case for _, case in pairs],
            stock.lines(),
            stock.bag_sizes(),
            aim,
            tables(),
            whole_bags=not asked["opened"],
            use_stock=not asked["unstocked"],
            most_money=most_money,
        )

    try:
        return pairs, left_out, chosen_for(most), asked
    except OutOfRange as error:
        money.add_error("most", f"With so little {error.problem}. What all needs would cost stands below.")
        return pairs, left_out, chosen_for(None), asked | {"most": None}


def holding_bags(request):
    pairs, left_out, chosen, asked = chosen_bags(request, request.GET)
    place = request.place
    currency = place.holding.currency

    def mass(kg: float) -> str:
        return showing.mass(kg, place.units, 3) if kg > 1e-6 else "–"

    names = {row.material: row.name for row in chosen.buy}
    buy = [
        {
            "name": row.name,
            "needed": mass(row.needed_kg),
            "shed": mass(row.from_shed_kg),
            "bags": f"{row.bags} of {mass(row.bag_kg)}" if row.bags else "none",
            "left": mass(row.left_over_kg),
            "cost": f"{currency}{row.cost:.2f}" if row.cost else "",
            "plots": len(row.plots),
        }
        for row in chosen.buy
    ]
    shares = [
        {
            "plot": plot,
            "jobs": [f"{mass(kg)} {names[key]}" for key, kg in share.kg.items()],
            "open": ", ".join(SPOKEN[key] for key in share.open),
        }
        for (plot, _), share in zip(pairs, chosen.shares, strict=True)
    ]
    context = asked | {
        "aims": AIMS.items(),
        "says": AIMS[asked["aim"]],
        "buy": buy,
        "shares": shares,
        "left_out": left_out,
        "cost": f"{currency}{chosen.cost:.2f}",
        "apart": f"{currency}{chosen.apart_cost:.2f}",
        "saves": chosen.apart_cost > chosen.cost + 0.005,
        "dressings": chosen.dressings,
        "lost": showing.mass(chosen.lost_kg, place.units),
        "gap": "nothing" if chosen.gap < 5e-4 else f"{chosen.gap * 100:.1f} %",
        "out_of_time": chosen.gap > 0.05,
    }
    return render(request, "planning/holding_bags.html", context, status=422 if asked["money"].errors else 200)


def still_there(pairs: list[tuple[Plot, Case]], chosen: HoldingChoice) -> list[tuple[Plot, PlotShare]]:
    """The plots with what was chosen for them, without those that were taken out while it was chosen."""
    alive = set(Plot.objects.filter(pk__in=[plot.pk for plot, _ in pairs]).values_list("pk", flat=True))
    return [(plot, share) for (plot, _), share in zip(pairs, chosen.shares, strict=True) if plot.pk in alive]


@require_POST
def use_holding_bags(request):
    """Each plot asks for the bags chosen for it from now on, and goes by least money among them."""
    pairs, _, chosen, asked = chosen_bags(request, request.POST)  # takes seconds: others go on writing meanwhile
    plots = [plot for plot, _ in pairs]
    with transaction.atomic():
        hold(request.place.holding.pk)
        with undoable(request, f"Bags for the whole holding: {AIMS[asked['aim']]}", *plots):
            for plot, share in still_there(pairs, chosen):
                plot.wanted = share.chosen()
                plot.without = [key for key in plot.without if key not in plot.wanted]
                plot.aim, plot.most_bags, plot.lost_times = "money", None, None
                plot.save(update_fields=["wanted", "without", "aim", "most_bags", "lost_times"])
    return redirect("planning:plans")
