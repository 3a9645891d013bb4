"""Kits, meters, leaves, waters, labels and sensors, from the first tap to the slip."""

import json
from datetime import date, timedelta

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from tests.helpers.holdings import slip, slip_data
from tests.helpers.pages import text_of
from web.ground.models import WaterSource
from web.readings.models import KitRun, LabReport, LabResult, MeterSession, OwnKit, OwnLeafCard
from web.readings.past import reading_of
from web.records.models import LogEntry
from web.sampling.selectors import last_dressing
from web.sensors.models import Gateway, Probe, ProbeReading
from web.sensors.selectors import soil_warmth


def test_a_kit_leads_through_its_steps_and_keeps_a_range(grower, border):
    started = grower.post(reverse("readings:kits"), {"plot": border.pk, "test": "hedgerow_four/ph"})
    run = started.url
    for _ in range(2):
        grower.post(run, {"next": "1", "anyway": "1"})
    grower.post(run, {"begin": "1"})
    KitRun.objects.update(step_began_at=timezone.now() - timedelta(seconds=20))
    page = text_of(grower.get(run))
    assert "data-deadline" in page
    assert KitRun.objects.get().step == 2
    grower.post(run, {"colour": "2-3"})
    kept = LabReport.objects.filter(how="kit").get()
    assert kept.lines.get().typed == "5-5.5"
    assert "two neighbours" in text_of(
        grower.post(grower.post(reverse("readings:kits"), {"plot": border.pk, "test": "hedgerow_four/ph"}).url, {"colour": "0-4"})
    )


def test_a_kit_for_water_tests_a_water_and_not_the_soil(grower, border, thornmere):
    start = {"plot": border.pk, "test": "millpond_drop/alkalinity"}
    assert grower.post(reverse("readings:kits"), start).url == reverse("ground:waters")
    tap = WaterSource.objects.create(holding=thornmere, name="House tap")
    run = grower.post(reverse("readings:kits"), start | {"water": tap.pk}).url
    grower.post(run, {"colour": "1"})
    kept = tap.slips.get()
    assert (kept.medium, kept.plot) == ("water", None)
    assert "What this water does" in text_of(grower.get(reverse("slip_page", args=[kept.pk])))


def test_a_kit_of_ones_own(grower, border):
    data = {
        "name": "Shelf kit",
        "test": "Acidity",
        "analyte": "pH",
        "steps": "Shake it well [shake 30]\nWait until clear [wait 120]",
        "colours": "#d9742d 4.5\n#a5b84e 6-7 nearly neutral",
    }
    assert grower.post(reverse("readings:own_kit"), data).status_code == 302
    assert OwnKit.objects.get().document["test"][0]["steps"][1]["wait_seconds"] == 120
    assert "six digits" in text_of(grower.post(reverse("readings:own_kit"), data | {"colours": "red 4\nblue 5"}))
    run = grower.post(reverse("readings:kits"), {"plot": border.pk, "test": "own:shelf_kit/acidity"}).url
    grower.post(run, {"colour": "1"})
    assert LabResult.objects.get(slip__lab="Shelf kit").typed == "6-7"


def test_a_kit_read_early_is_warned_of_and_keeps_a_wider_error(grower, border):
    run = grower.post(reverse("readings:kits"), {"plot": border.pk, "test": "hedgerow_four/ph"}).url
    for _ in range(2):
        grower.post(run, {"next": "1"})
    asked = grower.post(run, {"next": "1"})  # shaking for 60 s was not begun
    assert asked.status_code == 422
    assert "Go on all the same" in text_of(asked)
    grower.post(run, {"next": "1", "anyway": "1"})
    grower.post(run, {"next": "1", "anyway": "1"})
    grower.post(run, {"colour": "3"})
    early = LabResult.objects.get(slip__how="kit")
    assert "360 s before its time" in early.slip.note
    calm = LabResult(slip=early.slip, place=1, analyte="pH", typed=early.typed, unit=early.unit, method=early.method)
    assert early.own_error == pytest.approx(2 * reading_of(calm).u)


def test_kits_and_cards_are_shared_as_files_and_taken_in_elsewhere(grower, border, stranger):
    elsewhere = Client()
    elsewhere.force_login(stranger)
    test = {"steps": "Wait [wait 60]", "colours": "#d9742d 4.5\n#a5b84e 6.5"}
    grower.post(reverse("readings:own_kit"), {"name": "Shelf kit", "test": "Acidity", "analyte": "pH"} | test)
    panels = "2 #c9cf5a pale\n3 #9dba4d rather pale\n4,5 #2f6b36 dark"
    told = {"name": "Barn card", "position": "youngest leaf", "threshold": "3", "share_below": "6", "panels": panels}
    assert grower.post(reverse("readings:own_card"), told).status_code == 302
    assert "no panel" in text_of(grower.post(reverse("readings:own_card"), told | {"panels": "pale\ndark"}))
    leaves = {"plot": border.pk, "card": "own:barn_card", "leaves": "2;3", "add": "3.75"}
    assert "3 leaves" in text_of(grower.post(reverse("readings:leaf_card"), leaves))
    for file, door, model in (("kit_file", "own_kit", OwnKit), ("card_file", "own_card", OwnLeafCard)):
        mine = model.objects.get()
        sent = grower.get(reverse(f"readings:{file}", args=[mine.key]))
        assert elsewhere.get(reverse(f"readings:{file}", args=[mine.key])).status_code == 404
        upload = SimpleUploadedFile("shared.json", sent.content)
        assert elsewhere.post(reverse(f"readings:{door}"), {"share": "1", "file": upload}).status_code == 302
        theirs = model.objects.exclude(pk=mine.pk).get()
        assert (theirs.key, theirs.document) == (mine.key, mine.document)
        for content in (b'{"name": "x"}', b"[" * 100_000):
            broken = SimpleUploadedFile("shared.json", content)
            assert elsewhere.post(reverse(f"readings:{door}"), {"share": "1", "file": broken}).status_code == 422


