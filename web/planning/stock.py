"""What stands in the shed, as the core's requests and lists take it."""

from typing import Any

from agronomy.choose.choice import ShedLine
from web.planning.models import StockLot


def lots_of(holding_id: int) -> list[StockLot]:
    return list(StockLot.objects.filter(holding=holding_id))


def shed_lines(lots: list[StockLot]) -> dict[str, ShedLine]:
    """Stock by material: all lots together, at the price of the latest that has one."""
    found: dict[str, ShedLine] = {}
    for lot in lots:
        before = found.get(lot.material, ShedLine(None, 0.0))
        found[lot.material] = ShedLine(lot.price_per_kg if lot.price_per_kg is not None else before.price_per_kg, before.in_stock_kg + lot.kg)
    return found


def shed_document(lots: list[StockLot]) -> list[dict[str, Any]]:
    """The shed of a request document."""
    return [
        {"material": key, "in_stock": f"{line.in_stock_kg!r} kg"} | ({} if line.price_per_kg is None else {"price": line.price_per_kg or "free"})
        for key, line in shed_lines(lots).items()
    ]


def bag_sizes(lots: list[StockLot]) -> dict[str, float]:
    return {lot.material: lot.bag_kg for lot in lots if lot.bag_kg}
