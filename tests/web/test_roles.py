"""Owner, worker, adviser: what each reaches, invitations that serve once, plans that are proposed and adopted."""

import re
from contextlib import suppress

import pytest
from django.apps import apps
from django.db import transaction
from django.test import Client
from django.urls import Resolver404, URLPattern, get_resolver, resolve, reverse
from django.utils import timezone

from tests.helpers.addresses import BY_TOKEN, one_of_everything, opened_pages
from tests.helpers.forms import posted_by
from tests.helpers.holdings import PASSWORD, holding, owner, slip_data
from tests.helpers.pages import text_of
from web.changes.models import Change
from web.people.leaving import OWN_KEYS
from web.people.models import Holding, Invitation, Membership, User
from web.people.roles import ADVISER_ENTERS, ADVISER_POSTS, FORM_PAGES, LOOKED_UP, OWN, WORKER, may
from web.planning.models import AdoptedPlan, PlanProposal


def member(of, role: str) -> Client:
    user = User.objects.create_user(f"{role}@farm.example", PASSWORD, name=role.capitalize())
    Membership.objects.create(user=user, holding=of, role=role)
    made = Client()
    made.force_login(user)
    return made


def names(patterns, room: str = "") -> list[tuple[str, int]]:
    """Every address's name with its room, and how many arguments it takes."""
    found = []
    for item in patterns:
        if isinstance(item, URLPattern):
            if item.name:
                found.append((f"{room}{item.name}", item.pattern.regex.groups, list(item.pattern.regex.groupindex)))
        elif item.namespace != BY_TOKEN:
            found += names(item.url_patterns, f"{item.namespace}:" if item.namespace else room)
    return found


ADDRESSES = names(get_resolver().url_patterns)
VALUES = {
    "pk": 1,
    "line": 1,
    "planting": 1,
    "key": "urea",
    "material": "urea",
    "token": "x",
    "code": "3334",
    "act": "draw",
    "state": "taken",
    "sheet": "a",
    "name": "log",
    "kind": "dose",
    "story": "overlime",
    "form": "csv",
}
OPEN = {
    "account_signup",
    "account_login",
    "people:join",
    "account_confirm_email",
    "account_reset_password_from_key",
    "jobs:feed",
    "planning:together",
    "planning:material",
    "keys",
    "rules",
    "sources",
    "sensors:intake",
}


def address(name: str, converters: list[str]) -> str | None:
    try:
        return reverse(name, kwargs={key: VALUES.get(key, 1) for key in converters})
    except Exception:
        return None


class _Undo(Exception):
    """Rolls back what one request did."""


@pytest.mark.parametrize("role", ["worker", "adviser"])
def test_a_worker_and_an_adviser_reach_only_what_is_theirs(border, thornmere, role):
    them, wrong = member(thornmere, role), []
    for name, _, converters in ADDRESSES:
        where = address(name, converters)
        for method in ("GET", "POST"):
            if where is None or name in OPEN or (name in OWN and method == "POST"):
                continue
            with suppress(_Undo), transaction.atomic():
                status = getattr(them, method.lower())(where).status_code
                raise _Undo
            if (status == 403) != (not may(role, name, method)):
                wrong.append((name, method, status))
    assert wrong == []


@pytest.mark.parametrize("role", ["owner", "worker", "adviser"])
def test_undo_takes_the_right_of_what_is_undone(border, thornmere, role):
    them, wrong = member(thornmere, role), []
    me = User.objects.get(email=f"{role}@farm.example")
    for name in [row[0] for row in ADDRESSES] + [""]:
        change = Change.objects.create(holding=thornmere, user=me, label="An act", page=name, before=[], after=[])
        status = them.post(reverse("changes:undo", args=[change.pk])).status_code
        if (status == 302) != may(role, name, "POST"):
            wrong.append((name, status))
    assert wrong == []


def test_an_adviser_does_not_undo_what_the_owner_did(grower, border, thornmere):
    adviser = member(thornmere, "adviser")
    grower.post(reverse("planning:adopt", args=[border.pk]))
    change = Change.objects.get()
    assert change.page == "planning:adopt"
    recent = text_of(adviser.get(reverse("changes:recent")))
    assert change.label in recent
    assert reverse("changes:undo", args=[change.pk]) not in recent
    for enters in (False, True):
        Holding.objects.filter(pk=thornmere.pk).update(adviser_enters=enters)
        assert adviser.post(reverse("changes:undo", args=[change.pk])).status_code == 403
    assert AdoptedPlan.objects.exists()
    assert grower.post(reverse("changes:undo", args=[change.pk])).status_code == 302
    assert not AdoptedPlan.objects.exists()


