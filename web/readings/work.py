"""What the worker does for large files: looking them over, and reading them in step by step. Both can be stopped, and done twice."""

import time

from django.db import transaction
from django.utils import timezone
from django_tasks import task

from agronomy.base.errors import RuleError
from web.core import error_text
from web.readings.importing import forget, groups_to_read, match_samples, parsed, read_step
from web.readings.looking import digest, keep_digest
from web.readings.models import LabFile

PAUSE_S = 0.15  # between two parts: who waits to write in SQLite tries again each tenth of a second, and gets in


@task
def look_over(pk: int, then_read: bool = False) -> None:
    """Understands a file that waits for it, and opens it for answers, or reads it in at once; or says why it can't be read."""
    waiting = LabFile.objects.filter(pk=pk, state=LabFile.State.LOOKING)
    waiting.update(worked_at=timezone.now())
    file = waiting.first()
    if file is None:
        return
    try:
        made = parsed(file)
    except RuleError as error:
        waiting.update(state=LabFile.State.REFUSED, remarks=[[0, error_text(error)]])
        return
    keep_digest(file, digest(made))
    matched = {name: match.target for name, match in match_samples(file, made.samples).items()}
    with transaction.atomic():
        if (now := waiting.select_for_update().first()) is not None:
            now.matching = matched | {name: target for name, target in now.matching.items() if target}
            keys = groups_to_read(now, made.groups) if then_read else []
            now.state = LabFile.State.READING if keys else LabFile.State.OPEN
            now.done, now.total = 0, len(keys)
            now.save(update_fields=["matching", "state", "done", "total"])
    if then_read:
        read_in.func(pk)


@task
def read_in(pk: int) -> None:
    """Reads a file in to its end, or until somebody stops it."""
    reading = LabFile.objects.filter(pk=pk, state=LabFile.State.READING)
    while (file := reading.first()) is not None:
        reading.update(worked_at=timezone.now())
        read_step(file)
        time.sleep(PAUSE_S)
    forget()
