"""Journeys of work: a moved planting, a job done without a net, an adviser's plan, the day's sheet in print."""

import io
from datetime import timedelta

import pytest
from django.utils import timezone
from PIL import Image
from playwright.sync_api import expect

from tests.helpers.holdings import PASSWORD
from web.jobs.models import Job
from web.people.models import Membership, User
from web.records.models import LogEntry

pytestmark = pytest.mark.browser


@pytest.fixture
def planned(signed_in, live_server, house):
    """The border planted this coming season, its plan adopted."""
    border = house.plots.get(name="Long Border 7")
    planting = border.planting
    planting.planted_on = timezone.localdate() + timedelta(days=150)
    planting.save()
    signed_in.goto(f"{live_server.url}/plans/plot/{border.pk}/")
    signed_in.get_by_role("button", name="Adopt this plan").click()
    signed_in.get_by_text("was adopted").wait_for()
    return border


def picture() -> bytes:
    made = io.BytesIO()
    Image.new("RGB", (2000, 1000), "#6b7f4e").save(made, "PNG")
    return made.getvalue()


def test_a_planting_that_moves_takes_its_windows_along(signed_in, live_server, house, planned):
    page = signed_in
    before = {job.uid: job.to_day for job in Job.objects.filter(what="N")}
    planting = planned.planting
    page.goto(f"{live_server.url}/ground/{planned.pk}/crops/{planting.pk}/")
    page.get_by_label("Planted").fill((planting.planted_on + timedelta(days=21)).isoformat())
    page.get_by_role("button", name="Keep").first.click()
    expect(page.get_by_text("jobs of Long Border 7 moved along")).to_be_visible()
    after = {job.uid: job.to_day for job in Job.objects.filter(what="N", state="open")}
    assert after.keys() == before.keys()
    assert all(after[uid] - before[uid] == timedelta(days=21) for uid in before)
    page.get_by_role("link", name="Jobs", exact=True).click()
    expect(page.get_by_role("heading", name="Later")).to_be_visible()


def test_a_job_is_done_without_a_net_and_sent_once_when_it_is_back(signed_in, live_server, house, planned, complaints):
    page = signed_in
    page.set_viewport_size({"width": 390, "height": 844})
    job = Job.objects.filter(state="open").order_by("to_day").first()
    page.goto(f"{live_server.url}/jobs/")
    page.goto(f"{live_server.url}/jobs/{job.pk}/")
    page.wait_for_function("navigator.serviceWorker.ready.then(() => true)")
    page.goto(f"{live_server.url}/jobs/")
    page.goto(f"{live_server.url}/jobs/{job.pk}/")
    with complaints.without_a_net():
        page.get_by_label("How much was put on").fill("2 kg")
        page.get_by_label("Note").fill("in the rain shadow")
        page.get_by_label("Photo").set_input_files({"name": "bed.png", "mimeType": "image/png", "buffer": picture()})
        page.get_by_role("button", name="Done", exact=True).click()
        expect(page.get_by_text("It waits on this device.")).to_be_visible()
        assert not LogEntry.objects.exists()
        page.get_by_role("link", name="To the jobs").click()
        expect(page.get_by_role("heading", name="Waiting on this device")).to_be_visible()
        expect(page.locator("[data-waiting] li")).to_contain_text(job.name)
    page.evaluate("window.dispatchEvent(new Event('online'))")
    expect(page.locator("[data-waiting]")).to_be_hidden()
    entry = LogEntry.objects.get()
    assert (entry.kg, entry.note) == (2, "in the rain shadow")
    assert Image.open(io.BytesIO(bytes(entry.photo.jpeg))).size == (1600, 800)
    page.goto(f"{live_server.url}/jobs/log/")
    expect(page.get_by_text("in the rain shadow")).to_be_visible()
    expect(page.get_by_role("img", name="Photo:")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_an_adviser_proposes_and_the_owner_adopts(signed_in, live_server, house, browser):
    user = User.objects.create_user("adviser@farm.example", PASSWORD, name="Ada Vise")
    Membership.objects.create(user=user, holding=house, role="adviser")
    border = house.plots.get(name="Long Border 7")
    theirs = browser.new_context().new_page()
    theirs.goto(f"{live_server.url}/sign-in/")
    theirs.get_by_label("Email").fill(user.email)
    theirs.get_by_label("Password").fill(PASSWORD)
    theirs.get_by_role("button", name="Sign in").click()
    theirs.get_by_role("heading", name="Today").wait_for()
    theirs.goto(f"{live_server.url}/plans/plot/{border.pk}/")
    expect(theirs.get_by_role("button", name="Adopt this plan")).to_have_count(0)
    theirs.get_by_role("link", name="Propose a plan").click()
    theirs.get_by_label("What you would say to the owner").fill("lime first, the rest can wait")
    theirs.get_by_role("button", name="Propose it").click()
    expect(theirs.get_by_text("It waits for an owner")).to_be_visible()
    page = signed_in
    page.get_by_role("link", name="Plans", exact=True).click()
    expect(page.get_by_text("lime first, the rest can wait")).to_be_visible()
    page.get_by_role("heading", name="Proposed").wait_for()
    page.locator("a", has_text="Long Border 7").first.click()
    page.get_by_role("button", name="Adopt it").click()
    expect(page.get_by_text("that Ada Vise proposed was adopted")).to_be_visible()
    theirs.context.close()


def test_the_days_sheet_fits_a_printed_page(signed_in, live_server, house, planned):
    page = signed_in
    page.goto(f"{live_server.url}/jobs/sheet/?plot={planned.pk}")
    page.emulate_media(media="print")
    expect(page.get_by_role("columnheader", name="Done, by whom, really how much")).to_be_visible()
    expect(page.get_by_role("button", name="Print")).to_be_hidden()
    assert page.pdf(format="A4").count(b"/Type /Page\n") + page.pdf(format="A4").count(b"/Type /Page ") <= 1


def test_days_away_and_a_programme_go_onto_the_list_by_keyboard_on_a_phone(signed_in, live_server, house):
    page = signed_in
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{live_server.url}/jobs/")
    page.get_by_role("link", name="Working days").focus()
    page.keyboard.press("Enter")
    away = page.get_by_role("form", name="Days away")
    away.get_by_label("First day away").fill("2099-03-01")
    away.get_by_label("Last day away").fill("2099-03-31")
    away.get_by_label("Last day away").press("Enter")
    expect(page.get_by_text("1 Mar 2099 to 31 Mar 2099")).to_be_visible()
    page.goto(f"{live_server.url}/jobs/programmes/orchard_year/")
    page.get_by_label("Plot").select_option(label="Long Border 7")
    page.get_by_label("Day of leaf fall").fill("2098-10-20")
    page.get_by_label("How many trees").fill("5")
    page.get_by_label("How much").select_option(label="as the programme says")
    page.get_by_role("button", name="Date it").click()
    expect(page.get_by_text("day off until then")).to_be_visible()
    page.get_by_role("button", name="Add to jobs").click()
    page.get_by_label("Or put it on as it is, because").fill("an orchard, not dahlias")
    page.get_by_role("button", name="Put all of it on").click()
    expect(page.get_by_role("heading", name="Later")).to_be_visible()
    sprays = list(Job.objects.filter(way="leaf").order_by("from_day"))
    assert len(sprays) == 3
    assert all(job.kg == 0.05 for job in sprays)
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("Undone: Orchard year")).to_be_visible()
    assert not Job.objects.exists()
