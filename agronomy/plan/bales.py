"""A bale is fed as a bale: nitrogen and water until it has heated and cooled, then phosphate and potash. Source: straw-bale-guide."""

from datetime import timedelta

from agronomy.apply.bale import start_bales
from agronomy.base.said import Mass, say
from agronomy.base.working import Figure, Step
from agronomy.dose.application import Application
from agronomy.dose.plain import plain_dose
from agronomy.model.answers import Need
from agronomy.model.request import Request
from agronomy.schedule.windows import calendar_of
from agronomy.tables import Tables

WHY = say("Fresh straw ties up nitrogen: fed first, it rots, heats and then feeds the plant.")


def bale_plan(request: Request, tables: Tables) -> tuple[list[Application], list[Need]]:
    """The dressings that start a row of bales before planting, and what they amount to. Source: straw-bale-guide.

    Rates in kg/ha, feed in g a bale.
    """
    programme = tables.programmes["bale_start"]
    keys = programme.bales
    if keys is None:
        return [], []
    feed = tables.materials["blood_meal" if request.organic_only else keys.feed]
    shed = [key for key in request.shed if key in tables.materials and tables.materials[key].n >= tables.bale.least_n_pct.value]
    if shed and request.shed[shed[0]].in_stock_kg > 0 and (tables.materials[shed[0]].is_organic_allowed or not request.organic_only):
        feed = tables.materials[shed[0]]
    bales = max(1, round(request.plot.pieces or 1))
    started = start_bales(feed, bales, tables)
    days = [day for day in started.days if day.product_g or day.p2o5_g or day.k2o_g]
    anchor = calendar_of(request, tables).anchor
    first = max(request.today, anchor - timedelta(days=int(tables.bale.start_days_before.value)))
    placement = tables.timing.places.on_bales
    per_ha = bales / request.plot.area_m2 * 10  # from grams on a bale to kilograms on a hectare of bales
    made: list[Application] = []
    feeds = [day for day in days if day.product_g]
    for number, day in enumerate(feeds, 1):
        when = first + timedelta(days=day.day - 1)
        step = Step(
            "feed of the day",
            "nitrogen / share of nitrogen",
            {"nitrogen": Figure(day.nitrogen_g, "g/bale", "straw-bale-guide"), "share of nitrogen": Figure(feed.n / 100, "fraction")},
            Figure(day.product_g, "g/bale"),
            "straw-bale-guide",
        )
        made.append(
            plain_dose(
                feed,
                "N",
                day.product_g * per_ha,
                area_m2=request.plot.area_m2,
                system=request.units,
                start=when,
                end=when,
                placement=placement,
                depth_cm=request.plot.depth_cm,
                why=WHY,
                note=(
                    say(
                        "Day {day}: {product_g} on each bale. Water every day; plant when the core stays below {30 °C} two days.",
                        day=day.day,
                        product_g=Mass(day.product_g / 1000, 2, request.units),
                    )
                ),
                supplies={"N": day.nitrogen_g * per_ha},
                number=number,
                count=len(feeds),
                working=(step,),
            )
        )
    for day in days:
        for element, grams, key, share in (
            ("P", day.p2o5_g, keys.phosphate, 0.436),
            ("K", day.k2o_g, keys.potash, 0.830),
        ):
            material = tables.materials[key]
            content = material.p2o5 if element == "P" else material.k2o
            if not grams or not content:
                continue
            when = first + timedelta(days=day.day - 1)
            product = grams / content * 100
            made.append(
                plain_dose(
                    material,
                    element,
                    product * per_ha,
                    area_m2=request.plot.area_m2,
                    system=request.units,
                    start=when,
                    end=when,
                    placement=placement,
                    depth_cm=request.plot.depth_cm,
                    why=say("What straw lacks besides nitrogen."),
                    note=say("Day {day}: {product} on each bale.", day=day.day, product=Mass(product / 1000, 2, request.units)),
                    supplies={element: grams * share * per_ha},
                )
            )
    needs = [
        Need(
            what=element,
            rate_kg_per_ha=sum(item.supplies.get(element, 0.0) for item in made),
            low_kg_per_ha=0.7 * sum(item.supplies.get(element, 0.0) for item in made),
            high_kg_per_ha=1.3 * sum(item.supplies.get(element, 0.0) for item in made),
            method="bale start",
            why=WHY if element == "N" else say("What straw lacks besides nitrogen."),
            working=tuple(step for item in made if item.what == element for step in item.working),
        )
        for element in ("N", "P", "K")
    ]
    return made, needs
