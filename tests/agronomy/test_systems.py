"""Readings by their countries' own classes, and methods that only such a class can judge."""

import pytest

from tests.helpers.requests import TABLES, document, finding, plan, reading


def judged(country, analyte, value, unit, method, crop, **plot):
    made = plan(document(reading(analyte, value, unit, method), crop=crop, **plot), country=country)
    return finding(made, analyte)


@pytest.mark.parametrize(
    ("country", "analyte", "value", "unit", "method", "crop", "own"),
    [
        ("gb", "P", 22, "mg/L", "Olsen", "winter_barley", "Index 2"),
        ("gb", "P", 25.4, "mg/L", "Olsen", "winter_barley", "Index 2"),  # whole mg/L: 25.4 belongs to 16 to 25
        ("gb", "P", 9, "mg/L", "Olsen", "winter_barley", "Index 0"),
        ("gb", "K", 200, "mg/L", "ammonium acetate", "winter_barley", "Index 2+"),
        ("gb", "K", 150, "mg/L", "ammonium acetate", "winter_barley", "Index 2-"),
        ("ie", "P", 6, "mg/L", "Morgan", "pasture", "Index 3"),
        ("ie", "P", 6, "mg/L", "Morgan", "winter_barley", "Index 2"),
        ("ca", "P", 60, "mg/kg", "Kelowna", "cabbage", "High"),
    ],
)
def test_the_guides_own_word_stands_beside_ours(country, analyte, value, unit, method, crop, own):
    assert f"“{own}”" in judged(country, analyte, value, unit, method, crop).why


def test_without_a_country_no_guide_is_named():
    assert "By the" not in judged(None, "P", 22, "mg/L", "Olsen", "winter_barley").why


@pytest.mark.parametrize(
    ("analyte", "value", "method", "crop", "texture", "class_"),
    [
        ("P", 18, "Colwell", "pasture", "loam", "short"),  # of 71 to 140 PBI: critical 34
        ("P", 40, "Colwell", "pasture", "loam", "right"),
        ("K", 90, "Colwell", "pasture", "sand", "short"),
        ("P", 30, "Kelowna", "cabbage", "loam", "building"),
        ("S", 5, "KCl 40", "pasture", "loam", "short"),
    ],
)
def test_a_method_without_a_level_of_ours_is_judged_by_its_own_classes(analyte, value, method, crop, texture, class_):
    found = judged("au", analyte, value, "mg/kg", method, crop, texture=texture)
    assert found.class_ == class_
    assert found.method == method


def test_every_method_on_offer_is_judged_or_says_that_it_is_not():
    offered = 0
    for analyte in ("P", "K", "Mg", "S", "Zn", "Cu", "Mn", "B"):
        for method in TABLES.analytes[analyte].methods:
            value = 40 if analyte in "PKMgS" else 0.6
            made = plan(document(reading(analyte, value, "mg/kg", method), crop="cabbage"))
            found = any(item.analyte == analyte for item in made.findings)
            kept = any(item.analyte == analyte for item in made.unjudged)
            assert found != kept, (analyte, method)
            offered += 1
    assert offered > 40
