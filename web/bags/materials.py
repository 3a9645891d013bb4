"""Materials compared: what a working kilogram costs, what must not come together, and sources of nitrogen for one plot."""

from typing import Any

from django.contrib.auth.decorators import login_not_required
from django.http import Http404
from django.shortcuts import render
from django.utils import timezone

from agronomy.base import showing
from agronomy.base.errors import RequestError
from agronomy.base.said import say
from agronomy.intake.documents import dressings_in
from agronomy.intake.request import read_request
from agronomy.plan.assess import assess
from agronomy.products.compatibility import Clash, clashes
from agronomy.products.nitrogen_losses import Conditions, NitrogenSource, side_by_side
from agronomy.products.worth import ELEMENTS, worth
from agronomy.tables.material import MICRONUTRIENTS
from web.core import error_text, tables
from web.drawing.worth import worth_bars
from web.ground.selectors import plot_or_404
from web.planning.models import AdoptedPlan
from web.planning.requests import request_document
from web.planning.service import crop_of, lines_by_plot
from web.supplies.stock import stock_of

PURPOSES = {
    "lime": "lime",
    "acid": "lower pH",
    "N": "nitrogen",
    "P": "phosphorus",
    "K": "potassium",
    "Mg": "magnesium",
    "S": "sulfur",
    "Ca": "calcium",
}
MOST_TOGETHER = 12
WORKED_IN = {
    "never": "left on the surface, dry",
    "two_days": "worked in or rained in within two days",
    "one_day": "worked in or rained in within a day",
    "banded": "banded deep",
}
WARMTH = {"cool": (say("cool, below {8 °C}"), 5.0), "mild": ("mild", 15.0), "warm": (say("warm, above {20 °C}"), 24.0)}


def price_of_work(request):
    """What a kilogram that works costs, by purpose, with how much of each bag is filler."""
    purpose = request.GET.get("for", "lime")
    if purpose not in PURPOSES:
        raise Http404
    prices = {key: line.price_per_kg for key, line in stock_of(request.place.holding.pk).lines().items() if line.price_per_kg}
    rows = worth(list(tables().materials.values()), purpose, prices, least=tables().choice.least_worth_comparing.value)
    currency = request.place.holding.currency
    context: dict[str, Any] = {
        "purpose": purpose,
        "purposes": PURPOSES.items(),
        "rows": [_priced(row, currency) for row in rows],
        "drawing": worth_bars(rows),
        "as_what": {"lime": "CaCO₃", "acid": "S"}.get(purpose, purpose),
        "is_element": purpose in ELEMENTS,
    }
    return render(request, "planning/price_of_work.html", context)


def _priced(row, currency: str) -> dict:
    return {
        "key": row.material,
        "name": row.name,
        "works": f"{row.works * 100:.3g} %",
        "bag": f"{currency}{row.price_per_kg:.2f}",
        "working": f"{currency}{row.price_per_working_kg:.2f}",
        "times": "the cheapest" if row.dearer_by < 1.005 else f"{row.dearer_by:.1f} times the cheapest",
        "filler": row.works < 0.1,
    }


@login_not_required
def together(request):
    """A matrix of some materials: which go together, which don't, why, and what is dangerous."""
    known = tables().materials
    chosen = list(dict.fromkeys(key for key in request.GET.getlist("material") if key in known))[:MOST_TOGETHER]
    if not chosen and request.user.is_authenticated:
        chosen = _of_plans(request)
    materials = [known[key] for key in chosen]
    found = clashes(materials, tables())
    by_pair = {frozenset((item.first, item.second)): item for item in found}
    rows = [
        (row, [by_pair.get(frozenset((row.name, column.name))) if column is not row else None for column in materials]) for row in materials
    ]
    groups: dict[str, list] = {}
    for material in sorted(known.values(), key=lambda item: item.name):
        groups.setdefault(_kind(material), []).append((material.key, material.name, material.key in chosen))
    context: dict[str, Any] = {
        "materials": materials,
        "rows": rows,
        "clashes": [_said(item) for item in found],
        "groups": groups.items(),
        "most": MOST_TOGETHER,
    }
    return render(request, "planning/together.html", context)


