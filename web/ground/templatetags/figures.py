"""Figures in the reader's units, for templates."""

from django import template

from agronomy.base import showing
from agronomy.base.said import joined, with_measures
from web.sentences import tell

register = template.Library()


@register.filter
def depth(cm: float | None, units: str) -> str:
    """A depth in cm or inches; empty where it is not known."""
    return "" if cm is None else showing.depth(cm, units) if cm else "0"


@register.filter
def mass(kg: float, units: str) -> str:
    """A mass in kg or lb, as a person weighs it."""
    return showing.mass(kg, units)


@register.filter
def warmth(celsius: float, units: str) -> str:
    """A temperature in °C or °F."""
    return showing.warmth(celsius, units)


@register.filter
def rainfall(mm: float, units: str) -> str:
    """Rain in mm or inches."""
    return showing.rainfall(mm, units)


@register.filter(is_safe=True)
def in_units(words: str, units: str) -> str:
    """A sentence with its measures in the reader's units; one of a template writes them as {50 m}."""
    return tell(with_measures(words), units)


@register.filter
def listed(sentences: list[str], units: str) -> str:
    """Sentences or parts of them, one after another."""
    return tell(joined(sentences, "; "), units)


@register.filter
def wind(metres_a_second: float, units: str) -> str:
    """Wind in m/s or miles an hour."""
    return showing.wind(metres_a_second, units)


@register.filter
def yielded(t_per_ha: float, units: str) -> str:
    """A yield in t/ha, tons or tonnes an acre."""
    return showing.crop_yield(t_per_ha, units)


@register.filter
def percent(share: float) -> str:
    """A share of one, in a hundred."""
    return f"{share:.0%}".replace("%", " %")


@register.filter
def paid_by_area(per_ha: float, units: str) -> str:
    """Money by the hectare or the acre."""
    return showing.money_by_area(per_ha, units)
