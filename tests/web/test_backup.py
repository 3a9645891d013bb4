"""A backup is whole or not there; what is no whole backup of ours is refused, and the database stays as it was."""

import os
import shutil
import sqlite3
import stat
import subprocess
import sys
from contextlib import closing

import pytest

from tools.backup import Refused, back_up, check, restore, rotate


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    """A folder as IRON_RAKE_VAR names it, with a migrated database."""
    made = tmp_path_factory.mktemp("var")
    environment = os.environ | {"DATABASE_URL": "", "IRON_RAKE_VAR": str(made), "DJANGO_SETTINGS_MODULE": "web.config.settings"}
    subprocess.run([sys.executable, "manage.py", "migrate", "-v", "0"], check=True, env=environment)
    with closing(sqlite3.connect(made / "iron_rake.sqlite3")) as database:
        database.execute("PRAGMA journal_mode=DELETE")
    return made


@pytest.fixture
def var(folder, tmp_path):
    return shutil.copytree(folder, tmp_path / "var")


def _say(database, words: str) -> None:
    with closing(sqlite3.connect(database)) as writing, writing:
        writing.execute(f"PRAGMA user_version = {len(words)}")


def _version(database) -> int:
    with closing(sqlite3.connect(database)) as reading:
        return reading.execute("PRAGMA user_version").fetchone()[0]


def test_a_backup_comes_back_and_what_was_there_is_kept(var):
    database = var / "iron_rake.sqlite3"
    _say(database, "one")
    backup = back_up(var)
    assert stat.S_IMODE(backup.stat().st_mode) == 0o600
    _say(database, "three")
    kept = restore(var, backup)
    assert _version(database) == len("one")
    assert _version(kept) == len("three")
    check(kept)


def _misspelt(path, database):
    return path.with_name("no-such-file.sqlite3")


def _empty(path, database):
    path.write_bytes(b"")
    return path


def _foreign(path, database):
    with closing(sqlite3.connect(path)) as other, other:
        other.execute("CREATE TABLE songs (name TEXT)")
    return path


def _damaged(path, database):
    content = bytearray(database.read_bytes())
    content[8192 : len(content) // 2] = b"\x5a" * (len(content) // 2 - 8192)
    path.write_bytes(content)
    return path


def _cut_short(path, database):
    path.write_bytes(database.read_bytes()[:50_000])
    return path


def _newer(path, database):
    shutil.copy(database, path)
    with closing(sqlite3.connect(path)) as other, other:
        other.execute("INSERT INTO django_migrations (app, name, applied) VALUES ('ground', '9999_from_tomorrow', '2030-01-01')")
    return path


@pytest.mark.parametrize("spoil", [_misspelt, _empty, _foreign, _damaged, _cut_short, _newer])
def test_a_bad_backup_is_refused_and_nothing_changes(spoil, var, tmp_path):
    database = var / "iron_rake.sqlite3"
    bad = spoil(tmp_path / "bad.sqlite3", database)
    before = database.read_bytes()
    with pytest.raises(Refused, match=r"bad|no-such-file"):
        restore(var, bad)
    assert database.read_bytes() == before
    assert not (var / "backups").exists()
    assert not _misspelt(tmp_path / "bad.sqlite3", database).exists()


def _torn(database):
    _damaged(database, database)


def _emptied(database):
    database.write_bytes(b"")


def _headless(database):
    database.write_bytes(b"\xff" * 100 + database.read_bytes()[100:])


def _missing(database):
    database.unlink()


def _missing_but_for_its_journal(database):
    """As a crash leaves it: the server died with changes that were only in the journal, and then the file was lost."""
    with closing(sqlite3.connect(database)) as writing:
        writing.execute("PRAGMA journal_mode=WAL")
        writing.execute("CREATE TABLE ghosts (name TEXT)")
        writing.commit()
        journal = database.with_name(database.name + "-wal")
        kept = journal.read_bytes()
    database.unlink()
    journal.write_bytes(kept)


@pytest.mark.parametrize("ruin", [_torn, _emptied, _headless, _missing, _missing_but_for_its_journal])
def test_a_good_backup_takes_the_place_of_any_ruin_which_is_kept_as_it_is(ruin, var):
    database = var / "iron_rake.sqlite3"
    _say(database, "one")
    backup = back_up(var)
    ruin(database)
    found = {path.name.removeprefix(database.name): path.read_bytes() for path in var.glob(f"{database.name}*")}
    kept = restore(var, backup)
    check(database)
    assert (_version(database), stat.S_IMODE(database.stat().st_mode)) == (len("one"), 0o600)
    with closing(sqlite3.connect(database)) as reading:
        assert "ghosts" not in {name for (name,) in reading.execute("SELECT name FROM sqlite_master")}
    moved = {path.name.partition(".sqlite3")[2]: path.read_bytes() for path in (var / "backups").glob("before-restore-*")}
    assert moved == found
    assert (kept is None) == (found == {})
    assert not list(var.glob(f"{database.name}.coming*"))


def test_a_copy_is_one_file_and_the_rests_of_killed_runs_go_with_the_next_that_keeps(var):
    with closing(sqlite3.connect(var / "iron_rake.sqlite3")) as database:
        database.execute("PRAGMA journal_mode=WAL")  # as the server keeps it
        backup = back_up(var)
    assert [path.name for path in backup.parent.iterdir()] == [backup.name]
    for ending in (".part", ".part-wal", ".part-shm"):
        backup.with_name(f"iron_rake-2026.sqlite3{ending}").write_bytes(b"")
    rotate(backup.parent, 1)
    assert [path.name for path in backup.parent.iterdir()] == [backup.name]


def test_a_backup_that_failed_leaves_no_file(var):
    (var / "iron_rake.sqlite3").write_bytes(b"not a database" * 1000)
    with pytest.raises(Refused):
        back_up(var)
    assert list((var / "backups").iterdir()) == []


def test_only_the_newest_copies_are_kept_and_those_from_before_a_restore_stay(var, tmp_path):
    elsewhere = tmp_path / "other disk"
    made = [back_up(var, to=elsewhere) for _ in range(4)]
    before = back_up(var, "before-restore", to=elsewhere)
    assert sorted(rotate(elsewhere, 2)) == made[:2]
    assert sorted(elsewhere.iterdir()) == sorted([*made[2:], before])


def test_another_database_is_not_copied_as_if_it_were_a_file(var):
    environment = os.environ | {"IRON_RAKE_VAR": str(var), "DATABASE_URL": "postgres://rake@127.0.0.1/rake"}
    done = subprocess.run([sys.executable, "tools/backup.py"], env=environment, capture_output=True, text=True, check=False)
    assert (done.returncode, "pg_dump" in done.stderr) == (1, True)