def test_who_is_taken_out_keeps_no_way_back(grower, border, thornmere):
    second = member(thornmere, "owner")
    membership = thornmere.memberships.get(user__email="owner@farm.example")
    second.post(reverse("people:people"), {"role": "owner"})
    of_theirs = re.search(r'value="http://testserver(/join/[^"]+)"', text_of(second.get(reverse("people:people")))).group(1)
    token = second.post(reverse("api:tokens"), {"name": "sheet", "scope": "write"}, follow=True).content.decode()
    token = token.split('readonly value="')[1].split('"')[0]
    feed = second.post(reverse("jobs:make_feed"), follow=True).content.decode()
    feed = re.search(r"http://testserver(/[^\s\"<]*feed[^\s\"<]*)", feed).group(1)
    assert [Client().get(feed).status_code, Client().get("/api/v1/jobs", headers={"Authorization": f"Bearer {token}"}).status_code] == [
        200,
        200,
    ]
    told = text_of(grower.post(reverse("people:take_out", args=[membership.pk]), follow=True))
    assert "1 open invitation was ended too" in told
    assert second.post(of_theirs).status_code == 404
    Membership.objects.create(holding=thornmere, user=membership.user, role="worker")  # asked back, with less
    assert [Client().get(feed).status_code, Client().get("/api/v1/jobs", headers={"Authorization": f"Bearer {token}"}).status_code] == [
        404,
        401,
    ]


def test_who_is_no_longer_owner_or_closes_the_account_lets_nobody_in(grower, border, thornmere):
    for act in ("change_role", "close_account"):
        second = member(thornmere, "owner")
        membership = thornmere.memberships.get(user__email="owner@farm.example")
        second.post(reverse("people:people"), {"role": "owner"})
        if act == "change_role":
            grower.post(reverse("people:change_role", args=[membership.pk]), {"role": "adviser"})
        else:
            second.post(reverse("people:close_account"), {"password": PASSWORD})
        assert not Invitation.objects.filter(used_at=None).exists()
        User.objects.filter(email="owner@farm.example").delete()


def test_every_key_of_a_person_to_a_holding_ends_with_their_place():
    keys = set()
    for model in apps.get_models():
        tied = {field.name: field.related_model for field in model._meta.get_fields() if field.many_to_one and field.concrete}
        if {"token_sha256"} <= {field.name for field in model._meta.concrete_fields} and {User, Holding} <= set(tied.values()):
            keys.add(model._meta.get_field("holding").remote_field.related_name)
    assert keys == {*OWN_KEYS, "invitations"}


@pytest.mark.parametrize("role", ["owner", "worker", "adviser"])
def test_no_page_shows_a_form_or_a_link_that_its_reader_may_not_use(border, thornmere, grower, role):
    made = one_of_everything(grower, border)
    them, wrong = grower if role == "owner" else member(thornmere, role), set()
    for where, answer in opened_pages(them, made):
        page, here = answer.content.decode(), resolve(where.partition("?")[0]).view_name
        aims = [(target or where, "POST") for target in posted_by(page)]
        aims += [(link.group(1), "GET") for link in re.finditer(r'<a\b[^>]*href="(/[^"#]*)', page)]
        for target, method in aims:
            with suppress(Resolver404):
                name = resolve(target.partition("?")[0]).view_name
                if not name.startswith(BY_TOKEN) and not may(role, name, method):
                    wrong.add((here, method, name))
    assert not wrong, sorted(wrong)


def test_the_lists_of_roles_name_addresses_that_there_are():
    known = {row[0] for row in ADDRESSES}
    assert known >= OWN | WORKER | LOOKED_UP | ADVISER_POSTS | ADVISER_ENTERS | FORM_PAGES


def test_an_adviser_enters_a_reading_where_the_owner_lets_advisers_and_sees_all_holdings_at_once(border, thornmere):
    adviser = member(thornmere, "adviser")
    other = Holding.objects.create(name="Sallow End")
    Membership.objects.create(user=User.objects.get(email="adviser@farm.example"), holding=other, role="adviser")
    ways, form = reverse("readings:slips"), reverse("readings:new_slip")
    assert form not in text_of(adviser.get(ways))
    assert adviser.get(form).status_code == 403
    thornmere.adviser_enters = True
    thornmere.save()
    assert form in text_of(adviser.get(ways))
    assert adviser.post(form, slip_data(border, ("pH", "6.1", "", "water 1:1"))).status_code == 302
    assert border.slips.count() == 2
    told = text_of(adviser.get(reverse("all_holdings")))
    assert told.index("Sallow End") < told.index("Open Thornmere")
    adviser.post(reverse("people:choose_holding"), {"holding": other.pk})
    assert adviser.get(form).status_code == 403
    assert adviser.get(reverse("today")).status_code == 200


