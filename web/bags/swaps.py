"""Another material instead of one of the plan's, with its effect before it is taken; and letting go of such wishes."""

from django.http import Http404
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base.errors import UnknownName
from agronomy.diagnose.claims import claim_for_choice
from agronomy.model.answers import SPOKEN
from agronomy.plan.plan import Plan
from agronomy.whatif.account import account
from agronomy.whatif.swap import Swap, swaps
from web.bags.claims import not_waved_off
from web.changes.undo import undoable
from web.core import tables
from web.ground.selectors import plot_or_404
from web.missing import Missing
from web.planning import words
from web.planning.service import need_a_crop, no_plan, reader_for, request_of


def swap(request, pk: int, material: str):
    """What could stand in for a material, each with its amount, its price and what it changes; POST takes one."""
    plot = plot_or_404(request, pk)
    need_a_crop(plot)
    asked = request_of(plot, request.place.units)
    try:
        if asked is None:
            raise no_plan(plot)
        plan, found, unfit = swaps(asked, material, tables())
    except UnknownName:
        says = f"Today’s plan for {plot.name} does not use this product, so there is nothing to swap."
        raise Missing(says, reverse("planning:bench", args=[pk]), f"To {plot.name}") from None
    if request.method == "POST":
        new = request.POST.get("instead", "")
        if new not in {item.material for item in found}:
            raise Http404
        with undoable(request, f"{plot.name}: {tables().materials[new].name} instead of {tables().materials[material].name}", plot):
            plot.wanted = [*(key for key in plot.wanted if key not in (material, new)), new]
            plot.without = [*(key for key in plot.without if key not in (material, new)), material]
            plot.save()
        return redirect("planning:bench", pk)
    reader = reader_for(request.place, plot)
    context = {
        "plot": plot,
        "material": material,
        "name": tables().materials[material].name,
        "now": _jobs(plan, reader),
        "cost": f"{reader.currency}{plan.cost:.2f}",
        "rows": [_row(item, plan, reader, request.place) for item in found],
        "unfit": sorted(unfit.items()),
    }
    return render(request, "planning/swap.html", context)


def _jobs(plan: Plan, reader) -> list[str]:
    return [
        f"{job.weight} {job.name}{f', {job.times}' if job.times else ''}"
        for job in words.jobs(plan, timezone.localdate(), reader, tables())
        if not job.later
    ]


def _row(item: Swap, before: Plan, reader, place) -> dict:
    more = item.costs_more
    cost = "costs the same" if abs(more) < 0.005 else f"{reader.currency}{abs(more):.2f} {'more' if more > 0 else 'less'}"
    return {
        "material": item.material,
        "name": item.name,
        "jobs": _jobs(item.plan, reader),
        "cost": cost,
        "changes": _changes(before, item.plan),
        "claim": not_waved_off(claim_for_choice(tables().materials[item.material], before.findings, tables()), place),
    }


def _changes(before: Plan, after: Plan) -> list[str]:
    """What is met, open or overdone that was not before, in a few words."""
    old, new = ({line.nutrient: line for line in account(plan, tables())} for plan in (before, after))
    said = []
    for nutrient, line in new.items():
        opens, overdoes = line.worse_than(old.get(nutrient), tables())
        said += [f"leaves {SPOKEN[nutrient]} open"] if opens else []
        said += [f"brings {SPOKEN[nutrient]} beyond need"] if overdoes else []
    return said


@require_POST
def drop_wish(request, pk: int):
    """Lets go of a material asked for or left out."""
    plot, kind, key = plot_or_404(request, pk), request.POST.get("kind", ""), request.POST.get("material", "")
    if kind not in ("wanted", "without") or key not in getattr(plot, kind):
        raise Http404
    with undoable(
        request, f"{plot.name}: a preference about {tables().materials[key].name if key in tables().materials else key} was removed", plot
    ):
        setattr(plot, kind, [item for item in getattr(plot, kind) if item != key])
        plot.save()
    return redirect("planning:aims", pk)
