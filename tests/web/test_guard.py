"""What stands around every page: a form that is sent twice, pages that nobody keeps, the id of a request, the health address."""

import re
from datetime import timedelta

from django.db import DatabaseError, connection
from django.urls import reverse
from django.utils import timezone

from tests.helpers.pages import text_of
from web.changes.models import SentForm
from web.ground.models import Plot

BED = {"name": "Bed 9", "kind": "bed", "area": "18", "depth": "15 cm", "crop": "leek", "dug": "yes", "texture": "loam"}
NEW = reverse("ground:new_plot")


def _key(page: str) -> str:
    return re.search(r'name="once" value="(\w+)"', page)[1]


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