def test_a_meter_is_calibrated_read_when_steady_and_averaged(grower, border):
    data = {
        "plot": border.pk,
        "meter": "Pocket meter",
        "method": "water 1:2.5",
        "ph_1": "7",
        "mv_1": "2",
        "ph_2": "4.01",
        "mv_2": "172",
        "temperature": "20",
    }
    assert "Clean the electrode" in text_of(grower.post(reverse("readings:meter"), data | {"mv_2": "140"}))
    session = grower.post(reverse("readings:meter"), data).url
    grower.post(session, {"put-in": "1"})
    assert "does not hold still" in text_of(grower.post(session, {"take": "1"}))
    MeterSession.objects.update(put_in_at=timezone.now() - timedelta(seconds=90))
    assert "Steady at pH" in text_of(grower.get(session + "live/"))
    grower.post(session, {"take": "1"})
    grower.post(session, {"typed": "1", "by_hand": "6,4"})
    assert "outside 2 to 12" in text_of(grower.post(session, {"typed": "1", "by_hand": "64"}))
    assert grower.post(session, {"keep": "1"}).status_code == 302
    line = LabReport.objects.get(how="meter").lines.get()
    assert line.own_error > 0.15
    assert line.method == "water 1:2.5"


def test_leaves_on_a_card_become_a_slip(grower, border):
    address = reverse("readings:leaf_card")
    page = text_of(grower.post(address, {"plot": border.pk, "card": "paddy_four", "leaves": "3;3;3;3;3;3;4;4;4", "add": "4"}))
    assert "the crop needs nitrogen" in page
    assert "goes from" in text_of(grower.post(address, {"plot": border.pk, "card": "paddy_four", "leaves": "", "add": "9"}))
    kept = grower.post(address, {"plot": border.pk, "card": "paddy_four", "leaves": "3;4;4", "keep": "1", "stage": "tillering"})
    assert "panel" in text_of(grower.get(kept.url))
    assert "What the soil says" in text_of(grower.get(reverse("planning:bench", args=[border.pk])))  # leaves are no soil


def test_waters_and_labels_are_judged_on_their_slips(grower, thornmere, border):
    tap = WaterSource.objects.create(holding=thornmere, name="House tap")
    data = slip_data(border, ("alkalinity", "17", "°dH", "titration"), water=tap.pk)
    said = text_of(grower.get(grower.post(reverse("readings:new_slip") + "?medium=water", data).url))
    assert "pushes pH up" in said
    lines = [
        ("neutralising value", "94", "% CaCO3", "not stated"),
        ("passing 2.36 mm", "95", "%", "not stated"),
        ("passing 0.85 mm", "70", "%", "not stated"),
        ("passing 0.25 mm", "50", "%", "not stated"),
    ]
    data = slip_data(border, *lines, material="Quarry lime", how="label")
    assert "Effective neutralising value" in text_of(grower.get(grower.post(reverse("readings:new_slip") + "?medium=material", data).url))
    assert "add to" in text_of(
        grower.get(
            grower.post(
                reverse("readings:new_slip") + "?medium=material",
                slip_data(
                    border, ("label N", "46", "%", "as it comes"), ("label K2O", "60", "%", "as it comes"), material="Odd bag", how="label"
                ),
            ).url
        )
    )


def test_a_jump_since_last_time_is_asked_about_and_mended_with_one_tap(grower, border):
    strange = slip_data(border, ("P", "236", "mg/kg", "Mehlich 3"), taken_on="2026-11-20")
    asked = grower.post(reverse("readings:new_slip"), strange)
    assert "Did you mean lb/acre?" in text_of(asked)
    late = slip(border, [("P", "236", "mg/kg", "Mehlich 3")], taken_on=timezone.localdate())
    page = text_of(grower.get(reverse("slip_page", args=[late.pk])))
    assert "Yes, lb/acre" in page
    grower.post(reverse("readings:fix_line", args=[late.pk, late.lines.get().pk]), {"unit": "lb/acre"})
    assert late.lines.get().unit == "lb/acre"


