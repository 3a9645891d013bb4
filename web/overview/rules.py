"""Every rule and table with its source, to be searched and linked to."""

from collections import Counter

from django.contrib.auth.decorators import login_not_required
from django.core.paginator import Paginator
from django.http import Http404
from django.shortcuts import render

from agronomy.tables.catalogue import catalogue, look_up, names_of_tables, one_row, questions
from web.core import tables

ON_A_PAGE = 60


@login_not_required
def rules(request):
    """Rows that fit the words, the table or the source asked for; without any, the list of tables."""
    asked = {name: request.GET.get(name, "").strip()[:120] for name in ("q", "table", "source")}
    found = look_up(words=asked["q"], table=asked["table"], source=asked["source"]) if any(asked.values()) else []
    wanted = request.GET.get("row", "").strip()[:80]
    if wanted and asked["table"]:
        found = one_row(asked["table"], wanted)
    page = Paginator(found, ON_A_PAGE).get_page(request.GET.get("page"))
    sources = tables().sources
    rows = [(row, [sources[key] for key in row.sources if key in sources]) for row in page]
    context = {
        "asked": asked,
        "page": page,
        "rows": rows,
        "count": len(found),
        "query": "".join(f"&{name}={value}" for name, value in asked.items() if value),
        "listed": _listed(),
        "table_name": names_of_tables().get(asked["table"], asked["table"]),
    }
    return render(request, "overview/rules.html", context)


def _listed() -> list[tuple[str, list, list]]:
    """Each question with its tables, how many rows they have, and the methods that answer it."""
    counts = Counter(row.table for row in catalogue())
    answers: dict[str, list] = {}
    for key, page in tables().rule_pages.items():
        for table in page.tables:
            answers.setdefault(table, []).append((key, page.title))
    return [
        (
            question,
            [(table, name, counts[table]) for table, name in asked.items()],
            list(dict.fromkeys(method for table in asked for method in answers.get(table, []))),
        )
        for question, asked in questions().items()
    ]


@login_not_required
def how(request, key: str):
    """How one figure is worked out, where that holds, and on whose word."""
    page = tables().rule_pages.get(key)
    if page is None:
        raise Http404
    sources = [tables().sources[name] for name in page.source.split(";")]
    return render(request, "overview/how.html", {"page": page, "sources": sources})
