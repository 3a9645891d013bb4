"""Promises of the whole house: whose is whose, the content policy, error pages, sign-up, secrets."""

import os
import stat
from datetime import timedelta

import pytest
from axes.models import AccessAttempt
from django.core.management import call_command
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from tests.helpers.holdings import PASSWORD
from web.changes.models import Change
from web.config.secret import secret_key
from web.desks.models import OwnBlend, SpreaderRun
from web.ground.models import OwnCrop, WaterSource
from web.jobs.models import Job, OwnProgramme
from web.people.models import Holding, User
from web.planning.models import AdoptedPlan, LogEntry, LogPhoto, StockLot, Supplier, SupplierOffer
from web.readings.models import KitRun, LabFile, MeterSession
from web.sampling.models import Sample, SamplingRound
from web.sensors.models import Gateway, Probe


@pytest.fixture
def objects(grower, border, thornmere):
    grower.post(reverse("planning:adopt", args=[border.pk]))
    round_ = SamplingRound.objects.create(holding=thornmere, name="Autumn", planned_on="2026-10-01")
    gateway = Gateway.objects.create(holding=thornmere, name="Yard", token_sha256="0" * 64)
    seller = Supplier.objects.create(holding=thornmere, name="Barn Lane")
    content = b"Sample,pH\nLong Border 7,6.0\n"
    made = {
        "plot": border, "slip": border.slips.get(), "plan": AdoptedPlan.objects.get(), "change": Change.objects.get(), "round": round_, "gateway": gateway,
        "sample": Sample.objects.create(round=round_, plot=border, code="3334", bottom_cm=15, cores_wanted=10),
        "mine": OwnCrop.objects.create(holding=thornmere, name="Show dahlia", base="dahlia", figures={"ph_low": 6.4}),
        "lot": StockLot.objects.create(holding=thornmere, material="gypsum", kg=10),
        "blend": OwnBlend.objects.create(holding=thornmere, name="Breakfast", parts=[["blood_meal", 1], ["kelp_meal", 1]]), "run_kept": SpreaderRun.objects.create(holding=thornmere, spreader="barrow", material="urea", setting=3, measured_on="2026-10-01"), "seller": seller, "offer": SupplierOffer.objects.create(supplier=seller, material="gypsum", price_per_kg=0.2),
        "work": Job.objects.create(holding=thornmere, plot=border, material="gypsum", name="gypsum", what="S", kg=1, from_day="2026-10-01", to_day="2026-10-09"),
        "photo": LogPhoto.objects.create(holding=thornmere, jpeg=b"jpeg"), "entry": LogEntry.objects.create(holding=thornmere, plot=border, material="urea", name="urea", kg=1),
        "programme": OwnProgramme.objects.create(holding=thornmere, name="Mine", document={"name": "Mine", "per": "m2", "step": [{"after": 0, "do": "dig"}]}),
        "water": WaterSource.objects.create(holding=thornmere, name="Tap"),
        "probe": Probe.objects.create(gateway=gateway, key="m-1", name="Moist", quantity="moisture"),
        "file": LabFile.objects.create(holding=thornmere, name="a.csv", content=content, sha256="1" * 64, sampled_on="2026-10-03"),
        "run": KitRun.objects.create(holding=thornmere, plot=border, kit="hedgerow_four", test="ph"),
        "meter": MeterSession.objects.create(holding=thornmere, plot=border, buffers=[{"ph": 7, "mv": 0}, {"ph": 4, "mv": 174}]),
    }  # fmt: skip
    return {kind: row.pk for kind, row in made.items()}


