"""Promises of the whole house: whose is whose, the content policy, error pages, sign-up, secrets."""

import os
import re
import stat
from datetime import timedelta

import pytest
from axes.models import AccessAttempt
from django.core.management import call_command
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from tests.helpers.addresses import OWNED, PLAIN, SHARED, address, opened_pages, patterns
from tests.helpers.holdings import PASSWORD, plot, slip
from tests.helpers.pages import text_of
from web.config import settings as served
from web.config.secret import secret_key
from web.ground.models import Plot
from web.people.models import Holding, User
from web.planning.models import AdoptedPlan
from web.readings.models import LabFile


def test_every_address_of_the_resolver_is_known_here():
    """A new page that takes an object must say which one, or this fails."""
    assert {name for name, taken in patterns() if taken} == set(OWNED) | set(SHARED)


def refuses(client: Client, name: str, objects: dict) -> None:
    """Asserts that an address answers 404 to a person of another holding."""
    assert client.post(address(name, objects)).status_code == 404, name
    assert client.get(address(name, objects)).status_code in (404, 405), name


@pytest.fixture
def other(stranger):
    client = Client()
    client.force_login(stranger)
    return client


def test_a_stranger_gets_404_and_nothing_changes(objects, other):
    for name in sorted(OWNED):
        refuses(other, name, objects)
    assert AdoptedPlan.objects.exists()
    assert LabFile.objects.exists()


def test_a_view_that_forgets_the_holding_turns_the_suite_red(objects, other, monkeypatch):
    monkeypatch.setattr("web.ground.selectors._PLOT", lambda holding, pk: list(Plot.objects.filter(pk=pk)))
    with pytest.raises(AssertionError, match="ground:edit_plot"):
        refuses(other, "ground:edit_plot", objects)


def test_a_stranger_reads_nothing_of_another_holding_on_any_page(objects, other, border):
    theirs = (border.name, "Barn Lane", "Show dahlia", "Breakfast", "Fenwick Soil Room", "hand@farm.example", "own_strip", "a.csv")
    for name in PLAIN:
        answer = other.get(reverse(name))
        page = b"".join(answer.streaming_content).decode("latin-1") if answer.streaming else answer.content.decode("latin-1")
        assert not [word for word in theirs if word in page], name
    assert other.get(reverse("readings:compare"), {"first": objects["slip"], "second": objects["slip"]}).status_code == 404
    assert other.post(reverse("ground:board_act", args=["lift"]), {"plot": objects["plot"]}).status_code == 404
    assert border.name not in text_of(other.get(reverse("ground:board"), {"plot": objects["plot"]}))


OPEN_TO_ALL = {
    "claims",
    "account_reset_password",
    "account_reset_password_done",
    "account_inactive",
    "account_confirm_email",
    "account_email_verification_sent",
    "account_reset_password_from_key",
    "account_reset_password_from_key_done",
    "health",
    "home",
    "how",
    "planning:together",
    "planning:material",
    "rules",
    "sources",
    "keys",
    "account_login",
    "account_signup",
    "people:join",
    "jobs:feed",
    "jobs:worker",
    "sensors:post_readings",
}


def test_nobody_sees_anything_before_signing_in(client, objects):
    anonymous = Client()
    for name in {*OWNED, *SHARED, *PLAIN} - OPEN_TO_ALL - {"account_logout"}:
        answer = anonymous.get(address(name, objects))
        assert answer.status_code == 302, name
        assert answer.url.startswith("/sign-in/"), name
    assert anonymous.get("/").status_code == 200


# Pages of these rooms that reckon nothing: lists, forms, what was typed.
METRIC = re.compile(r"\d[\s\u202f]?(?:kg|g|g/m²|m²|cm|mm|m|ha|kg/ha|t/ha|litres|L|°C|m/s)\b[^<]{0,20}")
STRAYS = {
    "us": METRIC,
    "uk": re.compile(r"\d[\s\u202f]?(?:kg/ha|t/ha|ha|lb|lb/acre|oz|ft|gal|°F|mph)\b[^<]{0,20}"),
    "metric": re.compile(r"\d[\s\u202f]?(?:lb|lb/acre|oz|ft|ft²|gal|acres?|°F|mph)\b[^<]{0,20}"),
}
METRIC_EVERYWHERE = ("/sources/", "/desks/sieves/")  # titles as they were printed, and the standard openings of sieves
RECKON_NOTHING = {
    *(
        "planning:plans",
        "planning:letter",
        "planning:letters",
        "planning:contractor",
        "planning:plot_letter",
        "planning:own_figures",
        "planning:edit_own_crop",
        "supplies:suppliers",
        "supplies:supplier",
        "supplies:edit_lot",
        "supplies:shed",
    ),
    *(
        "planning:propose",
        "planning:read_plan",
        "desks:watch",
        "supplies:take_out_lot",
        "planning:sheet",
        "planning:sheets",
        "desks:desks",
        "records:log",
        "records:correct",
        "jobs:edit_programme",
        "jobs:calendar",
        "jobs:sheet",
        "jobs:jobs",
    ),
}


