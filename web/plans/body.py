"""The bench's drawing and words as HTML.

A plan is a pure function of its request document, so what was rendered for a document, a version of the rules and a reader's
habits is kept in the process's memory and served again; any change of a reading, the day or the units makes another document.
"""

import hashlib
from datetime import date
from typing import Any, NamedTuple

import orjson
from django.core.cache import cache
from django.template.loader import render_to_string

from agronomy.intake.request import read_request
from agronomy.plan.plan import make_plan, rules_version
from web.core import tables
from web.date_format import habit
from web.planning import words
from web.planning.words import Reader

KEPT_FOR_SECONDS = 3600
NEXT_JOBS = 2  # so many stand before the rest of the season


class Body(NamedTuple):
    """What a plot's plan says first, why it is not ready to sign, the HTML of the next jobs, and that of the rest."""

    headline: str
    not_ready: list[str]
    next_html: str
    html: str


def bench_body(document: dict[str, Any], *, reader: Reader, base: str) -> Body:
    """Headline, next jobs, season and findings for a request document; `base` is the address that workings hang on. Raises RequestError."""
    told = orjson.dumps([document, rules_version(tables()), reader, habit(), base], option=orjson.OPT_SORT_KEYS)
    key = "bench-" + hashlib.sha256(told).hexdigest()
    kept = cache.get(key)
    if kept is None:
        kept = _render(document, reader, base)
        cache.set(key, kept, KEPT_FOR_SECONDS)
    return kept


def _render(document: dict[str, Any], reader: Reader, base: str) -> Body:
    plan = make_plan(read_request(document, tables()), tables())
    planting = document["crop"]["planting"]
    shown = words.present(
        plan,
        today=date.fromisoformat(document["today"]),
        planting=planting and date.fromisoformat(planting),
        reader=reader,
        tables=tables(),
    )
    now = [job for job in shown["jobs"] if not job.later][:NEXT_JOBS]
    about = shown | {"base": base, "swappable": True, "next_jobs": now, "rest": [job for job in shown["jobs"] if job not in now]}
    next_html, html = (render_to_string(f"planning/{name}.html", about) for name in ("_next", "_bench_body"))
    return Body(shown["headline"], shown["not_ready"], next_html, html)
