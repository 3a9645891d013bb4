"""Pots are fed by the litre of mix: one coated feed in spring for the season. Source: nelson, bunt-1988."""

from agronomy.base.said import Measure, say
from agronomy.base.working import Figure, Step
from agronomy.dose.application import Application
from agronomy.dose.plain import plain_dose
from agronomy.ground.kinds import litres_of_mix
from agronomy.model.answers import Need
from agronomy.model.request import Request
from agronomy.plan.assess import Assessment
from agronomy.plan.pot_can import can_feed, feed_of, is_fed_in_the_can
from agronomy.tables import Tables
from agronomy.tables.row import Parameter


def _season(kg_per_ha: float, grams: Parameter, litres: float, request: Request) -> Step:
    return Step(
        "feed for the season",
        "grams to the litre × litres / 1000 / area × 10 000",
        {
            "grams to the litre": Figure.of(grams),
            "litres": Figure(litres, "L"),
            "area": Figure(request.plot.area_m2, "m2"),
        },
        Figure(kg_per_ha, "kg/ha"),
        grams.source,
        grams.where,
    )


def _by_the_litre(nitrogen: float, step: Step) -> Need:
    return Need(
        what="N",
        rate_kg_per_ha=nitrogen,
        low_kg_per_ha=0.6 * nitrogen,
        high_kg_per_ha=1.4 * nitrogen,
        method=say("by the litre of mix"),
        why=say("Pots are fed by the litre of mix, not by the hectare."),
        working=(step,),
    )


def pot_feed(found: Assessment, tables: Tables) -> tuple[list[Application], list[Need]]:
    """The season's feed of a container, by what the plant asks for; none where salt stands in the mix or the bag may not be used.

    Source: bunt-1988.
    Rates in g or mL a pot.

    >>> from agronomy.intake.example import found, tables
    >>> pot_feed(found(), tables)
    ([], [])
    """
    request, figures = found.request, tables.nutrients
    coated = tables.products.standard["pot_feed"].material
    salty = any(finding.class_ != "right" for finding in found.salt.values())
    if request.plot.ground != "container" or salty:
        return [], []
    in_the_can = is_fed_in_the_can(request.crop.key, tables)
    feed = feed_of(request.crop.key, tables).key if in_the_can else coated
    if request.organic_only or feed in request.without or (request.only is not None and feed not in request.only):
        return [], []
    if in_the_can:
        return can_feed(found, tables)
    grams = {
        "hungry": figures.pot_feed_hungry_g_per_l,
        "medium": figures.pot_feed_medium_g_per_l,
        "light": figures.pot_feed_light_g_per_l,
        "leave alone": figures.pot_feed_light_g_per_l,
    }[request.crop.feeding]
    if request.crop.is_acid_lover and request.crop.feeding in ("light", "leave alone"):
        grams = figures.pot_feed_heath_g_per_l
    litres = litres_of_mix(request.plot.area_m2, request.plot.depth_cm)
    kg_per_ha = grams.value * litres / 1000 / request.plot.area_m2 * 10_000
    step = _season(kg_per_ha, grams, litres, request)
    window = found.calendar.season.window("month", 4, 5).later_than(request.today)
    each = say(" {grams:.2g} for each pot.", grams=Measure(grams.value * litres / request.plot.pieces, "g")) if request.plot.pieces else ""
    item = plain_dose(
        tables.materials[coated],
        "N",
        kg_per_ha,
        area_m2=request.plot.area_m2,
        system=request.units,
        start=window.start,
        end=window.end,
        placement=say("scattered on the surface of the mix, scratched in lightly and watered in"),
        depth_cm=request.plot.depth_cm,
        why=say("A pot holds no store: a coated feed gives for the season, by the litre of mix."),
        note=say(
            "{grams:g} to the litre of mix.{each} No other feed beside it; none after midsummer for what stands out in frost.",
            grams=Measure(grams.value, "g"),
            each=each,
        ),
        working=(step,),
    )
    return [item], [_by_the_litre(item.supplies.get("N", 0.0), step)]
