"""The tank desk: what goes into a tank, in which order, how often; acid for the water; stock for a dosing pump."""

from typing import Any

from django import forms
from django.shortcuts import render

from agronomy.apply.acid import AcidDose, acidify, before_and_after
from agronomy.apply.tank import WAYS, Fill, Part, Tank, stock_g_per_l, tank
from agronomy.base import showing
from agronomy.base.errors import RuleError
from agronomy.base.said import measured
from agronomy.base.showing import significant
from agronomy.plan.cautions import Practice, material_cautions, practice_cautions
from web.core import error_text, tables
from web.desks.common import DeskForm, blank_rows, material_choices, rows_of
from web.ground.fields import NumberField, QuantityField
from web.sentences import tell

SPRAYED = ("granules", "powder", "liquid")


class TankForm(DeskForm):
    """The job: where it goes, how much ground, how much water, how large a tank."""

    way = forms.ChoiceField(label="How it is given", choices=list(WAYS.items()))
    area = QuantityField("area", low=0.01, high=1e8, label="Ground to cover")
    water = QuantityField("water_rate", low=10, high=5_000_000, label="Water to the ground")
    tank = QuantityField("volume", low=0.1, high=50_000, label="The tank holds")
    ec = NumberField(low=0, high=10, label="Conductivity of the water, dS/m", required=False)
    tender = forms.BooleanField(label="Tender leaves", required=False)
    acid = forms.BooleanField(label="The water gets acid first", required=False)
    usual = {"way": "leaf", "area": "100 m2", "water": "400 L/ha", "tank": "15 L", "ec": "0.4"}
    units = {"area": ("m2", "ft2"), "tank": ("L", "gal"), "water": ("L/ha", "gal/acre")}

    def __init__(self, *args, us: bool, **kwargs):
        super().__init__(*args, us=us, **kwargs)
        usual = "Leaves 20 to 50 gal/acre; a drench about 1000." if us else "Leaves 200 to 500 L/ha; a drench about 10 000, 1 L to the m²."
        self.fields["water"].help_text = usual


class AcidForm(DeskForm):
    """The water and the acid."""

    alkalinity = NumberField(low=1, high=2000, label="Alkalinity, mg/L CaCO₃")
    ph = NumberField(low=4, high=10, label="pH of the water")
    target = NumberField(low=4, high=8.5, label="Wanted pH")
    acid_kind = forms.ChoiceField(label="Acid")
    volume = QuantityField("volume", low=0.5, high=1_000_000, label="Water to treat")
    usual = {"alkalinity": "250", "ph": "7.8", "target": "6.2", "acid_kind": "citric", "volume": "100 L"}
    units = {"volume": ("L", "gal")}

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        home = [(key, row.name) for key, row in tables().liquids.acids.items() if row.home]
        trained = [(key, row.name) for key, row in tables().liquids.acids.items() if not row.home]
        self.fields["acid_kind"].choices = [("For anyone, with care", home), ("For trained people only", trained)]


class StockForm(DeskForm):
    """A stock solution for a dosing pump."""

    strength = NumberField(low=1, high=5000, label="Wanted nitrogen in the feed, mg/L")
    dilution = NumberField(low=1, high=2000, label="Dosing 1 to")
    feed = forms.ChoiceField(label="Feed")
    usual = {"strength": "150", "dilution": "100"}
    standard = {"feed": "tank_feed"}

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        soluble = [item for item in tables().materials.values() if item.n > 0 and item.solubility_g_per_l]
        self.fields["feed"].choices = material_choices(soluble)[1:]


