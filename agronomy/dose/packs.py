"""In what form an amount is bought: bags, big bags, or by the load."""

from collections.abc import Iterable, Mapping
from math import ceil

from agronomy.base.record import record
from agronomy.base.showing import mass
from agronomy.dose.application import Application
from agronomy.dose.household import say_bags
from agronomy.products.packs import pack_for
from agronomy.tables import Tables
from agronomy.tables.material import Material


@record(kw_only=True)
class Purchased:
    """What a plan needs of one material [kg], for all its dressings of this season, and in what form to buy it."""

    material: str
    name: str
    kg: float
    says: str


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
    name = pack.one if count == 1 else f"{count} {pack.many}"
    if pack.is_loose:  # what is ordered is what is needed
        return f"{mass(total_kg, system, 2)} loose: {count} {pack.one if count == 1 else pack.many}"
    return f"{'1 ' if count == 1 else ''}{name} of {mass(pack.each_kg, system, 2)}"


def purchased(
    applications: Iterable[Application], told: tuple[str, ...], tables: Tables, system: str, own: Mapping[str, Material]
) -> tuple[Purchased, ...]:
    """What a plan's dressings of this season want of each material [kg], and the form to buy it in; what waits for a test is left out.

    `own` are the owner's labels, which go before the table's. Source: definition.

    >>> from agronomy.intake.example import plan, tables
    >>> [row.says for row in purchased(plan().applications, (), tables, "metric", {})]
    ['from 1 bag of 25 kg', 'from 1 bag of 25 kg', 'from 1 bag of 25 kg']
    """
    kilos: dict[str, float] = {}
    for item in applications:
        if not item.later:
            kilos[item.material] = kilos.get(item.material, 0.0) + item.total_kg
    rows = {key: own.get(key) or tables.materials[key] for key in kilos}
    return tuple(
        Purchased(material=key, name=rows[key].name, kg=kg, says=say_purchase(kg, rows[key], told, tables, system))
        for key, kg in kilos.items()
    )
