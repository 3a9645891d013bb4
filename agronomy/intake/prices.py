"""What a kilogram costs, as people write prices."""

from agronomy.base.errors import OutOfRange
from agronomy.base.numbers import parse_number
from agronomy.base.quantities import positive_quantity
from agronomy.intake.request_doc import Amount

FREE = frozenset({"free", "gift", "a gift", "nothing"})


def price_per_kg(typed: Amount, field: str) -> float:
    """Price per kilogram from "6.50 per 25 kg", "6.50/25 kg", a bare number per kg, or "free". Raises NotANumber, OutOfRange.

    Nought is refused: an empty price typed as 0 would make a bag beat every other.

    >>> price_per_kg("6.50 per 25 kg", "price"), price_per_kg("free", "price")
    (0.26, 0.0)
    """
    text = str(typed).strip().replace(" per ", "/", 1)
    if text.lower() in FREE:
        return 0.0
    amount, _, per = text.partition("/")
    price = parse_number(amount, field)
    mass = (
        positive_quantity(per if any(char.isdigit() for char in per) else f"1 {per}", "mass", field, low=1e-6, high=1e7)
        if per.strip()
        else 1.0
    )
    if price < 0:
        raise OutOfRange(field, typed, "a price cannot be below zero", "type what you paid")
    if price == 0:
        raise OutOfRange(
            field,
            typed,
            "a price of zero would beat every other bag",
            "leave it empty for the list price, or write “free” if it costs nothing",
        )
    return price / mass
