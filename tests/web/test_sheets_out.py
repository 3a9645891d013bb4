"""Single sheets out: readings that read back, and log, jobs, shed and totals that a spreadsheet opens."""

import csv
import io

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from openpyxl import load_workbook

from tests.helpers.holdings import plot, slip
from web.readings.models import LabFile, LabReport
from web.records.models import LogEntry
from web.supplies.models import StockLot

LINES = [("pH", "5.0-5.5", "", "water 1:1"), ("K", "150", "lb/acre", "Mehlich 3"), ("NO3-N", "<2", "mg/kg", "KCl 2 M")]


def test_letters_that_no_workbook_holds_are_left_out_of_every_sheet(grower, border):
    odd = "wet\x0b and \x01cold\x1f"
    LogEntry.objects.create(holding=border.holding, plot=border, material="urea", name=odd, kg=1, note=odd, weather=odd)
    StockLot.objects.create(holding=border.holding, material="urea", kg=3, note=odd)
    for name in ("log", "jobs", "shed", "totals"):
        book = load_workbook(io.BytesIO(grower.get(reverse("sheet_out", args=[name, "xlsx"])).content))
        told = [cell for row in book.active.iter_rows(values_only=True) for cell in row if isinstance(cell, str) and "wet" in cell]
        assert set(told) <= {"wet and cold"}
        assert bool(told) == (name in ("log", "shed"))


def test_own_readings_read_back_with_days_depths_units_and_methods(grower, border):
    border.slips.all().delete()
    slip(border, LINES, top_cm=0, bottom_cm=20)
    slip(plot(border.holding, "Second bed"), LINES[:1])
    before = _lines(border.holding)
    exported = grower.get(reverse("readings:export")).content
    LabReport.objects.all().delete()
    grower.post(reverse("readings:files"), {"file": SimpleUploadedFile("readings.csv", exported), "medium": "soil"})
    file = LabFile.objects.get()
    grower.post(reverse("readings:file", args=[file.pk]), {"read-in": "1"})
    grower.post(reverse("readings:file_step", args=[file.pk]))
    assert _lines(border.holding) == before


def _lines(holding) -> list[tuple]:
    return sorted(
        (report.plot.name, report.taken_on, report.top_cm or 0, report.bottom_cm, line.analyte, line.typed, line.unit, line.method)
        for report in LabReport.objects.filter(holding=holding)
        for line in report.lines.all()
    )


@pytest.mark.parametrize("name", ["log", "jobs", "shed", "totals"])
def test_a_sheet_is_the_same_as_csv_and_as_xlsx_and_holds_no_formula(grower, border, name):
    grower.post(reverse("planning:adopt", args=[border.pk]))
    LogEntry.objects.create(holding=border.holding, plot=border, material="urea", name="urea", kg=1.5, note="=1+1")
    StockLot.objects.create(holding=border.holding, material="gypsum", kg=10, note="@here")
    rows = list(csv.reader(io.StringIO(grower.get(reverse("sheet_out", args=[name, "csv"])).content.decode())))
    book = load_workbook(io.BytesIO(grower.get(reverse("sheet_out", args=[name, "xlsx"])).content))
    assert len(rows) > 1
    assert [cell.value for cell in book.active[1]] == rows[0]
    assert book.active.max_row == len(rows)
    assert not any(cell.data_type == "f" for row in book.active for cell in row)
    assert not any(cell[:1] in ("=", "@") for row in rows for cell in row)


def test_an_unknown_sheet_is_not_found(grower, border):
    assert grower.get(reverse("sheet_out", args=["secrets", "csv"])).status_code == 404
    assert grower.get(reverse("sheet_out", args=["log", "exe"])).status_code == 404
