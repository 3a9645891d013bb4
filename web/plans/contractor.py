"""What a contractor or a spreader needs: rates by field and zone on paper, and as a map file with a column for every dressing."""

from dataclasses import dataclass, field
from datetime import date

from django import forms
from django.contrib import messages
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.utils import timezone

from agronomy.base import showing
from agronomy.base.errors import RuleError
from agronomy.base.quantities import factor
from agronomy.dose.rate_map import UNITS, RateColumn, RateZone, ZoneDose, rate_columns, rate_rows
from agronomy.ground.boundaries import to_geojson, to_shapefile
from agronomy.plan.cautions import material_cautions
from web.core import error_text, tables
from web.ground.fields import NumberField
from web.ground.models import Plot
from web.planning.models import AdoptedPlan
from web.planning.service import latest_plans, plan_of
from web.sentences import tell
from web.words import between

KINDS = ("field", "zone", "pasture", "row_block", "orchard_block")
READ_ME = """Rates for spreading, made {today:%-d %B %Y} for {holding}.
Each shape is a field, a zone or a square of it. Each column beside name and area is one dressing of one material:
{columns}
Coordinates: {coordinates}.
Check the total on the machine against the sum given here before you spread. The label and local rules come first.
"""


class MapForm(forms.Form):
    """How the map is wanted."""

    grid = NumberField(low=1, high=1000, label="Squares of so many metres", required=False, help_text="Leave empty for whole zones.")


@dataclass
class Work:
    """One dressing of one material over all its zones."""

    column: RateColumn
    total: str
    when: str
    zones: list[dict] = field(default_factory=list)
    cautions: list[str] = field(default_factory=list)


def _zones(request) -> tuple[list[tuple[RateZone, Plot]], list[str]]:
    """Plots with what their latest adopted plan still has to put on, and the names of those that have no plan."""
    holding, today = request.place.holding, timezone.localdate()
    latest = latest_plans(holding)
    parents = Plot.objects.filter(holding=holding, parent__isnull=False).values_list("parent_id", flat=True)
    plots = list(Plot.objects.filter(holding=holding, kind__in=KINDS).exclude(pk__in=list(parents)))
    made = [(_zone(plot, latest[plot.pk], today), plot) for plot in plots if plot.pk in latest]
    return [(zone, plot) for zone, plot in made if zone.doses], [plot.name for plot in plots if plot.pk not in latest]


def _zone(plot: Plot, adopted: AdoptedPlan, today: date) -> RateZone:
    doses = tuple(
        ZoneDose(
            material=item.material,
            name=item.name,
            dressing=item.dressing,
            rate_kg_per_ha=item.rate_kg_per_ha,
            start=item.from_,
            end=item.to,
            placement=item.placement,
        )
        for item in plan_of(adopted).applications
        if not item.later and item.to >= today
    )
    return RateZone(name=plot.name, shape=plot.shape or {}, area_m2=plot.area_m2, doses=doses)


def contractor(request):
    """The sheet: one table for each dressing of each material, with every zone's rate and the sums."""
    units, today = request.place.units, timezone.localdate()
    found, without = _zones(request)
    columns = rate_columns([zone for zone, _ in found], units)
    works = [_work(column, found, units, today) for column in columns]
    context = {
        "works": works,
        "without": without,
        "undrawn": [zone.name for zone, plot in found if not plot.shape],
        "has_map": any(plot.shape for _, plot in found),
        "form": MapForm(),
        "today": today,
    }
    return render(request, "planning/contractor.html", context)


def _work(column: RateColumn, found: list[tuple[RateZone, Plot]], units: str, today: date) -> Work:
    made = Work(column, showing.mass(column.total_kg, units, 3), between(column.start, column.end, today))
    material = tables().materials.get(column.material)
    if material is not None:
        made.cautions = material_cautions([material], tables())
    for zone, plot in found:
        for dose in zone.doses:
            if (dose.material, dose.dressing) == (column.material, column.dressing):
                made.zones.append(
                    {
                        "name": zone.name,
                        "area": showing.area(plot.area_m2, units),
                        "rate": showing.rate(dose.rate_kg_per_ha, units, 1e6),
                        "total": showing.mass(zone.total_kg(dose), units, 3),
                        "when": between(dose.start, dose.end, today),
                        "placement": tell(dose.placement, units),
                    }
                )
    return made


def rate_map(request, form: str):
    """The map as GeoJSON or as a zipped shapefile; a grid that can't be made is said on the sheet."""
    if form not in ("geojson", "shapefile"):
        raise Http404
    units, holding = request.place.units, request.place.holding
    zones = [zone for zone, plot in _zones(request)[0] if plot.shape]
    if not zones:
        raise Http404
    asked = MapForm(request.GET)
    grid = asked.cleaned_data["grid"] if asked.is_valid() else None
    columns = rate_columns(zones, units)
    try:
        rows = rate_rows(zones, columns, system=units, grid_m=grid)
    except RuleError as error:
        messages.error(request, error_text(error))
        return redirect("planning:contractor")
    if form == "shapefile":
        read_me = _read_me(holding, columns, units)
        content = to_shapefile(rows, holding.origin, layer="rates", beside={"read-me.txt": read_me})
        return HttpResponse(content, content_type="application/zip", headers={"Content-Disposition": 'attachment; filename="rates.zip"'})
    document = to_geojson(rows, holding.origin) | {"columns": [_told(column, units) for column in columns]}
    headers = {"Content-Disposition": 'attachment; filename="rates.geojson"'}
    return JsonResponse(document, headers=headers, json_dumps_params={"ensure_ascii": False})


def _told(column: RateColumn, units: str) -> dict:
    weight = UNITS[units][0]
    return {
        "field": column.field,
        "material": column.name,
        "dressing": column.dressing,
        "unit": column.unit,
        f"total_{weight}": round(column.total_kg / factor(weight, "kg"), 2),
        "from": column.start.isoformat(),
        "to": column.end.isoformat(),
    }


def _read_me(holding, columns: tuple[RateColumn, ...], units: str) -> str:
    weight = UNITS[units][0]
    lines = "\n".join(
        f"  {told['field']}: {told['material']}, dressing {told['dressing']}, {told['unit']}; {told['from']} to {told['to']};"
        f" all together {told[f'total_{weight}']:g} {weight}"
        for told in (_told(column, units) for column in columns)
    )
    coordinates = "longitude and latitude (WGS 84)" if holding.origin else "metres around a point of the holding"
    return READ_ME.format(today=timezone.localdate(), holding=holding.name, columns=lines, coordinates=coordinates)
