"""A choice turned into doses for the plot: one application for each dressing."""

from dataclasses import replace
from datetime import date

from agronomy.base import showing
from agronomy.base.record import record
from agronomy.base.said import Depth, Liquid, Mass, say
from agronomy.base.working import Figure, Step
from agronomy.dose.household import scoops
from agronomy.products.choice import Choice
from agronomy.tables.material import Material

MOST_POURED_KG = 20.0  # more of a liquid goes by weight or by the load


@record(kw_only=True)
class Application:
    """One dressing of one material on one plot: how much, when, how, why.

    low_kg..high_kg follow from the reading's error. from_/to are ISO dates. dressing counts from 1 to dressings; `later` marks
    the part that waits for the next test. bag_kg and density are those of the material as it was chosen (None in plans kept before they
    were); what is `poured` is measured by volume; `each` is the dose of one plant.
    """

    material: str
    name: str
    what: str
    rate_kg_per_ha: float
    total_kg: float
    low_kg: float
    high_kg: float
    measure: str
    supplies: dict[str, float]
    from_: date
    to: date
    placement: str
    placement_pattern: str
    cost: float
    why: str
    dressing: int
    dressings: int
    later: bool
    depth_cm: float
    timing_note: str
    working: tuple[Step, ...]
    bag_kg: float | None = None
    density_g_per_ml: float | None = None
    poured: bool = False
    each: str = ""  # how much goes to each tree, shrub or plant, where their number is known
    feeds: int = 1  # so many weekly feeds through the drippers


def for_the_plot(rate_kg_per_ha: float, area_m2: float, total_kg: float, share: float = 1.0) -> Step:
    """The step from a rate [kg/ha] to what goes on a plot [m2; kg]. Source: definition.

    >>> for_the_plot(100.0, 50.0, 0.5).formula
    'rate × area / 10 000'
    """
    inputs = {"rate": Figure(rate_kg_per_ha, "kg/ha"), "area": Figure(area_m2, "m2")}
    formula = "rate × area / 10 000"
    if share != 1:
        inputs["share of this dressing"] = Figure(share, "fraction")
        formula += " × share of this dressing"
    return Step("for the plot", formula, inputs, Figure(total_kg, "kg"), "definition")


def dose(
    choice: Choice,
    share: float,
    *,
    area_m2: float,
    system: str,
    number: int,
    count: int,
    later: bool,
    start: date,
    end: date,
    placement: str,
    depth_cm: float,
    note: str,
    extra: tuple[Step, ...] = (),
) -> Application:
    """The application of one share (0..1) of a choice on an area [m2]. Source: definition."""
    rate = choice.rate_kg_per_ha * share
    total = rate * area_m2 / 10_000
    poured = is_poured(choice.material, total)
    step = for_the_plot(choice.rate_kg_per_ha, area_m2, total, share)
    return Application(
        material=choice.material.key,
        name=choice.material.name,
        what=choice.need.what,
        rate_kg_per_ha=rate,
        total_kg=total,
        low_kg=choice.low_kg_per_ha * share * area_m2 / 10_000,
        high_kg=choice.high_kg_per_ha * share * area_m2 / 10_000,
        measure=amount_of(total, choice.material.density_g_per_ml, system, area_m2, poured=poured),
        supplies={nutrient: amount * share for nutrient, amount in choice.supplies.items()},
        from_=start,
        to=end,
        placement=say_placement(placement, depth_cm, system),
        placement_pattern=placement,
        cost=round(total * choice.price_per_kg, 2),
        why=choice.why,
        dressing=number,
        dressings=count,
        later=later,
        depth_cm=depth_cm,
        timing_note=note,
        working=(*choice.working, *extra, step),
        bag_kg=choice.material.bag_kg,
        density_g_per_ml=choice.material.density_g_per_ml,
        poured=poured,
    )


def for_each(items: list[Application], plants: float | None, system: str, *, least_g: float) -> list[Application]:
    """The applications with what goes to each of so many plants [g], where that is no less than can be weighed. Source: definition.

    >>> from agronomy.intake.example import plan
    >>> for_each(list(plan().applications), 10, "metric", least_g=1)[0].each
    '950 g to each'
    """

    def told(item: Application) -> Application:
        one = to_one(item.total_kg, plants, system, least_g=least_g) if item.feeds == 1 else None  # weekly feeds say it of each feed
        return item if one is None else replace(item, each=say("{amount} to each", amount=one))

    return [told(item) for item in items]


