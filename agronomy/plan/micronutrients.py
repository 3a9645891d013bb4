"""Micronutrients that are short become dressings of the plan: a salt in the ground where it stays open, a chelate or the leaf where not.

Only what a test of the ground or the leaf calls short for a crop that answers to it is dosed, by how short it is and how the crop answers,
within what the crop bears. Source: micro-rates.
"""

from dataclasses import replace
from datetime import timedelta

from agronomy.apply.micronutrients import MicronutrientRate, micronutrient_ways
from agronomy.apply.tank import trace_share
from agronomy.base import showing
from agronomy.base.record import record
from agronomy.base.said import Mass, Volume, joined, large, say
from agronomy.base.working import Figure, Step
from agronomy.dose.application import Application
from agronomy.interpret.leaf import LEAF
from agronomy.model.answers import Need, Unmet
from agronomy.model.finding import Finding
from agronomy.model.seasons import Window
from agronomy.plan.assess import Assessment
from agronomy.plan.water import water_has_boron
from agronomy.schedule.calendar import Calendar
from agronomy.schedule.nutrient_parts import before_planting
from agronomy.schedule.placement import Placement
from agronomy.tables import Tables
from agronomy.tables.material import Material
from agronomy.tables.rooms.nutrients import TraceByClass

ELEMENTS = ("Zn", "Mn", "Fe", "Cu", "B")
WAYS_OUT = {
    "leaf": "sprayed on the leaves",
    "band": say("in a band along the row, watered in"),
    "broadcast": say("dissolved and sprayed evenly on the ground, worked in before planting"),
}


@record
class Dosed:
    """The dressings of micronutrients, their needs, and what is short but can't be dosed here."""

    applications: tuple[Application, ...]
    needs: tuple[Need, ...]


def micronutrient_doses(found: Assessment, tables: Tables) -> Dosed:
    """Dressings for what is short by test; nothing where nobody has tested. Source: micro-rates.

    Rates in kg of element per hectare.

    >>> from agronomy.intake.example import found, tables
    >>> micronutrient_doses(found(), tables).needs
    ()
    """
    calendar = found.calendar
    made, needs = [], []
    for element in ELEMENTS:
        finding, by_leaf = _short(element, found, tables)
        if finding is None or found.ph is None or (element == "B" and water_has_boron(found.readings, tables)):
            continue
        rate = _way(element, found, calendar, by_leaf=by_leaf, tables=tables)
        if rate is None:
            continue
        applications = _applications(element, rate, finding, found, calendar, tables)
        made += applications
        total = sum(item.supplies[element] for item in applications)
        needs.append(
            Need(
                what=element,
                rate_kg_per_ha=total,
                low_kg_per_ha=total,
                high_kg_per_ha=max(total, rate.element_high * rate.times),
                method="micronutrient guide",
                why=finding.why,
                working=(*finding.working, *rate.working),
            )
        )
    return Dosed(tuple(made), tuple(needs))


def dosed_instead(answers: tuple, needs: tuple[Need, ...]) -> list:
    """The answers without what was said of elements that the plan doses after all.

    Rates in kg/ha.

    >>> dosed_instead((), ())
    []
    """
    dosed = {need.what for need in needs}
    return [answer for answer in answers if not (isinstance(answer, Unmet) and answer.what in dosed)]


def _short(element: str, found: Assessment, tables: Tables) -> tuple[Finding | None, bool]:
    """The finding that calls an element short, and whether the leaf did."""
    leaf = found.leaves.get(LEAF + element)
    if leaf is not None:
        return (leaf, True) if leaf.is_short else (None, True)
    judged = found.judged.get(element)
    if judged is None or judged[0].class_ not in ("very_short", "short", "building"):
        return None, False
    response = _response(element, found, tables)
    row = tables.nutrients.micronutrients[element]
    if judged[0].class_ == "building" and element == "Fe" and (found.ph or 0) <= (row.locked_above_ph or 0):
        return None, False  # a little low is enough where nothing locks it
    answered = {"high": ("very_short", "short"), "medium": ("very_short", "short"), "low": ()}[response]
    is_low = judged[0].class_ in answered or (response == "high" and element in ("Zn", "B", "Fe"))
    return (judged[0], False) if is_low else (None, False)


