"""Typing slips: what is refused, what is doubted, what is remembered; nothing typed is lost."""

import pytest
from django.urls import reverse

from tests.helpers.holdings import slip_data
from tests.helpers.pages import text_of
from web.readings.models import LabReport, LabResult

NEW = reverse("readings:new_slip")


@pytest.mark.parametrize(
    ("line", "said"),
    [
        (("pH", "56", "", "water 1:1"), "did you mean 5.6?"),
        (("P", "-4", "mg/kg", "Olsen"), "is outside 0 to 3000 mg/kg"),
        (("K", "many", "mg/kg", "Mehlich 3"), "is not a number"),
        (("K", "1,234", "mg/kg", "Mehlich 3"), "1234 or 1.234"),
        (("K", "7" * 10_000, "mg/kg", "Mehlich 3"), "too many for a number"),
        (("OM", "nan", "%", "loss on ignition"), "is not a number"),
        (("P", "9e99", "mg/kg", "Olsen"), "is outside"),
        (("K", "🌱", "mg/kg", "Mehlich 3"), "is not a number"),
    ],
)
def test_nonsense_is_refused_with_a_way_out_and_kept_on_the_page(grower, border, line, said):
    response = grower.post(NEW, slip_data(border, line, ("Mg", "41", "mg/kg", "Mehlich 3")))
    assert response.status_code == 422
    assert said in text_of(response)
    assert f'value="{line[1]}"' in text_of(response)
    assert 'value="41"' in text_of(response)
    assert LabReport.objects.count() == 1


@pytest.mark.parametrize(
    ("head", "said"),
    [
        ({"taken_on": "2999-01-01"}, "lies ahead"),
        ({"taken_on": "yesterday"}, "Enter a valid date"),
        ({"plot": "9999"}, "Select a valid choice"),
        ({"how": "magic"}, "Select a valid choice"),
    ],
)
def test_a_wrong_head_keeps_the_lines(grower, border, head, said):
    response = grower.post(NEW, slip_data(border, ("pH", "5.9", "", "water 1:1"), **head))
    assert response.status_code == 422
    assert said in text_of(response)
    assert 'value="5.9"' in text_of(response)


def test_decimal_comma_qualifiers_and_ranges_are_kept_as_typed(grower, border):
    lines = [("pH", "5,9", "", "water 1:1"), ("P", "<1.5", "mg/kg", "Olsen"), ("S", "trace", "mg/kg", "Mehlich 3")]
    assert grower.post(NEW, slip_data(border, *lines)).status_code == 302
    assert [line.typed for line in LabReport.objects.first().lines.all()] == ["5,9", "<1.5", "trace"]


def test_a_doubt_asks_once_and_offers_a_correction(grower, border):
    data = slip_data(border, ("K", "68", "%", "Mehlich 3"))
    asked = grower.post(NEW, data)
    assert asked.status_code == 422
    assert "68 % of potassium? Did you mean mg/kg?" in text_of(asked)
    fixed = grower.post(NEW, data | {"fix-0": "mg/kg"})
    assert fixed.status_code == 200
    assert 'value="mg/kg" selected' in text_of(fixed)
    assert LabReport.objects.count() == 1


def test_a_settled_doubt_is_kept(grower, border):
    strange = slip_data(border, ("S", "400", "mg/kg", "Mehlich 3"))
    assert "unusually high" in text_of(grower.post(NEW, strange))
    assert grower.post(NEW, strange | {"lines-0-settled": "on"}).status_code == 302
    assert LabResult.objects.get(typed="400").settled


def test_swapped_ph_lines_are_doubted(grower, border):
    response = grower.post(NEW, slip_data(border, ("pH", "6.6", "", "water 1:1"), ("buffer pH", "5.2", "", "SMP")))
    assert "Are the two lines swapped?" in text_of(response)


def test_an_empty_slip_is_no_slip(grower, border):
    assert "There is no value yet" in text_of(grower.post(NEW, slip_data(border, ("pH", "", "", "water 1:1"))))


def test_a_line_is_checked_as_it_is_left(grower):
    response = grower.post(
        reverse("readings:check_line", args=[3]),
        {"lines-3-analyte": "pH", "lines-3-typed": "56", "lines-3-unit": "pH", "lines-3-method": "water 1:1"},
    )
    assert "did you mean 5.6?" in text_of(response)


def test_a_further_line_can_be_added_without_losing_the_others(grower, border):
    response = grower.post(NEW, slip_data(border, ("pH", "5.9", "", "water 1:1"), add="1", further="Zn"))
    assert 'aria-label="Zinc, value"' in text_of(response)
    assert 'value="5.9"' in text_of(response)


def test_units_and_methods_of_a_laboratory_are_remembered(grower, border):
    grower.post(NEW, slip_data(border, ("P", "30", "lb/acre", "Olsen"), lab="Marlow Lane"))
    assert '<option value="Olsen" selected>' in text_of(grower.get(NEW))
    grower.post(NEW, slip_data(border, ("P", "30", "mg/kg", "Bray P1"), lab="Rook Hill"))
    again = grower.post(
        reverse("readings:lines_for_lab"),
        slip_data(border, ("P", "", "mg/kg", "Mehlich 3"), ("K", "77", "mg/kg", "Mehlich 3"), lab="marlow lane"),
    )
    assert '<option value="Olsen" selected>' in text_of(again)
    assert '<option value="lb/acre" selected>' in text_of(again)
    assert 'value="77"' in text_of(again)


def test_readings_go_out_as_csv_that_no_spreadsheet_runs(grower, border):
    border.name = "=2+3"
    border.save()
    rows = grower.get(reverse("readings:export")).content.decode().splitlines()
    assert rows[0].startswith("plot,sampled_on,depth,laboratory")
    assert rows[1].startswith("'=2+3,2026-10-03,,Fenwick Soil Room,lab,pH,5.7,")
    assert len(rows) == 5
