"""Sampling rounds: bags, walks, labels, states, the phone page."""

from datetime import date, timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from agronomy.sampling.codes import code_in
from tests.helpers.holdings import plot, slip
from tests.helpers.pages import text_of
from web.ground.models import Plot
from web.sampling.models import Sample, SamplingRound


@pytest.fixture
def planned(grower, border, thornmere):
    border.shape = {"type": "rectangle", "x": 0.0, "y": 0.0, "length": 15.0, "width": 1.2}
    border.west, border.south, border.east, border.north = 0, 0, 15, 1.2
    border.save()
    paddock = plot(thornmere, "Paddock", kind=Plot.Kind.PASTURE, crop="pasture")
    data = {
        "name": "Autumn",
        "planned_on": "2026-10-01",
        "lab": "Marlow Lane",
        "tests": "pH, P",
        "cost_each": "18.5",
        "variability": "ordinary",
        "plots": [border.pk, paddock.pk],
        "pair": "",
    }
    assert grower.post(reverse("sampling:new_round"), data).status_code == 302
    return SamplingRound.objects.get()


def test_a_round_makes_bags_with_walks_ids_and_depths(grower, planned):
    samples = {sample.plot.name: sample for sample in planned.samples.all()}
    bed = samples["Long Border 7"]
    assert len(bed.walk["cores"]) == bed.cores_wanted == 11
    assert samples["Paddock"].bottom_cm == 10
    assert all(code_in(sample.code) == sample.code for sample in samples.values())
    page = text_of(grower.get(reverse("sampling:round", args=[planned.pk])))
    assert "€37.00 for all" in page
    assert "planned" in page


def test_a_good_and_a_bad_place_are_two_bags_and_nitrate_more_layers(grower, border):
    data = {"name": "Pair", "planned_on": "2026-10-01", "variability": "patchy", "plots": [border.pk], "pair": "on", "nitrate": "on"}
    grower.post(reverse("sampling:new_round"), data)
    assert sorted(Sample.objects.values_list("role", "top_cm", "bottom_cm")) == [
        ("bad", 0, 15),
        ("bad", 0, 30),
        ("bad", 30, 60),
        ("good", 0, 15),
        ("good", 0, 30),
        ("good", 30, 60),
    ]


def test_labels_have_ids_and_codes_from_the_first_free_label_on(grower, planned):
    page = text_of(grower.get(reverse("sampling:labels", args=[planned.pk]) + "?sheet=a4_21&first=21"))
    assert page.count('class="label-page"') == 2
    assert all(sample.code in page for sample in planned.samples.all())
    assert page.count("crispEdges") == 2
    forms = text_of(grower.get(reverse("sampling:lab_forms", args=[planned.pk])))
    assert forms.count("Tests wanted") == 2
    assert "keep the sample's ID" in forms.replace("&#x27;", "'")


def test_cores_are_marked_at_the_plot_until_the_bag_is_full(grower, planned):
    bag = planned.samples.first()
    for number in range(1, bag.cores_wanted + 1):
        answer = grower.post(reverse("sampling:mark_core", args=[bag.code, number]), headers={"HX-Request": "true"})
        assert answer.status_code == 200
    assert "All in the bucket" in text_of(answer)
    bag.refresh_from_db()
    assert bag.taken_on == timezone.localdate()
    grower.post(reverse("sampling:mark_core", args=[bag.code, 1]))
    bag.refresh_from_db()
    assert bag.taken_on is None
    assert grower.post(reverse("sampling:mark_core", args=[bag.code, 99])).status_code == 404


def test_states_run_from_planned_to_in_and_late_ones_are_told(grower, planned):
    for step in ("taken", "sent"):
        grower.post(reverse("sampling:mark_all", args=[planned.pk, step]))
    planned.samples.update(sent_on=timezone.localdate() - timedelta(days=30))
    assert "Overdue at the laboratory" in text_of(grower.get(reverse("sampling:rounds")))
    bag = planned.samples.first()
    wrong = {"taken_on": "2026-10-05", "sent_on": "2026-10-01"}
    assert "lies before" in text_of(grower.post(reverse("sampling:sample", args=[bag.pk]), wrong))


def test_plots_come_due_by_crop_and_soil(grower, thornmere):
    old = plot(thornmere, "Old bed")
    slip(old, taken_on=date(2022, 10, 3))
    assert "was due" in text_of(grower.get(reverse("sampling:rounds")))


def test_a_round_of_nothing_is_refused(grower, border):
    assert "Tick at least one plot" in text_of(
        grower.post(reverse("sampling:new_round"), {"name": "x", "planned_on": "2026-10-01", "variability": "even"})
    )
