"""What is said of soils and feeds: each claim with how well it stands, where it holds, and what to do instead."""

from django.contrib.auth.decorators import login_not_required
from django.core.paginator import Paginator
from django.shortcuts import render

from agronomy.diagnose.claims import claims_with
from web.core import tables

ON_A_PAGE = 30


@login_not_required
def claims(request):
    words = request.GET.get("q", "").strip()[:120]
    page = Paginator(claims_with(words, tables()), ON_A_PAGE).get_page(request.GET.get("page"))
    sources = tables().sources
    rows = [(row, [sources[key] for key in row.sources if key in sources]) for row in page]
    context = {"words": words, "page": page, "rows": rows, "query": f"&q={words}" if words else ""}
    return render(request, "overview/claims.html", context)
