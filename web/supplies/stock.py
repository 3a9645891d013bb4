"""What is in the shed and what suppliers ask, as the core's requests and lists take it."""

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from agronomy.model.stock import StockLine
from agronomy.products.buying import Offer, small_packs
from web.core import tables
from web.prepared import Prepared
from web.supplies.models import StockLot, SupplierOffer


@dataclass(frozen=True)
class Stock:
    """A holding's lots and its suppliers' offers."""

    lots: list[StockLot]
    offers: list[Offer]

    def lines(self) -> dict[str, StockLine]:
        """Stock by material: all lots together, at the price of the latest lot that has one, else at the cheapest offer."""
        found = {key: StockLine(offer.price_per_kg, 0.0) for key, offer in self._cheapest().items()}
        for lot in self.lots:
            before = found.get(lot.material, StockLine(None, 0.0))
            price = lot.price_per_kg if lot.price_per_kg is not None else before.price_per_kg
            found[lot.material] = StockLine(price, before.in_stock_kg + lot.kg)
        return found

    @cached_property
    def document(self) -> list[dict[str, Any]]:
        """The shed of a request document; what the latest lot's label says goes with it, and the size of its bag."""
        labels: dict[str, dict] = {key: {"bag": f"{size!r} kg"} for key, size in self.bag_sizes().items()}
        for lot in self.lots:
            if lot.label:
                labels[lot.material] = labels.get(lot.material, {}) | lot.label
        return [
            {"material": key, "in_stock": f"{max(0.0, line.in_stock_kg)!r} kg"}
            | ({} if line.price_per_kg is None else {"price": line.price_per_kg or "free"})
            | ({"label": labels[key]} if key in labels else {})
            for key, line in self.lines().items()
        ]

    def bag_sizes(self) -> dict[str, float]:
        """The small packs [kg] that lots and the cheapest offers come in."""
        cheapest = {key: offer.bag_kg for key, offer in self._cheapest().items() if offer.bag_kg}
        return small_packs(cheapest | {lot.material: lot.bag_kg for lot in self.lots if lot.bag_kg}, tables().materials)

    def _cheapest(self) -> dict[str, Offer]:
        found: dict[str, Offer] = {}
        for offer in self.offers:
            if offer.material not in found or offer.price_per_kg < found[offer.material].price_per_kg:
                found[offer.material] = offer
        return found


_LOTS: Prepared[StockLot] = Prepared(lambda holding: StockLot.objects.filter(holding=holding))
_OFFERS: Prepared[tuple] = Prepared(
    lambda holding: SupplierOffer.objects.filter(supplier__holding=holding).values_list(
        "material", "supplier__name", "price_per_kg", "bag_kg", "supplier__delivery_days"
    )
)


def stock_of(holding_id: int) -> Stock:
    """Two queries."""
    return Stock(_LOTS(holding_id), [Offer(*row) for row in _OFFERS(holding_id)])
