"""A planting whose days change takes along what other rooms hung on it."""

from collections.abc import Callable

from django.contrib import messages

from web.changes.undo import undoable
from web.ground.models import Plot
from web.ground.signals import planting_may_move, planting_moved

DAYS = frozenset({"planted_on", "ended_on"})


def keep_planting(request, label: str, plot: Plot, form, save: Callable[[], None], *rows) -> None:
    """Saves a form about a plot's planting as one act that can be undone with the work that moved along, and says how much did."""
    moves = bool(DAYS & set(form.changed_data))
    work: list = []
    if moves:
        planting_may_move.send(Plot, plot=plot, touched=work)
    with undoable(request, label, *rows, *work):
        save()
        moved = sum(count for _, count in planting_moved.send(Plot, plot=plot)) if moves else 0
    if moved:
        messages.info(request, f"{moved} job{'s' if moved > 1 else ''} of {plot.name} moved along.")
