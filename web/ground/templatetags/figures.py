"""Figures in the reader's units, for templates."""

from django import template

from agronomy.base import showing

register = template.Library()


@register.filter
def depth(cm: float | None, units: str) -> str:
    """A depth in cm or inches; empty where it is not known."""
    return "" if cm is None else showing.depth(cm, units) if cm else "0"


@register.filter
def mass(kg: float, units: str) -> str:
    """A mass in kg or lb, as a person weighs it."""
    return showing.mass(kg, units)
