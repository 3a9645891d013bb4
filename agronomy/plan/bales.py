"""A bale is fed as a bale: nitrogen and water until it has heated and cooled, then phosphate and potash. Source: straw-bale-guide."""

from collections.abc import Iterator
from datetime import date, timedelta
from typing import Any

from agronomy.apply.bale import BaleDay, start_bales
from agronomy.base.said import Mass, say
from agronomy.base.working import Figure, Step
from agronomy.dose.application import Application
from agronomy.dose.plain import plain_dose
from agronomy.model.answers import Need
from agronomy.model.request import Request
from agronomy.schedule.calendar import calendar_of
from agronomy.tables import Tables
from agronomy.tables.material import Material
from agronomy.tables.rooms.documents import ProgrammeBales

WHY = say("Fresh straw ties up nitrogen: fed first, it rots, heats and then feeds the plant.")
BESIDE = say("What straw lacks besides nitrogen.")


def bale_plan(request: Request, tables: Tables) -> tuple[list[Application], list[Need]]:
    """The dressings that start a row of bales before planting, and what they amount to. Source: straw-bale-guide.

    Rates in kg/ha, feed in g a bale.
    """
    keys = tables.programmes["bale_start"].bales
    if keys is None:
        return [], []
    feed = _feed(keys, request, tables)
    bales = max(1, round(request.plot.pieces or 1))
    days = [day for day in start_bales(feed, bales, tables).days if day.product_g or day.p2o5_g or day.k2o_g]
    first = max(request.today, calendar_of(request, tables).anchor - timedelta(days=int(tables.bale.start_days_before.value)))
    per_ha = bales / request.plot.area_m2 * 10  # from grams on a bale to kilograms on a hectare of bales
    made = _feeds(feed, [day for day in days if day.product_g], first, per_ha, request, tables)
    made += [dose for day in days for dose in _beside(day, keys, first, per_ha, request, tables)]
    return made, [_need(element, made) for element in ("N", "P", "K")]


def _feed(keys: ProgrammeBales, request: Request, tables: Tables) -> Material:
    """What the bales are fed with: what stands in the shed and is strong enough, else the programme's own."""
    strong = [key for key in request.shed if key in tables.materials and tables.materials[key].n >= tables.bale.least_n_pct.value]
    if strong and request.shed[strong[0]].in_stock_kg > 0 and (tables.materials[strong[0]].is_organic_allowed or not request.organic_only):
        return tables.materials[strong[0]]
    return tables.materials["blood_meal" if request.organic_only else keys.feed]


def _on_bales(material: Material, what: str, rate: float, day: date, request: Request, tables: Tables, **more: Any) -> Application:
    return plain_dose(
        material,
        what,
        rate,
        area_m2=request.plot.area_m2,
        system=request.units,
        start=day,
        end=day,
        placement=tables.timing.places.on_bales,
        depth_cm=request.plot.depth_cm,
        **more,
    )


def _feeds(feed: Material, days: list[BaleDay], first: date, per_ha: float, request: Request, tables: Tables) -> list[Application]:
    made = []
    for number, day in enumerate(days, 1):
        step = Step(
            "feed of the day",
            "nitrogen / share of nitrogen",
            {"nitrogen": Figure(day.nitrogen_g, "g/bale", "straw-bale-guide"), "share of nitrogen": Figure(feed.n / 100, "fraction")},
            Figure(day.product_g, "g/bale"),
            "straw-bale-guide",
        )
        note = say(
            "Day {day}: {amount} on each bale. Water every day; plant when the core stays below {30 °C} two days.",
            day=day.day,
            amount=Mass(day.product_g / 1000, 2, request.units),
        )
        when, supplies = first + timedelta(days=day.day - 1), {"N": day.nitrogen_g * per_ha}
        told = {"why": WHY, "note": note, "supplies": supplies, "number": number, "count": len(days), "working": (step,)}
        made.append(_on_bales(feed, "N", day.product_g * per_ha, when, request, tables, **told))
    return made


def _beside(day: BaleDay, keys: ProgrammeBales, first: date, per_ha: float, request: Request, tables: Tables) -> Iterator[Application]:
    """Phosphate and potash of a day."""
    for element, grams, key, share in (("P", day.p2o5_g, keys.phosphate, 0.436), ("K", day.k2o_g, keys.potash, 0.830)):
        material = tables.materials[key]
        content = material.p2o5 if element == "P" else material.k2o
        if grams and content:
            product = grams / content * 100
            note = say("Day {day}: {product} on each bale.", day=day.day, product=Mass(product / 1000, 2, request.units))
            when, supplies = first + timedelta(days=day.day - 1), {element: grams * share * per_ha}
            yield _on_bales(material, element, product * per_ha, when, request, tables, why=BESIDE, note=note, supplies=supplies)


def _need(element: str, made: list[Application]) -> Need:
    amount = sum(item.supplies.get(element, 0.0) for item in made)
    return Need(
        what=element,
        rate_kg_per_ha=amount,
        low_kg_per_ha=0.7 * amount,
        high_kg_per_ha=1.3 * amount,
        method="bale start",
        why=WHY if element == "N" else BESIDE,
        working=tuple(step for item in made if item.what == element for step in item.working),
    )
