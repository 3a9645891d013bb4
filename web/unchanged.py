"""What was read of the database, kept in the process as long as nothing in the database has changed.

SQLite counts what others have committed (`PRAGMA data_version`); a connection that only looks at that number tells in microseconds whether
any page, command or other process has written since. PostgreSQL tells which transactions it shows (`pg_current_snapshot`): while that is
the same, so is everything in it. A request within its own transaction reads afresh.
"""

import os
import sqlite3
from collections import OrderedDict
from collections.abc import Callable, Hashable
from pathlib import Path
from threading import Lock
from typing import Any, TypeVar

from django.db import connection

Found = TypeVar("Found")
MOST_KEPT = 200


class _Watcher:
    """A door to the database file at which one only asks how often others have changed it."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._door: sqlite3.Connection | None = None
        self._where: tuple | None = None

    def version(self, path: str) -> tuple:
        """Grows with every change, and is another where the file was put in the place of an older one."""
        with self._lock:
            where = (os.getpid(), path, os.stat(path).st_ino)
            if self._door is None or where != self._where:
                self._door = sqlite3.connect(f"{Path(path).absolute().as_uri()}?mode=ro", uri=True, check_same_thread=False)
                self._where = where
            return (*where, id(self._door), self._door.execute("PRAGMA data_version").fetchone()[0])


class Unchanged:
    """A store that forgets all it has with the first change."""

    def __init__(self) -> None:
        self._watcher, self._lock = _Watcher(), Lock()
        self._version: tuple | None = None
        self._kept: OrderedDict[Hashable, Any] = OrderedDict()

    def kept(self, key: Hashable, read: Callable[[], Found]) -> Found:
        """What `read` finds, or what it found before under that key if nothing has changed since.

        The key names all that it depends on beside the database: the holding, the day, units, what was asked. What is kept is read by many
        requests at once and must not be changed.
        """
        version = self._now()
        if version is None:
            return read()
        with self._lock:
            if version != self._version:
                self._kept.clear()
                self._version = version
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
        found = read()
        with self._lock:
            if version == self._version == self._now():
                self._kept[key] = found
                while len(self._kept) > MOST_KEPT:
                    self._kept.popitem(last=False)
        return found

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()

    def _now(self) -> tuple | None:
        path = str(connection.settings_dict["NAME"])
        if connection.in_atomic_block:
            return None
        if connection.vendor == "postgresql":
            with connection.cursor() as cursor:
                cursor.execute("SELECT pg_current_snapshot()::text")
                return (os.getpid(), path, *cursor.fetchone())
        if not os.path.exists(path):
            return None
        try:
            return self._watcher.version(path)
        except (sqlite3.Error, OSError):  # a broken file or disk is for the page itself to meet
            return None


unchanged = Unchanged()