def to_one(kg: float, plants: float | None, system: str, *, least_g: float) -> Mass | None:
    """What of an amount [kg] goes to one of so many plants; None where that is less than can be weighed [g], or for one plant alone.

    Source: definition.

    >>> to_one(1.0, 1, "metric", least_g=1) is None
    True
    """
    return Mass(kg / plants, 2, system) if plants and plants >= 2 and kg / plants * 1000 >= least_g else None


def joined_with(item: Application, more: Application, area_m2: float, system: str) -> Application:
    """A dressing with the amount of another of the same material on a plot [m2]. Source: definition.

    >>> from agronomy.intake.example import plan
    >>> lime = plan().applications[0]
    >>> joined_with(lime, lime, 500.0, "metric").total_kg == 2 * lime.total_kg
    True
    """
    total = item.total_kg + more.total_kg
    return replace(
        item,
        rate_kg_per_ha=item.rate_kg_per_ha + more.rate_kg_per_ha,
        total_kg=total,
        low_kg=item.low_kg + more.low_kg,
        high_kg=item.high_kg + more.high_kg,
        measure=amount_of(total, item.density_g_per_ml, system, area_m2, poured=item.poured),
        supplies={nutrient: amount + more.supplies.get(nutrient, 0.0) for nutrient, amount in item.supplies.items()},
        cost=round(item.cost + more.cost, 2),
        working=(*item.working, *more.working),
    )


def say_placement(pattern: str, depth_cm: float, system: str) -> str:
    """How a dose is put on, with its depth.

    Depth in cm. Source: definition.

    >>> say_placement("worked in to {depth}", 20, "metric")
    'worked in to 20 cm'
    """
    return say(pattern, depth=Depth(depth_cm, system))


WORTH_TELLING_SHARE = 0.01  # of the product: less is dust in the bag


def brings(application: Application) -> dict[str, float]:
    """What a dose brings beside traces [kg/ha]: the need it is for, and other nutrients that come along (calcium is left out).

    Source: material-typical.

    >>> from agronomy.intake.example import plan
    >>> round(brings(plan().applications[0])["CaCO3"]) > 0
    True
    """
    least = WORTH_TELLING_SHARE * application.rate_kg_per_ha
    beside = ("CaCO3", "S_acid", "Ca")
    return {
        nutrient: amount
        for nutrient, amount in application.supplies.items()
        if nutrient == application.what or (nutrient not in beside and amount >= least)
    }


def is_poured(material: Material, kg: float) -> bool:
    """Whether so much of a material [kg] is measured by volume: a small amount of a liquid. Source: definition."""
    return material.form == "liquid" and kg < MOST_POURED_KG


def amount_of(kg: float, density_g_per_ml: float | None, system: str, area_m2: float, *, poured: bool) -> str:
    """An amount as it is measured: what is poured by volume, all else by weight.

    Weights in kg, area in m2. Source: definition.

    >>> [amount_of(0.0023, 1.15, "metric", 1.0, poured=poured) for poured in (True, False)]
    ['2 mL', '2.3 g']
    """
    if poured and density_g_per_ml:
        return say("{amount}", amount=Liquid(kg, density_g_per_ml, system))
    return say("{amount}", amount=Mass(kg, showing.dose_digits(area_m2), system))


def measures(application: Application, material: Material, area_m2: float, system: str) -> dict[str, str | None]:
    """A dose as it is said: the weight, its range, the rate and scoops, in one system of units.

    Weights in kg or lb, area in m2. Source: definition.
    """
    own = {name: value for name in ("bag_kg", "density_g_per_ml") if (value := getattr(application, name)) is not None}
    if any(value != getattr(material, name) for name, value in own.items()):
        material = replace(material, **own)
    poured = application.poured

    def amount(kg: float) -> str:
        return amount_of(kg, material.density_g_per_ml, system, area_m2, poured=poured)

    return {
        "weight": amount(application.total_kg),
        "low": amount(application.low_kg),
        "high": amount(application.high_kg),
        "rate": showing.rate(application.rate_kg_per_ha, system, area_m2),
        "scoops": None if poured else scoops(application.total_kg, material, system),
    }
