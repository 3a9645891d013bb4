"""What the worker does for large holdings: an archive put back, a closed holding deleted. Others go on writing meanwhile."""

import os
import time
import uuid
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import IO

from django.conf import settings
from django.core.cache import caches
from django_tasks import task

from agronomy.base.required import required
from web.overview.archive.parts import UNSEEN, empty_out
from web.overview.archive.putting_back import ArchiveRefused, PutBack, put_back_by_parts
from web.people.models import Holding

WAITS_S = 60.0  # for the worker; where none comes, the page does the work


class Stopped(Exception):
    """Somebody does not want it any more."""


@dataclass(frozen=True, slots=True)
class Putting:
    """An archive on its way into a holding: how far it is, and what came of it (`told`, or why not: `says`)."""

    holding: int
    path: str
    part: str
    total: int
    done: int = 0
    says: str = ""
    told: PutBack | None = None
    touched: float = field(default_factory=time.time)

    @property
    def is_over(self) -> bool:
        return bool(self.says) or self.told is not None

    @property
    def is_forgotten(self) -> bool:
        return time.time() - self.touched > WAITS_S


def _key(holding: int) -> str:
    return f"archive-{holding}"


def under_way(holding: int) -> Putting | None:
    """The archive that is put back into a holding, or was just now."""
    return caches["by_worker"].get(_key(holding))


def begin(holding: Holding, content: IO[bytes], part: str, rows: int) -> None:
    """Keeps the archive's file and leaves it to the worker."""
    folder = Path(settings.VAR) / "putting-back"
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    path = folder / f"{uuid.uuid4()}.zip"
    with os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as kept:
        content.seek(0)
        while block := content.read(1_000_000):
            kept.write(block)
    caches["by_worker"].delete(f"{_key(holding.pk)}-stop")
    caches["by_worker"].set(_key(holding.pk), Putting(holding.pk, str(path), part, rows))
    put_back_later.enqueue(holding.pk)


def stop(holding: int) -> None:
    """Lets the worker give it up after the part it is at."""
    caches["by_worker"].set(f"{_key(holding)}-stop", True, 3600)


def forget(holding: int) -> None:
    """What came of it was told."""
    caches["by_worker"].delete(_key(holding))


@task
def put_back_later(holding: int) -> None:
    """Puts back the archive that was left for a holding, if it is still wanted."""
    kept, now = caches["by_worker"], under_way(holding)
    if now is None or now.is_over:
        return
    of = Holding.objects.filter(pk=holding).first()

    def after_part(count: int) -> None:
        nonlocal now
        if kept.get(f"{_key(holding)}-stop"):
            raise Stopped
        now = replace(required(now), done=required(now).done + count, touched=time.time())
        kept.set(_key(holding), now)

    try:
        if of is None:
            raise ArchiveRefused("The holding is closed.")
        with open(now.path, "rb") as content:
            after_part(0)
            told = put_back_by_parts(of, content, part=now.part, after_part=after_part)
        kept.set(_key(holding), replace(now, told=told, touched=time.time()))
    except ArchiveRefused as error:
        kept.set(_key(holding), replace(now, says=str(error)))
    except Stopped:
        kept.set(_key(holding), replace(now, says="It was stopped, and nothing was restored."))
    except FileNotFoundError:
        kept.set(_key(holding), replace(now, says="Its file is gone. Send it once more."))
    finally:
        Path(now.path).unlink(missing_ok=True)


@task
def delete_closed() -> None:
    """Deletes what closed holdings had; also of one whose deletion was cut off."""
    for closed in Holding.objects.filter(name=UNSEEN, memberships=None):
        empty_out(closed)