def test_a_worker_begins_at_the_jobs_and_writes_to_the_log(border, thornmere):
    worker = member(thornmere, "worker")
    assert worker.get("/").url == reverse("jobs:jobs")
    told = text_of(worker.get(reverse("jobs:jobs")))
    assert "/plans/" not in re.findall(r'<nav class="bar__rooms".*?</nav>', told, re.S)[0]
    assert (
        worker.post(
            reverse("records:log"), {"plot": border.pk, "material": "gypsum", "amount": "2", "done_on": timezone.localdate().isoformat()}
        ).status_code
        == 302
    )
    mine = Change.objects.first()
    theirs = Change.objects.create(
        holding=thornmere, user=thornmere.memberships.get(role="owner").user, label="The owner's own doing", before=[], after=[]
    )
    assert worker.post(reverse("changes:undo", args=[theirs.pk])).status_code == 404
    assert "own doing" not in text_of(worker.get(reverse("changes:recent")))
    assert worker.post(reverse("changes:undo", args=[mine.pk])).status_code == 302
    closed = worker.get(reverse("planning:bench", args=[border.pk]))
    assert "As worker of Thornmere you don" in text_of(closed)


def test_an_invitation_serves_once_and_can_be_taken_back(grower, border, thornmere):
    grower.post(reverse("people:people"), {"role": "worker"})
    told = text_of(grower.get(reverse("people:people")))
    link = re.search(r'value="http://testserver(/join/[^"]+)"', told).group(1)
    newcomer = Client()
    assert "Join Thornmere" in text_of(newcomer.get(link))
    assert newcomer.post(link, {"email": "w@farm.example", "password": "short"}).status_code == 422
    assert newcomer.post(link, {"email": "w@farm.example", "name": "Wat", "password": PASSWORD}).status_code == 302
    assert Membership.objects.get(user__email="w@farm.example").role == "worker"
    assert Client().get(link).status_code == 404
    grower.post(reverse("people:people"), {"role": "adviser"})
    grower.post(reverse("people:take_back", args=[Invitation.objects.get(used_at=None).pk]))
    assert not Invitation.objects.filter(used_at=None).exists()
    grower.post(reverse("people:take_out", args=[Membership.objects.get(user__email="w@farm.example").pk]))
    assert "You are on no holding" in text_of(newcomer.get(reverse("jobs:jobs")))
    grower.post(reverse("people:take_out", args=[thornmere.memberships.get().pk]))  # the last owner stays
    assert thornmere.memberships.count() == 1


def test_somebody_with_a_holding_of_their_own_joins_another_and_goes_between(grower, border, thornmere):
    other = holding("Quillon Bend")
    them = Client()
    them.force_login(owner(other))
    grower.post(reverse("people:people"), {"role": "adviser"})
    link = re.search(r'value="http://testserver(/join/[^"]+)"', text_of(grower.get(reverse("people:people")))).group(1)
    them.post(link)
    assert "Thornmere" in text_of(them.get(reverse("planning:plans")))
    them.post(reverse("people:choose_holding"), {"holding": other.pk})
    assert "To Thornmere" in text_of(them.get(reverse("planning:plans")))
    assert them.post(reverse("people:choose_holding"), {"holding": 999}).status_code == 404


def test_an_adviser_proposes_and_the_owner_adopts_exactly_that(grower, border, thornmere):
    adviser = member(thornmere, "adviser")
    assert "Adopt this plan" not in text_of(adviser.get(reverse("planning:bench", args=[border.pk])))
    adviser.post(reverse("planning:propose", args=[border.pk]), {"school": "build_maintain", "aim": "fewest", "note": "build it up first"})
    proposal = PlanProposal.objects.get()
    assert "It waits for an owner" in text_of(adviser.get(reverse("planning:proposal", args=[proposal.pk])))
    assert adviser.post(reverse("planning:adopt_proposal", args=[proposal.pk])).status_code == 403
    assert "build it up first" in text_of(grower.get(reverse("planning:plans")))
    assert grower.get(reverse("planning:proposal_working", args=[proposal.pk, "soil"])).status_code == 200
    grower.post(reverse("planning:adopt_proposal", args=[proposal.pk]))
    adopted = AdoptedPlan.objects.get()
    assert (adopted.request, adopted.result) == (proposal.request, proposal.result)
    assert adopted.request["school"] == "build_maintain"
    assert border.jobs.filter(state="open").exists()
    grower.post(reverse("planning:adopt_proposal", args=[proposal.pk]))  # twice changes nothing
    assert AdoptedPlan.objects.count() == 1
    grower.post(reverse("changes:undo", args=[Change.objects.first().pk]))
    assert not AdoptedPlan.objects.exists()
    grower.post(reverse("planning:decline_proposal", args=[proposal.pk]))
    proposal.refresh_from_db()
    assert proposal.state == "declined"