def test_every_page_that_reckons_opens_its_working_or_leads_to_its_rule(grower, objects):
    bare = []
    for name in sorted({*OWNED, *SHARED, *PLAIN}):
        if not name.startswith(("planning:", "desks:", "jobs:", "chart_page")) or name in RECKON_NOTHING:
            continue
        answer = grower.get(address(name, objects))
        page = (
            answer.content.decode("latin-1") if answer.status_code == 200 and answer.headers["Content-Type"].startswith("text/html") else ""
        )
        if "</html>" in page and "/rules/how/" not in page and "working" not in page:
            bare.append(name)
    assert bare == []


def test_error_pages_wear_the_house_look(grower, settings, rf):
    from web.overview import errors

    missing = grower.get("/nowhere/")
    assert missing.status_code == 404
    told = text_of(missing)
    assert "Page not found" in told
    assert reverse("ground_page") in told  # the bar stands there: one can go on
    strict = Client(enforce_csrf_checks=True)
    assert strict.post("/sign-in/").status_code == 403
    for page, status in ((errors.bad_request, 400), (errors.server_error, 500)):
        response = page(rf.get("/"))
        assert response.status_code == status
        assert "Back to the first page" in text_of(response)


@pytest.mark.parametrize("state", ["tested", "without a test", "without a crop", "of a crop that is gone"])
def test_every_way_on_from_a_plots_pages_is_open(grower, thornmere, state):
    made = plot(thornmere)
    if state == "tested":
        slip(made)
    if state == "without a crop":
        made.plantings.all().delete()
    if state == "of a crop that is gone":
        made.plantings.update(crop="unobtainium")
    pages = [reverse(name, args=[made.pk]) for name in ("planning:bench", "plot_readings", "plot_compare", "plot_measure", "plot_history")]
    ways = {way for page in pages for way in re.findall(r'<a\b[^>]*href="(/[^"#]*)', text_of(grower.get(page))) if f"/{made.pk}/" in way}
    swaps = [way for way in ways if "/swap/" in way]
    assert bool(swaps) == (state in ("tested", "without a test"))
    wrong = {way: status for way in sorted(ways) if (status := grower.get(way.replace("&amp;", "&")).status_code) not in (200, 302)}
    assert wrong == {}


@pytest.mark.parametrize(
    "name", ["planning:swap", "planning:plot_letter", "planning:propose", "planning:bench_working", "planning:response"]
)
def test_a_page_that_needs_something_first_says_what_and_leads_there(grower, thornmere, name):
    made = plot(thornmere)
    made.plantings.all().delete()
    about = {"planning:swap": ["urea"], "planning:bench_working": ["dose-0"]}.get(name, [])
    send = grower.post if name == "planning:response" else grower.get
    answer = send(reverse(name, args=[made.pk, *about]))
    told = text_of(answer)
    assert (answer.status_code, "needs a crop first" in told, reverse("ground:crops", args=[made.pk]) in told) == (404, True, True)
    assert reverse("ground_page") in told


def test_sign_up_makes_a_holding_and_leads_to_the_first_plan(client, db, settings):
    settings.PASSWORD_HASHERS = served.PASSWORD_HASHERS
    data = {
        "email": "Nell@Bramble.example",
        "password": "long-and-odd-words",
        "holding_name": "Bramble End 🌾",
        "units": "us",
        "hemisphere": "south",
    }
    assert client.post("/sign-up/", data).url == "/start/"
    user = User.objects.get()
    assert user.password.startswith("argon2")
    assert user.holdings.get().name == "Bramble End 🌾"
    assert "sign in instead" in text_of(Client().post("/sign-up/", data)).lower()
    assert "too short" in text_of(Client().post("/sign-up/", data | {"email": "b@c.example", "password": "pw"}))
    assert client.post("/sign-out/").status_code == 302
    assert client.post("/sign-in/", {"username": "nell@bramble.example", "password": data["password"]}).url == "/"


def test_first_plan_from_one_page_keeps_what_was_typed_until_it_is_sound(grower, thornmere):
    data = {
        "name": "First bed",
        "kind": "bed",
        "area": "",
        "depth": "15 cm",
        "texture": "",
        "dug": "yes",
        "crop": "tomato",
        "planted_on": "2099-05-01",
        "lab": "",
        "how": "kit",
        "taken_on": "2026-10-03",
        "lines-TOTAL_FORMS": 1,
        "lines-INITIAL_FORMS": 0,
        "lines-0-analyte": "pH",
        "lines-0-typed": "5.5",
        "lines-0-unit": "pH",
        "lines-0-method": "water 1:1",
    }
    refused = grower.post(reverse("first_slip"), data)
    assert refused.status_code == 422
    assert 'value="5.5"' in text_of(refused)
    accepted = grower.post(reverse("first_slip"), data | {"area": "12"}, follow=True)
    assert "Half of it now" in text_of(accepted) or "ground limestone" in text_of(accepted)
    assert "ordinary loam" in text_of(accepted)


