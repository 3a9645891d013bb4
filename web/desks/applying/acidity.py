"""Ways to move a plot's pH: limes and sulfurs beside each other by speed and price, quick salts, upkeep, stop-gaps, and ways round free
lime.
"""

from typing import Any

from django.shortcuts import render
from django.utils import timezone

from agronomy.base import showing
from agronomy.base.required import required
from agronomy.model.answers import Need, Unmet
from agronomy.model.climate import warm_season_mean
from agronomy.plan.needs import answers_by
from agronomy.products.shop import available_products
from agronomy.whatif.forecast.sulfur import ASLEEP_BELOW_C
from agronomy.whatif.ways import MONTHS, LimeWay, QuickWay, SulfurWay, lime_ways, quick_ways, sulfur_ways, upkeep_sulfur, vinegar_l_per_m2
from web.core import tables
from web.desks.common import DeskForm, assessed
from web.ground.fields import NumberField
from web.ground.selectors import plot_or_404
from web.planning.service import crop_of, reader_for

WORDS = {"soon": "days to weeks", "weeks": "weeks", "months": "months", "seasons": "a season or two", "years": "years"}


class WarmthForm(DeskForm):
    """How warm the ground is while sulfur works, how soon lime must have worked, and what water brings."""

    warmth = NumberField(low=0, high=35, label="Warmth of the soil, °C", required=False, help_text="Mean over the months it is to work.")
    months = NumberField(low=0.5, high=36, label="Months until planting", required=False)
    alkalinity = NumberField(low=0, high=600, label="Alkalinity of your water, mg/L", required=False)
    water = NumberField(low=0, high=3000, label="Water given in a year, mm", required=False)


def acidity(request, pk: int):
    plot = plot_or_404(request, pk)
    found = assessed(request, plot, timezone.localdate())
    water = _own_water(found)
    form = WarmthForm(
        request.GET, us=request.place.units == "us", usual={name: showing.number(value, 3) for name, value in water.items() if value}
    )
    climate = found.request.climate if found is not None else None
    if climate is not None:
        form.fields[
            "warmth"
        ].help_text = (
            f"Mean over the months it is to work; {climate.name.split(':')[0]} has {_usual_warmth(climate):.0f} where bacteria are awake."
        )
    context: dict[str, Any] = {"plot": plot, "crop": crop_of(plot), "form": form, "months": MONTHS}
    if found is None or found.acidity is None or (form.is_bound and not form.is_valid()):
        return render(request, "desks/acidity.html", context)
    data = form.cleaned_data if form.is_bound else {"warmth": None, "months": _months_left(found.request.planting), **water}
    reader = reader_for(request.place, plot)
    answers = answers_by(found.request.school, found, tables())
    answer, shop = answers.acidity, available_products(found.request, tables())
    context |= {"why": found.acidity.why, "ph": found.ph}
    if isinstance(answer, Need) and answer.what == "CaCO3":
        context["limes"] = [
            _lime(way, reader) for way in lime_ways(answer, shop, required(answers.dressing), tables(), months_left=data["months"])
        ]
    elif isinstance(answer, Need):
        drop = required(found.ph) - found.figures["acid_to"]
        context |= {
            "sulfurs": [
                _sulfur(way, reader)
                for way in sulfur_ways(
                    answer,
                    shop,
                    required(answers.dressing),
                    data["warmth"] if data["warmth"] is not None else _usual_warmth(climate),
                    tables(),
                )
            ],
            "quick": [_quick(way, reader) for way in quick_ways(answer, required(found.ph), tables())],
            "vinegar": f"{vinegar_l_per_m2(max(0.1, min(3.0, drop)), found.soil, found.soil.depth_cm, tables()):.1f} L",
            "acid_to": found.figures["acid_to"],
        }
    elif isinstance(answer, Unmet):
        context["refused"] = answer.why
    upkeep = upkeep_sulfur(data["alkalinity"], data["water"], tables())
    if upkeep is not None:
        context["upkeep"] = reader.rate(upkeep)
    return render(request, "desks/acidity.html", context)


def _usual_warmth(climate) -> float:
    return tables().climate.awake_mean_c.value if climate is None else warm_season_mean(climate, ASLEEP_BELOW_C, tables())


def _own_water(found) -> dict[str, float | None]:
    """Alkalinity and yearly amount of the plot's own water, as far as they are known."""
    if found is None:
        return {"alkalinity": None, "water": None}
    alkalinity = found.readings.get("alkalinity")
    return {"alkalinity": alkalinity.value if alkalinity else None, "water": found.request.plot.watering_mm}


def _months_left(planting) -> float | None:
    days = (planting - timezone.localdate()).days if planting else None
    return days / 30.4 if days is not None and days > 0 else None


def _money(per_ha: float, reader) -> str:
    return f"{reader.currency}{per_ha * reader.area_m2 / 10_000:.2f}"


def _total(kg_per_ha: float, reader) -> str:
    return showing.mass(kg_per_ha * reader.area_m2 / 10_000, reader.units, 3)


def _lime(way: LimeWay, reader) -> dict:
    return {
        "name": way.material.name,
        "total": _total(way.rate_kg_per_ha, reader),
        "cost": _money(way.cost_per_ha, reader),
        "speed": WORDS[way.material.speed],
        "magnesium": reader.rate(way.magnesium_kg_per_ha) if way.material.mg >= 1 else "",
        "caustic": way.caustic,
        "dressings": way.dressings,
        "late": not way.in_time,
    }


def _sulfur(way: SulfurWay, reader) -> dict:
    done = [f"{share * 100:.0f} %" for share in way.done]
    if way.done_whole:
        done = [f"{whole * 100:.0f} to {share * 100:.0f} %" for share, whole in zip(way.done, way.done_whole, strict=True)]
    times = f"{way.dressings} times, {way.months_between} months apart" if way.dressings > 1 else "once"
    return {
        "name": way.material.name,
        "total": _total(way.rate_kg_per_ha, reader),
        "cost": _money(way.cost_per_ha, reader),
        "done": done,
        "times": times,
    }


def _quick(way: QuickWay, reader) -> dict:
    return {
        "name": way.material.name,
        "needed": reader.rate(way.needed_g_per_m2 * 10),
        "most": reader.rate(way.most_g_per_m2 * 10),
        "times": way.times,
        "forbidden": way.forbidden,
        "says": way.says,
        "works": way.works,
    }
