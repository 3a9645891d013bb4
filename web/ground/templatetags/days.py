"""The date filter of all templates, in the holding's own habit."""

import datetime

from django import template
from django.template.defaultfilters import date as django_date

from web.date_format import reader_format, said

register = template.Library()


@register.filter("date", expects_localtime=True, is_safe=False)
def date(value, day_first: str | None = None) -> str:
    """Django's own filter; formats that begin with the day follow the habit."""
    if type(value) is datetime.date and day_first:
        return said(value, day_first)
    return django_date(value, reader_format(day_first) if day_first else None)
