"""A planting whose days change takes its work along."""

from collections.abc import Callable, Iterable
from datetime import date

from django.contrib import messages
from django.db.models import Model

from web.changes.undo import undoable
from web.ground.models import Plot
from web.jobs.moving import jobs_that_may_move, move_jobs

DAYS = frozenset({"planted_on", "ended_on"})


def keep_planting(request, label: str, plot: Plot, form, save: Callable[[], object], *rows: Model) -> None:
    """Saves a form about a plot's planting as one act that can be undone with the work that moved along, and says how much did."""

    def saved() -> tuple:
        save()
        return ()

    keep_plantings(request, label, [plot] if DAYS & set(form.changed_data) else [], saved, *rows)


def keep_plantings(request, label: str, moving: list[Plot], save: Callable[[], Iterable[Model]], *rows: Model) -> None:
    """Saves the plantings of many plots as one act; `moving` are those whose days change, `save` returns what it stored."""
    work: list = []
    since: dict[int, date | None] = {}
    for plot in moving:
        work += jobs_that_may_move(plot)
        stored = Plot.objects.filter(pk=plot.pk).first()  # a form has changed the planting that is in hand already
        since[plot.pk] = stored.planting.planted_on if stored and stored.planting else None
    with undoable(request, label, *rows, *work) as touched:
        touched += [row for row in save() if row not in touched]
        moved = {plot.name: move_jobs(plot, since[plot.pk]) for plot in moving}
    for name, count in moved.items():
        if count:
            messages.info(request, f"{count} job{'s' if count > 1 else ''} of {name} moved along.")
