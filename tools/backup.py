"""Copies the database while the server runs, by SQLite's own online backup; `--restore FILE` checks a copy and puts it back.

`--keep 14` throws away all but the newest fourteen copies, once the new one is whole; `--to FOLDER` keeps them on another disk.

What is put back must be a whole Iron Rake database that this version knows; what was there before is kept beside the backups, as a
sound copy where it is sound, and otherwise moved aside as it is.
"""

import argparse
import os
import shutil
import sqlite3
import sys
from contextlib import closing
from datetime import datetime
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

NEEDED = ("people_user", "people_holding", "ground_plot", "readings_labfile")


class Refused(Exception):
    """A copy that is not made, or a file that is not put back, and why."""


def copy(source: Path, target: Path) -> None:
    """Copies a whole SQLite database, consistent even while others write to it; the target appears whole or not at all."""
    part = target.with_name(f"{target.name}.part")
    try:
        os.close(os.open(part, os.O_CREAT | os.O_TRUNC | os.O_WRONLY, 0o600))
        with closing(_reading(source)) as reading, closing(sqlite3.connect(part)) as writing:
            reading.backup(writing)
            writing.execute("PRAGMA journal_mode=DELETE")  # a copy is one file, with no journal beside it
        check(part)
        part.replace(target)
    except (OSError, sqlite3.Error) as error:
        raise Refused(f"{source} could not be copied to {target}: {error}") from error
    finally:
        for file in _with_journals(part):
            file.unlink(missing_ok=True)


def _with_journals(database: Path) -> list[Path]:
    """A database and what SQLite keeps beside it."""
    return [database.with_name(database.name + ending) for ending in ("", "-wal", "-shm", "-journal")]


def _reading(path: Path) -> sqlite3.Connection:
    if not path.is_file():
        raise Refused(f"there is no file {path}: check its name")
    return sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)


def check(path: Path) -> None:
    """Raises Refused unless a file is a whole database of this program, at a state that this version knows."""
    try:
        with closing(_reading(path)) as database:
            said = database.execute("PRAGMA integrity_check").fetchone()[0]
            if said != "ok":
                raise Refused(f"{path} is damaged ({said}): take another backup")
            tables = {name for (name,) in database.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            if missing := [name for name in ("django_migrations", *NEEDED) if name not in tables]:
                raise Refused(f"{path} is no database of Iron Rake (it has no {missing[0]}): choose another file")
            applied = set(database.execute("SELECT app, name FROM django_migrations"))
    except sqlite3.DatabaseError as error:
        raise Refused(f"{path} cannot be read as a database ({error}): choose another file") from error
    if unknown := sorted(applied - known_migrations()):
        raise Refused(f"{path} was made by a newer version ({'.'.join(unknown[0])}): update the program first")


def known_migrations() -> set[tuple[str, str]]:
    """The migrations of this version, and those that they replace."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.config.settings")
    import django
    from django.apps import apps
    from django.db.migrations.loader import MigrationLoader

    if not apps.ready:
        django.setup()
    loader = MigrationLoader(None)
    return set(loader.disk_migrations) | {key for migration in loader.disk_migrations.values() for key in migration.replaces}


def back_up(folder: Path, why: str = "iron_rake", to: Path | None = None) -> Path:
    """A checked copy of the folder's database, in its `backups` or another folder."""
    target = (to or folder / "backups") / f"{why}-{datetime.now():%Y%m%d-%H%M%S-%f}.sqlite3"
    target.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    copy(folder / "iron_rake.sqlite3", target)
    return target


def rotate(backups: Path, keep: int) -> list[Path]:
    """Throws away all but the newest copies, and what a killed run left; those from before a restore stay. Returns the copies that went."""
    old = sorted(backups.glob("iron_rake-*.sqlite3"), reverse=True)[keep:]
    for path in [*(file for copy in old for file in _with_journals(copy)), *backups.glob("*.sqlite3.part*")]:
        path.unlink(missing_ok=True)
    return old


def restore(folder: Path, backup: Path) -> Path | None:
    """Puts a backup in place of the folder's database; returns where what was there is kept, None where there was nothing.

    A sound database is copied first and then written over, so that whoever has it open sees the new one. A damaged one, or the journal
    of a missing one, is moved aside as it is: a journal that stayed would be played into what comes.
    """
    database = folder / "iron_rake.sqlite3"
    check(backup)
    try:
        kept = back_up(folder, "before-restore")
        with closing(_reading(backup)) as reading, closing(sqlite3.connect(database, timeout=20)) as writing:
            reading.backup(writing)
    except (Refused, sqlite3.DatabaseError):
        coming = database.with_name(f"{database.name}.coming")
        try:
            copy(backup, coming)
            kept = _moved_aside(database, folder / "backups")
            coming.replace(database)
        finally:
            coming.unlink(missing_ok=True)
    database.chmod(0o600)
    return kept


def _moved_aside(database: Path, backups: Path) -> Path | None:
    """Moves a database with its journals, whatever state they are in; None where there was none of them."""
    backups.mkdir(parents=True, exist_ok=True, mode=0o700)
    target = backups / f"before-restore-{datetime.now():%Y%m%d-%H%M%S-%f}.sqlite3"
    moved = [(old, new) for old, new in zip(_with_journals(database), _with_journals(target), strict=True) if old.exists()]
    for old, new in moved:
        shutil.move(old, new)
    return moved[0][1] if moved else None


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--restore", type=Path, help="a backup to put back (stop the server first)")
    parser.add_argument("--to", type=Path, help="a folder for the copies, such as one on another disk")
    parser.add_argument("--keep", type=int, help="how many copies are kept")
    args = parser.parse_args()
    if args.keep is not None and args.keep < 1:
        parser.error("--keep wants 1 or more")
    folder = Path(os.environ.get("IRON_RAKE_VAR", ROOT / "var"))
    try:
        if os.environ.get("DATABASE_URL"):
            raise Refused("DATABASE_URL names another database than SQLite: copy it with its own pg_dump (docs/operations.md)")
        if args.restore is None:
            made = back_up(folder, to=args.to)
            gone = rotate(made.parent, args.keep) if args.keep else []
            print(f"copied to {made}" + (f"; {len(gone)} older thrown away" if gone else ""))
            return 0
        kept = restore(folder, args.restore)
    except Refused as error:
        print(f"nothing was changed: {error}", file=sys.stderr)
        return 1
    print(f"{args.restore} is back in place" + (f"; what was there before is in {kept}" if kept else ""))
    print("now run: python manage.py migrate")
    return 0


if __name__ == "__main__":
    sys.exit(main())
