"""Making, changing and removing plots."""

from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods

from web.changes.undo import undoable, undoable_deletion
from web.ground.forms import PlotForm
from web.ground.selectors import plots_of


def new_plot(request):
    form = PlotForm(request.POST or None, holding=request.place.holding, units=request.place.units)
    if request.method == "POST" and form.is_valid():
        with undoable(request, f"{form.cleaned_data['name']} was added") as touched:
            plot, planting = form.save()
            touched += [plot, planting]
        return redirect("planning:bench", plot.pk)
    return render(request, "ground/plot_form.html", {"form": form, "plot": None})


def edit_plot(request, pk: int):
    plot = get_object_or_404(plots_of(request.place.holding), pk=pk)
    form = PlotForm(request.POST or None, instance=plot, holding=request.place.holding, units=request.place.units)
    if request.method == "POST" and form.is_valid():
        touched = [plot] + ([plot.planting] if plot.planting else [])
        with undoable(request, f"{form.cleaned_data['name']} was changed", *touched):
            form.save()
        return redirect("planning:bench", plot.pk)
    return render(request, "ground/plot_form.html", {"form": form, "plot": plot, "plot_name": form.initial.get("name")})


@require_http_methods(["GET", "POST"])
def delete_plot(request, pk: int):
    plot = get_object_or_404(plots_of(request.place.holding), pk=pk)
    if request.method == "POST":
        with undoable_deletion(request, f"{plot.name} was removed, with its readings and plans", plot):
            plot.delete()
        return redirect("ground_page")
    return render(request, "ground/delete_plot.html", {"plot": plot})
