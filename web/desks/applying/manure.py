"""Manure and compost for a plot: how much, what limits it, what it gives in three years, waits and tests."""

from django import forms
from django.shortcuts import render
from django.utils import timezone

from agronomy.apply.manure import ManureRate, manure_rate
from agronomy.base import showing
from agronomy.base.errors import RuleError
from agronomy.plan.needs import answers_by
from web.core import error_text, tables
from web.desks.common import DeskForm, assessed
from web.ground.fields import NumberField
from web.ground.selectors import plot_or_404
from web.planning import words
from web.planning.service import crop_of, reader_for


class ManureForm(DeskForm):
    """Which manure, how soon it is worked in, its own analysis, and whether phosphate may hold it back."""

    manure = forms.ChoiceField(label="Manure or compost")
    worked_in = forms.ChoiceField(label="Worked in")
    ammonium = NumberField(
        low=0, high=60, label="Ammonium nitrogen by analysis, kg/t", required=False, help_text="Leave empty for a usual figure."
    )
    organic = NumberField(low=0, high=140, label="Organic nitrogen by analysis, kg/t", required=False)
    phosphate = forms.ChoiceField(label="Phosphate", choices=[("need", "no more than the crop needs"), ("any", "let it build up")])
    usual = {"worked_in": "one_day", "phosphate": "need"}
    standard = {"manure": "manure_by_the_load"}

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["manure"].choices = [(key, row.name) for key, row in tables().nitrogen.manures.items()]
        self.fields["worked_in"].choices = [(key, row.name) for key, row in tables().nitrogen.worked_in.items()]


def manure(request, pk: int):
    plot = plot_or_404(request, pk)
    form = ManureForm(request.GET, us=request.place.units == "us")
    context = {"plot": plot, "crop": crop_of(plot), "form": form}
    found = assessed(request, plot, timezone.localdate())
    if found is None or (form.is_bound and not form.is_valid()):
        return render(request, "desks/manure.html", context)
    data = form.cleaned_data if form.is_bound else form.initial | {"ammonium": None, "organic": None}
    needs = {need.what: need.rate_kg_per_ha for need in answers_by(found.request.school, found, tables()).needs()}
    oxide = {what: words.nutrient_in(what, needs.get(what, 0.0), "oxide")[1] for what in ("P", "K")}
    try:
        rate = manure_rate(
            data["manure"],
            tables(),
            n_need=needs.get("N", 0.0),
            p2o5_need=oxide["P"] if "P" in found.nutrients else None,
            k2o_need=oxide["K"] if found.nutrients.get("K") and found.nutrients["K"].is_plenty else None,
            n_cap=plot.holding.cap_n_kg_per_ha,
            worked_in=data["worked_in"],
            ammonium=data["ammonium"],
            organic=data["organic"],
            by_phosphate=data["phosphate"] == "need",
        )
    except RuleError as error:
        return render(request, "desks/manure.html", context | {"error": error_text(error)})
    return render(request, "desks/manure.html", context | _told(rate, reader_for(request.place, plot)))


def _told(rate: ManureRate, reader) -> dict:
    def said(kg_per_ha: float) -> str:
        return reader.rate(kg_per_ha)

    return {
        "rate": said(rate.t_per_ha * 1000),
        "total": showing.mass(rate.t_per_ha * reader.area_m2 / 10, reader.units, 3),
        "name": rate.name,
        "set_by": rate.set_by,
        "limits": [{"name": item.name, "rate": said(item.t_per_ha * 1000), "here": item.name == rate.set_by} for item in rate.limits],
        "years": [(f"year {year}", said(amount)) for year, amount in enumerate(rate.nitrogen, 1)],
        "lost": said(rate.lost_n),
        "left": said(rate.left_n) if rate.left_n > 1 else "",
        "brings": [("P₂O₅", said(rate.p2o5)), ("K₂O", said(rate.k2o))],
        "over": said(rate.over_p2o5) if rate.over_p2o5 > 1 else "",
        "says": rate.says,
        "nothing": rate.t_per_ha < 0.05,
        "material": rate.key if rate.key in tables().materials else "",
        "t_per_ha": f"{rate.t_per_ha:.3g}",
    }
