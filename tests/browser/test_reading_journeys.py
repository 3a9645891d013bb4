"""Journeys of readings: a messy file, a kit with its timer, a steady meter, a sensor that goes stale."""

import json
import re
from datetime import timedelta

import pytest
from django.utils import timezone
from playwright.sync_api import expect

from tests.helpers.holdings import plot, slip
from tests.helpers.pressing import press
from web.readings.models import KitRun, LabReport, MeterSession
from web.sensors.models import Gateway, Probe

pytestmark = pytest.mark.browser

MESSY = """Fenwick Soil Room;;;
Sample;pH;P (Olsen) mg/kg;K mg/kg
Long Border 7;5,8;22;240000
Quiet bed;66;<1;66
Nobody's bed;6,1;14;70
"""


def test_a_messy_file_is_read_in_with_two_rows_corrected(signed_in, live_server):
    page = signed_in
    page.goto(live_server.url + "/readings/files/")
    page.get_by_label("The laboratory's file").set_input_files({"name": "messy.csv", "mimeType": "text/csv", "buffer": MESSY.encode()})
    page.get_by_label("Laboratory", exact=True).fill("Fenwick Soil Room")
    page.get_by_role("button", name="Look it over").click()
    expect(page.get_by_text("Decimals are written with a comma.")).to_be_visible()
    page.get_by_label("How was pH measured?").select_option("water 1:1")
    page.get_by_label("D3, value").fill("240")
    page.get_by_role("button", name="Yes, 6.6: B4").click()
    expect(page.get_by_label("D3, value")).to_have_count(0)
    expect(page.get_by_label("“Nobody's bed”")).to_have_value("")
    page.get_by_role("button", name="Read 2 reports in").click()
    expect(page.get_by_text("messy.csv: 2 reports read in")).to_be_visible()
    made = LabReport.objects.filter(source_file__isnull=False)
    assert sorted(line.typed for slip in made for line in slip.lines.filter(analyte__in=["pH", "K"])) == ["240", "5.8", "6.6", "66"]
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.get_by_text("Undone: 2 reports of messy.csv")).to_be_visible()
    assert not LabReport.objects.filter(source_file__isnull=False).exists()


SLOW_LINE = """
  const { send, abort } = XMLHttpRequest.prototype;
  XMLHttpRequest.prototype.send = function (body) { this.waits = setTimeout(() => send.call(this, body), 900); };
  XMLHttpRequest.prototype.abort = function () {
    clearTimeout(this.waits);
    abort.call(this);
    this.dispatchEvent(new ProgressEvent("abort"));
  };
"""


def test_what_is_typed_while_a_slow_line_answers_stays(signed_in, live_server):
    page = signed_in
    page.add_init_script(SLOW_LINE)
    page.goto(live_server.url + "/readings/new/")
    with page.expect_response("**/lines-for-lab/"):
        page.get_by_label("Laboratory, kit or meter").fill("Fenwick Soil Room")
        page.get_by_label("Soil pH, value").click()
        page.keyboard.type("5.8", delay=60)
        page.keyboard.press("Enter")
        page.keyboard.type("6.7", delay=60)
    expect(page.get_by_label("Soil pH, value")).to_have_value("5.8")
    page.keyboard.type("4")
    assert page.evaluate("document.activeElement.value") == "6.74"  # focus and caret stay as well
    page.goto(live_server.url + "/ground/new/")
    with page.expect_response(lambda answer: "fields" in answer.url and "lawn" in (answer.request.post_data or "")):
        page.get_by_role("radio", name="single tree or shrub").check()
        page.get_by_role("radio", name="lawn").check()  # the answer for the tree is dropped
        page.get_by_label("Depth").fill("12 cm")
    expect(page.get_by_label("Area")).to_be_visible()
    expect(page.get_by_label("Depth")).to_have_value("12 cm")


