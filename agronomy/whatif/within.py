"""The best plan within means: only what stands in the shed, or no more money than so much; and what it leaves undone.

What is at hand goes first, since it is paid for; the money then goes to what is left, lime before feed.
"""

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from agronomy.base.errors import check_range
from agronomy.base.record import record
from agronomy.model.request import Request
from agronomy.plan.assess import assess
from agronomy.plan.ground import ground_for
from agronomy.plan.needs import Answers, answers_by
from agronomy.products.choice import AvailableProducts, Choice
from agronomy.products.ground import Ground
from agronomy.products.optimiser import NUTRIENTS, model_for, solve
from agronomy.products.selection import select
from agronomy.products.shop import available_products
from agronomy.tables import Tables
from agronomy.tables.material import Material

ACIDITY = ("CaCO3", "S_acid")


@record
class WithinLine:
    """What is put on: product [kg on the plot], what of it is at hand, what the rest costs."""

    material: Material
    kg: float
    at_hand_kg: float
    cost: float


@record(kw_only=True)
class Within:
    """The plan within means; `undone` by need [kg/ha], with the needs beside it."""

    lines: tuple[WithinLine, ...]
    cost: float
    needs: Mapping[str, float]
    undone: Mapping[str, float]


def within_means(request: Request, tables: Tables, *, most_money: float | None) -> Within:
    """What the shed can do, and what so much money does beside it; none is spent where `most_money` is None.

    Raises OutOfRange for money below nought. Source: definition.

    >>> from agronomy.intake.example import bed, tables
    >>> poor, rich = (within_means(bed(), tables, most_money=money) for money in (0.5, 50.0))
    >>> poor.cost <= 0.5 and sum(poor.undone.values()) > sum(rich.undone.values())
    True
    """
    if most_money is not None:
        check_range("money", most_money, low=0, high=1e7, mend="give what may be spent on this plot")
    found = assess(request, tables)
    answers = answers_by(request.school, found, tables)
    needs = {need.what: need.rate_kg_per_ha for need in answers.needs() if need.what in (*ACIDITY, *NUTRIENTS)}
    ground, hectares = ground_for(found, answers, tables), request.plot.area_m2 / 10_000
    purse = _Purse(needs, hectares, tables)
    shed = {key: line.in_stock_kg for key, line in request.shed.items() if line.in_stock_kg > 0 and key in tables.materials}
    _spend(purse, request, answers, ground, _only(request, tuple(shed), tables), shed, None, tables)
    if most_money is not None:
        _spend(purse, request, answers, ground, available_products(request, tables), {}, most_money, tables)
    return Within(lines=tuple(purse.lines), cost=sum(line.cost for line in purse.lines), needs=needs, undone=purse.undone())


def _only(request: Request, keys: tuple[str, ...], tables: Tables) -> AvailableProducts:
    return available_products(replace(request, only=keys, wanted=()), tables)


class _Purse:
    """What was taken so far, and what is still needed [kg/ha]."""

    def __init__(self, needs: dict[str, float], hectares: float, tables: Tables):
        self.needs, self.left, self.hectares, self.tables = needs, dict(needs), hectares, tables
        self.lines: list[WithinLine] = []

    def take(self, material: Material, kg_per_ha: float, price: float, per_kg: Mapping[str, float]) -> None:
        kg = kg_per_ha * self.hectares
        if kg <= 1e-6:
            return
        self.lines.append(WithinLine(material, kg, kg if price == 0 else 0.0, kg * price))
        for key, amount in per_kg.items():
            if key in self.left:
                self.left[key] = max(0.0, self.left[key] - amount * kg_per_ha)

    def undone(self) -> dict[str, float]:
        nearly = self.tables.choice.nearly_met.value
        return {key: left for key, left in self.left.items() if left > nearly * self.needs[key]}


def _spend(
    purse: _Purse,
    request: Request,
    answers: Answers,
    ground: Ground,
    shop: AvailableProducts,
    stock: Mapping[str, float],
    money: float | None,
    tables: Tables,
) -> None:
    """Takes the best of a shop under its stock [kg] and the money left; acidity first, then all nutrients at once."""
    left, asked = money, answers.needs()
    acid = [replace(need, rate_kg_per_ha=purse.left[need.what]) for need in asked if need.what in ACIDITY and purse.left[need.what] > 1]
    for choice in select(acid, ground, shop, tables)[0] if acid else ():
        price = 0.0 if money is None else choice.price_per_kg
        rate = min(_held(choice, stock, left, price, purse.hectares), _one_dressing(choice, answers, request, tables))
        purse.take(choice.material, rate, price, {key: kg / choice.rate_kg_per_ha for key, kg in choice.supplies.items()})
        left = None if left is None else left - rate * purse.hectares * price
    needs = [replace(need, rate_kg_per_ha=max(purse.left[need.what], 1e-9)) for need in asked if need.what in NUTRIENTS]
    shop.narrow(lambda item: not item.has_role("lime"))  # its dressing is settled above
    model = model_for(needs, {need.what: purse.left[need.what] for need in needs}, ground, shop, tables) if needs else None
    if model is None:
        return
    at_hand = np.array([stock.get(item.key, 0.0) / purse.hectares for item in model.materials]) if money is None else None
    priced = replace(model, price=np.zeros_like(model.price)) if money is None else model
    mix = solve(priced, "money", tables, at_hand=at_hand, most_money=None if left is None else max(0.0, left) / purse.hectares)
    if mix is not None:
        for item, rate, price in zip(model.materials, mix.rates, priced.price, strict=True):
            purse.take(item, float(rate), float(price), item.share or {})


def _one_dressing(choice: Choice, answers: Answers, request: Request, tables: Tables) -> float:
    """Most product [kg/ha] that one dressing of lime or sulfur may be: ash and slaked lime have limits of their own."""
    share = choice.need.rate_kg_per_ha / choice.rate_kg_per_ha
    limits = [answers.dressing.max_kg_per_ha / share] if answers.dressing and share > 0 else []
    product = tables.acidity.product_caps.get(choice.material.key)
    if product is not None:
        limits.append(product.most_on_lawn_kg_per_ha if request.plot.ground == "lawn" else product.most_kg_per_ha)
    return min(limits, default=choice.rate_kg_per_ha)


def _held(choice: Choice, stock: Mapping[str, float], money: float | None, price: float, hectares: float) -> float:
    """A rate [kg/ha] held to what there is and what may be spent."""
    rate = choice.rate_kg_per_ha
    if money is None:
        return min(rate, stock.get(choice.material.key, 0.0) / hectares)
    return min(rate, max(0.0, money) / (price * hectares)) if price > 0 else rate
