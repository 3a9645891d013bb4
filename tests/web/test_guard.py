"""What stands around every page: a form that is sent twice, pages that nobody keeps, the id of a request, the health address."""

import errno
import json
import re
from datetime import timedelta

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import DatabaseError, InternalError, OperationalError, connection
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from tests.helpers.pages import text_of
from web.api.models import ApiToken
from web.changes.models import SentForm
from web.ground.models import Plot
from web.people.tokens import digest
from web.readings.models import LabFile

BED = {"name": "Bed 9", "kind": "bed", "area": "18", "depth": "15 cm", "crop": "leek", "dug": "yes", "texture": "loam"}
NEW = reverse("ground:new_plot")


def _key(page: str) -> str:
    return re.search(r'name="once" value="(\w+)"', page)[1]


@pytest.fixture
def full_disk(db):
    """A database that may not grow any more, as on a full disk."""
    if connection.vendor != "sqlite":
        pytest.skip("only SQLite lets itself be kept from growing; what PostgreSQL says is tested by its words")
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA max_page_count = 1")  # less than it has: then it may not grow
        yield
        cursor.execute("PRAGMA max_page_count = 1073741823")


def test_a_full_disk_answers_in_our_own_words_and_keeps_what_was_there(grower, border, full_disk):
    grower.raise_request_exception = False
    content = SimpleUploadedFile("a.csv", b"Sample,pH\n" + b"Long Border 7,6.0\n" * 50_000)
    answer = grower.post(reverse("readings:files"), {"file": content, "medium": "soil", "sampled_on": "2026-10-03"})
    assert answer.status_code == 507
    assert "The disk is full" in text_of(answer)
    assert not LabFile.objects.exists()
    assert border.slips.count() == 1


def test_a_program_is_told_so_too(border, full_disk):
    ApiToken.objects.create(user=border.holding.members.get(), holding=border.holding, name="s", scope="write", token_sha256=digest("t"))
    report = {"taken_on": "2026-10-03", "note": "x" * 300, "lines": [{"analyte": "pH", "value": 6.1, "method": "water 1:1"}]}
    path, headers, answers = f"/api/v1/plots/{border.pk}/readings", {"Authorization": "Bearer t"}, []
    for day in range(1, 29):  # until the last page is full
        told = report | {"taken_on": f"2026-09-{day:02}"}
        answers.append(Client().post(path, json.dumps(told), "application/json", headers=headers))
        if answers[-1].status_code != 200:
            break
    assert answers[-1].status_code == 507
    assert answers[-1].json()["errors"][0]["problem"] == "The disk is full"


@pytest.mark.parametrize(
    ("error", "status"),
    [
        (OperationalError("database or disk is full"), 507),
        (OperationalError('could not extend file "base/1": No space left on device'), 507),
        (OperationalError("attempt to write a readonly database"), 507),
        (InternalError("cannot execute INSERT in a read-only transaction"), 507),
        (OSError(errno.ENOSPC, "No space left on device"), 507),
        (OSError(errno.EROFS, "Read-only file system"), 507),
        (OperationalError("database is locked"), 503),
        (OperationalError("no such table: ground_plot"), 500),
        (ValueError("database or disk is full"), 500),
    ],
)
def test_what_the_store_refuses_is_told_by_its_kind(grower, monkeypatch, error, status):
    def broken(*_, **__):
        raise error

    monkeypatch.setattr("web.jobs.views.open_jobs", broken)
    grower.raise_request_exception = False
    answer = grower.get(reverse("jobs:jobs"))
    assert answer.status_code == status
    assert "Number " in text_of(answer)


def test_a_form_sent_twice_is_done_once_and_a_changed_one_is_a_new_one(grower, thornmere):
    key = _key(text_of(grower.get(NEW)))
    first = grower.post(NEW, BED | {"once": key})
    again = grower.post(NEW, BED | {"once": key})
    assert (first.status_code, again.status_code) == (302, 302)
    assert again.headers["Location"] == first.headers["Location"]
    assert Plot.objects.count() == 1
    grower.post(NEW, BED | {"once": key, "name": "Bed 10"})
    assert Plot.objects.count() == 2


def test_a_sending_that_was_killed_is_done_when_it_is_sent_again(grower, thornmere):
    key = _key(text_of(grower.get(NEW)))
    grower.post(NEW, BED | {"once": key})
    Plot.objects.all().delete()
    SentForm.objects.update(led_to="", at=timezone.now() - timedelta(hours=1))  # as a process leaves it that died on the way
    assert grower.post(NEW, BED | {"once": key}).status_code == 302
    assert Plot.objects.count() == 1


def test_what_was_refused_may_be_sent_again(grower, thornmere):
    key = _key(text_of(grower.get(NEW)))
    wrong = BED | {"once": key, "area": "big"}
    assert grower.post(NEW, wrong).status_code == grower.post(NEW, wrong).status_code == 422
    assert not SentForm.objects.exists()
    assert grower.post(NEW, BED | {"once": key}).status_code == 302


def test_private_pages_are_kept_nowhere_and_carry_the_id_of_their_request(grower, thornmere, client):
    answer = grower.get(reverse("today"))
    assert "no-store" in answer.headers["Cache-Control"]
    assert "private" in answer.headers["Cache-Control"]
    assert len(answer.headers["X-Request-ID"]) == 12


def test_health_tells_without_signing_in_and_when_the_database_is_gone(client, db, monkeypatch):
    address = reverse("health")
    assert text_of(client.get(address)).startswith("well")

    def broken():
        raise DatabaseError

    with monkeypatch.context() as broken_for_now:
        broken_for_now.setattr(connection, "cursor", broken)
        assert client.get(address).status_code == 503


def test_the_page_of_a_broken_server_asks_nothing_of_the_database(rf, django_assert_num_queries, db):
    from web.overview.errors import server_error

    request = rf.get("/")
    request.id = "abcdef012345"
    with django_assert_num_queries(0):
        assert "abcdef012345" in text_of(server_error(request))