def short_by_test(found: Assessment, tables: Tables) -> list[str]:
    """The elements that a test of the ground or the leaf calls short: those that the plan doses, and those that it only tells because the
    crop is not among the first to suffer. Where the leaf has enough, the ground is not asked. Source: micro-rates, micro-classes.
    Readings in mg/kg.

    >>> from agronomy.intake.example import found, tables
    >>> short_by_test(found(), tables)
    ['Zn']
    """
    short = []
    for element in ELEMENTS:
        dosed, by_leaf = _short(element, found, tables)
        ground = found.judged.get(element)
        if dosed is not None or (not by_leaf and ground is not None and ground[0].class_ in ("very_short", "short")):
            short.append(element)
    return short


def ways_here(element: str, found: Assessment, tables: Tables) -> list[MicronutrientRate]:
    """Every way of giving an element on this plot, none above what the crop bears. Source: micro-rates (unsure).

    Raises OutOfRange for an element that is no trace.
    Rates in kg of element per hectare.

    >>> from agronomy.intake.example import found, tables
    >>> [way.material for way in ways_here("Zn", found(), tables)][:2]
    ['zinc_sulfate_mono', 'zinc_sulfate_mono']
    """
    most = _most(element, found, tables)
    ways = micronutrient_ways(element, found.ph or 7.0, found.request.plot.area_m2, dict(tables.materials), tables)
    return [_within(most, _by_class(rate, found, tables)) for rate in ways]


def _response(element: str, found: Assessment, tables: Tables) -> str:
    crop = found.request.crop
    return "high" if element in crop.sensitive_to else tables.trace_response_of.get((crop.key, element), "medium")


def _by_class(rate: MicronutrientRate, found: Assessment, tables: Tables) -> MicronutrientRate:
    """A dose by how short the element is and how the crop answers: the middle of its row, the low end where it is only a little low.

    A leaf that is short is past asking how the crop answers.
    """
    leaf, judged = found.leaves.get(LEAF + rate.element), found.judged.get(rate.element)
    finding = leaf or (judged[0] if judged else None)
    if finding is None or rate.strength_pct is not None:
        return rate
    class_ = "very_short" if finding.class_ == "very_short" else "short"
    response = _response(rate.element, found, tables)
    response = "medium" if leaf and response == "low" else response
    row = tables.nutrients.trace_by_class.get((rate.element, rate.way, class_, response))
    if row is None:
        return rate
    element = row.low if finding.class_ == "building" else (row.low + row.high) / 2
    share, times = element / rate.element_low, row.high / rate.element_high
    return replace(
        rate,
        element_low=element,
        element_high=row.high,
        product_low=rate.product_low * share,
        product_high=rate.product_high * times,
        plot_kg=rate.plot_kg * share,
        times=int(row.times),
        working=tuple(_dosed_step(step, share, row) for step in rate.working),
    )


def _dosed_step(step: Step, share: float, row: TraceByClass) -> Step:
    """The step of a usual dose, reckoned with the dose of its class."""
    inputs = step.inputs | {"element": _times(step.inputs["element"], share)}
    return replace(step, inputs=inputs, result=_times(step.result, share), source=row.source, where=row.where)


def _times(figure: Figure, share: float) -> Figure:
    return replace(figure, value=float(figure.value) * share)


def _within(most: float, rate: MicronutrientRate) -> MicronutrientRate:
    """A dose, held below the most of its element [kg/ha] that the crop bears."""
    if rate.element_high <= most:
        return rate
    low = min(rate.element_low, most)
    share, share_high = low / rate.element_low, most / rate.element_high
    return replace(
        rate,
        element_low=low,
        element_high=most,
        product_low=rate.product_low * share,
        product_high=rate.product_high * share_high,
        plot_kg=rate.plot_kg * share,
    )


def _way(element: str, found: Assessment, calendar: Calendar, *, by_leaf: bool, tables: Tables) -> MicronutrientRate | None:
    """How an element is given here: what stands is sprayed, but iron goes to its roots as a chelate; the rest goes into the ground."""
    ways = {item.way: item for item in ways_here(element, found, tables)}
    grows = calendar.stands or calendar.growing
    order = (
        ("band", "leaf") if element == "Fe" else ("leaf", "band") if by_leaf or grows or element == "Mn" else ("broadcast", "band", "leaf")
    )
    return next((ways[way] for way in order if way in ways and ways[way].strength_pct is None), None)


def _most(element: str, found: Assessment, tables: Tables) -> float:
    """The most of an element [kg/ha] that the crop bears: boron poisons beans and small grains above half a kilogram."""
    tolerance = found.request.crop.boron_mg_per_l
    limit = tables.nutrients.boron_limits.get(found.request.crop.key)
    if element == "B" and limit is not None:
        return limit.most_kg_per_ha
    if element == "B" and tolerance is not None and tolerance <= tables.nutrients.boron_sensitive_below_mg_per_l.value:
        return tables.nutrients.boron_sensitive_most_kg_per_ha.value
    return float("inf")