def _kind(material) -> str:
    for role, name in (
        ("lime", "limes"),
        ("acidifier", "to lower pH"),
        ("acid", "acids"),
        ("organic", "manures and composts"),
        ("tonic", "tonics"),
        ("conditioner", "rock dusts"),
    ):
        if material.has_role(role):
            return name
    return "trace elements" if MICRONUTRIENTS.intersection(material.roles) else "fertilizers"


def _of_plans(request) -> list[str]:
    """What is in the shed, then materials of the holding's adopted plans, as a beginning."""
    shed = [lot.material for lot in stock_of(request.place.holding.pk).lots if lot.material in tables().materials]
    plans = AdoptedPlan.objects.filter(plot__holding=request.place.holding).order_by("-pk")[:20]
    names = {dressing.name for plan in plans for dressing in dressings_in(plan.result)}
    planned = [key for key, material in tables().materials.items() if material.name in names]
    return list(dict.fromkeys([*shed, *planned]))[:MOST_TOGETHER]


def _said(item: Clash) -> dict:
    days = f"{item.days} days apart on the ground" if item.days else ""
    return {
        "pair": f"{item.first} and {item.second}",
        "together": item.together,
        "reason": item.reason,
        "danger": item.danger,
        "days": days,
    }


def nitrogen_sources(request, pk: int):
    """Sources of nitrogen side by side for a plot's ground, by how they are spread."""
    plot = plot_or_404(request, pk)
    crop = crop_of(plot)
    worked_in, warmth = request.GET.get("worked_in", "never"), request.GET.get("warmth", "mild")
    worked_in, warmth = (worked_in if worked_in in WORKED_IN else "never"), (warmth if warmth in WARMTH else "mild")
    context: dict[str, Any] = {
        "plot": plot,
        "crop": crop,
        "worked_in": worked_in,
        "warmth": warmth,
        "ways": WORKED_IN.items(),
        "warmths": [(key, name) for key, (name, _) in WARMTH.items()],
        "residue": "residue" in request.GET,
    }
    if crop is None:
        return render(request, "planning/nitrogen_sources.html", context)
    document = request_document(plot, plot.planting, lines_by_plot([plot])[plot.pk], today=timezone.localdate(), units=request.place.units)
    try:
        found = assess(read_request(document, tables()), tables())
    except RequestError as error:
        return render(request, "planning/nitrogen_sources.html", context | {"errors": [error_text(item) for item in error.errors]})
    holding = plot.holding
    bought = [
        item
        for item in tables().materials.values()
        if item.list_price_per_kg > 0 and item.n >= 2 and (item.is_organic_allowed or not holding.organic_only)
    ]
    prices = {key: line.price_per_kg for key, line in stock_of(holding.pk).lines().items() if line.price_per_kg is not None}
    sources = side_by_side(
        bought,
        found.ph if found.ph is not None else 6.5,
        found.soil,
        Conditions(worked_in, WARMTH[warmth][1], context["residue"]),
        prices,
        tables(),
    )
    return render(
        request,
        "planning/nitrogen_sources.html",
        context
        | {
            "rows": [_source(item, request.place) for item in sources],
            "ph": found.ph,
            "hundred": showing.mass(100, request.place.units, 3),
        },
    )


def _source(item: NitrogenSource, place) -> dict:
    def mass(kg: float) -> str:
        return showing.mass(kg, place.units, 2) if kg else "–"

    lime = (
        "–"
        if not item.lime_kg
        else f"neutralises as much as {mass(item.lime_kg)}"
        if item.lime_kg > 0
        else f"uses up {mass(-item.lime_kg)}"
    )
    return {
        "name": item.name,
        "product": mass(item.product_kg),
        "ammonia": mass(item.ammonia_n_kg),
        "nitrous": showing.mass(item.nitrous_oxide_kg, place.units, 2),
        "leaches": {"all": "at once", "some": "part at once"}.get(item.is_nitrate, "slowly" if item.slow else "after some weeks"),
        "sulfur": mass(item.sulfur_kg),
        "lime": lime,
        "price": f"{place.holding.currency}{item.price:.2f}",
    }
