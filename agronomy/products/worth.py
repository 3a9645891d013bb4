"""What a bag is worth: the price of a kilogram that works, and how much of the bag is filler."""

from agronomy.base.record import record
from agronomy.tables.material import Material

S_PER_CACO3 = 32.06 / 100.09  # kg of sulfur that does the work against a kilogram of CaCO3 (stoichiometry)
ELEMENTS = ("N", "P", "K", "Mg", "S", "Ca")


@record(kw_only=True)
class Worth:
    """A material for one purpose ("lime", "acid" or an element): what works in a kilogram [fraction], its price, and the price of a
    kilogram that works.
    """

    material: str
    name: str
    works: float
    price_per_kg: float
    price_per_working_kg: float
    dearer_by: float  # times the cheapest of its kind


def working_share(material: Material, purpose: str) -> float:
    """The part of a kilogram that works: effective CaCO3 for lime, sulfur's worth of acid, what a crop gets in the first year for an
    element. Source: lime-fineness-tri, sulfur-stoichiometry, manure-release.
    A fraction of a kg.

    >>> from agronomy.intake.example import tables
    >>> working_share(tables.materials["urea"], "N")
    0.46
    """
    if purpose == "lime":
        return material.effective_neutralising_value if material.has_role("lime") else 0.0
    if purpose == "acid":
        return -material.cce / 100 * S_PER_CACO3 if material.has_role("acidifier") else 0.0
    return material.share.get(purpose, 0.0)


def worth(materials: list[Material], purpose: str, prices: dict[str, float], *, least: float) -> list[Worth]:
    """Materials of which at least a part works for a purpose, the cheapest working kilogram first; free ones are left out.

    Source: definition.
    Prices per kg.

    >>> from agronomy.intake.example import tables
    >>> [row.material for row in worth([tables.materials["urea"]], "N", {}, least=0.1)]
    ['urea']
    """
    rows = []
    for material in materials:
        works, price = working_share(material, purpose), prices.get(material.key, material.list_price_per_kg)
        if works >= least and price > 0:
            rows.append((material, works, price, price / works))
    if not rows:
        return []
    best = min(row[3] for row in rows)
    made = [
        Worth(material=material.key, name=material.name, works=works, price_per_kg=price, price_per_working_kg=each, dearer_by=each / best)
        for material, works, price, each in rows
    ]
    return sorted(made, key=lambda item: (item.price_per_working_kg, item.name))
