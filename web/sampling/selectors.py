"""Rounds, samples, what is due, and when a plot was last sampled or dressed."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from django.db.models import Max, QuerySet

from agronomy.sampling.plan import retest_due, wait_until
from agronomy.tables import Tables
from web.ground.models import Plot
from web.prepared import Prepared
from web.sampling.models import Sample, SamplingRound

DUE_WITHIN = timedelta(days=120)
LOOKED_AT = 60


def rounds_of(holding) -> QuerySet[SamplingRound]:
    return SamplingRound.objects.filter(holding=holding)


def samples_of(holding) -> QuerySet[Sample]:
    return Sample.objects.filter(round__holding=holding).select_related("round", "plot", "plot__holding")


def last_taken(plot: Plot) -> date | None:
    """The day of the plot's latest soil sample or soil reading."""
    by_slip = plot.slips.filter(medium="soil").aggregate(last=Max("taken_on"))["last"]
    by_sample = plot.samples.aggregate(last=Max("taken_on"))["last"]
    return max(filter(None, (by_slip, by_sample)), default=None)


def last_dressing(plot: Plot, today: date) -> date | None:
    """The last day on which something was put on the ground, by the log."""
    days = [entry.done_on for entry in plot.log.all() if entry.stands and entry.way != "leaf"]
    return max((day for day in days if day <= today), default=None)


def first_day_to_sample(plot: Plot, today: date, tables: Tables) -> date | None:
    """A day to wait for after the last dressing, where it is still ahead."""
    day = wait_until(last_dressing(plot, today), tables)
    return day if day and day > today else None


@dataclass(frozen=True, slots=True)
class Due:
    """A plot that should be sampled again."""

    plot: Plot
    last: date
    due: date


_LAST_TAKEN: Prepared[tuple[int, date]] = Prepared(
    lambda holding: (
        Plot.objects.filter(holding=holding, slips__medium="soil")
        .annotate(last=Max("slips__taken_on"))
        .order_by("last")
        .values_list("pk", "last")[:LOOKED_AT]
    )
)
_UNDER_WAY: Prepared[tuple[int]] = Prepared(
    lambda holding: Sample.objects.filter(plot__holding=holding, arrived_on=None).order_by().values_list("plot").distinct()
)


def due_plots(holding, today: date, tables: Tables, known: Mapping[int, Plot] | None = None) -> list[Due]:
    """Plots to sample again within some months, the most overdue first; the longest unsampled are looked at.

    `known` are plots that were read already, with their plantings and log.
    """
    under_way = {pk for (pk,) in _UNDER_WAY(holding.pk)}  # a bag of it is on its way already
    last = {pk: day for pk, day in _LAST_TAKEN(holding.pk) if pk not in under_way}
    plots = known or {plot.pk: plot for plot in Plot.objects.filter(pk__in=last).prefetch_related("plantings", "log")}
    found = []
    for pk, taken in last.items():
        plot = plots[pk]
        planting = plot.planting
        crop = tables.crops.get(planting.crop) if planting else None
        since = (entry for entry in plot.log.all() if entry.stands and entry.done_on >= taken)
        changed = any(entry.brings & {"CaCO3", "S_acid"} for entry in since)
        due = retest_due(
            taken,
            crop,
            is_light=bool(plot.texture and tables.textures[plot.texture].light),
            kind=plot.kind,
            ph_changed=changed,
            tables=tables,
        )
        if due <= today + DUE_WITHIN:
            found.append(Due(plot, taken, due))
    return sorted(found, key=lambda item: item.due)
