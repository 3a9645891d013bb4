"""Sampling rounds: planning, tracking, and the phone page at the plot."""

from django.core.paginator import Paginator
from django.db.models import Count, Q
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from agronomy.sampling.plan import cores_wanted, same_season
from web.changes.undo import undoable, undoable_deletion
from web.core import tables
from web.drawing.walk import walk_drawing
from web.ground.models import Plot
from web.ground.selectors import plots_of, spots_near
from web.ground.view_window import unit_of
from web.query_params import keys_of
from web.sampling.forms import PlaceForm, RoundForm
from web.sampling.models import Sample, SamplingRound
from web.sampling.planning import make_samples
from web.sampling.selectors import due_plots, first_day_to_sample, last_taken, rounds_of, samples_of
from web.sampling.words import layer

STEPS = {"taken": "taken_on", "sent": "sent_on", "in": "arrived_on"}


def rounds(request):
    today = timezone.localdate()
    found = (
        rounds_of(request.place.holding)
        .annotate(bags=Count("samples"), arrived=Count("samples", filter=Q(samples__arrived_on__isnull=False)))
        .order_by("-planned_on", "-pk")
    )
    page = Paginator(found, 20).get_page(request.GET.get("page"))
    late = [
        sample
        for sample in samples_of(request.place.holding).filter(sent_on__isnull=False, arrived_on=None)[:50]
        if sample.state(today) == "overdue"
    ]
    context = {"page": page, "late": late, "due": due_plots(request.place.holding, today, tables()), "today": today}
    return render(request, "sampling/rounds.html", context)


def new_round(request):
    plots = plots_of(request.place.holding).filter(zones=None).exclude(kind=Plot.Kind.BALE)
    form = RoundForm(
        request.POST or None,
        plots=plots,
        instance=SamplingRound(holding=request.place.holding),
        initial={"plots": keys_of(request.GET.getlist("plot")), "pair": "pair" in request.GET},
    )
    if request.method == "POST" and form.is_valid():
        chosen = form.cleaned_data
        with undoable(request, f"{chosen['name']} was planned") as touched:
            made = form.save()
            touched.append(made)
            for plot in chosen["plots"]:
                touched += make_samples(made, plot, variability=chosen["variability"], pair=chosen["pair"], nitrate=chosen["nitrate"])
        return redirect("sampling:round", made.pk)
    return render(request, "sampling/round_form.html", {"form": form, "has_plots": plots.exists()}, status=422 if form.errors else 200)


def _round(request, pk: int) -> SamplingRound:
    return get_object_or_404(rounds_of(request.place.holding), pk=pk)


def one_round(request, pk: int):
    of, today = _round(request, pk), timezone.localdate()
    samples = list(of.samples.select_related("plot", "plot__holding").prefetch_related("slips"))
    rows = [
        {"sample": sample, "layer": layer(sample, request.place.units), "state": sample.state(today), "done": len(sample.cores_done)}
        for sample in samples
    ]
    waits, seasons = {}, {}
    for plot in {sample.plot for sample in samples if sample.taken_on is None}:
        if day := first_day_to_sample(plot, today, tables()):
            waits[plot] = day
        if window := same_season(last_taken(plot), today, tables()):
            seasons[plot] = window
    cost = of.cost_each * len(samples) if of.cost_each else None
    pairs: dict[tuple, dict] = {}
    for sample in samples:
        if sample.role != Sample.Role.WHOLE:
            pairs.setdefault((sample.plot, sample.top_cm), {})[sample.role] = sample.slips.first()
    compare = [(plot, pair["good"], pair["bad"]) for (plot, _), pair in pairs.items() if pair.get("good") and pair.get("bad")]
    context = {"round": of, "rows": rows, "waits": waits, "seasons": seasons, "cost": cost, "today": today, "compare": compare}
    return render(request, "sampling/round.html", context)


@require_POST
def mark_all(request, pk: int, step: str):
    """All samples of a round that wait for a step have taken it today."""
    if step not in STEPS:
        raise Http404
    of, field = _round(request, pk), STEPS[step]
    before = {"taken": {}, "sent": {"taken_on__isnull": False}, "in": {"sent_on__isnull": False}}[step]
    samples = list(of.samples.filter(**{field: None}, **before))
    if samples:
        with undoable(request, f"{len(samples)} sample{'s' if len(samples) != 1 else ''} marked: {step}", *samples):
            for sample in samples:
                setattr(sample, field, timezone.localdate())
                sample.save()
    return redirect("sampling:round", pk)


@require_http_methods(["GET", "POST"])
def delete_round(request, pk: int):
    of = _round(request, pk)
    if request.method == "POST":
        with undoable_deletion(request, f"{of.name} was deleted; readings stay", of):
            of.delete()
        return redirect("sampling:rounds")
    return render(request, "sampling/delete_round.html", {"round": of})


def _drawing(sample: Sample, units: str):
    if not sample.walk or not sample.plot.shape:
        return None
    return walk_drawing(sample.plot.shape, sample.walk, done=sample.cores_done, spots=spots_near(sample.plot), unit_m=unit_of(units))


def sample(request, pk: int):
    found = get_object_or_404(samples_of(request.place.holding), pk=pk)
    form = PlaceForm(request.POST or None, instance=found)
    if request.method == "POST" and form.is_valid():
        with undoable(request, f"Sample {found.code} was changed", found):
            form.save()
        return redirect("sampling:round", found.round_id)
    wanted = cores_wanted(found.plot.kind, found.plot.area_m2, found.variability, tables())
    context = {
        "sample": found,
        "form": form,
        "walk": _drawing(found, request.place.units),
        "layer": layer(found, request.place.units),
        "why": wanted.why,
        "state": found.state(timezone.localdate()),
    }
    return render(request, "sampling/sample.html", context, status=422 if form.errors else 200)


@require_POST
def delete_sample(request, pk: int):
    found = get_object_or_404(samples_of(request.place.holding), pk=pk)
    round_id = found.round_id
    with undoable_deletion(request, f"Sample {found.code} was deleted", found):
        found.delete()
    return redirect("sampling:round", round_id)


def _by_code(request, code: str) -> Sample:
    return get_object_or_404(samples_of(request.place.holding), code=code.upper())


def at_the_plot(request, code: str):
    """The page behind the QR code: the walk, and a large button for each core."""
    return render(request, "sampling/at_the_plot.html", _at_the_plot(_by_code(request, code), request.place.units))


def _at_the_plot(found: Sample, units: str) -> dict:
    cores = [(number, number in found.cores_done) for number in range(1, found.cores_wanted + 1)]
    return {
        "sample": found,
        "layer": layer(found, units),
        "walk": _drawing(found, units),
        "cores": cores,
        "left": found.cores_wanted - len(found.cores_done),
    }


@require_POST
def mark_core(request, code: str, number: int):
    """Puts a core into the bucket or takes it back; the last one makes the sample taken."""
    found = _by_code(request, code)
    if not 1 <= number <= found.cores_wanted:
        raise Http404
    done = set(found.cores_done) ^ {number}
    found.cores_done = sorted(done)
    found.taken_on = (found.taken_on or timezone.localdate()) if len(done) == found.cores_wanted else None
    found.save(update_fields=["cores_done", "taken_on"])
    if request.htmx:
        return render(request, "sampling/_cores.html", _at_the_plot(found, request.place.units))
    return redirect("sampling:at_the_plot", found.code)
