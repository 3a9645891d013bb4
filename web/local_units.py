"""Units that mean another amount in another country, as this request's reader means them."""

from contextvars import ContextVar

from agronomy.base.unit_words import in_country

_place: ContextVar[tuple[str, str]] = ContextVar("place", default=("", "metric"))


def keep_place(country: str, units: str) -> None:
    """Says in which country this request's holding lies, and which units it goes by."""
    _place.set((country, units))


def as_meant_here(typed: str) -> str:
    """What somebody typed, with such units as their country has them."""
    return str(in_country(typed, *_place.get()))
