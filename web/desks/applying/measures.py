"""A plot's doses measured out: by the square metre, the row, the stride, the plant, the pot; and what its rows bear near the seed."""

from django import forms
from django.shortcuts import render
from django.utils import timezone

from agronomy.apply.band import PLACES, BandCheck, check_band
from agronomy.apply.measures import Geometry, Portion, portions
from agronomy.base import showing
from agronomy.base.errors import RuleError
from agronomy.base.quantities import parse_quantity
from agronomy.dose.application import Application
from agronomy.plan.assess import Assessment
from agronomy.plan.plan import make_plan
from web.core import error_text, tables
from web.desks.common import DeskForm, assessed
from web.ground.fields import QuantityField
from web.ground.models import Plot
from web.ground.selectors import plot_or_404
from web.planning.service import crop_of


class LayoutForm(DeskForm):
    """How the plot is set out, and where in the row it would go."""

    row = QuantityField("length", low=5, high=2000, label="From row to row", required=False)
    plant = QuantityField("length", low=1, high=2000, label="From plant to plant", required=False)
    stride = QuantityField("length", low=30, high=150, label="Your stride", required=False)
    place = forms.ChoiceField(label="Where in the row", choices=[("", "not in the row"), *PLACES.items()], required=False)
    dry = forms.BooleanField(label="The ground is dry", required=False)
    units = {"row": ("cm", "in"), "plant": ("cm", "in"), "stride": ("cm", "in")}


def measures(request, pk: int):
    plot, us = plot_or_404(request, pk), request.place.units == "us"
    form = LayoutForm(request.GET, us=us, usual=_usual(plot, us))
    context = {"plot": plot, "crop": crop_of(plot), "form": form}
    found = assessed(request, plot, timezone.localdate())
    if found is None or (form.is_bound and not form.is_valid()):
        return render(request, "desks/measures.html", context)
    plan = make_plan(found.request, tables())
    layout = (
        form.cleaned_data if form.is_bound else {"row": _row_cm(plot), "plant": _plant_cm(plot), "stride": None, "place": "", "dry": False}
    )
    geometry = _geometry(plot, layout)
    rows = [_told(item, geometry, layout, found, request.place.units) for item in plan.applications if not item.later]
    return render(request, "desks/measures.html", context | {"rows": rows, "planned": True})


def _row_cm(plot: Plot) -> float | None:
    if plot.row_m:
        return 100 * plot.area_m2 / plot.row_m
    return plot.planting.row_width_cm if plot.planting else None


def _plant_cm(plot: Plot) -> float | None:
    return plot.planting.spacing_cm if plot.planting else None


def _usual(plot: Plot, us: bool) -> dict[str, str]:
    row, plant, stride = _row_cm(plot), _plant_cm(plot), tables().spread.stride_m.value * 100
    said = {"row": row, "plant": plant, "stride": stride}
    return {name: showing.in_unit(value, "cm", "in" if us else "cm", 3) for name, value in said.items() if value}


def _geometry(plot: Plot, layout: dict) -> Geometry:
    count = parse_quantity(plot.sizes["count"], "length", "count") if str(plot.sizes.get("count", "")).strip() else None
    pots = count if plot.kind == Plot.Kind.CONTAINER else None
    return Geometry(
        area_m2=plot.area_m2,
        row_spacing_m=layout["row"] / 100 if layout["row"] else None,
        plant_spacing_m=layout["plant"] / 100 if layout["plant"] else None,
        stride_m=(layout["stride"] or tables().spread.stride_m.value * 100) / 100,
        pots=pots,
        pot_l=plot.volume_l / pots if pots and plot.volume_l else None,
        bales=count if plot.kind == Plot.Kind.BALE else None,
        rings=count or 1 if plot.kind == Plot.Kind.TREE else count if plot.kind == Plot.Kind.ORCHARD_BLOCK else None,
    )


def _told(item: Application, geometry: Geometry, layout: dict, found: Assessment, units: str) -> dict:
    material = found.request.own_materials.get(item.material, tables().materials[item.material])
    band = None
    if layout["place"] and layout["row"] and (material.n or material.k2o):
        try:
            band = _band(
                check_band(
                    material,
                    item.rate_kg_per_ha,
                    found.request.crop,
                    found.soil,
                    tables(),
                    place=layout["place"],
                    row_spacing_m=layout["row"] / 100,
                    dry=layout["dry"],
                ),
                item,
                units,
                geometry.area_m2,
            )
        except RuleError as error:
            band = {"verdict": "", "why": error_text(error)}
    parts = [_portion(portion, units) for portion in portions(item.total_kg, geometry, material, tables(), system=units)]
    return {"name": item.name, "total": item.measure, "portions": parts, "band": band, "boron": material.has_role("B")}


def _portion(portion: Portion, units: str) -> dict:
    error = f"{portion.error_pct:+.0f} %" if abs(portion.error_pct) >= 0.5 else "exact"
    spoons = f"{portion.spoons}, within {portion.spoon_error_pct:.0f} %" if portion.spoons else ""
    return {
        "of": portion.of,
        "count": showing.number(portion.count, 3),
        "amount": _grams(portion.rounded_g, units),
        "error": error,
        "spoons": spoons,
        "stretch": portion.stretch,
    }


def _grams(grams: float, units: str) -> str:
    """Small amounts are weighed in grams everywhere; from a quarter pound on, US readers see ounces and pounds."""
    return showing.mass(grams / 1000, units, 4) if units != "us" or grams >= 113 else f"{showing.number(grams, 4)} g"


def _band(check: BandCheck, item: Application, units: str, area_m2: float) -> dict:
    most = showing.rate(check.most_kg_per_ha, units, area_m2) if check.most_kg_per_ha is not None else ""
    return {
        "verdict": check.verdict,
        "why": check.why,
        "found": f"{check.found_g_per_m:.3g}",
        "limit": f"{check.limit_g_per_m:.3g}",
        "most": most,
    }
