"""A forgotten password, and how often a stranger may sign up."""

import re
import time

from allauth.account.models import EmailAddress
from allauth.mfa.models import Authenticator
from allauth.mfa.totp.internal import auth as totp
from allauth.usersessions.models import UserSession
from django.core import mail
from django.core.cache import cache
from django.db import connection
from django.test import Client
from django.urls import reverse

from tests.helpers.holdings import PASSWORD, owner
from tests.helpers.pages import text_of
from web.people.models import Holding, User

NEW = "another-good-long-one"


def test_a_forgotten_password_is_replaced_by_a_link_that_serves_once(grower, border):
    cache.clear()
    person, stranger = owner(border.holding), Client()
    for typed in (person.email.upper(), "nobody@farm.example"):
        answer = stranger.post(reverse("account_reset_password"), {"email": typed}, follow=True)
        assert "If that address has an account" in answer.content.decode()  # the same for both
    assert [message.to for message in mail.outbox] == [[person.email]]
    link = re.search(r"http://testserver(\S+)", mail.outbox[0].body)[1]
    page = stranger.get(link, follow=True)
    assert stranger.post(page.redirect_chain[-1][0], {"new_password1": NEW, "new_password2": NEW}).status_code == 302
    assert grower.get(reverse("people:people")).status_code == 302  # the old session is over
    dead = stranger.get(link, follow=True).content.decode()
    assert "has expired" in dead
    assert "new_password1" not in dead
    for password, status in ((PASSWORD, 200), (NEW, 302)):
        assert stranger.post(reverse("account_login"), {"username": person.email, "password": password}).status_code == status
    assert person.email in stranger.get(reverse("people:people")).content.decode().split("Who signed in lately")[1]


def test_one_address_makes_only_so_many_accounts(db, settings):
    cache.clear()
    settings.ACCOUNT_RATE_LIMITS = {"signup": "2/h/ip"}
    told = {"password": PASSWORD, "holding_name": "Here", "units": "metric", "hemisphere": "north"}
    answers = [Client().post(reverse("account_signup"), told | {"email": f"p{number}@farm.example"}) for number in range(4)]
    assert [answer.status_code for answer in answers] == [302, 302, 429, 429]
    assert "Wait some minutes" in answers[-1].content.decode()
    assert User.objects.count() == 2


def test_where_mails_can_be_sent_an_address_is_proved_and_nobody_learns_who_has_an_account(grower, border, settings):
    cache.clear()
    settings.ACCOUNT_EMAIL_VERIFICATION = "mandatory"
    told = {"password": PASSWORD, "holding_name": "Here", "units": "metric", "hemisphere": "north"}
    newcomer, known = Client(), owner(border.holding).email
    tried = ((newcomer, "new@farm.example"), (Client(), known))
    pages = [them.post(reverse("account_signup"), told | {"email": email}, follow=True) for them, email in tried]
    assert pages[0].redirect_chain == pages[1].redirect_chain
    assert [message.to for message in mail.outbox] == [["new@farm.example"], [known]]
    signing_in = {"username": "new@farm.example", "password": PASSWORD}
    elsewhere = Client()
    assert elsewhere.post(reverse("account_login"), signing_in).url == reverse("account_email_verification_sent")
    assert elsewhere.get(reverse("today")).status_code == 302
    assert elsewhere.post(reverse("account_logout"), {"next": reverse("account_signup")}).url == reverse("account_signup")
    assert elsewhere.get(reverse("account_signup")).status_code == 200  # another address can be given at once
    link = re.search(r"http://testserver(\S+)", mail.outbox[0].body)[1]
    assert newcomer.get(link).status_code == 200
    assert not EmailAddress.objects.get(email="new@farm.example").verified  # a scanner of mails that opens links confirms nothing
    assert newcomer.post(link).url == reverse("start")
    assert "has expired" in Client().post(link).content.decode()
    assert Client().post(reverse("account_login"), signing_in).status_code == 302


def test_a_session_is_ended_from_another_place_and_a_new_password_ends_them_all(db, thornmere):
    person = owner(thornmere)
    here, there, third = (Client(headers={"user-agent": f"{name}/1 (Linux)"}) for name in ("Firefox", "Chrome", "Safari"))
    for one in (here, there, third):
        assert one.post(reverse("account_login"), {"username": person.email, "password": PASSWORD}).status_code == 302
    page = here.get(reverse("people:account")).content.decode()
    assert all(words in page for words in ("Firefox, Linux", "Chrome, Linux", "Sign out everywhere else"))
    here.post(reverse("people:end_session", args=[UserSession.objects.get(user_agent__startswith="Chrome").pk]))
    assert [one.get(reverse("people:account")).status_code for one in (here, there, third)] == [200, 302, 200]
    change = {"old_password": PASSWORD, "new_password1": NEW, "new_password2": NEW}
    assert here.post(reverse("account_change_password"), change).status_code == 302
    assert [one.get(reverse("people:account")).status_code for one in (here, there, third)] == [200, 302, 302]
    assert "Firefox, Linux" in (page := here.get(reverse("people:account")).content.decode())
    assert "Chrome" not in page
    assert "Safari" not in page


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


