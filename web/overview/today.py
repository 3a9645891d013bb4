"""The holding's first page: what is due, what waits for somebody, and the next dates."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta
from typing import NamedTuple

from django.db.models import QuerySet
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils import timezone
from django.utils.safestring import SafeString

from agronomy.base import showing
from agronomy.base.required import required
from web.core import tables
from web.ground.models import Plot
from web.ground.selectors import plots_of
from web.jobs.models import Job
from web.people.models import Membership
from web.planning.models import AdoptedPlan, PlanProposal, PlotSummary
from web.planning.summaries import look_through
from web.prepared import Prepared
from web.records.models import Sighting
from web.sampling.selectors import due_plots
from web.supplies.buying import purchases_of
from web.unchanged import unchanged
from web.words import between, day

SOON, ORDER_WITHIN = timedelta(days=7), timedelta(days=14)
SHOWN_DUE, SHOWN_NEXT, SHOWN_NAMES, LOOKED_AT = 8, 6, 4, 60


@dataclass(frozen=True, slots=True)
class Waiting:
    """Something that waits for a decision: what it is, the page on which it is settled, whether it is late."""

    says: str
    address: str
    late: bool = False


def today(request):
    place, now = request.place, timezone.localdate()
    key = ("today", place.holding.pk, place.role, place.units, now)
    body = unchanged.kept(key, lambda: _body(request, now))
    return redirect("start") if body is None else render(request, "overview/today.html", {"body": body, "now": now})


def _body(request, now: date) -> SafeString | None:
    """All of the page but its head; None for an owner who has no ground yet."""
    place = request.place
    plots = look_through(place)
    if not plots and place.role == Membership.Role.OWNER and not plots_of(place.holding).exists():
        return None
    due, later, count = _open_jobs(place.holding, now)
    told = {
        "due": [_row(job, place.units, now) for job in due],
        "due_count": count,
        "later": [_row(job, place.units, now) for job in later],
        "waiting": _waiting(request, now, plots),
    }
    return render_to_string("overview/_today.html", told, request)


class OpenJob(NamedTuple):
    """What this page tells of a job."""

    pk: int
    name: str
    kg: float
    from_day: date
    to_day: date
    plot_id: int
    plot: str
    area_m2: float


def _jobs(holding) -> QuerySet:
    return (
        Job.objects.filter(holding=holding, state=Job.State.OPEN)
        .order_by("from_day", "pk")
        .values_list("pk", "name", "kg", "from_day", "to_day", "plot_id", "plot__name", "plot__area_m2")
    )


_FIRST_JOBS: Prepared[tuple] = Prepared(lambda holding: _jobs(holding)[: SHOWN_DUE + SHOWN_NEXT])


def _open_jobs(holding, now: date) -> tuple[list[OpenJob], list[OpenJob], int]:
    """The first jobs that are due, the first of those that come later, and how many are due in all."""
    first = [OpenJob._make(row) for row in _FIRST_JOBS(holding.pk)]
    due = [job for job in first if job.from_day <= now + SOON]
    later = first[len(due) :]
    if len(due) <= SHOWN_DUE:
        return due, later[:SHOWN_NEXT], len(due)
    open_ = _jobs(holding.pk)
    rest = [OpenJob._make(row) for row in open_.filter(from_day__gt=now + SOON)[:SHOWN_NEXT]]
    return due[:SHOWN_DUE], rest, open_.filter(from_day__lte=now + SOON).count()


def _row(job: OpenJob, units: str, now: date) -> dict:
    return {
        "job": job,
        "when": between(job.from_day, job.to_day, now),
        "weight": showing.dose(job.kg, units, job.area_m2) if job.kg else "",
        "late": job.to_day < now,
    }


_PROPOSED: Prepared[tuple[int, str]] = Prepared(
    lambda holding: PlanProposal.objects.filter(plot__holding=holding, state=PlanProposal.State.OPEN).values_list("pk", "plot__name")[
        :SHOWN_NAMES
    ]
)
_ADOPTED: Prepared[tuple[int]] = Prepared(
    lambda holding: AdoptedPlan.objects.filter(plot__holding=holding).order_by().values_list("plot").distinct()
)
_STATES: Prepared[tuple] = Prepared(
    lambda holding: Plot.objects.filter(holding=holding).order_by("name", "pk").values_list("pk", "name", "summary__state", "summary__salt")
)
_SIGHTINGS: Prepared[tuple] = Prepared(
    lambda holding: Sighting.objects.filter(holding=holding, settled_on=None, look_on__isnull=False).values_list(
        "look_on", "likely", "plot__name"
    )[:LOOKED_AT]
)


def _waiting(request, now: date, plots: dict[int, Plot]) -> list[Waiting]:
    """What waits, the most urgent first: proposals, plans not adopted, orders, samples, ground that nobody tested."""
    holding, found = request.place.holding, []
    found += [
        Waiting(f"A plan was proposed for {name}: adopt it or not", reverse("planning:proposal", args=[pk]))
        for pk, name in _PROPOSED(holding.pk)
    ]
    order = [row for row in purchases_of(holding) if row.order_by and row.order_by <= now + ORDER_WITHIN]
    found += [
        Waiting(
            f"Order {row.name} from {row.supplier} by {day(required(row.order_by))}",
            reverse("supplies:buying"),
            late=row.order_by is not None and row.order_by < now,
        )
        for row in order[:SHOWN_NAMES]
    ]
    states = (
        sorted(((pk, plot.name, plot.summary.state, plot.summary.salt) for pk, plot in plots.items()), key=lambda row: (row[1], row[0]))
        if plots
        else _STATES(holding.pk)
    )
    adopted = {pk for (pk,) in _ADOPTED(holding.pk)}
    if names := [name for pk, name, state, _ in states if state == PlotSummary.ASKS and pk not in adopted]:
        found.append(Waiting(f"Plans not adopted yet: {_listed(names)}", reverse("planning:plans")))
    found += _salty(states)
    due = due_plots(holding, now, tables(), plots)
    if due:
        names = [item.plot.name for item in due if item.due <= now + SOON] or [due[0].plot.name]
        found.append(Waiting(f"Sample again: {_listed(names)}", reverse("sampling:rounds"), late=due[0].due < now))
    if untested := sum(state == PlotSummary.UNTESTED for _, _, state, _ in states):
        found.append(Waiting(f"{untested} plot{'s' if untested != 1 else ''} not tested yet", f"{reverse('ground_page')}?state=untested"))
    looks = [row for row in _SIGHTINGS(holding.pk) if row[0] <= now][:SHOWN_NAMES]
    found += [
        Waiting(f"Look again: {likely or 'something wrong'} on {plot}", reverse("desks:watch"), late=look_on < now)
        for look_on, likely, plot in looks
    ]
    return found


def _salty(states: Iterable[tuple]) -> list[Waiting]:
    """Plots with more salt than their crop bears, or on the way there."""
    says = {"high": "Too much salt in {}: wash it out", "building": "Salt is building up in {}"}
    rows = [(pk, name, salt) for pk, name, _, salt in states if salt in says]
    return [Waiting(says[salt].format(name), reverse("desks:flush", args=[pk])) for pk, name, salt in rows[:SHOWN_NAMES]]


def _listed(names: list[str]) -> str:
    return ", ".join(names[:SHOWN_NAMES]) + (" and more" if len(names) > SHOWN_NAMES else "")