def test_password_can_be_changed(grower, thornmere):
    assert (
        grower.post(
            "/password/", {"old_password": PASSWORD, "new_password1": "another-good-one", "new_password2": "another-good-one"}
        ).status_code
        == 302
    )


def _sign_in(client, email: str, password: str, address: str = "203.0.113.7"):
    return client.post("/sign-in/", {"username": email, "password": password}, REMOTE_ADDR=address)


def test_too_many_wrong_passwords_lock_the_door_for_a_while(client, thornmere):
    User.objects.create_user("other@farm.example", PASSWORD)
    for guess in range(8):
        response = _sign_in(client, "Thornmere@farm.example" if guess % 2 else "thornmere@farm.example", "wrong")
    assert response.status_code == 429
    assert "Too many wrong passwords" in text_of(response)
    assert _sign_in(client, "thornmere@farm.example", PASSWORD).status_code == 429  # even the right one, for a while
    assert "_auth_user_id" not in client.session
    assert _sign_in(client, "other@farm.example", PASSWORD).status_code == 302  # another account at the same address
    client.post("/sign-out/")
    assert _sign_in(client, "thornmere@farm.example", PASSWORD, "198.51.100.4").status_code == 302  # the owner, from elsewhere
    client.post("/sign-out/")
    AccessAttempt.objects.update(attempt_time=timezone.now() - timedelta(minutes=16))
    assert _sign_in(client, "THORNMERE@farm.example", PASSWORD).status_code == 302


@pytest.mark.parametrize(("proxies", "is_locked"), [(0, True), (1, False)])
def test_what_a_proxy_says_of_an_address_counts_only_where_it_is_named(client, thornmere, settings, proxies, is_locked):
    settings.ALLAUTH_TRUSTED_PROXY_COUNT = proxies
    typed = {"username": "thornmere@farm.example", "password": "wrong"}
    for guess in range(8):  # what stands before the proxy's own word is anybody's invention
        client.post("/sign-in/", typed, headers={"x-forwarded-for": f"192.0.2.{guess}, 203.0.113.7"})
    owner = client.post("/sign-in/", typed | {"password": PASSWORD}, headers={"x-forwarded-for": "198.51.100.4"})
    assert (owner.status_code == 429) == is_locked


def test_the_secret_key_is_made_once_into_a_private_file(tmp_path, monkeypatch):
    monkeypatch.delenv("IRON_RAKE_SECRET_KEY", raising=False)
    key = secret_key(tmp_path)
    assert key == secret_key(tmp_path)
    assert len(key) > 60
    assert stat.S_IMODE(os.stat(tmp_path / "secret_key").st_mode) == 0o600
    monkeypatch.setenv("IRON_RAKE_SECRET_KEY", "given")
    assert secret_key(tmp_path) == "given"


def test_demo_holdings_load_twice_and_every_bench_opens(client, db):
    call_command("load_demo", verbosity=0)
    call_command("load_demo", verbosity=0)
    thornmere, quillon = Holding.objects.order_by("pk")
    assert thornmere.plots.count() >= 12
    assert quillon.hemisphere == "south"
    for holding in (thornmere, quillon):
        client.force_login(holding.members.get(memberships__role="owner"))
        for made in holding.plots.all():
            assert client.get(reverse("planning:bench", args=[made.pk])).status_code == 200
        assert client.get("/ground/").status_code == 200


def test_every_rule_can_be_found_and_leads_to_its_source(client, db):
    assert "schools.toml" in text_of(client.get("/rules/"))
    page = text_of(client.get("/rules/", {"q": "aluminium factor"}))
    assert "kamprath-1970" in page
    assert 'id="acidityparameterstoml-aluminium_factor"' in page
    assert "spring_barley" in text_of(client.get("/rules/", {"source": "crop-removal"}))
    assert "No row holds all of that" in text_of(client.get("/rules/", {"q": "unobtainium"}))
    assert client.get("/rules/", {"q": "<script>", "page": "99"}).status_code == 200


@pytest.mark.parametrize("units", STRAYS)
def test_every_page_is_light_strict_and_in_one_system(grower, objects, units):
    grower.post(reverse("people:units"), {"units": units, "next": "/"})
    seen, heavy, loose, stray = 0, {}, {}, {}
    for opened, answer in opened_pages(grower, objects):
        seen += 1
        page, policy = text_of(answer), answer.headers["Content-Security-Policy"]
        if len(answer.content) > 60_000:
            heavy[opened] = len(answer.content)
        marks = [mark for mark in ("<style", " style=", "onclick=", "javascript:", "<script>") if mark in page]
        if marks or "default-src 'none'" not in policy or "unsafe" in policy:
            loose[opened] = marks or policy
        if opened.startswith(METRIC_EVERYWHERE) or opened.endswith(("/measures/", "/traces/")):  # grams on a kitchen balance
            continue
        shown = re.sub(r"<(script|style|option|textarea|input|small|svg)\b.*?</\1>|<[^>]*>", " ", page[page.index("<main") :], flags=re.S)
        if found := STRAYS[units].findall(shown):
            stray[opened] = found[:4]
    assert (heavy, loose, stray) == ({}, {}, {})
    assert seen > 70
