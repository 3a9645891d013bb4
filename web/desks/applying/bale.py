"""Starting straw bales with any source of nitrogen: the days, the amounts, when to plant."""

from datetime import timedelta
from typing import Any

from django import forms
from django.shortcuts import render
from django.utils import timezone

from agronomy.apply.bale import BaleStart, start_bales
from agronomy.base import showing
from agronomy.base.errors import RuleError
from agronomy.base.said import Measure, say
from agronomy.plan.cautions import Practice, material_cautions, practice_cautions
from web.core import error_text, tables
from web.desks.common import DeskForm, material_choices
from web.ground.fields import NumberField, QuantityField, date_field
from web.words import day


class BaleForm(DeskForm):
    """How many bales, of what, fed with what, from which day."""

    bales = NumberField(low=1, high=5000, label="How many bales")
    feed = forms.ChoiceField(label="Source of nitrogen")
    of = forms.ChoiceField(label="Bales of", choices=[("straw", "straw"), ("hay", "hay")])
    weight = QuantityField("mass", low=5, high=60, label="Weight of a dry bale", required=False)
    start = date_field("First day", required=False)
    usual = {"bales": "8", "of": "straw", "weight": "18 kg"}
    standard = {"feed": "bale_feed"}
    units = {"weight": ("kg", "lb")}

    def __init__(self, *args, organic_only: bool, **kwargs):
        super().__init__(*args, **kwargs)
        sources = (
            item
            for item in tables().materials.values()
            if item.n >= 2 and not item.has_role("tonic") and (item.is_organic_allowed or not organic_only)
        )
        self.fields["feed"].choices = material_choices(sources)[1:]


def bales(request):
    form = BaleForm(request.GET, us=request.place.units == "us", organic_only=request.place.holding.organic_only)
    figures = tables().bale
    low, high = figures.after_low_g.value, figures.after_high_g.value
    after = say("{low:g} to {high:g}", low=Measure(low, "g", bare=True), high=Measure(high, "g"))
    context: dict[str, Any] = {"form": form, "figures": figures, "after": after}
    if form.is_bound and form.is_valid():
        data = form.cleaned_data
        try:
            made = start_bales(
                tables().materials[data["feed"]], round(data["bales"]), tables(), hay=data["of"] == "hay", bale_kg=data["weight"]
            )
            context |= _told(made, data, request.place.units)
        except RuleError as error:
            context["error"] = error_text(error)
    return render(request, "desks/bales.html", context)


def _told(made: BaleStart, data: dict, units: str) -> dict:
    first = data["start"] or timezone.localdate()
    material = tables().materials[data["feed"]]
    rows = [
        {
            "day": item.day,
            "date": day(first + timedelta(days=item.day - 1)),
            "feed": f"{showing.number(item.product_g, 2)} g {material.name}" if item.product_g else "",
            "beside": f"{item.p2o5_g:g} g P₂O₅ and {item.k2o_g:g} g K₂O" if item.p2o5_g else "",
            "do": item.do,
        }
        for item in made.days
    ]
    cautions = [
        *material_cautions([material], tables()),
        tables().cautions.materials["residues"].text,
        *practice_cautions(Practice(on_bales=True), tables()),
    ]
    return {
        "rows": rows,
        "name": material.name,
        "total": showing.mass(made.product_kg, units, 3),
        "given": f"{made.given_g:.0f} g",
        "demand": f"{made.demand_low_g:.0f} to {made.demand_high_g:.0f} g",
        "cautions": cautions,
    }
