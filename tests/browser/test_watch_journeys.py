"""Journeys of watching and learning: a sick tomato, salt, exercises by keyboard, ten years of a plot."""

import re

from django.urls import reverse
from playwright.sync_api import expect

from web.jobs.models import Job
from web.records.models import Sighting


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
    page.get_by_text("Keep it under watch").click()
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
    page.get_by_role("button", name="Put it on the list").click()
    page.get_by_role("heading", name="Jobs").wait_for()
    assert Job.objects.get(what="flush").plot == bed


def test_ten_exercises_are_answered_by_keyboard_alone(signed_in):
    page = signed_in
    page.get_by_role("link", name="Learn", exact=True).click()
    page.get_by_role("link", name="Practice", exact=True).click()
    page.get_by_role("link", name="What is said").last.click()
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
        page.get_by_role("button", name="Live the year").click()
    expect(page.locator(".headline")).to_be_visible()
    assert axe(page) == []
