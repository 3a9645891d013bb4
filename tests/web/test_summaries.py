"""What a plot asks for is told alike on every page: made anew where anything that it was made of is another, however it was changed."""

from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from tests.helpers.holdings import plot, slip
from tests.helpers.pages import page
from web.ground.models import NutrientCredit, OwnCrop, Planting, Plot
from web.people.models import Holding
from web.planning.models import PlotSummary
from web.readings.models import LabReport, LabResult
from web.records.models import LogEntry
from web.supplies.models import StockLot, Supplier, SupplierOffer
from web.unchanged import unchanged


@pytest.fixture
def kept(grower, border):
    """The border's summary, as kept, with words in it that no plan says."""
    slip(plot(border.holding, "Quiet bed", crop="broad_beans"))
    page(grower, "ground_page")
    PlotSummary.objects.update(asks="kept words")
    return PlotSummary.objects.filter(plot=border)


def _is_kept(found) -> bool:
    return found.get().asks == "kept words"


def _today(monkeypatch, day) -> None:
    monkeypatch.setattr(timezone, "localdate", lambda *_: day)


# Each way to change what a summary is made of, past every page, form and signal.
IN_BULK = {
    "a reading": lambda plot: LabResult.objects.filter(slip__plot=plot, analyte="P").update(typed="77"),
    "another reading": lambda plot: LabResult.objects.bulk_create(
        [LabResult(slip=plot.slips.first(), place=40, analyte="Zn", typed="0.3", unit="mg/kg", method="DTPA")]
    ),
    "a reading less": lambda plot: LabResult.objects.filter(slip__plot=plot, analyte="K").delete(),
    "the day of a test": lambda plot: LabReport.objects.filter(plot=plot).update(taken_on=timezone.localdate() - timedelta(days=90)),
    "the ground": lambda plot: Plot.objects.filter(pk=plot.pk).update(depth_cm=33),
    "the crop": lambda plot: Planting.objects.filter(plot=plot).update(crop="leek"),
    "an own crop": lambda plot: Planting.objects.filter(plot=plot).update(
        own_crop=OwnCrop.objects.create(holding=plot.holding, name="Ours", base="leek", figures={"ph_lime_to": 6.9})
    ),
    "a habit": lambda plot: Holding.objects.filter(pk=plot.holding_id).update(organic_only=True),
    "the currency": lambda plot: Holding.objects.filter(pk=plot.holding_id).update(currency="$"),
    "how days are written": lambda plot: Holding.objects.filter(pk=plot.holding_id).update(days="iso"),
    "the shed": lambda plot: StockLot.objects.bulk_create([StockLot(holding=plot.holding, material="urea", kg=50)]),
    "an offer": lambda plot: SupplierOffer.objects.bulk_create(
        [SupplierOffer(supplier=Supplier.objects.create(holding=plot.holding, name="Quern"), material="urea", price_per_kg=0.1)]
    ),
    "the log": lambda plot: LogEntry.objects.bulk_create(
        [LogEntry(holding=plot.holding, plot=plot, material="urea", name="urea", kg=1, done_on=timezone.localdate())]
    ),
    "a credit": lambda plot: NutrientCredit.objects.bulk_create(
        [NutrientCredit(plot=plot, kind="manure", what="cattle_manure", rate_t_per_ha=20)]
    ),
    "the rules": lambda plot: PlotSummary.objects.filter(plot=plot).update(key="made by other rules"),
}


@pytest.mark.parametrize("name", ["today", "ground_page", "planning:plans"])
@pytest.mark.parametrize("change", IN_BULK)
def test_every_page_of_summaries_sees_whatever_was_changed_beside_it(grower, border, kept, name, change):
    unchanged.clear()
    page(grower, name)
    assert _is_kept(kept)  # nothing has changed, nothing was made
    IN_BULK[change](border)
    unchanged.clear()
    page(grower, name)
    assert not _is_kept(kept)


@pytest.mark.parametrize("name", ["today", "ground_page", "planning:plans"])
def test_another_day_and_another_reader_have_a_summary_of_their_own(grower, kept, name, monkeypatch):
    grower.post(reverse("people:units"), {"units": "us"})
    page(grower, name)
    assert not _is_kept(kept)
    PlotSummary.objects.update(asks="kept words")
    page(grower, name)
    assert _is_kept(kept)
    _today(monkeypatch, timezone.localdate() + timedelta(days=1))
    page(grower, name)
    assert not _is_kept(kept)
