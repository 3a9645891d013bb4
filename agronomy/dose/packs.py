"""In what form an amount is bought: bags, big bags, or by the load; and what a plan wants of each product, the shed first."""

from collections.abc import Iterable
from math import ceil

from agronomy.base.record import record
from agronomy.base.said import Mass, say
from agronomy.dose.application import Application
from agronomy.dose.household import say_bags
from agronomy.model.request import Request
from agronomy.products.buying import Purchase, Use, purchases
from agronomy.products.packs import pack_for
from agronomy.tables import Tables
from agronomy.tables.material import Material


@record(kw_only=True)
class Purchased:
    """What a plan needs of one material [kg] for all its dressings of this season, what of it the shed has, and in what form to buy the
    rest: whole packs, and what they cost [own money].
    """

    material: str
    name: str
    kg: float
    says: str
    from_shed_kg: float = 0.0
    left_over_kg: float = 0.0
    cost: float = 0.0
    is_list_price: bool = False

    @property
    def used(self) -> float:
        """What the part of the packs costs that goes on this season [own money]."""
        missing = self.kg - self.from_shed_kg
        return self.cost * missing / (missing + self.left_over_kg) if missing > 0 else 0.0


def say_purchase(total_kg: float, material: Material, told: tuple[str, ...], tables: Tables, system: str) -> str:
    """An amount [kg] in the form that it is bought in, in words. Source: own-experience.

    >>> from agronomy.intake.example import tables
    >>> say_purchase(2400.0, tables.materials["urea"], (), tables, "metric")
    '4 big bags of 600 kg'
    """
    pack = pack_for(total_kg, material, told, tables)
    if pack is None:
        return say_bags(total_kg, material, system)
    count = ceil(total_kg / pack.each_kg - 1e-9)
    name = pack.one if count == 1 else pack.many
    if pack.is_loose:  # what is ordered is what is needed
        return say("{kg} in {count} {name}", kg=Mass(total_kg, 3, system), count=count, name=name)
    return say("{count} {name} of {each}", count=count, name=name, each=Mass(pack.each_kg, 2, system))


def purchased(applications: Iterable[Application], request: Request, tables: Tables) -> tuple[Purchased, ...]:
    """What a plan's dressings of this season want of each material, what the shed has of it and whole packs of the rest; what waits for a
    test is left out. The owner's labels go before the table's. Source: definition.

    >>> from agronomy.intake.example import bed, plan, tables
    >>> [row.says for row in purchased(plan().applications, bed(), tables)]
    ['from 1 bag of 25 kg', 'from 1 bag of 25 kg', 'from 1 bag of 25 kg']
    """
    uses = [Use(item.material, item.total_kg, request.plot.name) for item in applications if not item.later]
    rows = {**tables.materials, **request.own_materials}
    found = purchases(uses, request.shed, {}, rows, pack_of=lambda kg, material: pack_for(kg, material, request.equipment, tables))
    by_material = {row.material: row for row in found}
    return tuple(_purchased(by_material[key], rows[key], request, tables) for key in dict.fromkeys(use.material for use in uses))


def _purchased(row: Purchase, material: Material, request: Request, tables: Tables) -> Purchased:
    missing = row.needed_kg - row.from_shed_kg
    says = say_purchase(missing, material, request.equipment, tables, request.units) if row.bags else say("the shed has it")
    return Purchased(
        material=row.material,
        name=row.name,
        kg=row.needed_kg,
        says=says,
        from_shed_kg=row.from_shed_kg,
        left_over_kg=row.left_over_kg,
        cost=row.cost,
        is_list_price=row.is_list_price,
    )
