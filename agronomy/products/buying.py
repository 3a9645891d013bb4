"""What has to be bought: what the plans will use, less what is in the shed, in whole bags, from whom, and ordered by when."""

from collections.abc import Callable, Iterable, Mapping
from datetime import date, timedelta
from math import ceil

from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.model.stock import StockLine
from agronomy.products.choice import price_of
from agronomy.tables.material import Material
from agronomy.tables.rooms.spread import Pack


@record
class Use:
    """What a plan spreads: material, how much [kg], on which plot, and from which day on, where that is known."""

    material: str
    kg: float
    plot: str
    day: date | None = None


@record
class Offer:
    """What a supplier asks for a material [own money per kg], in which bags [kg], and how many days delivery takes."""

    material: str
    supplier: str
    price_per_kg: float
    bag_kg: float | None
    delivery_days: int


@record(kw_only=True)
class Purchase:
    """One material of the list [kg, own money]: what plans use, what the shed gives, whole bags to buy, what is left over and for which
    plots it is.

    `supplier` is empty where nobody offers it; `order_by` is the last day to order for the first use that the shed does not cover
    (None where nothing is bought, or no day or supplier is known).
    """

    material: str
    name: str
    needed_kg: float
    from_shed_kg: float
    bags: int
    bag_kg: float
    left_over_kg: float
    cost: float
    plots: tuple[str, ...]
    supplier: str = ""
    order_by: date | None = None
    form: str = "bag"  # or the key of a row of packs.csv
    is_list_price: bool = False  # nobody told a price: ours is made up


def purchases(
    uses: Iterable[Use],
    shed: dict[str, StockLine],
    bag_sizes: dict[str, float],
    materials: Mapping[str, Material],
    offers: Iterable[Offer] = (),
    pack_of: Callable[[float, Material], Pack | None] = lambda kg, material: None,
) -> list[Purchase]:
    """The list for some uses, dearest first; materials that the shed covers stand last with no bag to buy.

    `bag_sizes` [kg] go before the table's. Of several offers the one is taken that costs least in whole bags, but none of which most of a
    large bag would be left. What nobody offers so is bought at list price in the form that `pack_of` tells for the amount, such as big
    bags. Materials that the table no longer has are left out. Source: definition.

    >>> from agronomy.intake.example import tables
    >>> purchases([], {}, {}, tables.materials)
    []
    """
    by_material: dict[str, list[Use]] = {}
    for use in uses:
        if use.material in materials:
            by_material.setdefault(use.material, []).append(use)
    offered: dict[str, list[Offer]] = {}
    for offer in offers:
        offered.setdefault(offer.material, []).append(offer)
    rows = [
        _purchase(materials[key], found, shed.get(key), bag_sizes.get(key), offered.get(key, []), pack_of)
        for key, found in by_material.items()
    ]
    return sorted(rows, key=lambda row: (row.bags == 0, -row.cost, row.name))


def _purchase(
    material: Material,
    uses: list[Use],
    line: StockLine | None,
    bag_kg: float | None,
    offers: list[Offer],
    pack_of: Callable[[float, Material], Pack | None],
) -> Purchase:
    needed = sum(use.kg for use in uses)
    from_shed = min(needed, line.in_stock_kg if line else 0.0)
    missing = needed - from_shed
    offers = [offer for offer in offers if (offer.bag_kg or 0.0) <= max(material.bag_kg, missing)]  # no 600 kg where 9 are wanted
    pack = None if offers else pack_of(missing, material)  # an old lot's bag does not hold for tonnes
    own_price = line is not None and line.price_per_kg is not None
    price = price_of(material, line) * (pack.price_share if pack and not own_price else 1.0)
    usual = Offer(material.key, "", price, _piece_kg(pack, missing) if pack else bag_kg, 0)
    offer = min(offers or [usual], key=lambda offer: (_paid(offer, missing, material), offer.delivery_days, offer.supplier))
    size = offer.bag_kg or bag_kg or material.bag_kg
    bags = _bags(missing, size)
    first = _first_uncovered(uses, from_shed) if bags and offer.supplier else None
    return Purchase(
        material=material.key,
        name=material.name,
        needed_kg=needed,
        from_shed_kg=from_shed,
        bags=bags,
        bag_kg=size,
        left_over_kg=bags * size - missing,
        cost=round(bags * size * offer.price_per_kg, 2),
        plots=tuple(dict.fromkeys(use.plot for use in uses)),
        supplier=offer.supplier if bags else "",
        order_by=first - timedelta(days=offer.delivery_days) if first else None,
        form=pack.key if pack else "bag",
        is_list_price=bool(bags) and not offers and not own_price,
    )


def small_packs(told: Mapping[str, float], materials: Mapping[str, Material]) -> dict[str, float]:
    """Of the sizes of bags that lots and offers tell [kg], those no larger than what the material is sold in by the bag: larger ones are
    bought where the amount asks for them. Source: own-experience.

    >>> from agronomy.intake.example import tables
    >>> small_packs({"urea": 600.0, "epsom_salt": 2.0}, tables.materials)
    {'epsom_salt': 2.0}
    """
    return {key: size for key, size in told.items() if key in materials and size <= materials[key].bag_kg}


def _piece_kg(pack: Pack, missing_kg: float) -> float:
    """The weight of one piece [kg]: a big bag has its size, a load holds what was ordered."""
    return missing_kg / ceil(missing_kg / pack.most_kg) if pack.is_loose else pack.each_kg


def _bags(missing_kg: float, size_kg: float) -> int:
    return ceil(missing_kg / size_kg - 1e-9) if missing_kg > 1e-6 else 0


def _paid(offer: Offer, missing_kg: float, material: Material) -> float:
    size = offer.bag_kg or material.bag_kg
    return _bags(missing_kg, size) * size * offer.price_per_kg


def _first_uncovered(uses: list[Use], from_shed_kg: float) -> date | None:
    """The day of the first use that the shed's stock, used up in order of date, does not cover."""
    left = from_shed_kg
    for use in sorted((use for use in uses if use.day is not None), key=lambda use: required(use.day)):
        left -= use.kg
        if left < -1e-6:
            return use.day
    return None
