"""A line of the shed as a request tells it."""

from agronomy.base.errors import OutOfRange
from agronomy.base.quantities import parse_quantity
from agronomy.intake.prices import price_per_kg
from agronomy.intake.request_doc import ShedDoc
from agronomy.model.stock import StockLine


def shed_line(doc: ShedDoc, field: str) -> StockLine:
    """What is in the shed [kg] and its price by the kilogram; empty is nothing, and no price. Raises RuleError. Source: definition."""
    stock = parse_quantity(doc.in_stock, "mass", f"{field}.in_stock") if doc.in_stock not in (None, "") else None
    price = price_per_kg(doc.price, f"{field}.price") if doc.price not in (None, "") else None
    if stock is not None and stock < 0:
        raise OutOfRange(f"{field}.in_stock", doc.in_stock, "stock cannot be below zero", "type what is there, or 0")
    return StockLine(price, stock or 0.0)
