"""Working days, photos of what was done, traces on the list, and what was spread lately."""

import io
import json
from datetime import timedelta

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone
from PIL import Image

from tests.helpers.holdings import holding, plot
from tests.helpers.pages import page, text_of
from web.changes.models import Change
from web.jobs.models import Job
from web.people.models import Holding
from web.readings.models import LabResult
from web.records.models import LogEntry, LogPhoto

ALL_THE_SAME = {"settle": "keep", "reason": "it is here"}


def work(of, **fields) -> Job:
    today = timezone.localdate()
    usual = {"material": "urea", "name": "urea", "what": "N", "kg": 1.0, "from_day": today, "to_day": today + timedelta(days=5)}
    return Job.objects.create(holding=of.holding, plot=of, **usual | fields)


def picture(size=(2400, 1200), form="JPEG", exif=None) -> SimpleUploadedFile:
    made = io.BytesIO()
    Image.new("RGB", size, "#7a8f5a").save(made, form, **({"exif": exif} if exif else {}))
    return SimpleUploadedFile(f"photo.{form.lower()}", made.getvalue())


def test_days_that_are_not_free_hold_plans_off_and_can_be_taken_out(grower, border, thornmere):
    address = reverse("jobs:days")
    grower.post(address, {"kind": "weekdays", "weekdays": ["saturday"]})
    grower.post(address, {"kind": "away", "first": "2099-04-01", "last": "2099-04-30"})
    refused = grower.post(address, {"kind": "away", "first": "2099-04-02", "last": "2099-04-01"})
    assert refused.status_code == 422
    assert "ends before it begins" in text_of(refused)
    thornmere.refresh_from_db()
    assert thornmere.hands == {"weekdays": ["saturday"], "away": [{"begins": "2099-04-01", "ends": "2099-04-30"}]}
    assert "1 Apr 2099 to 30 Apr 2099" in page(grower, "jobs:days")
    grower.post(reverse("planning:adopt", args=[border.pk]))
    jobs = Job.objects.filter(plot=border)
    assert jobs
    assert all(job.from_day.weekday() == 5 for job in jobs)
    assert not [job for job in jobs if (job.from_day.year, job.from_day.month) == (2099, 4)]
    grower.post(reverse("jobs:drop_days"), {"row": json.dumps(thornmere.hands["away"][0])})
    grower.post(reverse("jobs:drop_days"), {"row": "no row"})
    assert Holding.objects.get(pk=thornmere.pk).hands["away"] == []
    grower.post(address, {"kind": "weekdays", "weekdays": ["monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"]})
    assert Holding.objects.get(pk=thornmere.pk).hands["weekdays"] == []


def test_days_on_which_nobody_is_there_do_not_serve(grower, border, thornmere):
    tomorrow = timezone.localdate() + timedelta(days=1)
    thornmere.climate, thornmere.hands = "olive_shore", {"away": [{"begins": tomorrow.isoformat(), "ends": tomorrow.isoformat()}]}
    thornmere.save()
    told = page(grower, "jobs:job", work(border).pk)
    assert "day off" in told


def test_a_photo_is_kept_small_without_its_place_and_only_for_its_people(grower, client, border, thornmere):
    exif = Image.Exif()
    exif[0x0112] = 6  # the camera was held upright
    exif[0x010E] = "behind the house"
    job = work(border, material="gypsum", name="gypsum")
    data = {"amount": "1 kg", "done_on": timezone.localdate().isoformat(), "photo": picture(exif=exif)}
    assert grower.post(reverse("jobs:job", args=[job.pk]), data).status_code == 302
    entry = LogEntry.objects.get()
    kept = Image.open(io.BytesIO(bytes(entry.photo.jpeg)))
    assert (kept.format, kept.size, dict(kept.getexif())) == ("JPEG", (800, 1600), {})
    answer = grower.get(reverse("records:photo", args=[entry.photo_id]))
    assert answer["Content-Type"] == "image/jpeg"
    assert f"/jobs/log/photo/{entry.photo_id}.jpg" in page(grower, "records:log")
    stranger = holding("Elsewhere").members.get()
    client.force_login(stranger)
    assert client.get(reverse("records:photo", args=[entry.photo_id])).status_code == 404
    grower.post(reverse("records:correct", args=[entry.pk]), {"amount": "2 kg", "done_on": timezone.localdate().isoformat()})
    assert LogEntry.objects.get(stands=True).photo == entry.photo


@pytest.mark.parametrize(
    ("file", "says"),
    [
        (SimpleUploadedFile("a.jpg", b"no picture at all"), "cannot read that photo"),
        (picture(form="GIF", size=(9, 9)), "cannot read that photo"),
    ],
)
def test_what_is_no_photo_is_refused_and_nothing_typed_is_lost(grower, border, file, says):
    job = work(border)
    answer = grower.post(
        reverse("jobs:job", args=[job.pk]),
        {"amount": "1.5 kg", "done_on": timezone.localdate().isoformat(), "note": "by the wall", "photo": file},
    )
    assert answer.status_code == 422
    told = text_of(answer)
    assert says in told
    assert "by the wall" in told
    assert not LogEntry.objects.exists()


