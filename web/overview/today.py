"""The holding's first page: what is due, what waits for somebody, and the next dates."""

from dataclasses import dataclass
from datetime import timedelta

from django.db.models import Count
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone

from agronomy.base import showing
from web.core import tables
from web.ground.selectors import plots_of
from web.jobs.models import Job
from web.people.models import Membership
from web.planning.models import AdoptedPlan, PlanProposal, PlotSummary
from web.planning.summaries import renew_stale
from web.records.models import Sighting
from web.sampling.selectors import due_plots
from web.supplies.buying import purchases_of
from web.unchanged import unchanged
from web.words import between, day

SOON, ORDER_WITHIN = timedelta(days=7), timedelta(days=14)
SHOWN_DUE, SHOWN_NEXT, SHOWN_NAMES = 8, 6, 4


@dataclass(frozen=True, slots=True)
class Waiting:
    """Something that waits for a decision: what it is, the page on which it is settled, whether it is late."""

    says: str
    address: str
    late: bool = False


def today(request):
    place, now = request.place, timezone.localdate()
    if place.role == Membership.Role.OWNER and not plots_of(place.holding).exists():
        return redirect("start")
    key = ("today", place.holding.pk, place.role, place.units, now)
    return render(request, "overview/today.html", unchanged.kept(key, lambda: _told(request, now)))


def _told(request, now) -> dict:
    """All that the page reads of the database."""
    place = request.place
    renew_stale(place)
    open_ = Job.objects.filter(holding=place.holding, state=Job.State.OPEN).select_related("plot", "person").order_by("from_day", "pk")
    due = list(open_.filter(from_day__lte=now + SOON)[:SHOWN_DUE])
    later = list(open_.filter(from_day__gt=now + SOON)[:SHOWN_NEXT])
    return {
        "due": [_row(job, place.units, now) for job in due],
        "due_count": open_.filter(from_day__lte=now + SOON).count(),
        "later": [_row(job, place.units, now) for job in later],
        "waiting": _waiting(request, now),
        "now": now,
    }


def _row(job: Job, units: str, now) -> dict:
    return {
        "job": job,
        "when": between(job.from_day, job.to_day, now),
        "weight": showing.mass(job.kg, units, 2 if showing.is_garden(job.plot.area_m2) else 3) if job.kg else "",
        "late": job.to_day < now,
    }


def _waiting(request, now) -> list[Waiting]:
    """What waits, the most urgent first: proposals, plans not adopted, orders, samples, ground that nobody tested."""
    holding, found = request.place.holding, []
    proposed = PlanProposal.objects.filter(plot__holding=holding, state=PlanProposal.State.OPEN).select_related("plot")[:SHOWN_NAMES]
    found += [
        Waiting(f"A plan was proposed for {item.plot.name}: adopt it or not", reverse("planning:proposal", args=[item.pk]))
        for item in proposed
    ]
    order = [row for row in purchases_of(holding) if row.order_by and row.order_by <= now + ORDER_WITHIN]
    found += [
        Waiting(
            f"Order {row.name} from {row.supplier} by {day(row.order_by)}",
            reverse("supplies:buying"),
            late=row.order_by is not None and row.order_by < now,
        )
        for row in order[:SHOWN_NAMES]
    ]
    counts = dict(plots_of(holding).values_list("summary__state").annotate(count=Count("pk")).order_by())
    adopted = AdoptedPlan.objects.filter(plot__holding=holding).values("plot")
    asking = plots_of(holding).filter(summary__state=PlotSummary.ASKS).exclude(pk__in=adopted)
    if names := list(asking.values_list("name", flat=True)[: SHOWN_NAMES + 1]):
        found.append(Waiting(f"Plans not adopted yet: {_listed(names)}", reverse("planning:plans")))
    found += _salty(holding)
    due = due_plots(holding, now, tables())
    if due:
        names = [item.plot.name for item in due if item.due <= now + SOON] or [due[0].plot.name]
        found.append(Waiting(f"Sample again: {_listed(names)}", reverse("sampling:rounds"), late=due[0].due < now))
    if untested := counts.get(PlotSummary.UNTESTED, 0):
        found.append(Waiting(f"{untested} plot{'s' if untested != 1 else ''} not tested yet", f"{reverse('ground_page')}?state=untested"))
    looks = Sighting.objects.filter(holding=holding, settled_on=None, look_on__lte=now).select_related("plot")[:SHOWN_NAMES]
    found += [Waiting(f"Look again: {item}", reverse("desks:watch"), late=item.look_on < now) for item in looks]
    return found


def _salty(holding) -> list[Waiting]:
    """Plots with more salt than their crop bears, or on the way there."""
    rows = plots_of(holding).exclude(summary__salt="").filter(summary__isnull=False).values_list("pk", "name", "summary__salt")
    says = {"high": "Too much salt in {}: wash it out", "building": "Salt is building up in {}"}
    return [Waiting(says[salt].format(name), reverse("desks:flush", args=[pk])) for pk, name, salt in rows[:SHOWN_NAMES] if salt in says]


def _listed(names: list[str]) -> str:
    return ", ".join(names[:SHOWN_NAMES]) + (" and more" if len(names) > SHOWN_NAMES else "")
