"""The grid in which many plots are added or changed at once."""

from django.contrib import messages
from django.core.paginator import Paginator
from django.shortcuts import redirect, render

from web.ground.selectors import plots_of
from web.plots.grid import MOST_NEW, MOST_OLD, NEW_LINES, Grid
from web.plots.moving import DAYS, keep_plantings
from web.query_params import keys_of, whole


def many(request):
    """A line for each plot, and empty lines for new ones; all are kept together, or none."""
    holding = request.place.holding
    asked = request.POST if request.method == "POST" else request.GET
    keys = keys_of(asked.getlist("plot"))
    changes = bool(keys) or asked.get("all") == "1"
    page = Paginator(plots_of(holding).filter(pk__in=keys) if keys else plots_of(holding), MOST_OLD).get_page(request.GET.get("page"))
    plots = list(page) if changes else []
    new = whole(asked.get("lines"), low=0, high=MOST_NEW, usual=0 if changes else NEW_LINES)
    grid = Grid(holding, request.place.units, plots, new).read(request.POST if request.method == "POST" else None)
    if request.method == "POST" and grid.is_valid():
        written = grid.written
        if not written:
            messages.info(request, "Nothing was written or changed.")
            return redirect("ground_page")
        rows = [row for line in written if line.plot for row in (line.plot, line.plot.planting) if row is not None]
        label = f"{len(written)} plot{'s were' if len(written) != 1 else ' was'} written in the grid"
        keep_plantings(request, label, [line.plot for line in written if line.plot and DAYS & set(line.changed_data)], grid.save, *rows)
        return redirect("ground_page")
    context = {
        "grid": grid,
        "lines": new,
        "more": min(MOST_NEW, new + NEW_LINES),
        "page": page if changes and not keys else None,
        "query": "&all=1",
    }
    return render(request, "ground/many.html", context, status=422 if request.method == "POST" else 200)
