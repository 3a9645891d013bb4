"""A trial from design to result: laid out by lot, weighed, told with its interval, and undone."""

import pytest
from django.urls import reverse

from tests.agronomy.test_trial import observed
from tests.helpers.pages import text_of
from web.changes.models import Change
from web.trials.models import Trial
from web.trials.views import _units

NAMES = ["none", "lime_half", "lime_full", "ash", "rock_dust"]
ABOUT = {"name": "Lime for beetroot", "question": "Does lime pay here?", "kind": "beds", "blocks": "4", "measured": "yield", "unit": "kg"}


@pytest.fixture
def laid(grower, border):
    told = ABOUT | {"plot": border.pk, "treatments": "\n".join(NAMES), "worth": "0.5", "begun_on": "2026-04-01"}
    assert grower.post(reverse("trials:new_trial"), told).status_code == 302
    return Trial.objects.get()


def weigh(grower, trial, **more):
    by_place = {(item.treatment, item.block): item.value for item in observed("rcbd_beetroot")}
    told = {f"unit-{unit.number}": str(by_place[unit.treatment, unit.block]) for unit in _units(trial)}
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
    assert 'aria-describedby="error-101"' in page
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