def test_a_photo_that_an_undo_left_behind_goes_after_its_time(grower, border, thornmere):
    old = LogPhoto.objects.create(holding=thornmere, jpeg=b"jpeg")
    LogPhoto.objects.update(made_at=timezone.now() - timedelta(days=40))
    young = LogPhoto.objects.create(holding=thornmere, jpeg=b"jpeg")
    data = {
        "plot": border.pk,
        "material": "gypsum",
        "amount": "1 kg",
        "done_on": timezone.localdate().isoformat(),
        "photo": picture((40, 40), "PNG"),
    }
    grower.post(reverse("records:log"), data)
    assert set(LogPhoto.objects.values_list("pk", flat=True)) == {young.pk, LogEntry.objects.get().photo_id}
    assert old.pk != young.pk


def test_a_short_trace_goes_on_the_list_as_often_as_it_is_sprayed(grower, border):
    refused = grower.post(reverse("desks:trace_jobs", args=[border.pk]), {"element": "Mn", "way": "leaf"}, follow=True)
    assert "That is not short by a test here" in text_of(refused)
    LabResult.objects.create(slip=border.slips.get(), place=9, analyte="Mn", typed="0.3", unit="mg/kg", method="DTPA")
    assert "Add to jobs" in page(grower, "desks:traces", border.pk, element="Mn")
    grower.post(reverse("desks:trace_jobs", args=[border.pk]), {"element": "Mn", "way": "leaf"})
    first, second = Job.objects.filter(what="Mn").order_by("from_day")
    assert second.from_day - first.from_day >= timedelta(days=10)
    assert first.way == "leaf"
    told = page(grower, "jobs:job", first.pk)
    assert "when no bees fly" in told
    grower.post(reverse("jobs:job", args=[first.pk]), {"amount": "1 g", "done_on": timezone.localdate().isoformat()})
    told = page(grower, "jobs:job", second.pk)
    assert "leaf feed soon after another" not in told  # its own day comes late enough
    second.from_day = timezone.localdate()
    second.save()
    assert "One leaf feed soon after another" in page(grower, "jobs:job", second.pk)


def test_a_load_of_manure_goes_on_the_list_with_its_weeks_ahead(grower, border):
    assert "Add to jobs" in page(grower, "desks:manure", border.pk, manure="cattle_manure", worked_in="one_day", phosphate="any")
    for typed, says in (("much", "number"), ("900", "200 t/ha"), ("0", "0.01 to 200")):
        refused = text_of(
            grower.post(reverse("desks:load_job", args=[border.pk]), {"material": "cattle_manure", "rate": typed}, follow=True)
        )
        assert says in refused
    assert "no manure or compost" in text_of(
        grower.post(reverse("desks:load_job", args=[border.pk]), {"material": "urea", "rate": "9"}, follow=True)
    )
    told = text_of(
        grower.post(reverse("desks:load_job", args=[border.pk]), {"material": "cattle_manure", "rate": "25,5"} | ALL_THE_SAME, follow=True)
    )
    job = Job.objects.get()
    assert job.kg == pytest.approx(25.5 * 1000 * 18 / 10_000)
    assert (border.planting.planted_on - job.to_day).days >= 14
    assert "raw manure only well before any food harvest" in told


def test_what_must_lie_apart_from_what_was_put_on_lately_is_told(grower, border, thornmere):
    LogEntry.objects.create(
        holding=thornmere, plot=border, material="hydrated_lime", name="slaked lime", kg=2, done_on=timezone.localdate() - timedelta(days=3)
    )
    told = page(grower, "jobs:job", work(border).pk)
    assert "28 days apart" in told
    assert "ammonia" in told


def test_a_new_plan_leaves_the_jobs_of_programmes_and_desks_alone(grower, border, thornmere):
    bales = plot(thornmere, "Zinnia bales", "zinnia", kind="bale", sizes={"bales": 8})
    grower.post(
        reverse("jobs:programme", args=["bale_start"]),
        {"plot": bales.pk, "start": "2099-05-01", "count": "8", "instead_urea": "feather_meal"},
    )
    fed = Job.objects.filter(plot=bales, material="feather_meal")
    assert fed.count() == 6
    assert "can pass 60 °C" in page(grower, "jobs:job", fed.first().pk)
    assert fed.first().from_day == fed.first().to_day  # a day's work, not a week's
    mulch = work(border, what="step")
    grower.post(reverse("planning:adopt", args=[border.pk]))
    mulch.refresh_from_db()
    assert mulch.state == "open"
    grower.post(reverse("changes:undo", args=[Change.objects.first().pk]))
    mulch.refresh_from_db()
    assert mulch.state == "open"
