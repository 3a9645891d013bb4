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
        ("fr", "P", 80, "mg/kg P2O5", "Olsen", "sugar_beet", "between T-renf and T-imp"),
        ("fr", "P", 130, "mg/kg P2O5", "Joret-Hebert", "sugar_beet", "between T-renf and T-imp"),
        ("fr", "K", 100, "mg/kg K2O", "ammonium acetate", "winter_wheat", "between T-renf and T-imp"),  # light ground
        ("pl", "P", 12, "mg/100 g P2O5", "DL", "rye", "medium"),
        ("pt", "K", 40, "mg/kg K2O", "AL", "maize", "baixa"),
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


@pytest.mark.parametrize(
    ("country", "analyte", "value", "unit", "method", "crop", "goal", "kg_of_oxide"),
    [
        ("gb", "K", 121, "mg/L", "ammonium acetate", "onion", None, 175),  # index 2-
        ("gb", "P", 12, "mg/L", "Olsen", "winter_wheat", None, 85),  # index 1, 80 to 90 at 8 t
        ("gb", "P", 20, "mg/L", "Olsen", "winter_wheat", "10 t/ha", 55 + 2 * 7.0),  # index 2, two tonnes more carried off
        ("ie", "P", 4, "mg/L", "Morgan", "oats", None, 35 * 2.2914),  # index 2, as the element
        ("de", "P", 8, "mg/100 g P2O5", "CAL", "sugar_beet", "75 t/ha", 75 * 1.6),  # C: what leaves
        ("gb", "P", 80, "mg/L", "Olsen", "winter_wheat", None, 0),
    ],
)
def test_the_countrys_guide_prints_a_rate_for_the_class(country, analyte, value, unit, method, crop, goal, kg_of_oxide):
    doc = document(reading(analyte, value, unit, method), crop=crop, kind="field", area="2 ha", texture="loam")
    doc["crop"]["yield_goal"] = goal
    made = plan(doc, country=country, school="country_guide")
    given = next((item.rate_kg_per_ha for item in made.needs if item.what == analyte), 0.0)
    share = {"P": 1 / 2.2914, "K": 1 / 1.2046}[analyte]
    assert given == pytest.approx(kg_of_oxide * share, rel=0.05, abs=0.01)
    by_sufficiency = plan(doc, country=country)
    beside = [other.method for item in by_sufficiency.needs for other in item.others] + [item.why for item in by_sufficiency.nothing]
    assert kg_of_oxide == 0 or any("index" in text or "class" in text for text in beside)
    assert plan(doc, school="country_guide").needs == plan(doc).needs or country  # no country told: by sufficiency


def test_where_the_newest_reading_has_no_table_the_newest_that_has_one_is_judged_and_both_are_said():
    old, new = reading("P", 20, "mg/kg", "Mehlich 3", taken="2024-03-01"), reading("P", 33, "mg/kg", taken="2026-03-01")
    made = plan(document(old, new, reading("pH", 6.5, method="water 1:1"), crop="cabbage"))
    judged = finding(made, "P")
    assert (judged.value, judged.method) == (20, "Mehlich 3")
    assert "33 mg/kg by a method that nobody named of 1 March 2026 can’t be judged here" in judged.why
    assert not made.unjudged
    alone = plan(document(new, crop="cabbage"))
    assert [item.analyte for item in alone.unjudged] == ["P"]
    assert "tested, but can't be judged here" in alone.headline
