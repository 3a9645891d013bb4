"""Pages that see the whole holding: the first page, the first plan, and the sources of every rule."""

from django.contrib.auth.decorators import login_not_required
from django.core.paginator import Paginator
from django.db import transaction
from django.http import Http404
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone

from web.changes.undo import undoable
from web.core import tables
from web.ground.forms import PlotForm
from web.ground.models import Plot
from web.ground.selectors import plots_of
from web.overview.forms import FirstSlipForm
from web.readings.forms import LineFormSet, first_lines, save_slip

SOURCES_ON_A_PAGE = 170


@login_not_required
def home(request):
    if not request.user.is_authenticated:
        return render(request, "overview/welcome.html")
    if request.place.role == "worker":
        return redirect("jobs:jobs")
    return redirect("today" if plots_of(request.place.holding).exists() else "start")


def start(request):
    """One question for whoever begins: what have you got? Each answer leads to a first plan."""
    return render(request, "overview/start.html")


def first_slip(request):
    """A newcomer's first plan from one page: one plot, one crop, one slip."""
    data = request.POST or None
    plot_form = PlotForm(data, holding=request.place.holding, units=request.place.units)
    head = FirstSlipForm(data, holding=request.place.holding, initial={"taken_on": timezone.localdate()})
    lines = LineFormSet(data, prefix="lines", initial=first_lines({}, ["pH", "buffer pH", "P", "K", "Mg", "OM"]))
    if request.method == "POST":
        sound = plot_form.is_valid() & head.is_valid() & lines.is_valid()
        if sound and not lines.open_doubts:
            return redirect("planning:bench", _keep_first(request, plot_form, head, lines).pk)
    status = 422 if request.method == "POST" else 200
    return render(request, "overview/first_slip.html", {"plot_form": plot_form, "head": head, "lines": lines}, status=status)


FIRST_GROUND = {
    "none": ("No test yet", "What you grow and how large the ground is: that is enough for a careful plan.", "planning:bench"),
    "kit": ("A colour kit or a meter", "First the ground and its crop; then the kit leads you through its steps.", "readings:kits"),
}


def first_ground(request, way: str):
    """A newcomer's first plot where no slip is at hand: then the plan without a test, or the kit."""
    if way not in FIRST_GROUND:
        raise Http404
    title, says, following = FIRST_GROUND[way]
    form = PlotForm(request.POST or None, holding=request.place.holding, units=request.place.units)
    if request.method == "POST" and form.is_valid():
        with undoable(request, f"{form.cleaned_data['name']} was made") as touched:
            plot, planting = form.save()
            touched += [plot, *([planting] if planting else [])]
        return redirect(following, plot.pk) if following == "planning:bench" else redirect(f"{reverse(following)}?plot={plot.pk}")
    context = {"form": form, "title": title, "says": says, "way": way}
    return render(request, "overview/first_ground.html", context, status=422 if form.errors else 200)


@transaction.atomic
def _keep_first(request, plot_form: PlotForm, head: FirstSlipForm, lines) -> Plot:
    with undoable(request, f"{plot_form.cleaned_data['name']} and its first readings were kept") as touched:
        plot, planting = plot_form.save()
        head.instance.plot = plot
        slip, stored = save_slip(head, lines)
        touched += [plot, planting, slip, *stored]
    return plot


@login_not_required
def sources(request):
    """A page of the sources; `at` names the one that a link leads to, and opens the page that has it."""
    rows, at = list(tables().sources.values()), request.GET.get("at", "")
    keys = [row.key for row in rows]
    number = keys.index(at) // SOURCES_ON_A_PAGE + 1 if at in keys else request.GET.get("page")
    return render(request, "overview/sources.html", {"page": Paginator(rows, SOURCES_ON_A_PAGE).get_page(number)})


@login_not_required
def keys(request):
    return render(request, "overview/keys.html")
