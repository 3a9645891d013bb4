"""What a plot asks for is told alike on every page: made anew when the day, the reader's habits, the rules or the shed have changed."""

from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from tests.helpers.holdings import plot, slip
from tests.helpers.pages import page
from web.planning.models import PlotSummary
from web.supplies.models import StockLot


@pytest.fixture
def marked(grower, border):
    """The border's summary, as kept, with words in it that no plan says."""
    slip(plot(border.holding, "Quiet bed", crop="beans"))
    page(grower, "ground_page")
    PlotSummary.objects.update(asks="kept words")
    assert "kept words" in page(grower, "ground_page")
    return PlotSummary.objects.filter(plot=border)


def _is_kept(found) -> bool:
    return found.get().asks == "kept words"


@pytest.mark.parametrize("name", ["today", "ground_page", "planning:plans"])
@pytest.mark.parametrize("change", ["day", "habits", "rules"])
def test_every_page_of_summaries_makes_them_anew_for_another_day_reader_or_rule(grower, marked, name, change):
    page(grower, name)
    assert _is_kept(marked)  # nothing has changed, nothing was made
    if change == "day":
        PlotSummary.objects.update(computed_on=timezone.localdate() - timedelta(days=1))
    elif change == "habits":
        grower.post(reverse("people:units"), {"units": "us"})
    else:
        PlotSummary.objects.update(rules_version="0.0.0")
    page(grower, name)
    assert not _is_kept(marked)
    assert set(PlotSummary.objects.values_list("computed_on", flat=True)) == {timezone.localdate()}


def test_what_is_taken_off_a_lot_or_put_back_is_seen_by_every_page(grower, border, marked):
    lot = StockLot.objects.create(holding=border.holding, material="urea", kg=50)
    page(grower, "ground_page")
    for act, told in (
        ("records:log", {"plot": border.pk, "material": "urea", "amount": "20 kg", "done_on": "2026-10-05", "lot": lot.pk}),
        ("records:correct", {"plot": border.pk, "material": "urea", "amount": "10 kg", "done_on": "2026-10-05", "lot": lot.pk}),
    ):
        PlotSummary.objects.update(asks="kept words", is_stale=False)
        about = [border.log.latest("pk").pk] if act == "records:correct" else []
        assert grower.post(reverse(act, args=about), told).status_code == 302
        other = PlotSummary.objects.exclude(plot=border)  # a plot that the entry is not about: only its shed has changed
        page(grower, "ground_page")
        assert not _is_kept(other)
    lot.refresh_from_db()
    assert lot.kg == 40
