"""What was read is kept until anything is written, by whomever; and never within a transaction of one's own."""

import os
import sqlite3
from types import SimpleNamespace

import pytest
from django.db import connection

from web import unchanged as module


@pytest.fixture
def store(tmp_path, monkeypatch):
    """A store beside a database file; `write` commits to it as another process would."""
    path = tmp_path / "kept.sqlite3"
    writer = sqlite3.connect(path)
    writer.execute("PRAGMA journal_mode=WAL")
    writer.execute("CREATE TABLE rows (number INTEGER)")

    def write():
        with writer:
            writer.execute("INSERT INTO rows VALUES (1)")

    write()
    told = SimpleNamespace(vendor="sqlite", in_atomic_block=False, settings_dict={"NAME": path})
    monkeypatch.setattr(module, "connection", told)
    return SimpleNamespace(unchanged=module.Unchanged(), write=write, told=told, path=path)


def reads(store, times: int, *, key="page", also=lambda: None) -> int:
    """How often the page was really read when it was asked for so many times."""
    seen = []

    def read():
        seen.append(1)
        also()
        return len(seen)

    for _ in range(times):
        store.unchanged.kept(key, read)
    return len(seen)


def test_a_page_is_read_once_until_somebody_writes(store):
    assert reads(store, 3) == 1
    assert reads(store, 1) == 0
    assert reads(store, 1, key="another") == 1
    store.write()
    assert reads(store, 2) == 1


def test_what_changed_while_it_was_read_is_not_kept(store):
    assert reads(store, 2, also=store.write) == 2


def test_a_file_that_was_put_in_its_place_is_another_database(store, tmp_path):
    assert reads(store, 1) == 1
    other = tmp_path / "backup.sqlite3"
    with sqlite3.connect(store.path) as source, sqlite3.connect(other) as target:
        source.backup(target)
    os.replace(other, store.path)
    assert reads(store, 1) == 1


@pytest.mark.parametrize("about", [{"in_atomic_block": True}, {"settings_dict": {"NAME": "file:memory?mode=memory"}}])
def test_otherwise_it_is_read_afresh(store, about):
    store.told.__dict__.update(about)
    assert reads(store, 2) == 2


@pytest.mark.skipif(connection.vendor != "postgresql", reason="asks PostgreSQL itself")
@pytest.mark.django_db(transaction=True)
def test_postgresql_tells_it_by_its_snapshot(thornmere):
    store = SimpleNamespace(unchanged=module.Unchanged())
    assert reads(store, 3) == 1
    type(thornmere).objects.filter(pk=thornmere.pk).update(name="Thornmere again")
    assert reads(store, 2) == 1


def test_beside_a_broken_file_it_is_read_afresh(store, tmp_path):
    (tmp_path / "broken").write_text("no database" * 200)
    store.told.settings_dict = {"NAME": tmp_path / "broken"}
    assert reads(store, 2) == 2
    store.told.settings_dict = {"NAME": store.path}
    assert reads(store, 2) == 1


def test_the_oldest_give_way(store):
    for number in range(module.MOST_KEPT + 1):
        store.unchanged.kept(number, lambda: 1)
    assert (reads(store, 1, key=0), reads(store, 1, key=5)) == (1, 0)