def test_what_was_put_on_explains_a_jump_and_what_was_only_planned_does_not(grower, border, thornmere):
    strange = slip_data(border, ("P", "236", "mg/kg", "Mehlich 3"), taken_on="2026-11-20")
    grower.post(reverse("planning:adopt", args=[border.pk]))
    asked = "Did you mean lb/acre?"
    assert asked in text_of(grower.post(reverse("readings:new_slip"), strange))
    about = {"holding": thornmere, "plot": border, "material": "triple_superphosphate", "name": "triple superphosphate", "kg": 4}
    LogEntry.objects.create(**about, done_on=date(2026, 11, 1), supplies={"P": 0.8, "CaCO3": 0.0})
    assert grower.post(reverse("readings:new_slip"), strange).status_code == 302
    assert last_dressing(border, date(2026, 11, 20)) == date(2026, 11, 1)


def test_two_slips_side_by_side_and_one_analyte_over_the_years(grower, border):
    later = slip(border, [("pH", "6.9", "", "water 1:1"), ("K", "60", "mg/kg", "Mehlich 3")], taken_on=timezone.localdate())
    page = text_of(grower.get(reverse("readings:compare"), {"first": border.slips.last().pk, "second": later.pk}))
    assert "higher, by more than the two errors" in page
    grower.post(reverse("planning:adopt", args=[border.pk]))
    chart = text_of(grower.get(reverse("chart_page", args=[border.pk]), {"analyte": "pH"}))
    assert chart.count('class="history__bar"') == 2
    assert "history__band" in chart


@pytest.fixture
def gateway(grower, thornmere, border):
    page = text_of(grower.post(reverse("sensors:gateways"), {"name": "Yard"}))
    token = page.split('<p class="token">')[1].split("</p>")[0]
    made = Gateway.objects.get()
    assert token not in made.token_sha256
    Probe.objects.create(gateway=made, key="m-1", name="Border, moist", quantity="moisture", plot=border, every_minutes=60)
    return token


def post(token: str, *readings, **more):
    return Client().post(
        reverse("sensors:post_readings"),
        json.dumps({"readings": list(readings)}),
        content_type="application/json",
        headers={"Authorization": f"Bearer {token}"},
        **more,
    )


def test_a_gateway_posts_once_however_often_it_sends_and_nonsense_is_refused(gateway, grower):
    now = timezone.now().replace(microsecond=0)
    good = {"probe": "m-1", "at": now.isoformat(), "value": 23.5}
    assert post(gateway, good).json() == {"stored": 1, "known": 0, "refused": []}
    assert post(gateway, good, good).json()["known"] == 2
    bad = [
        {**good, "value": 400},
        {**good, "probe": "x"},
        {**good, "at": "soon"},
        {**good, "at": (now + timedelta(days=1)).isoformat()},
        {**good, "value": "NaN"},
        "m-1",
    ]
    told = post(gateway, *bad).json()
    assert len(told["refused"]) == len(bad)
    assert all(item["mend"] for item in told["refused"])
    assert ProbeReading.objects.count() == 1
    assert "23.5" in text_of(grower.get(reverse("sensors:sensors")))


def test_the_door_is_shut_to_wrong_tokens_floods_and_junk(gateway, grower, settings):
    assert post("wrong").status_code == 401
    assert (
        Client()
        .post(reverse("sensors:post_readings"), "{", content_type="application/json", headers={"Authorization": f"Bearer {gateway}"})
        .status_code
        == 400
    )
    assert post(gateway).status_code == 400
    settings.SENSOR_POSTS_A_MINUTE = 3
    assert [post(gateway).status_code for _ in range(3)][-1] == 429
    grower.post(reverse("sensors:revoke", args=[Gateway.objects.get().pk]))
    assert post(gateway).status_code == 401


def test_a_probe_goes_stale_on_the_page(gateway, grower):
    Probe.objects.update(last_at=timezone.now() - timedelta(hours=9), last_value=21)
    page = text_of(grower.get(reverse("sensors:sensors")))
    assert "state--stale" in page
    assert "silent for 9 hours" in page


def test_a_sound_probe_warns_for_its_crop_and_warms_the_gates_and_a_stale_one_does_neither(gateway, grower, border, thornmere):
    made = Gateway.objects.get()
    border.plantings.update(crop="maize", planted_on=timezone.localdate())
    cold = Probe.objects.create(gateway=made, key="t-1", name="Border, warmth", quantity="temperature", plot=border, every_minutes=60)
    ProbeReading.objects.create(probe=cold, at=timezone.now(), value=4.0)
    Probe.objects.filter(pk=cold.pk).update(last_at=timezone.now(), last_value=4.0)
    assert "Cold for maize: 4 °C" in text_of(grower.get(reverse("sensors:sensors")))
    assert soil_warmth(thornmere) == {border.pk: 4.0}
    ProbeReading.objects.all().delete()
    Probe.objects.filter(pk=cold.pk).update(last_at=timezone.now() - timedelta(days=2))
    assert "Cold for maize" not in text_of(grower.get(reverse("sensors:sensors")))
    assert soil_warmth(thornmere) == {}
