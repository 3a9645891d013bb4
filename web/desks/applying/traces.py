"""Trace elements of a plot: what is short by test, and how it can be given here."""

from typing import Any

from django.shortcuts import render
from django.utils import timezone

from agronomy.apply.micronutrients import ELEMENTS, WAYS, MicronutrientRate, boron_solution
from agronomy.base import showing
from agronomy.base.said import Measure, say
from agronomy.model.answers import SPOKEN
from agronomy.plan.cautions import Practice, material_cautions, practice_cautions
from agronomy.plan.micronutrients import short_by_test, ways_here
from web.core import tables
from web.desks.common import assessed
from web.ground.selectors import plot_or_404
from web.planning.service import crop_of


def traces(request, pk: int):
    plot = plot_or_404(request, pk)
    found = assessed(request, plot, timezone.localdate())
    asked = request.GET.get("element", "")
    context: dict[str, Any] = {"plot": plot, "crop": crop_of(plot), "elements": [(key, tables().analytes[key].name) for key in ELEMENTS]}
    if found is None:
        return render(request, "desks/traces.html", context)
    short = short_by_test(found, tables())
    element = asked if asked in ELEMENTS else short[0] if short else ""
    context |= {
        "short": [tables().analytes[key].name.lower() for key in short],
        "element": element,
        "is_short": element in short,
        "ph": found.ph,
    }
    if element and found.ph is not None:
        row = tables().nutrients.micronutrients[element]
        doses = ways_here(element, found, tables())
        sprayed = practice_cautions(Practice(way="leaf"), tables()) if any(dose.way == "leaf" for dose in doses) else []
        cautions = [*material_cautions((tables().materials[dose.material] for dose in doses), tables()), *sprayed]
        context |= {
            "name": SPOKEN.get(element, tables().analytes[element].name.lower()),
            "ways": [_told(dose, plot.area_m2, request.place.units) for dose in doses],
            "limit": row.limit,
            "says": row.says,
            "cautions": cautions,
        }
    return render(request, "desks/traces.html", context)


def _told(dose: MicronutrientRate, area_m2: float, units: str) -> dict:
    if dose.strength_pct is not None:
        amount, element = f"a solution of {dose.strength_pct:g} %", ""
    else:
        low, high = (showing.rate(value, units, area_m2) for value in (dose.product_low, dose.product_high))
        amount = f"{low} (up to {high})"
        element = f"{showing.rate(dose.element_low, units, area_m2)} to {showing.rate(dose.element_high, units, area_m2)} of the element"
    plot = f"{showing.number(dose.plot_kg * 1000, 3)} g" if dose.plot_kg < 1 else showing.mass(dose.plot_kg, units, 3)
    dissolve = ""
    if dose.element == "B" and dose.way == "broadcast":
        grams, litres, _ = boron_solution(dose.element_low, area_m2, tables().materials[dose.material], tables())
        dissolve = say(
            "Dissolve {grams:.3g} in {litres:.3g} and sprinkle it evenly over the whole plot. Never by the spoon, never to single plants.",
            grams=Measure(grams, "g"),
            litres=Measure(litres, "L"),
        )
    return {
        "key": dose.way,
        "way": WAYS[dose.way],
        "name": dose.name,
        "amount": amount,
        "element": element,
        "plot": plot if dose.plot_kg else "",
        "times": dose.times,
        "lasts": dose.lasts,
        "says": dose.says,
        "dissolve": dissolve,
    }
