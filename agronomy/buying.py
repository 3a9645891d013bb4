"""What has to be bought: what the plans will use, less what is in the shed, in whole bags."""

from collections.abc import Iterable
from dataclasses import dataclass
from math import ceil

from agronomy.choose.choice import ShedLine, price_of
from agronomy.material import Material


@dataclass(frozen=True, slots=True)
class Purchase:
    """One material of the list [kg, own money]: what plans use, what the shed gives, whole bags to buy, what is left over and for which plots it is."""

    material: str
    name: str
    needed_kg: float
    from_shed_kg: float
    bags: int
    bag_kg: float
    left_over_kg: float
    cost: float
    plots: tuple[str, ...]


def purchases(uses: Iterable[tuple[str, float, str]], shed: dict[str, ShedLine], bag_sizes: dict[str, float], materials: dict[str, Material]) -> list[Purchase]:
    """The list for some uses (material, kg, plot), dearest first; materials that the shed covers stand last with no bag to buy.

    `bag_sizes` [kg] go before the table's. Materials that the table no longer has are left out.
    """
    needed: dict[str, float] = {}
    plots: dict[str, list[str]] = {}
    for key, kg, plot in uses:
        if key in materials:
            needed[key] = needed.get(key, 0.0) + kg
            plots.setdefault(key, []).append(plot)
    rows = [_purchase(materials[key], kg, shed.get(key), bag_sizes.get(key), plots[key]) for key, kg in needed.items()]
    return sorted(rows, key=lambda row: (row.bags == 0, -row.cost, row.name))


def _purchase(material: Material, needed_kg: float, line: ShedLine | None, bag_kg: float | None, plots: list[str]) -> Purchase:
    from_shed = min(needed_kg, line.in_stock_kg if line else 0.0)
    size = bag_kg or material.bag_kg
    missing = needed_kg - from_shed
    bags = ceil(missing / size - 1e-9) if missing > 1e-6 else 0
    price = price_of(material, line)
    return Purchase(
        material.key, material.name, needed_kg, from_shed, bags, size, bags * size - missing, round(bags * size * price, 2), tuple(dict.fromkeys(plots))
    )
