"""Boundary files in and out: GeoJSON and zipped shapefiles."""

from django import forms
from django.http import HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.http import urlencode

from agronomy.base import showing
from agronomy.base.errors import RuleError
from agronomy.ground.boundaries import BoundaryFile, read_boundaries, to_geojson, to_shapefile, whole_of
from agronomy.ground.kinds import kind_row
from web.changes.undo import undoable
from web.core import error_text, tables
from web.ground.models import Plot
from web.ground.sizing import put_shape
from web.plots.grid import MOST_OLD

KINDS = ("field", "pasture", "bed", "lawn")


class BoundariesForm(forms.Form):
    """A boundary file, and what its outlines are."""

    file = forms.FileField(label="GeoJSON, or a shapefile packed as .zip")
    kind = forms.ChoiceField(label="These are", choices=[(key, label) for key, label in Plot.Kind.choices if key in KINDS], initial="field")


def read_in(request):
    """Reads a file of outlines: plots of the same name get the shape, others are new."""
    form, errors, found, new = BoundariesForm(request.POST or None, request.FILES or None), [], None, []
    if request.method == "POST" and form.is_valid():
        file = form.cleaned_data["file"]
        try:
            found = read_boundaries(file.read(), file.name, request.place.holding.origin)
            new = _keep(request, found, form.cleaned_data["kind"])
        except RuleError as error:
            errors, found = [error_text(error)], None
        if found is not None and 0 < len(new) <= MOST_OLD:  # what grows there is asked next
            return redirect(f"{reverse('ground:many')}?{urlencode([('plot', plot.pk) for plot in new])}")
        if found is not None:
            return redirect("ground:board")
    has_shapes = Plot.objects.filter(holding=request.place.holding, west__isnull=False).exists()
    context = {"form": form, "errors": errors, "has_shapes": has_shapes}
    return render(request, "ground/boundaries.html", context, status=422 if errors or form.errors else 200)


def _keep(request, found: BoundaryFile, kind: str) -> list[Plot]:
    """Stores the outlines; returns the new plots that something can grow on, whole fields in zones left out."""
    holding = request.place.holding
    if not found.boundaries:
        raise RuleError("file", None, "no outline in it could be used", "; ".join(found.left_out)[:200] or "export it again")
    new: list[Plot] = []
    known = {plot.name: plot for plot in Plot.objects.filter(holding=holding)}
    depth = kind_row(kind, tables()).usual_depth_cm
    area = showing.area(sum(item.area_m2 for item in found.boundaries), request.place.units)
    left_out = f"; left out: {'; '.join(found.left_out)}" if found.left_out else ""
    touched_before = [known[item.name] for item in found.boundaries if item.name in known]
    if found.origin and holding.origin is None:
        touched_before.append(holding)
    with undoable(request, f"{len(found.boundaries)} outlines were imported, {area}{left_out}", *touched_before) as touched:
        if found.origin and holding.origin is None:
            holding.origin_lon, holding.origin_lat = found.origin
            holding.save()
        for field in dict.fromkeys(item.field for item in found.boundaries if item.field):
            if field not in known:
                whole = Plot(holding=holding, name=field, kind=kind, depth_cm=depth)
                put_shape(whole, whole_of(item.shape for item in found.boundaries if item.field == field))
                whole.save()
                known[field] = whole
                touched.append(whole)
        for item in found.boundaries:
            parent = known.get(item.field)
            plot = known.get(item.name) or Plot(
                holding=holding, name=item.name, kind=Plot.Kind.ZONE if parent else kind, depth_cm=depth, parent=parent
            )
            put_shape(plot, item.shape)
            if plot.area_m2 is None:
                plot.area_m2 = item.area_m2
            plot.save()
            if item.name not in known:
                known[item.name] = plot
                touched.append(plot)
                new.append(plot)
    return new


def _plots_with_shapes(request) -> list[tuple[str, dict, dict]]:
    plots = Plot.objects.filter(holding=request.place.holding, west__isnull=False)
    return [(plot.name, plot.shape, {"kind": plot.kind, "area_m2": round(plot.area_m2, 2)}) for plot in plots]


def geojson(request):
    document = to_geojson(_plots_with_shapes(request), request.place.holding.origin)
    return JsonResponse(
        document, headers={"Content-Disposition": 'attachment; filename="plots.geojson"'}, json_dumps_params={"ensure_ascii": False}
    )


def shapefile(request):
    content = to_shapefile(_plots_with_shapes(request), request.place.holding.origin)
    return HttpResponse(content, content_type="application/zip", headers={"Content-Disposition": 'attachment; filename="plots.zip"'})
