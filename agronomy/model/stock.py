"""What is in the shed of one material."""

from agronomy.base.record import record


@record
class StockLine:
    """What the user says of a material: price [own money per kg] and stock [kg]; None where not said."""

    price_per_kg: float | None
    in_stock_kg: float
