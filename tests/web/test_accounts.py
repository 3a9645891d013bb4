"""A forgotten password, and how often a stranger may sign up."""

import re

from django.core import mail
from django.core.cache import cache
from django.db import connection
from django.test import Client
from django.urls import reverse
from django_otp.oath import TOTP
from django_otp.plugins.otp_static.models import StaticDevice
from django_otp.plugins.otp_totp.models import TOTPDevice

from tests.helpers.holdings import PASSWORD, owner
from tests.helpers.pages import text_of
from web.people.models import Holding, User

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


def test_where_mails_can_be_sent_an_address_is_proved_and_nobody_learns_who_has_an_account(grower, border, settings):
    cache.clear()
    settings.CONFIRM_ADDRESSES = True
    told = {"password": PASSWORD, "holding_name": "Here", "units": "metric", "hemisphere": "north"}
    newcomer, known = Client(), owner(border.holding).email
    pages = [newcomer.post(reverse("people:sign_up"), told | {"email": email}, follow=True) for email in ("new@farm.example", known)]
    assert pages[0].redirect_chain == pages[1].redirect_chain
    assert [message.to for message in mail.outbox] == [["new@farm.example"], [known]]
    signing_in = {"username": "new@farm.example", "password": PASSWORD}
    assert newcomer.post(reverse("people:sign_in"), signing_in).status_code == 200
    link = re.search(r"http://testserver(\S+)", mail.outbox[0].body)[1]
    assert newcomer.get(link).status_code == 200
    assert not User.objects.get(email="new@farm.example").is_active  # a scanner of mails that opens links confirms nothing
    assert newcomer.post(link).url == reverse("start")
    assert "no longer serves" in Client().post(link).content.decode()
    assert Client().post(reverse("people:sign_in"), signing_in).status_code == 302


def test_a_session_is_ended_from_another_place_and_a_new_password_ends_them_all(db, thornmere):
    person = owner(thornmere)
    here, there, third = (Client(headers={"user-agent": f"{name}/1 (Linux)"}) for name in ("Firefox", "Chrome", "Safari"))
    for one in (here, there, third):
        assert one.post(reverse("people:sign_in"), {"username": person.email, "password": PASSWORD}).status_code == 302
    page = here.get(reverse("people:account")).content.decode()
    assert all(words in page for words in ("Firefox, Linux", "Chrome, Linux", "Sign out everywhere else"))
    here.post(reverse("people:end_session", args=[person.open_sessions.get(machine__startswith="Chrome").pk]))
    assert [one.get(reverse("people:account")).status_code for one in (here, there, third)] == [200, 302, 200]
    change = {"old_password": PASSWORD, "new_password1": NEW, "new_password2": NEW}
    assert here.post(reverse("people:password"), change).status_code == 302
    assert [one.get(reverse("people:account")).status_code for one in (here, there, third)] == [200, 302, 302]
    assert [row.session_key for row in person.open_sessions.all()] == [here.session.session_key]


def test_a_holding_is_handed_over_or_closed_and_then_the_account(grower, objects, border, thornmere):
    hand = User.objects.get(email="hand@farm.example")
    close = reverse("people:close_account")
    assert "only owner of Thornmere" in text_of(grower.get(close))
    assert grower.post(close, {"password": PASSWORD}).status_code == 422
    grower.post(reverse("people:change_role", args=[objects["member"]]), {"role": "owner"})
    assert "made hand@farm.example owner, worker before" in grower.get(reverse("people:people")).content.decode()
    them = Client()
    them.force_login(hand)
    assert grower.post(close, {"password": "not-mine"}).status_code == 422
    assert grower.post(close, {"password": PASSWORD}).status_code == 302
    assert [row.user for row in thornmere.memberships.all()] == [hand]
    hand.set_password(PASSWORD)
    hand.save()
    them.force_login(hand)
    assert them.post(reverse("close_holding"), {"password": PASSWORD}).status_code == 302
    assert not Holding.objects.exists()
    connection.check_constraints()
    assert them.post(reverse("people:new_holding"), {"name": "Next", "units": "us", "hemisphere": "north"}).url == reverse("start")
    assert Holding.objects.get().days == "month"


def test_a_code_from_the_phone_or_from_paper_is_asked_for_once_it_is_turned_on(db, thornmere):
    person, here = owner(thornmere), Client()
    here.force_login(person)
    turn_on = reverse("people:turn_on_codes")
    assert "<svg" in here.get(turn_on).content.decode()
    phone = TOTPDevice.objects.get(user=person)
    assert here.post(turn_on, {"code": "000000"}).status_code == 422
    TOTPDevice.objects.update(throttling_failure_count=0)  # the wait after a wrong code is over
    paper = re.findall(r"<li><b>(\w+)</b>", here.post(turn_on, {"code": TOTP(phone.bin_key).token()}).content.decode())
    assert len(paper) == 10

    there, signing_in = Client(), {"username": person.email, "password": PASSWORD}
    step = there.post(f"{reverse('people:sign_in')}?next=/plans/", signing_in).url
    assert there.get("/plans/").status_code == 302  # half signed in is not signed in
    assert there.post(step, {"code": "nothing"}).status_code == 422
    TOTPDevice.objects.update(throttling_failure_count=0)
    StaticDevice.objects.update(throttling_failure_count=0)
    assert there.post(step, {"code": paper[0].upper()}).url == "/plans/"
    assert there.get("/plans/").status_code == 200
    again = Client()
    step = again.post(reverse("people:sign_in"), signing_in).url
    assert again.post(step, {"code": paper[0]}).status_code == 422  # a code of paper serves once
    StaticDevice.objects.update(throttling_failure_count=0)
    TOTPDevice.objects.update(throttling_failure_count=0)
    later = TOTP(phone.bin_key, drift=1)
    assert again.post(step, {"code": f"{later.token():06}"}).status_code == 302
    assert Client().post(step, {"code": paper[1]}).url == reverse("people:sign_in")  # without the password no code serves

    assert again.post(reverse("people:turn_off_codes"), {"password": "not it"}).status_code == 422
    again.post(reverse("people:turn_off_codes"), {"password": PASSWORD})
    assert Client().post(reverse("people:sign_in"), signing_in).url == reverse("home")
