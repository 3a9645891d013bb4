"""Making, changing and removing plots."""

from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods, require_POST

from web.changes.undo import undoable
from web.ground.forms import PlotForm
from web.ground.models import Plot
from web.ground.selectors import plot_or_404, retired_plots_of
from web.plots.moving import keep_planting
from web.plots.retiring import retire, rows_of


def new_plot(request):
    form = _form(request)
    if request.method == "POST" and form.is_bound and form.is_valid():
        with undoable(request, f"{form.cleaned_data['name']} was added") as touched:
            plot, planting = form.save()
            touched += [plot, planting]
        return redirect("planning:bench", plot.pk)
    return render(request, "ground/plot_form.html", {"form": form, "plot": None}, status=422 if form.is_bound else 200)


def edit_plot(request, pk: int):
    plot = plot_or_404(request, pk)
    form = _form(request, plot)
    if request.method == "POST" and form.is_bound and form.is_valid():
        touched = [plot] + ([plot.planting] if plot.planting else [])
        keep_planting(request, f"{form.cleaned_data['name']} was changed", plot, form, form.save, *touched)
        return redirect("planning:bench", plot.pk)
    context = {"form": form, "plot": plot, "plot_name": form.initial.get("name")}
    return render(request, "ground/plot_form.html", context, status=422 if form.is_bound else 200)


def _form(request, plot=None) -> PlotForm:
    """The form, bound only where it was sent to be kept: another kind of ground merely asks for other fields."""
    about = {"holding": request.place.holding, "units": request.place.units, "instance": plot}
    if request.method != "POST":
        return PlotForm(**about)
    return PlotForm(initial=request.POST.dict(), **about) if "other_fields" in request.POST else PlotForm(request.POST, **about)


@require_POST
def plot_fields(request):
    """The fields that matter to the kind of ground chosen, with what was typed."""
    form = PlotForm(initial=request.POST.dict(), holding=request.place.holding, units=request.place.units)
    return render(request, "ground/_plot_fields.html", {"form": form})


def retired(request):
    """Plots out of use, each with what happened on it."""
    return render(request, "ground/retired.html", {"plots": retired_plots_of(request.place.holding)})


@require_http_methods(["GET", "POST"])
def delete_plot(request, pk: int):
    plot = plot_or_404(request, pk)
    if request.method == "POST":
        with undoable(request, f"{plot.name} was deleted of use", *rows_of([plot])):
            retire(plot, str(Plot.Retired.TAKEN_OUT))
        return redirect("ground_page")
    return render(request, "ground/delete_plot.html", {"plot": plot, "zones": list(plot.zones.all())})
