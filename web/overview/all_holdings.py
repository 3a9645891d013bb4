"""All holdings of a person on one page, for those who advise or work on more than one."""

from datetime import timedelta

from django.db.models import Count, Q
from django.shortcuts import render
from django.utils import timezone

from web.ground.models import Plot
from web.jobs.models import Job
from web.planning.models import PlanProposal, PlotSummary

SOON = timedelta(days=7)


def all_holdings(request):
    """Each holding with what waits there; the counts of all come in three queries."""
    places = request.place.memberships
    ids = [row.holding_id for row in places]
    plots = (
        Plot.objects.filter(holding__in=ids)
        .values("holding")
        .annotate(
            all=Count("pk", distinct=True),
            asking=Count("pk", filter=Q(summary__state=PlotSummary.ASKS, adopted_plans=None)),
            untested=Count("pk", filter=Q(summary__state=PlotSummary.UNTESTED), distinct=True),
        )
    )
    proposed = PlanProposal.objects.filter(plot__holding__in=ids, state=PlanProposal.State.OPEN).values("plot__holding")
    due = Job.objects.filter(holding__in=ids, state=Job.State.OPEN, from_day__lte=timezone.localdate() + SOON).values("holding")
    counted = {row["holding"]: row for row in plots}
    proposals = dict(proposed.annotate(count=Count("pk")).values_list("plot__holding", "count"))
    jobs = dict(due.annotate(count=Count("pk")).values_list("holding", "count"))
    rows = [
        {
            "place": row,
            "plots": counted.get(row.holding_id, {}).get("all", 0),
            "asking": counted.get(row.holding_id, {}).get("asking", 0),
            "untested": counted.get(row.holding_id, {}).get("untested", 0),
            "proposed": proposals.get(row.holding_id, 0),
            "due": jobs.get(row.holding_id, 0),
        }
        for row in sorted(places, key=lambda row: row.holding.name)
    ]
    return render(request, "overview/all_holdings.html", {"rows": rows})
