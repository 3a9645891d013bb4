"""Plots that were merged, cut up or taken out are retired: out of every list, with all that happened on them still readable."""

from django.db import models
from django.utils import timezone

from web.ground.models import Plot
from web.jobs.moving import hand_over, still_to_do


def rows_of(plots: list[Plot]) -> list[models.Model]:
    """The rows that retiring some plots may change, as they are before it."""
    rows: list[models.Model] = []
    for plot in plots:
        rows += [plot, *plot.zones.all(), *plot.slips.all(), *plot.gifts.all(), *plot.samples.all(), *plot.probes.all()]
        for each in (plot, *plot.zones.all()):
            rows += still_to_do(each)
    return rows


def retire(plot: Plot, as_: str, *, into: Plot | None = None) -> None:
    """Takes a plot out of use; what is still to do on it moves to the plot that it became part of, or ends."""
    for zone in plot.zones.all():
        retire(zone, as_, into=into)
    plot.retired_on, plot.retired_as, plot.became = timezone.localdate(), as_, into
    plot.save(update_fields=["retired_on", "retired_as", "became"])
    plot.probes.update(plot=into)
    hand_over(plot, into)
