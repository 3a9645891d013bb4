"""Making, keeping and reading plans for stored plots."""

from collections.abc import Sequence
from datetime import date

from django.urls import reverse
from django.utils import timezone

from agronomy.base.errors import RequestError
from agronomy.base.required import required
from agronomy.intake.documents import plan_from_document
from agronomy.intake.own import OwnCropDoc, own_crop
from agronomy.intake.request import read_request
from agronomy.model.request import Request
from agronomy.plan.plan import Plan, make_plan
from agronomy.tables.crop import Crop
from web.core import tables
from web.ground.models import Plot
from web.missing import Missing
from web.planning.models import AdoptedPlan
from web.planning.requests import request_document
from web.planning.words import Reader
from web.readings.models import LabResult
from web.readings.selectors import PlanLine, plan_lines_of, water_lines_of
from web.supplies.stock import Stock


def crop_of(plot: Plot) -> Crop | None:
    """The crop to plan for, with the holding's own figures where it has some; None where none is chosen or it is not known."""
    planting = plot.planting
    crop = tables().crops.get(planting.crop) if planting else None
    own = planting.own_crop if planting else None
    return crop if crop is None or own is None else own_crop(crop, OwnCropDoc(name=own.name, **own.figures), "crop.own")


def lines_by_plot(plots: list[Plot]) -> dict[int, list[PlanLine]]:
    """The readings of all given plots, of soil and leaves and of the water they get; latest first, no more than a plan looks at.

    One query, and one more where a plot's water is known. A water alone makes no readings of a plot.
    """
    found: dict[int, list[PlanLine]] = {plot.pk: [] for plot in plots}
    for line in plan_lines_of([plot.pk for plot in plots]):
        found[required(line.slip.plot_id)].append(line)
    watered = {plot.pk: plot.water_id for plot in plots if plot.water_id and (found[plot.pk] or plot.kind == "bale")}
    if watered:
        waters = water_lines_of(set(watered.values()))
        for plot_pk, water_pk in watered.items():
            found[plot_pk] += waters[water_pk]
    return found


def can_plan(plot: Plot) -> bool:
    """Whether a plot has what a plan needs: a crop. Without a reading the plan is a careful one, and says so."""
    return plot.planting is not None and crop_of(plot) is not None


def need_a_crop(plot: Plot) -> None:
    """Raises Missing where a plot has no crop that a plan could be made for."""
    if not can_plan(plot):
        raise Missing(f"{plot.name} needs a crop first: then there is a plan.", reverse("ground:crops", args=[plot.pk]), "Choose a crop")


def no_plan(plot: Plot) -> Missing:
    """Where no plan can be made of what is stored: the plot's page says why."""
    says = f"There is no plan for {plot.name} that this could be about. Its page says what is missing."
    return Missing(says, reverse("planning:bench", args=[plot.pk]), f"To {plot.name}")


def plan_for(plot: Plot, lines: Sequence[PlanLine | LabResult], *, today: date, units: str, stock: Stock | None = None) -> Plan:
    """The plan for a plot with a planting. Raises RequestError where stored values no longer fit the rules."""
    return make_plan(asked_of(plot, lines, today=today, units=units, stock=stock), tables())


def asked_of(plot: Plot, lines: Sequence[PlanLine | LabResult], *, today: date, units: str, stock: Stock | None = None) -> Request:
    """The request to the core of a plot with a planting. Raises RequestError where stored values no longer fit the rules."""
    return read_request(request_document(plot, plot.planting, lines, today=today, units=units, stock=stock), tables())


def request_of(plot: Plot, units: str) -> Request | None:
    """The plot's request to the core; None where it has no crop or stored values no longer fit."""
    if not can_plan(plot):
        return None
    try:
        document = request_document(plot, plot.planting, lines_by_plot([plot])[plot.pk], today=timezone.localdate(), units=units)
        return read_request(document, tables())
    except RequestError:
        return None


def latest_plans(holding, *, whole: bool = True) -> dict[int, AdoptedPlan]:
    """The latest adopted plan of each plot in use, by the plot's key, with who adopted it; not `whole` without request and result."""
    found = AdoptedPlan.objects.filter(plot__in=Plot.objects.filter(holding=holding)).select_related("plot", "adopted_by")
    found = found if whole else found.defer("request", "result")
    return {plan.plot_id: plan for plan in found.order_by("adopted_at", "pk")}


def plan_of(adopted: AdoptedPlan) -> Plan:
    return plan_from_document(adopted.result)


def reader_of(place, area_m2: float, litres: float | None = None) -> Reader:
    """How the present user likes figures of a plot of this size; `litres` of mix where it is pots."""
    holding = place.holding
    return Reader(place.units, holding.nutrient_form, holding.currency, area_m2, tuple(holding.equipment), litres)


def reader_for(place, plot: Plot) -> Reader:
    """How the present user likes figures of a plot."""
    return reader_of(place, plot.area_m2, plot.litres_of_mix)
