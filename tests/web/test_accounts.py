"""A forgotten password, and how often a stranger may sign up."""

import re

from django.core import mail
from django.core.cache import cache
from django.test import Client
from django.urls import reverse

from tests.helpers.holdings import PASSWORD, owner
from web.people.models import User

NEW = "another-good-long-one"


def test_a_forgotten_password_is_replaced_by_a_link_that_serves_once(grower, border):
    cache.clear()
    person, stranger = owner(border.holding), Client()
    for typed in (person.email.upper(), "nobody@farm.example"):
        answer = stranger.post(reverse("people:forgotten"), {"email": typed}, follow=True)
        assert "If that address has an account" in answer.content.decode()  # the same for both
    assert [message.to for message in mail.outbox] == [[person.email]]
    link = re.search(r"http://testserver(\S+)", mail.outbox[0].body)[1]
    page = stranger.get(link, follow=True)
    assert stranger.post(page.redirect_chain[-1][0], {"new_password1": NEW, "new_password2": NEW}).status_code == 302
    assert grower.get(reverse("people:people")).status_code == 302  # the old session is over
    assert "no longer serves" in stranger.get(link, follow=True).content.decode()
    for password, status in ((PASSWORD, 200), (NEW, 302)):
        assert stranger.post(reverse("people:sign_in"), {"username": person.email, "password": password}).status_code == status
    assert person.email in stranger.get(reverse("people:people")).content.decode().split("Who signed in lately")[1]


def test_one_address_makes_only_so_many_accounts(db, settings):
    cache.clear()
    settings.SIGN_UPS_AN_HOUR = 2
    told = {"password": PASSWORD, "holding_name": "Here", "units": "metric", "hemisphere": "north"}
    statuses = [Client().post(reverse("people:sign_up"), told | {"email": f"p{number}@farm.example"}).status_code for number in range(4)]
    assert statuses == [302, 302, 429, 429]
    assert User.objects.count() == 2
