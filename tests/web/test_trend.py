"""The chart looks ahead, and says what the plot's own tests have shown; plans go by it where its owner wants."""

from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from tests.helpers.holdings import plot, slip
from web.readings.models import LabResult
from web.records.models import LogEntry


@pytest.fixture
def limed(thornmere):
    """Two stretches of two years after lime, each with less rise than the table would have."""
    made, today = plot(thornmere, "Far Bed", area_m2=1000.0), timezone.localdate()
    for years, ph, kg in ((4, "5.5", 250), (2, "5.8", 180), (0, "5.95", 0)):
        day = today - timedelta(days=365 * years + 5)
        slip(made, [("pH", ph, "", "water 1:1")], taken_on=day)
        if kg:
            about = {"material": "limestone_flour", "name": "limestone flour", "kg": kg, "done_on": day + timedelta(days=20)}
            LogEntry.objects.create(holding=thornmere, plot=made, **about)
    return made


def test_the_chart_looks_ahead_and_the_ground_is_learnt_and_used(grower, limed):
    chart, learn = reverse("chart_page", args=[limed.pk]), reverse("chart_learn", args=[limed.pk])
    page = grower.get(chart).content.decode()
    assert "history__ahead" in page
    assert "Your ground needs 1.5 times the table’s lime" in page
    assert page.count('<th scope="row">') == 2
    bench = reverse("planning:bench", args=[limed.pk])
    assert "By 3 tests of this ground" not in grower.get(bench).content.decode()
    grower.post(learn, {"use": "yes"})
    limed.refresh_from_db()
    assert limed.own_buffering["tests"] == 3
    page = grower.get(reverse("planning:schools", args=[limed.pk])).content.decode() + grower.get(bench).content.decode()
    assert "By 3 tests of this ground" in page
    grower.post(learn)
    limed.refresh_from_db()
    assert limed.own_buffering is None


def test_potash_is_learnt_and_used_beside_lime(grower, limed):
    today = timezone.localdate()
    limed.plantings.update(crop="onion")
    limed.texture, limed.school = "clay loam", "build_maintain"
    limed.save()
    for number, report in enumerate(limed.slips.order_by("taken_on")):
        LabResult.objects.create(slip=report, place=9, analyte="K", typed=f"{110 + 3 * number}", unit="mg/kg", method="Mehlich 3")
        about = {"material": "potassium_sulfate", "name": "sulfate of potash", "kg": 120, "done_on": report.taken_on + timedelta(days=40)}
        if report.taken_on < today - timedelta(days=300):
            LogEntry.objects.create(holding=limed.holding, plot=limed, **about)
    chart, learn = f"{reverse('chart_page', args=[limed.pk])}?analyte=K", reverse("chart_learn", args=[limed.pk])
    assert "One step of this test takes" in grower.get(chart).content.decode()
    assert grower.post(learn, {"use": "yes", "analyte": "K"}).url == chart
    limed.refresh_from_db()
    assert (limed.own_pools["K"]["tests"], limed.own_buffering) == (3, None)
    assert "tests of this ground a step takes" in grower.get(reverse("planning:schools", args=[limed.pk])).content.decode()
    grower.post(learn, {"analyte": "K"})
    limed.refresh_from_db()
    assert limed.own_pools == {}


def test_a_test_that_surprises_asks_in_order_and_teaches_nothing(grower, limed):
    slip(limed, [("pH", "7.9", "", "water 1:1")], taken_on=timezone.localdate())
    page = grower.get(reverse("chart_page", args=[limed.pk])).content.decode()
    assert page.index("the same unit") < page.index("Old lime still there")
    assert "questions come first" in page


def test_a_plot_with_one_test_has_nothing_to_show(grower, border):
    assert "What this ground has shown" not in grower.get(reverse("chart_page", args=[border.pk])).content.decode()
    answer = grower.post(reverse("chart_learn", args=[border.pk]), {"use": "yes"}, follow=True)
    assert "Nothing is learnt of this ground yet" in answer.content.decode()