def _applications(
    element: str, rate: MicronutrientRate, finding: Finding, found: Assessment, calendar: Calendar, tables: Tables
) -> list[Application]:
    request, material = found.request, tables.materials[rate.material]
    window = _window(rate.way, calendar, tables)
    words = _words(rate, material, found, calendar, tables)
    made = []
    for number in range(rate.times):
        start = window.start + timedelta(days=14 * number)
        kg = rate.product_low * request.plot.area_m2 / 10_000
        step = Step(
            "for the plot",
            "rate × area / 10 000",
            {"rate": Figure(rate.product_low, "kg/ha"), "area": Figure(request.plot.area_m2, "m2")},
            Figure(kg, "kg"),
            "definition",
        )
        made.append(
            Application(
                material=material.key,
                name=material.name,
                what=element,
                rate_kg_per_ha=rate.product_low,
                total_kg=kg,
                low_kg=kg,
                high_kg=rate.product_high * request.plot.area_m2 / 10_000,
                measure=say("{amount}", amount=Mass(kg, showing.dose_digits(request.plot.area_m2), request.units)),
                supplies={element: rate.product_low * trace_share(material, element, tables)},
                from_=start,
                to=max(window.end, start + timedelta(days=7)),
                placement=words,
                placement_pattern=words,
                cost=round(kg * material.list_price_per_kg, 2),
                why=finding.why,
                dressing=number + 1,
                dressings=rate.times,
                later=False,
                depth_cm=found.soil.depth_cm,
                timing_note=_note(element, rate),
                working=(*rate.working, step),
                bag_kg=material.bag_kg,
                density_g_per_ml=material.density_g_per_ml,
            )
        )
    return made


def _words(rate: MicronutrientRate, material: Material, found: Assessment, calendar: Calendar, tables: Tables) -> str:
    """How it goes on."""
    request = found.request
    place = Placement(request.plot, calendar.growth, calendar.stands, tables)
    words = WAYS_OUT[rate.way]
    if rate.way == "band" and (calendar.stands and calendar.growth.is_woody):
        words = say("dissolved and given as a drench in a ring round each plant")
    elif rate.way == "leaf":
        litres = _spray_l_per_ha(rate.product_low, material, tables) * request.plot.area_m2 / 10_000
        words = say("sprayed on the leaves in {water} of water", water=Volume(litres, False, request.units))
    elif rate.way == "broadcast" and calendar.stands:
        words = say("dissolved and sprinkled evenly, {standing}", standing=place.standing())
    return words


def _spray_l_per_ha(product_kg_per_ha: float, material: Material, tables: Tables) -> float:
    """Water of a leaf spray [L/ha]: the usual, more where the leaves would be scorched by the salt or the boron in it."""
    figures = tables.liquids
    boron_l = product_kg_per_ha * trace_share(material, "B", tables) * 1000 / figures.boron_g_per_l.value
    salt_l = product_kg_per_ha * 100 / figures.leaf_salt_tender_pct.value
    return max(figures.leaf_water_l_per_ha.value, boron_l, salt_l)


def _window(way: str, calendar: Calendar, tables: Tables) -> Window:
    """In the ground shortly before planting; on what stands in its season; on the leaves once there are some."""
    if calendar.stands:
        usual = (
            calendar.season.window("month", 4, 5).later_than(calendar.today)
            if way == "leaf"
            else before_planting(tables.timing.base, calendar, tables)
        )
        return calendar.late_but_useful(usual, tables) or usual
    if calendar.growing:
        return Window(calendar.today, calendar.today + timedelta(days=14))
    if way == "leaf":
        start = calendar.anchor + timedelta(days=35)
        return Window(start, start + timedelta(days=14)).later_than(calendar.today)
    return Window(calendar.anchor - timedelta(days=10), calendar.anchor - timedelta(days=1)).later_than(calendar.today)


def _note(element: str, rate: MicronutrientRate) -> str:
    lasts = say("It lasts {lasts}.", lasts=rate.lasts) if rate.lasts else ""
    says = say("{says}.", says=large(rate.says))
    care = say(" Never with the seed, never heaped: too much of it poisons.") if element == "B" else ""
    return joined((says + care, lasts))