OWNED = [
    ("ground:edit_plot", "plot"), ("ground:delete_plot", "plot"), ("readings:edit_slip", "slip"), ("readings:delete_slip", "slip"), ("planning:bench", "plot"),
    ("planning:adopt", "plot"), ("planning:schools", "plot"), ("planning:choose_school", "plot"), ("planning:given", "plot"), ("planning:switch_credit", "plot"), ("planning:take_out_gift", "plot"), ("planning:response", "plot"), ("planning:closer", "plot"), ("planning:aims", "plot"), ("planning:choose_aim", "plot"), ("planning:nitrogen_sources", "plot"),
    ("planning:sharpen", "plot"), ("planning:untested", "plot"), ("planning:try_crop", "plot"), ("planning:edit_own_crop", "mine"), ("planning:edit_lot", "lot"), ("planning:take_out_lot", "lot"), ("planning:supplier", "seller"), ("planning:drop_supplier", "seller"), ("planning:drop_offer", "offer"), ("planning:slide", "plot"), ("desks:measures", "plot"), ("desks:manure", "plot"), ("desks:acidity", "plot"), ("desks:traces", "plot"), ("desks:blend", "blend"), ("desks:drop_blend", "blend"), ("desks:drop_run", "run_kept"), ("desks:release", "plot"), ("planning:propose", "plot"), ("jobs:job", "work"), ("jobs:drop", "work"), ("jobs:assign", "work"), ("jobs:correct", "entry"), ("jobs:edit_programme", "programme"), ("jobs:drop_programme", "programme"), ("jobs:photo", "photo"), ("jobs:traces", "plot"), ("jobs:load", "plot"), ("planning:drop_wish", "plot"), ("planning:delete_own_crop", "mine"), ("planning:adopted", "plan"), ("planning:sheet", "plan"), ("planning:json", "plan"), ("planning:withdraw", "plan"), ("changes:undo", "change"),
    ("ground:texture", "plot"), ("ground:crops", "plot"), ("ground:new_ground", "plot"), ("ground:edit_water", "water"), ("ground:delete_water", "water"), ("chart_page", "plot"),
    ("sampling:round", "round"), ("sampling:labels", "round"), ("sampling:lab_forms", "round"), ("sampling:delete_round", "round"), ("sampling:sample", "sample"),
    ("sampling:delete_sample", "sample"), ("slip_page", "slip"), ("readings:file", "file"), ("readings:file_step", "file"), ("readings:take_out_file", "file"),
    ("readings:delete_file", "file"), ("readings:original", "file"), ("readings:kit_run", "run"), ("readings:drop_run", "run"), ("readings:meter_session", "meter"),
    ("readings:meter_live", "meter"), ("readings:drop_session", "meter"), ("sensors:probe", "probe"), ("sensors:delete_probe", "probe"), ("sensors:gateway", "gateway"),
    ("sensors:renew_token", "gateway"), ("sensors:revoke", "gateway"),
]  # fmt: skip


@pytest.mark.parametrize(("name", "kind"), OWNED)
def test_a_stranger_gets_404_and_nothing_changes(objects, stranger, name, kind):
    other = Client()
    other.force_login(stranger)
    address = reverse(name, args=[objects[kind]])
    assert other.post(address).status_code == 404
    assert other.get(address).status_code in (404, 405)
    assert AdoptedPlan.objects.exists()
    assert LabFile.objects.exists()


def test_a_stranger_gets_404_for_workings_and_sees_no_plot(objects, stranger, border):
    other = Client()
    other.force_login(stranger)
    assert other.get(reverse("sampling:at_the_plot", args=["3334"])).status_code == 404
    assert other.get(reverse("readings:compare"), {"first": objects["slip"], "second": objects["slip"]}).status_code == 404
    assert other.post(reverse("ground:board_act", args=["lift"]), {"plot": objects["plot"]}).status_code == 404
    assert border.name not in other.get(reverse("ground:board"), {"plot": objects["plot"]}).content.decode()
    assert other.get(reverse("planning:bench_working", args=[objects["plot"], "dose-0"])).status_code == 404
    assert other.get(reverse("planning:adopted_working", args=[objects["plan"], "dose-0"])).status_code == 404
    for name in ("readings:slips", "planning:plans", "readings:export", "changes:recent"):
        assert border.name not in other.get(reverse(name)).content.decode()


def test_nobody_sees_anything_before_signing_in(client, objects):
    anonymous = Client()
    for name, kind in OWNED:
        assert anonymous.get(reverse(name, args=[objects[kind]])).url.startswith("/sign-in/")
    assert anonymous.get("/").status_code == 200


def test_every_page_has_a_strict_content_policy_and_no_inline_code(grower, objects):
    for address in [
        "/",
        "/ground/",
        "/readings/new/",
        "/sources/",
        "/ground/board/",
        "/samples/",
        "/sensors/",
        "/readings/leaf-card/",
        reverse("ground:texture", args=[objects["plot"]]),
        reverse("sampling:labels", args=[objects["round"]]),
        reverse("readings:file", args=[objects["file"]]),
        reverse("readings:kit_run", args=[objects["run"]]),
        reverse("readings:meter_session", args=[objects["meter"]]),
        reverse("planning:bench", args=[objects["plot"]]),
        reverse("planning:given", args=[objects["plot"]]),
        reverse("planning:closer", args=[objects["plot"]]),
        reverse("planning:untested", args=[objects["plot"]]),
        reverse("planning:own_figures"),
        reverse("planning:fits"),
        reverse("planning:sheet", args=[objects["plan"]]),
    ]:
        response = grower.get(address, follow=True)
        policy = response.headers["Content-Security-Policy"]
        assert "default-src 'none'" in policy
        assert "unsafe" not in policy
        page = response.content.decode()
        assert not [mark for mark in ("<style", " style=", "onclick=", "javascript:", "<script>") if mark in page]