def test_a_pasted_mail_makes_sixteen_beds_at_once_and_is_read_in(signed_in, live_server):
    beds = [f"Bed {number}" for number in range(1, 17)]
    mail = "Subject: your soils\n\n" + "\n".join(f"Sample: {bed}\npH: 6,{place % 10}\nP: 14 mg/100g\n" for place, bed in enumerate(beds))
    page = signed_in
    page.goto(live_server.url + "/readings/files/")
    page.get_by_label("Or paste the results").fill(mail)
    page.get_by_role("button", name="Look it over").click()
    expect(page.get_by_text("Make 16 plots of the names that match nothing")).to_be_visible()
    page.get_by_label("Crop to plan for").fill("cabbage")
    page.get_by_label("Size of each").fill("12 m2")
    page.get_by_role("button", name="Make the plots").click()
    page.get_by_role("button", name="Read 16 reports in").click()
    expect(page.get_by_text("16 reports read in")).to_be_visible()
    made = LabReport.objects.filter(plot__name__in=beds)
    assert sorted(line.typed for slip in made for line in slip.lines.filter(analyte="pH")) == sorted(f"6.{n % 10}" for n in range(16))


def test_a_kit_keeps_its_time_over_a_reload(signed_in, live_server, house):
    page = signed_in
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(live_server.url + "/readings/kits/")
    page.get_by_label("Plot").select_option(label="Bare bed")
    page.get_by_role("button", name="Hedgerow Four: pH", exact=True).click()
    for _ in range(2):
        page.get_by_role("button", name="Done, next step").click()
    page.get_by_role("button", name="Done, next step").click()  # the shaking was not begun
    page.get_by_role("button", name="Go on all the same").click()
    page.get_by_role("button", name="Start the time").click()
    timer = page.get_by_role("timer")
    expect(timer).to_have_text(re.compile(r"4:5\d|5:00"))
    KitRun.objects.update(step_began_at=timezone.now() - timedelta(seconds=298))  # the phone was locked for a while
    page.reload()
    expect(page.get_by_text("The time is up: go on now.")).to_be_visible(timeout=10_000)
    page.get_by_role("button", name="Done, next step").click()
    page.get_by_role("button", name="between 5.5 and the next").click()
    expect(page.get_by_role("heading", name="Bare bed")).to_be_visible()
    assert LabReport.objects.get(how="kit").lines.get().typed == "5.5-6"
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_a_meter_is_watched_until_it_holds_still(signed_in, live_server, settings):
    settings.METER_SPEED = 8.0
    page = signed_in
    page.goto(live_server.url + "/readings/meter/")
    page.get_by_label("gives, mV").first.fill("3")
    page.get_by_label("gives, mV").last.fill("174")
    page.get_by_role("button", name="Check the electrode").click()
    expect(page.get_by_text("The electrode is sound.")).to_be_visible()
    for count in (1, 2):
        page.get_by_role("button", name="The electrode is in").click()
        page.get_by_role("button", name="Take this reading").click(timeout=30_000)
        expect(page.get_by_role("button", name=f"Drop reading {count}")).to_be_visible()
    page.get_by_role("button", name="Keep as a report").click()
    expect(page.get_by_text(re.compile("2 readings: "))).to_be_visible()
    assert len(MeterSession.objects.get().readings) == 2


def test_a_sensor_is_seen_to_go_stale(signed_in, live_server, house, page):
    page = signed_in
    page.goto(live_server.url + "/sensors/gateways/")
    page.get_by_label("Name").fill("Yard gateway")
    page.get_by_role("button", name="Make it, and show its token").click()
    token = page.locator(".token").first.inner_text()
    page.get_by_role("link", name="Name its probes").click()
    page.get_by_label("Its name in the gateway").fill("m-1")
    page.get_by_label("Name", exact=False).last.fill("Border, moist")
    page.get_by_role("button", name="Add it").click()
    body = {"readings": [{"probe": "m-1", "at": timezone.now().isoformat(), "value": 23.4}]}
    answer = page.request.post(
        live_server.url + "/sensors/api/readings/",
        data=json.dumps(body),
        headers={"Authorization": f"Bearer {token}", "Content-Type": "application/json"},
    )
    assert answer.json()["stored"] == 1
    page.goto(live_server.url + "/sensors/")
    expect(page.get_by_role("row", name=re.compile("Border, moist")).get_by_text("ok", exact=True)).to_be_visible()
    Probe.objects.update(last_at=timezone.now() - timedelta(hours=7))
    Probe.objects.get().readings.update(at=timezone.now() - timedelta(hours=7))
    page.reload()
    expect(page.get_by_text("silent for 7 hours")).to_be_visible()
    assert Gateway.objects.get().heard_at is not None


