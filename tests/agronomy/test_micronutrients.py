"""Micronutrients and the further extractants: judged by their own tables, told with their limits, dosed only where a crop answers."""

from datetime import date

import pytest

from tests.helpers.requests import document, finding, plan, reading


def _made(*rows, crop="maize", ph=6.2):
    return plan(
        document(
            reading("pH", ph), *(reading(analyte, value, "mg/kg", method) for analyte, value, method in rows), crop=crop, texture="loam"
        )
    )


@pytest.mark.parametrize(
    ("analyte", "value", "method", "class_"),
    [
        ("Zn", 0.2, "DTPA", "very_short"),
        ("Zn", 0.45, "DTPA", "short"),
        ("Zn", 0.9, "DTPA", "right"),
        ("Zn", 6.5, "DTPA", "excess"),
        ("Zn", 1.6, "Mehlich 3", "right"),
        ("Mn", 0.7, "DTPA", "short"),
        ("Cu", 0.3, "DTPA", "right"),
        ("Cu", 11, "DTPA", "excess"),
        ("B", 0.3, "hot water", "short"),
        ("B", 2.5, "hot water", "excess"),
        ("Fe", 1.9, "DTPA", "very_short"),
        ("Mo", 0.15, "ammonium oxalate", "right"),
        ("P", 5, "Modified Morgan", "right"),
        ("P", 3, "Modified Morgan", "short"),
        ("P", 30, "AL", "short"),
        ("P", 45, "AL", "right"),
        ("K", 120, "Modified Morgan", "right"),
    ],
)
def test_classes_by_method(analyte, value, method, class_):
    assert finding(_made((analyte, value, method)), analyte).class_ == class_


def test_short_is_told_apart_from_locked_up():
    short, locked = (next(item for item in _made(("Zn", 0.2, "DTPA"), ph=ph, crop="oats").unmet if item.what == "Zn") for ph in (6.2, 7.9))
    assert "5 to 11 kg/ha" in short.why
    assert short.rate_kg_per_ha == 5
    assert "locks it up" in locked.why


@pytest.mark.parametrize("ph", [6.2, 7.9])
def test_a_crop_that_answers_is_given_what_is_short_with_a_job(ph):
    made = _made(("Zn", 0.2, "DTPA"), ph=ph, crop="maize")
    (job,) = [item for item in made.applications if item.what == "Zn"]
    assert job.supplies["Zn"] == pytest.approx(10)  # the middle of 8 to 12, for what is very short and answers
    assert job.to < date(2027, 5, 30)
    assert not any(item.what == "Zn" for item in made.unmet)


@pytest.mark.parametrize("crop", ["beans", "soybean", "sunflower"])
def test_boron_is_never_given_over_what_the_crop_bears(crop):
    given = sum(item.supplies.get("B", 0.0) for item in _made(("B", 0.1, "hot water"), crop=crop).applications)
    assert given <= (2.0 if crop == "sunflower" else 0.5) + 1e-9


def test_a_crop_that_hardly_answers_gets_none_and_too_much_is_a_finding():
    assert any(item.nutrient == "B" and "hardly responds" in item.why for item in _made(("B", 0.45, "hot water")).nothing)
    assert any(item.what == "B" for item in _made(("B", 0.45, "hot water"), crop="sugar_beet").applications)
    rich = _made(("B", 2.5, "hot water"), crop="sugar_beet")
    assert any(item.nutrient == "B" and "Never more than 3 kg/ha" in item.why for item in rich.nothing)
    assert not any(need.what == "B" for need in rich.needs)


def test_a_method_without_a_table_is_said_not_guessed():
    assert any(item.analyte == "Ca" and "Morgan" in item.why for item in _made(("Ca", 800, "Morgan")).unjudged)
    assert finding(_made(("P", 27, "Mehlich 1"), crop="tomato"), "P").class_ == "right"
