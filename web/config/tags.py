"""Tags of all templates that remember what they found: addresses, and parts that are the same on every page."""

from functools import lru_cache

from django import template
from django.conf import settings
from django.template.base import FilterExpression
from django.template.defaulttags import URLNode
from django.template.defaulttags import url as django_url
from django.template.loader import render_to_string
from django.urls import get_script_prefix, reverse
from django.utils.html import conditional_escape
from django.utils.safestring import SafeString

register = template.Library()


@lru_cache(maxsize=8192, typed=True)
def _address(prefix: str, name: str, args: tuple) -> str:
    """The address of a page; `prefix` is where the application stands, which `reverse` asks by itself."""
    return reverse(name, args=args)


class _RememberedURL(URLNode):
    """Django's own tag, for the plain case: a page asks for some forty addresses, and most of them again and again."""

    def render(self, context):
        args = tuple(arg.resolve(context) for arg in self.args)
        if self.kwargs or self.asvar or not all(isinstance(arg, int | str) for arg in args):
            return super().render(context)
        found = _address(get_script_prefix(), self.view_name.resolve(context), args)
        return conditional_escape(found) if context.autoescape else found


@register.tag
def url(parser, token):
    """As Django's `url`."""
    node = django_url(parser, token)
    return _RememberedURL(node.view_name, node.args, node.kwargs, node.asvar)


@lru_cache(maxsize=16)
def _once(name: str) -> SafeString:
    return render_to_string(name)


@register.simple_tag
def always(name: str) -> SafeString:
    """A template that needs nothing and is the same on every page, rendered once for all of them."""
    return render_to_string(name) if settings.DEBUG else _once(name)


class _IfMayNode(template.Node):
    """What only those see who reach an address by a method; see `if_may`."""

    def __init__(self, inside: template.NodeList, page: FilterExpression, method: str):
        self.nodelist, self.page, self.method = inside, page, method

    def render(self, context):
        place = getattr(context.get("request"), "place", None)
        return self.nodelist.render(context) if place is not None and place.may(self.page.resolve(context), self.method) else ""


@register.tag
def if_may(parser, token):
    """`{% if_may "ground:board" %}…{% endif_may %}`: for those whose role reaches the page; with "POST" behind it, for who may send it."""
    _, page, *method = token.split_contents()
    inside = parser.parse(("endif_may",))
    parser.delete_first_token()
    return _IfMayNode(inside, parser.compile_filter(page), method[0].strip("\"'") if method else "GET")
