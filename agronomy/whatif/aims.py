"""The same needs filled by rule and by every aim, and the front of trade-offs between money and the number of bags."""

from dataclasses import replace

from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.model.answers import SPOKEN
from agronomy.model.request import Request
from agronomy.plan.plan import Plan, make_plan
from agronomy.products.choice import AvailableProducts
from agronomy.products.nutrient_sources import unfit_at_any_rate
from agronomy.products.optimiser import AIMS, NUTRIENTS, front, solve
from agronomy.tables import Tables
from agronomy.tables.material import Material
from agronomy.whatif.case import Case

ALL_AIMS = {"rule": say("nutrient by nutrient, the cheapest that brings nothing unwanted")} | AIMS
LOST_TIMES = (0.0, 1.0, 2.0, 4.0, 8.0, 16.0)


@record
class Point:
    """One point of the front: how many bags of nutrients are opened, what they cost on this plot, which they are, whether all needs are
    met.
    """

    bags: int
    cost: float
    names: tuple[str, ...]
    is_whole: bool


def plans_by_aim(request: Request, tables: Tables) -> dict[str, Plan]:
    """A plan for each aim, the rule first.

    Rates in kg/ha. Source: each plan's own.

    >>> from agronomy.intake.example import bed, tables
    >>> sorted(plans_by_aim(bed(), tables))
    ['fewest', 'loss', 'money', 'rule']
    """
    return {aim: make_plan(replace(request, aim=aim), tables) for aim in ALL_AIMS}


@record
class Spared:
    """One point of money against loss: how many times its price a lost kilogram of nitrogen weighs, what is lost then [kg on the plot],
    what the bags cost.
    """

    lost_times: float
    lost_kg: float
    cost: float


def lost_kg(plan: Plan, case: Case) -> float:
    """Nitrogen [kg on the plot] that this season's bags of a plan are likely to lose to air, and on light ground to water.

    Source: emep-2019, ipcc-2019.

    >>> from agronomy.intake.example import plan, case
    >>> lost_kg(plan(), case()) > 0
    True
    """
    if case.model is None:
        return 0.0
    by_key = {item.key: loss for item, loss in zip(case.model.materials, case.model.loss, strict=True)}
    return float(sum(by_key.get(item.material, 0.0) * item.total_kg for item in plan.applications if not item.later))


def loss_front(case: Case, tables: Tables) -> list[Spared]:
    """Money against nitrogen lost, from the least money on, as far as weighing the loss more still spares some. Source: definition.

    Nitrogen in kg on the plot.

    >>> from agronomy.intake.example import case, tables
    >>> len(loss_front(case(), tables)) > 0
    True
    """
    found: list[Spared] = []
    for times in LOST_TIMES:
        mix = solve(case.model, "money", tables, lost_times=times) if case.model else None
        if mix is None:
            continue
        point = Spared(times, mix.lost_kg * case.hectares, mix.money * case.hectares)
        if not found or point.lost_kg < found[-1].lost_kg * 0.99 - 1e-9:
            found.append(point)
    return found


def trade_offs(case: Case, tables: Tables) -> list[Point]:
    """The front for a plot: the least money for one bag, two, and so on; empty where there is nothing to fill. Source: definition.

    Rates in kg/ha.

    >>> from agronomy.intake.example import case, tables
    >>> [point.bags for point in trade_offs(case(), tables)][:3]
    [1, 2, 3]
    """
    model = case.model
    if model is None:
        return []
    return [
        Point(
            mix.bags,
            mix.money * case.hectares,
            tuple(model.materials[m].name for m in range(len(mix.rates)) if mix.rates[m] > 0),
            float((mix.open / model.wanted).max()) < 0.02,
        )
        for mix in front(model, tables)
        if mix.bags
    ]


@record
class Rejected:
    """A material that gives something needed and was not taken, and why in one sentence."""

    name: str
    why: str


def rejected(case: Case, tables: Tables) -> list[Rejected]:
    """Every material of the shop that gives a needed nutrient and is not in the best set for least money, with its reason.

    What can't serve here is told by what forbids it; what could, by the price of the kilogram that works beside that of what was taken.
    Rates in kg/ha.

    >>> from agronomy.intake.example import case, tables
    >>> len(rejected(case(), tables)) > 5
    True
    """
    shop, needed = case.shop, [need.what for need in case.needs if need.what in NUTRIENTS]
    taken = {item.material for item in make_plan(replace(case.request, aim="money"), tables).applications}
    rows = []
    for material in shop.materials:
        gives = [key for key in needed if material.has_role(key) and key in material.share]
        if gives and material.key not in taken:
            why = unfit_at_any_rate(material, set(needed), case.ground, shop, tables) or _dearer(material, gives[0], taken, shop, tables)
            rows.append(Rejected(material.name, why))
    return sorted(rows, key=lambda row: row.name)


def _dearer(material: Material, nutrient: str, taken: set[str], shop: AvailableProducts, tables: Tables) -> str:
    """How its working kilogram compares with that of the material taken for the same nutrient."""
    price = shop.price_per_kg(material) / material.share[nutrient]
    others = [item for item in shop.materials if item.key in taken and nutrient in item.share]
    if not others:
        return say("brings it along with what isn't wanted, or at more than it is worth")
    best = min(others, key=lambda item: shop.price_per_kg(item) / item.share[nutrient])
    least = shop.price_per_kg(best) / best.share[nutrient]
    if least <= 0:
        return say("costs something, and {best} costs nothing", best=best.name)
    times = price / least
    if times > 1.05:
        return say(
            "a kilogram of {spoken} that works costs {times:.1f} times that of {best}", spoken=SPOKEN[nutrient], times=times, best=best.name
        )
    return say("is as cheap for {spoken} as {best}, but fills the other needs less well", spoken=SPOKEN[nutrient], best=best.name)
