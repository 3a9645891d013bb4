"""Common claims of soils and feeds: each claim with how well it stands, where it holds, and what to do instead."""

from django.contrib.auth.decorators import login_not_required
from django.core.paginator import Paginator
from django.http import Http404
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from agronomy.diagnose.claims import claims_with
from web.core import tables
from web.query_params import next_page

ON_A_PAGE = 30


@require_POST
def wave_off(request, key: str):
    """A saying that this person has heard, and is not told again beside a choice."""
    member = request.place.membership
    if member is None or key not in tables().watch.claims:
        raise Http404
    member.waved_off = sorted({*member.waved_off, key})
    member.save()
    return redirect(next_page(request))


@login_not_required
def claims(request):
    words = request.GET.get("q", "").strip()[:120]
    page = Paginator(claims_with(words, tables()), ON_A_PAGE).get_page(request.GET.get("page"))
    sources = tables().sources
    rows = [(row, [sources[key] for key in row.sources if key in sources]) for row in page]
    context = {"words": words, "page": page, "rows": rows, "query": f"&q={words}" if words else ""}
    return render(request, "overview/claims.html", context)
