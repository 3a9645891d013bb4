"""A trial from design to result: laid out by lot, weighed, told with its interval, and undone."""

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from tests.agronomy.test_trial import observed
from tests.helpers.pages import text_of
from tests.web.test_watch import jpeg
from web.changes.models import Change
from web.jobs.models import Job
from web.supplies.models import StockLot
from web.trials.finding import units_of
from web.trials.models import Trial, TrialPhoto

NAMES = ["none", "lime_half", "lime_full", "ash", "rock_dust"]
ABOUT = {"name": "Lime for beetroot", "question": "Does lime pay here?", "kind": "beds", "blocks": "4", "measured": "yield", "unit": "kg"}


@pytest.fixture
def laid(grower, border):
    told = ABOUT | {"plot": border.pk, "treatments": "\n".join(NAMES), "worth": "0.5", "begun_on": "2026-04-01"}
    assert grower.post(reverse("trials:new_trial"), told).status_code == 302
    return Trial.objects.get()


def weigh(grower, trial, **more):
    by_place = {(item.treatment, item.block): item.value for item in observed("rcbd_beetroot")}
    told = {f"unit-{unit.number}": str(by_place[unit.treatment, unit.block]) for unit in units_of(trial)}
    return grower.post(reverse("trials:trial", args=[trial.pk]), told | more)


def test_a_trial_goes_from_the_lot_to_its_result(grower, laid):
    address = reverse("trials:trial", args=[laid.pk])
    first = laid.seed
    grower.post(reverse("trials:redraw", args=[laid.pk]))
    laid.refresh_from_db()
    assert laid.seed != first
    assert weigh(grower, laid, price="2", **{"cost-2": "1"}).status_code == 302
    page = text_of(grower.get(address))
    assert "kg more than the control (0.658 to 1.99 kg): larger than chance here, and worth having." in page
    assert page.count("Not shown: it could be") == 3
    assert "€1.65 (€0.61 to €2.69)" in page
    assert "F 9.87 with 4 and 12 degrees of freedom, p 0.0009" in page
    assert "rock_dust" not in text_of(grower.get(address, {"blind": "on"}))
    laid.refresh_from_db()
    seed = laid.seed
    grower.post(reverse("trials:redraw", args=[laid.pk]))  # what is weighed is never drawn anew
    laid.refresh_from_db()
    assert laid.seed == seed
    grower.post(reverse("changes:undo", args=[Change.objects.first().pk]))
    laid.refresh_from_db()
    assert laid.values == {}


def test_a_wrong_value_is_said_beside_its_unit_and_the_rest_stays(grower, laid):
    answer = weigh(grower, laid, **{"unit-101": "six"})
    assert answer.status_code == 422
    page = answer.content.decode()
    assert 'aria-describedby="error-unit-101"' in page
    assert 'value="six"' in page


def test_how_many_repeats_is_told_before_a_trial_is_laid_out(grower, border):
    told = [
        text_of(grower.get(reverse("trials:trials"), {"scatter": scatter, "difference": "20", "arms": "2"})) for scatter in ("10", "25")
    ]
    assert "7 blocks show it" in told[0]
    assert "27 blocks" in told[1]


@pytest.mark.parametrize("treatments", ["nothing", "nothing\nnothing", "\n".join(str(number) for number in range(9))])
def test_treatments_that_make_no_trial_are_refused(grower, border, treatments):
    told = ABOUT | {"plot": border.pk, "treatments": treatments, "worth": "0.5", "begun_on": "2026-04-01"}
    assert grower.post(reverse("trials:new_trial"), told).status_code == 422
    assert not Trial.objects.exists()


def test_doses_of_real_materials_are_weighed_out_go_on_the_list_and_say_what_they_mix_up(grower, laid):
    address = reverse("trials:trial", args=[laid.pk])
    StockLot.objects.create(holding=laid.holding, material="wood_ash", kg=20, price_per_kg=0.5)
    told = {"length": "2", "width": "1", "guard": "0.3", "before_what": "pH", "material_3": "wood_ash", "rate_3": "200 g/m2"}
    assert grower.post(reverse("trials:doses", args=[laid.pk]), told | {"rate_3": ""}).status_code == 422
    assert grower.post(reverse("trials:doses", args=[laid.pk]), told).status_code == 302
    page = text_of(grower.get(address))
    assert "400 g" in page
    assert 'fill="url(#guard)"' in grower.get(address).content.decode()
    assert "Ash brings lime" in page
    laid.refresh_from_db()
    assert laid.costs == {"ash": 0.2}
    grower.post(reverse("trials:put_doses_on_list", args=[laid.pk]), {"settle": "keep", "reason": "the trial asks"})
    assert Job.objects.get().kg == pytest.approx(1.6)
    grower.post(reverse("trials:measure_on", args=[laid.pk]), {"what": "yield", "day": "2027-07-01"})
    assert Job.objects.get(what="measure").name == "Measure yield"
    before = {f"before-{unit.number}": str(5 + unit.block / 10 + unit.place / 50) for unit in units_of(laid)}
    assert weigh(grower, laid, **before).status_code == 302
    assert "units alike in pH" in text_of(grower.get(address))


def test_values_go_out_and_come_in_as_a_sheet_and_a_wrong_row_is_named(grower, laid):
    weigh(grower, laid)
    sheet = grower.get(reverse("trials:data_csv", args=[laid.pk])).content.decode()
    assert sheet.splitlines()[0] == "unit,block,place,treatment,before,value"
    assert "lime_full,7.375,1.325," in sheet
    kept = Trial.objects.get().values
    grower.post(reverse("trials:data_in", args=[laid.pk]), {"pasted": "101;9,9"})
    assert Trial.objects.get().values == kept | {"101": "9,9"}
    for pasted, says in (
        ("999;1", "Row 1: “999” is no unit"),
        ("unit,value\n102,six", "Row 2:"),
        ("", "paste rows"),
        (" ; ; ", "nothing in these rows"),
    ):
        answer = grower.post(reverse("trials:data_in", args=[laid.pk]), {"pasted": pasted})
        assert answer.status_code == 422
        assert says in text_of(answer)


def test_photos_of_a_day_lie_side_by_side_and_go_out_again(grower, laid):
    for number in ("101", "102"):
        about = {"unit": number, "taken_on": "2026-06-01", "photo": SimpleUploadedFile("a.jpg", jpeg(), "image/jpeg")}
        assert grower.post(reverse("trials:add_photo", args=[laid.pk]), about).status_code == 302
    page = grower.get(reverse("trials:trial", args=[laid.pk])).content.decode()
    assert page.count("seen__photo") == 2
    seed = laid.seed
    grower.post(reverse("trials:redraw", args=[laid.pk]))  # a photo of 101 must stay one of its treatment
    laid.refresh_from_db()
    assert laid.seed == seed
    grower.post(reverse("trials:drop_photo", args=[TrialPhoto.objects.first().pk]))
    assert TrialPhoto.objects.count() == 1
    assert grower.get(reverse("trials:labels", args=[laid.pk])).content.decode().count('class="label"') == 20