def _code(secret: str, later: int = 0) -> str:
    """What the phone shows, some steps of half a minute later."""
    return totp.format_hotp_value(totp.hotp_value(secret, int(time.time()) // 30 + later))


def _sure(person: User) -> Client:
    """A client that showed its password once more just now, as steps ask for that open or close doors."""
    here = Client()
    here.force_login(person)
    where = reverse("mfa_activate_totp")
    step = here.get(where).url
    assert here.post(step, {"password": "not it"}).status_code == 422
    assert here.post(step, {"password": PASSWORD}).url == where
    return here


def test_a_code_from_the_phone_or_from_paper_is_asked_for_once_it_is_turned_on(db, thornmere):
    cache.clear()
    person = owner(thornmere)
    here = _sure(person)
    turn_on = reverse("mfa_activate_totp")
    secret = re.search(r"into the app: <b>([A-Z2-7 ]+)</b>", here.get(turn_on).content.decode())[1].replace(" ", "")
    assert here.post(turn_on, {"code": "000000"}).status_code == 422
    page = here.post(turn_on, {"code": _code(secret)}, follow=True).content.decode()
    paper = re.findall(r"<li><b>(\w+)</b>", page)
    assert len(paper) == 10
    assert paper[0] not in here.get(reverse("mfa_view_recovery_codes")).content.decode()  # shown once

    there, signing_in = Client(), {"username": person.email, "password": PASSWORD}
    step = reverse("mfa_authenticate")
    assert there.post(f"{reverse('account_login')}?next=/plans/", signing_in).url == step
    assert there.get("/plans/").status_code == 302  # half signed in is not signed in
    assert there.post(step, {"code": "nothing"}).status_code == 422
    assert there.post(step, {"code": f"{paper[0][:4]} {paper[0][4:]}"}).url == "/plans/"
    assert there.get("/plans/").status_code == 200
    again = Client()
    again.post(reverse("account_login"), signing_in)
    assert again.post(step, {"code": paper[0]}).status_code == 422  # a code of paper serves once
    assert again.post(step, {"code": _code(secret, later=1)}).status_code == 302
    assert Client().post(step, {"code": paper[1]}).url == reverse("account_login")  # without the password no code serves

    off = reverse("mfa_deactivate_totp")
    once_more = again.post(off).url
    assert once_more.startswith(reverse("account_reauthenticate"))
    assert again.post(once_more, {"password": PASSWORD}).url == reverse("people:account")  # and what was asked for is done
    assert not Authenticator.objects.exists()
    assert Client().post(reverse("account_login"), signing_in).url == reverse("home")


def test_wrong_codes_are_counted_too(db, thornmere):
    cache.clear()
    person, here = owner(thornmere), Client()
    Authenticator.objects.create(user=person, type="totp", data={"secret": totp.generate_totp_secret()})
    here.post(reverse("account_login"), {"username": person.email, "password": PASSWORD})
    told = [here.post(reverse("mfa_authenticate"), {"code": f"{number:06}"}).content.decode() for number in range(6)]
    assert ["Too many tries" in page for page in told] == [False] * 5 + [True]


def test_another_address_serves_once_the_link_in_its_mail_was_opened(db, thornmere, settings):
    cache.clear()
    person = owner(thornmere)
    here, old = _sure(person), person.email
    where = reverse("account_email")
    assert here.post(where, {"email": "not an address", "action_add": "1"}).status_code == 422
    here.post(where, {"email": "Next@Farm.example", "action_add": "1"})
    assert "next@farm.example</strong> waits" in here.get(where).content.decode()
    assert [message.to for message in mail.outbox] == [["next@farm.example"]]
    settings.MFA_ALLOW_UNVERIFIED_EMAIL = False
    assert "Confirm your address first" in here.get(reverse("mfa_activate_totp"), follow=True).content.decode()
    link = re.search(r"http://testserver(\S+)", mail.outbox[0].body)[1]
    assert here.get(link).status_code == 200
    assert User.objects.get(pk=person.pk).email == old
    here.post(link)
    assert User.objects.get(pk=person.pk).email == "next@farm.example"
    for email, status in ((old, 200), ("next@farm.example", 302)):
        assert Client().post(reverse("account_login"), {"username": email, "password": PASSWORD}).status_code == status


def test_an_address_that_somebody_else_took_meanwhile_stays_theirs(db, thornmere):
    cache.clear()
    person = owner(thornmere)
    here = _sure(person)
    here.post(reverse("account_email"), {"email": "wanted@farm.example", "action_add": "1"})
    User.objects.create(email="wanted@farm.example")
    link = re.search(r"http://testserver(\S+)", mail.outbox[0].body)[1]
    assert "belongs to another account" in here.post(link, follow=True).content.decode()
    assert User.objects.get(pk=person.pk).email == person.email