def test_a_slip_of_leaves_leads_to_its_verdict(signed_in, live_server, house):
    house.plots.get(name="Quiet bed").plantings.update(crop="tomato")
    page = signed_in
    page.goto(live_server.url + "/readings/new/?medium=leaf")
    page.get_by_label("Plot").select_option(label="Quiet bed")
    page.get_by_label("Stage of the crop").fill("first flower")
    page.get_by_label("Which leaves").fill("newest fully grown leaf with stalk")
    page.get_by_label("Sampled on").fill("2026-06-20")
    page.get_by_label("Nitrogen, value", exact=True).fill("2.1")
    page.get_by_label("Potassium, value", exact=True).fill("5")
    page.get_by_role("button", name="Keep this report").last.click()
    expect(page.get_by_role("heading", name="What the leaves of tomato say")).to_be_visible()
    expect(page.get_by_text("nitrogen: 2.1 % where tomato needs")).to_be_visible()
    expect(page.get_by_role("img", name="The readings as a rake")).to_be_visible()


def test_a_waters_analysis_reaches_the_plan_of_a_tub(signed_in, live_server, house):
    page = signed_in
    page.goto(live_server.url + "/ground/waters/")
    page.get_by_label("Name").fill("House tap")
    press(page, "Keep", exact=True)
    page.goto(live_server.url + "/readings/new/?medium=water")
    page.get_by_label("Water").first.select_option(label="House tap")
    page.get_by_label("Sampled on").fill("2026-06-20")
    page.get_by_label("Alkalinity, value").fill("260")
    page.get_by_role("button", name="Keep this report").last.click()
    tub = plot(house, "Terrace tub", crop="patio_tub", kind="container", mix="peat_bark", sizes={"count": "1", "volume": "40 L"})
    slip(tub, [("pH", "7.2", "", "water 1:1")])
    page.goto(f"{live_server.url}/ground/{tub.pk}/edit/")
    page.get_by_text("More about this ground").click()
    page.get_by_label("With which water").select_option(label="House tap")
    press(page, "Keep")
    page.goto(f"{live_server.url}/plans/plot/{tub.pk}/")
    expect(page.get_by_text("alkalinity").first).to_be_visible()


def test_a_kit_of_ones_own_is_described_walked_through_and_kept(signed_in, live_server, house):
    page = signed_in
    page.goto(live_server.url + "/readings/kits/new/")
    page.get_by_label("Name of the kit").fill("Shelf kit")
    page.get_by_label("Name of the test").fill("Acidity")
    page.get_by_label("What it measures").select_option("pH")
    page.get_by_label("Steps, one a line").fill("Shake it well [shake 30]\nHold it to the light")
    page.get_by_label("Colours, one a line").fill("#d9742d 4.5\n#a5b84e 6-7 nearly neutral")
    page.get_by_role("button", name="Keep this test").click()
    page.get_by_role("button", name="Shelf kit: Acidity").click()
    page.get_by_role("button", name="Done, next step").click()
    expect(page.get_by_role("alert")).to_contain_text("still to come")
    page.get_by_role("button", name="Go on all the same").click()
    page.get_by_role("button", name="nearly neutral").click()
    expect(page.get_by_text("30 s before its time")).to_be_visible()
    assert LabReport.objects.get(lab="Shelf kit").lines.get().own_error