def test_error_pages_wear_the_house_look(grower, settings, rf):
    from web.overview import errors

    missing = grower.get("/nowhere/")
    assert missing.status_code == 404
    assert "Nothing grows here" in missing.content.decode()
    strict = Client(enforce_csrf_checks=True)
    assert strict.post("/sign-in/").status_code == 403
    for page, status in ((errors.bad_request, 400), (errors.server_error, 500)):
        response = page(rf.get("/"))
        assert response.status_code == status
        assert "Back to the first page" in response.content.decode()


def test_sign_up_makes_a_holding_and_leads_to_the_first_plan(client, db):
    data = {"email": "Nell@Bramble.example", "password": "long-and-odd-words", "holding_name": "Bramble End 🌾", "units": "us", "hemisphere": "south"}
    assert client.post("/sign-up/", data).url == "/start/"
    user = User.objects.get()
    assert user.password.startswith("argon2")
    assert user.holdings.get().name == "Bramble End 🌾"
    assert "sign in instead" in Client().post("/sign-up/", data).content.decode().lower()
    assert "too short" in Client().post("/sign-up/", data | {"email": "b@c.example", "password": "pw"}).content.decode()
    assert client.post("/sign-out/").status_code == 302
    assert client.post("/sign-in/", {"username": "nell@bramble.example", "password": data["password"]}).url == "/"


def test_first_plan_from_one_page_keeps_what_was_typed_until_it_is_sound(grower, thornmere):
    data = {
        "name": "First bed", "kind": "bed", "area": "", "depth": "15 cm", "texture": "", "dug": "yes", "crop": "tomato", "planted_on": "2099-05-01", "lab": "", "how": "kit",
        "taken_on": "2026-10-03", "lines-TOTAL_FORMS": 1, "lines-INITIAL_FORMS": 0, "lines-0-analyte": "pH", "lines-0-typed": "5.5", "lines-0-unit": "pH", "lines-0-method": "water 1:1",
    }  # fmt: skip
    refused = grower.post("/start/", data)
    assert refused.status_code == 422
    assert 'value="5.5"' in refused.content.decode()
    accepted = grower.post("/start/", data | {"area": "12"}, follow=True)
    assert "Half of it now" in accepted.content.decode() or "ground limestone" in accepted.content.decode()
    assert "ordinary loam" in accepted.content.decode()


def test_password_can_be_changed(grower, thornmere):
    assert grower.post("/password/", {"old_password": PASSWORD, "new_password1": "another-good-one", "new_password2": "another-good-one"}).status_code == 302


def _sign_in(client, email: str, password: str, address: str = "203.0.113.7"):
    return client.post("/sign-in/", {"username": email, "password": password}, REMOTE_ADDR=address)


def test_too_many_wrong_passwords_lock_the_door_for_a_while(client, thornmere):
    User.objects.create_user("other@farm.example", PASSWORD)
    for guess in range(8):
        response = _sign_in(client, "Thornmere@farm.example" if guess % 2 else "thornmere@farm.example", "wrong")
    assert response.status_code == 429
    assert "Too many wrong passwords" in response.content.decode()
    assert _sign_in(client, "thornmere@farm.example", PASSWORD).status_code == 429  # even the right one, for a while
    assert "_auth_user_id" not in client.session
    assert _sign_in(client, "other@farm.example", PASSWORD).status_code == 302  # another account at the same address
    client.post("/sign-out/")
    assert _sign_in(client, "thornmere@farm.example", PASSWORD, "198.51.100.4").status_code == 302  # the owner, from elsewhere
    client.post("/sign-out/")
    AccessAttempt.objects.update(attempt_time=timezone.now() - timedelta(minutes=16))
    assert _sign_in(client, "THORNMERE@farm.example", PASSWORD).status_code == 302


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
    assert "schools.toml" in client.get("/rules/").content.decode()
    page = client.get("/rules/", {"q": "aluminium factor"}).content.decode()
    assert "kamprath-1970" in page
    assert 'id="acidityparameterstoml-aluminium_factor"' in page
    assert "spring_barley" in client.get("/rules/", {"source": "crop-removal"}).content.decode()
    assert "No row holds all of that" in client.get("/rules/", {"q": "unobtainium"}).content.decode()
    assert client.get("/rules/", {"q": "<script>", "page": "99"}).status_code == 200
