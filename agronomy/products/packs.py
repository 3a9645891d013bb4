"""Whether an amount is bought in bags, in big bags or by the load, and what a kilogram then costs."""

from dataclasses import replace

from agronomy.model.request import Request
from agronomy.products.choice import Choice, price_beyond_stock
from agronomy.tables import Tables
from agronomy.tables.material import Material
from agronomy.tables.rooms.spread import Pack

AMENDMENTS = ("gypsum",)  # bought and spread as lime is


def pack_for(total_kg: float, material: Material, told: tuple[str, ...], tables: Tables) -> Pack | None:
    """The form to buy an amount [kg] in, where bags are too many and the holding can take it; None for bags.

    `told` is the equipment that the holding says it has; where nothing is told, a loader is supposed, and a floor for loose goods is not.
    Source: own-experience.

    >>> from agronomy.intake.example import tables
    >>> pack_for(2400.0, tables.materials["urea"], (), tables).key
    'big_bag'
    >>> pack_for(60.0, tables.materials["urea"], (), tables) is None
    True
    """
    large = [pack for pack in tables.spread.packs.values() if total_kg >= pack.from_kg]
    if not large:
        return None
    supposed = [row.key for row in tables.spread.equipment.values() if "field" in row.usual_on]
    fitting = [
        pack
        for pack in large
        if material.form in pack.forms
        and (not pack.amendment or material.has_role("lime") or material.key in AMENDMENTS)
        and pack.wants in (told or supposed)
        and material.bag_kg < pack.each_kg
    ]
    return max(fitting, key=lambda pack: pack.from_kg, default=None)


def priced_by_pack(choices: list[Choice], request: Request, tables: Tables) -> list[Choice]:
    """The choices at what a kilogram costs in the form they are bought in; the owner's own price stays. Source: invented-price.

    >>> from agronomy.intake.example import bed, tables
    >>> priced_by_pack([], bed(), tables)
    []
    """
    priced = []
    for choice in choices:
        total = choice.rate_kg_per_ha * request.plot.area_m2 / 10_000
        price = price_in_form(choice.price_per_kg, total, choice.material, request, tables)
        price = price_beyond_stock(price, total, choice.material, request.shed.get(choice.material.key))
        priced.append(choice if price == choice.price_per_kg else replace(choice, price_per_kg=price))
    return priced


def price_in_form(price_per_kg: float, total_kg: float, material: Material, request: Request, tables: Tables) -> float:
    """A price per kg in the form that so much [kg] is bought in; the owner's own price stays. Source: invented-price.

    >>> from agronomy.intake.example import bed, tables
    >>> round(price_in_form(0.2, 20_000, tables.materials["calcitic_limestone_ground"], bed(), tables), 3)
    0.04
    """
    line = request.shed.get(material.key)
    if line is not None and line.price_per_kg is not None:
        return price_per_kg
    pack = pack_for(total_kg, material, request.equipment, tables)
    return price_per_kg * pack.price_share if pack else price_per_kg
