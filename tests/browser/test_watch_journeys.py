"""Journeys of watching and learning: a sick tomato, salt, exercises by keyboard, ten years of a plot."""

import re
from datetime import timedelta

from django.urls import reverse
from django.utils import timezone
from playwright.sync_api import expect

from tests.helpers.holdings import plot, slip
from web.jobs.models import Job
from web.records.models import LogEntry, Sighting


def test_a_yellowing_tomato_is_asked_about_kept_under_watch_and_sampled_in_pairs(signed_in, live_server, house, axe):
    page, bed = signed_in, house.plots.get(name="Quiet bed")
    bed.plantings.update(crop="tomato")
    page.get_by_role("link", name="Watch", exact=True).click()
    page.get_by_role("link", name="Something wrong on Quiet bed").click()
    page.get_by_role("link", name=re.compile("Oldest, lowest leaves")).click()
    page.get_by_text("Say something else that you see", exact=True).click()
    page.get_by_role("link", name=re.compile("^Yellow between the main veins")).click()
    expect(page.get_by_role("heading", name=re.compile("Magnesium short"))).to_be_visible()
    assert axe(page) == []
    page.get_by_text("Follow up").click()
    page.get_by_label("In your words").fill("since the first fruit")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text("since the first fruit")).to_be_visible()
    assert Sighting.objects.get().likely == "magnesium short"
    page.get_by_role("link", name=re.compile("Samples from a good")).click()
    expect(page.get_by_label(re.compile("good and a bad", re.IGNORECASE))).to_be_checked()


def test_salt_is_washed_out_by_a_job(signed_in, live_server, house):
    page, bed = signed_in, house.plots.get(name="Quiet bed")
    page.goto(live_server.url + reverse("desks:flush", args=[bed.pk]))
    page.get_by_label(re.compile("Salt now")).fill("4")
    page.get_by_label(re.compile("Salt wanted")).fill("1.5")
    page.keyboard.press("Enter")
    expect(page.get_by_text("of good water")).to_be_visible()
    page.get_by_role("button", name="Add to jobs").click()
    page.get_by_role("heading", name="Jobs").wait_for()
    assert Job.objects.get(what="flush").plot == bed


def test_ten_exercises_are_answered_by_keyboard_alone(signed_in):
    page = signed_in
    page.get_by_role("link", name="Learn", exact=True).click()
    page.get_by_role("link", name="Practice", exact=True).click()
    page.get_by_role("link", name="Common claims").last.click()
    for _ in range(10):
        page.get_by_role("radio").first.wait_for()
        page.keyboard.press("Space")
        page.keyboard.press("Enter")
        page.get_by_role("link", name="Another").press("Enter")


def test_overliming_is_lived_through_and_its_lesson_told(signed_in, axe):
    page = signed_in
    page.get_by_role("link", name="Learn", exact=True).click()
    page.get_by_role("link", name="Ten years of a plot").click()
    page.get_by_role("link", name=re.compile("[Ll]im")).first.click()
    for year in range(1, 6):
        expect(page.get_by_role("heading", name=f"Year {year}", exact=True)).to_be_visible()
        page.get_by_role("button", name="Run this year").click()
    expect(page.locator(".headline")).to_be_visible()
    assert axe(page) == []


def test_ten_leaves_on_a_card_end_in_a_job(signed_in, live_server, house):
    page, field = signed_in, plot(house, "Paddy", "rice", kind="field", area_m2=5_000.0, depth_cm=20.0)
    field.plantings.update(planted_on=timezone.localdate() - timedelta(days=30))
    page.goto(live_server.url + reverse("readings:leaf_card"))
    page.get_by_label("Plot").select_option(label="Paddy")
    for _ in range(10):
        page.get_by_role("button", name=re.compile("^Panel 3:")).click()
    page.get_by_role("link", name="What to give, or nothing").click()
    page.get_by_role("button", name="What follows").click()
    expect(page.locator(".headline")).to_contain_text("of nitrogen")
    page.get_by_role("button", name="Add to jobs").click()
    page.get_by_role("heading", name="Jobs").wait_for()
    assert Job.objects.get(plot=field).what == "N"


def test_three_years_of_tests_become_the_next_lime(signed_in, live_server, house):
    page, bed, today = signed_in, plot(house, "Far Bed", area_m2=1000.0), timezone.localdate()
    for years, ph, kg in ((4, "5.5", 250), (2, "5.8", 180), (0, "5.95", 0)):
        day = today - timedelta(days=365 * years + 5)
        slip(bed, [("pH", ph, "", "water 1:1")], taken_on=day)
        if kg:
            about = {"material": "limestone_flour", "name": "limestone flour", "kg": kg, "done_on": day + timedelta(days=20)}
            LogEntry.objects.create(holding=house, plot=bed, **about)
    page.get_by_role("link", name="Watch", exact=True).click()
    page.get_by_role("link", name="Over the years: Far Bed").click()
    expect(page.get_by_text("Your ground needs")).to_be_visible()
    page.get_by_role("button", name="Let plans use it").click()
    page.get_by_role("button", name="Back to the table").wait_for()
    page.get_by_role("link", name="To the plan").click()
    expect(page.get_by_role("cell", name=re.compile("^your own tests"))).to_be_visible()


def test_a_trial_goes_from_its_question_to_a_printed_result(signed_in, live_server, axe):
    page = signed_in
    page.get_by_role("link", name="Learn", exact=True).click()
    page.get_by_role("link", name="Trials", exact=True).click()
    page.get_by_role("link", name="Lay out a trial").click()
    for label, words in (("Name", "Ash on beans"), ("The one question", "Does ash pay?"), ("Treatments", "nothing\nash")):
        page.get_by_label(label).fill(words)
    page.get_by_label("Plot").select_option(label="Quiet bed")
    page.get_by_label("What is measured").fill("beans")
    page.get_by_label("In*", exact=True).or_(page.get_by_label("In", exact=True)).fill("kg")
    page.get_by_label("Difference worth having").fill("0.2")
    page.get_by_role("button", name="Randomise").click()
    page.get_by_role("link", name="Numbers only, for the scorer").click()
    expect(page).to_have_url(re.compile("blind=on"))
    for place, field in enumerate(page.locator(".trial__fields input").all()):
        field.fill(f"{5 + place / 4:.2f}")
    page.get_by_role("button", name="Keep the values").click()
    expect(page.get_by_role("heading", name="What it has shown")).to_be_visible()
    assert axe(page) == []
    page.emulate_media(media="print")
    expect(page.locator(".headline")).to_be_visible()
    expect(page.get_by_role("button", name="Keep the values")).to_be_hidden()
    expect(page.get_by_text("Add a photo")).to_be_hidden()
