"""Plots, waters and odd spots of a holding, and only of that one."""

from django.db.models import Max, Min, QuerySet, prefetch_related_objects
from django.http import Http404

from web.ground.models import OddSpot, Planting, Plot
from web.prepared import Prepared, hang_on

Box = tuple[float, float, float, float]


def plots_of(holding) -> QuerySet[Plot]:
    """The holding's plots with their plantings: two or three queries for any number of them."""
    return Plot.objects.filter(holding=holding).prefetch_related("plantings__own_crop")


def plots_to_choose(holding) -> QuerySet[Plot]:
    """The holding's plots for a list to choose from: without their plantings, which a list of thousands has no use for."""
    return Plot.objects.filter(holding=holding)


def plots_to_plan(holding) -> QuerySet[Plot]:
    """The holding's plots with all that a plan asks of them, but for their readings and the shed: a handful of queries for any number."""
    return plots_of(holding).select_related("holding").prefetch_related("gifts", "log")


_PLOT: Prepared[Plot] = Prepared(lambda holding, pk: Plot.objects.filter(holding=holding, pk=pk))
_PLANTINGS: Prepared[Planting] = Prepared(lambda plot: Planting.objects.filter(plot=plot))


def plot_or_404(request, pk: int) -> Plot:
    """One plot in use of the holding that the reader is in; another holding's answers 404. The one way by which a view comes to a plot."""
    holding = request.place.holding
    for plot in _PLOT(holding.pk, pk):
        plot.holding = holding
        plantings = _PLANTINGS(pk)
        hang_on(plot, "plantings", plantings)
        if any(planting.own_crop_id for planting in plantings):
            prefetch_related_objects(plantings, "own_crop")
        return plot
    raise Http404


def retired_plots_of(holding) -> QuerySet[Plot]:
    """The holding's plots that are out of use, the latest first, with what happened on them."""
    found = Plot.everything.filter(holding=holding).exclude(retired_on=None).select_related("became")
    return found.prefetch_related("plantings", "log", "slips", "adopted_plans").order_by("-retired_on", "name")


def plots_in(holding, box: Box) -> QuerySet[Plot]:
    """Plots whose shape reaches into a window (west, south, east, north) of the map."""
    west, south, east, north = box
    return Plot.objects.filter(holding=holding, west__lte=east, east__gte=west, south__lte=north, north__gte=south)


def extent_of(holding) -> Box | None:
    """The box around all shapes; None where nothing is drawn yet."""
    return next(iter(_EXTENT(holding.pk)), None)


_EXTENT: Prepared[Box] = Prepared(
    lambda holding: (
        Plot.objects.filter(holding=holding, west__isnull=False)
        .values("holding")
        .annotate(west_=Min("west"), south_=Min("south"), east_=Max("east"), north_=Max("north"))
        .order_by()
        .values_list("west_", "south_", "east_", "north_")
    )
)


def odd_spots_in(holding, box: Box) -> QuerySet[OddSpot]:
    west, south, east, north = box
    return OddSpot.objects.filter(holding=holding, x__range=(west, east), y__range=(south, north))


def spots_near(plot: Plot) -> list[tuple[float, float, float]]:
    """Odd spots (x, y, radius) [m] that could lie on a plot."""
    if plot.shape is None:
        return []
    found = odd_spots_in(plot.holding, (plot.west - 20, plot.south - 20, plot.east + 20, plot.north + 20))
    return [(spot.x, spot.y, spot.radius_m) for spot in found]