def tank_desk(request):
    us = request.place.units == "us"
    form, acid_form, stock_form = (kind(request.GET, us=us) for kind in (TankForm, AcidForm, StockForm))
    rate_in = "lb/acre" if us else "kg/ha"
    parts, typed, errors = rows_of(request.GET, "material", "rate", "the rate", rate_in=rate_in)
    materials = [
        item for item in tables().materials.values() if item.form in SPRAYED and not item.has_role("lime") and not item.has_role("acid")
    ]
    context: dict[str, Any] = {
        "form": form,
        "acid_form": acid_form,
        "stock_form": stock_form,
        "rows": blank_rows(typed, 3),
        "materials": material_choices(materials),
        "errors": errors,
        "rate_in": rate_in,
    }
    if form.is_bound and form.is_valid() and not errors:
        data = form.cleaned_data
        try:
            made = tank(
                [Part(tables().materials[key], rate) for key, rate in parts],
                data["way"],
                tables(),
                area_m2=data["area"],
                water_l_per_ha=data["water"],
                tank_l=data["tank"],
                water_ec=data["ec"] or 0.0,
                tender=data["tender"],
                with_acid=data["acid"],
            )
            context["made"] = _told(made, [tables().materials[key] for key, _ in parts], request.place.units)
        except RuleError as error:
            context["errors"] = [error_text(error)]
    if acid_form.is_bound and acid_form.is_valid():
        data = acid_form.cleaned_data
        try:
            dose = acidify(data["alkalinity"], data["ph"], data["target"], data["acid_kind"], tables())
            context["acid"] = _acid(dose, data["volume"], request.place.units)
            context["changes"] = before_and_after(data["alkalinity"], data["ph"], data["target"], dose, tables())
        except RuleError as error:
            context["acid_error"] = error_text(error)
    if stock_form.is_bound and stock_form.is_valid():
        data = stock_form.cleaned_data
        feed = tables().materials[data["feed"]]
        g_per_l = stock_g_per_l(data["strength"], data["dilution"], feed.n / 100)
        context["stock"] = {
            "name": feed.name,
            "strength": tell(measured(significant(g_per_l, 3), "g/L"), request.place.units),
        }
    return render(request, "desks/tank.html", context)


def _told(made: Tank, materials: list, units: str) -> dict:
    names = [material.name for material in materials]
    how = Practice(way="leaf" if made.way == "leaf" else "water")
    cautions = [*material_cautions(materials, tables()), *practice_cautions(how, tables())]
    return {
        "fills": made.fills,
        "full": _fill(made.full, names, units),
        "last": _fill(made.last, names, units)
        if made.fills > 1 and abs(made.last.litres - made.full.litres) > 1e-6 * made.full.litres
        else None,
        "strength": f"{made.strength_pct:.2g} %",
        "ec": f"{made.ec_ds_per_m:.1f} dS/m" if made.way != "leaf" else "",
        "order": made.order,
        "clashes": [(f"{item.first} and {item.second}", item.reason, item.danger) for item in made.clashes],
        "wetter": showing.liquid(made.wetter_ml / 1000, 1.0, units) if made.wetter_ml else "",
        "faults": made.faults,
        "weather": made.weather,
        "cautions": cautions,
    }


def _fill(fill: Fill, names: list[str], units: str) -> dict:
    water = showing.in_unit(fill.litres, "L", "gal" if units == "us" else "L", 3)
    amounts = [showing.mass(kg, units, 3) for kg in fill.kg]
    return {"water": water, "ground": showing.area(fill.area_m2, units), "parts": list(zip(names, amounts, strict=True))}


def _acid(dose: AcidDose, litres: float, units: str) -> dict:
    said, per_1000 = (
        showing.mass(amount / 1000, units, 3) if dose.unit == "g" else showing.liquid(amount / 1000, 1.0, units)
        for amount in (dose.per_1000_l * litres / 1000, dose.per_1000_l)
    )
    return {
        "name": dose.name,
        "amount": said,
        "water": showing.in_unit(litres, "L", "gal" if units == "us" else "L", 3),
        "per_1000": f"{per_1000} to {showing.in_unit(1000.0, 'L', 'gal' if units == 'us' else 'L', 3)}",
        "meq": f"{dose.meq_per_l:.2f}",
        "left": f"{dose.left_mg_per_l:.0f}",
        "warnings": dose.warnings,
        "trained": dose.trained,
    }
