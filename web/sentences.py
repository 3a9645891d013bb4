"""Sentences of the core as the present reader has them: units, and the habit of days of the holding.

A template that shows a sentence tells it by itself; code that needs its words calls `tell`.
"""

from contextvars import ContextVar
from datetime import date

from django.utils import timezone
from django.utils.html import escape
from django.utils.safestring import SafeString

from agronomy.base.said import Reader, Said
from web.date_format import said

_DAYS = {"%-d %B": "j F", "%-d %B %Y": "j F Y", "%-d %b": "j M", "%-d %b %Y": "j M Y", "%B %Y": "F Y"}
_units: ContextVar[str] = ContextVar("units", default="metric")


def keep_units(units: str) -> None:
    """Says which units this request's reader has."""
    _units.set(units or "metric")


def _day(day: date, spec: str) -> str:
    return said(day, _DAYS[spec])


def reader_in(units: str) -> Reader:
    """Who reads now, in a system of units."""
    return Reader(units, _day, timezone.localdate())


def tell(sentence: str, units: str) -> str:
    """A sentence for who reads now; what holds no values stays."""
    return reader_in(units).tell(sentence)


def _on_a_page(said: Said) -> SafeString:
    return escape(tell(said, _units.get()))


Said.__html__ = _on_a_page  # type: ignore[attr-defined]  # what Django asks every value for that a template shows
