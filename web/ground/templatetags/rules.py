"""Links from a computed page to how its figures are worked out."""

from django import template

from web.core import tables

register = template.Library()


@register.inclusion_tag("_how.html")
def how(*keys: str) -> dict:
    """The pages of rules that a page's figures follow; a key that is no page is an error of ours."""
    return {"pages": [(key, tables().rule_pages[key].title) for key in keys]}
