"""Units are words of ours: what a unit library takes for one besides is refused, and what means two things is asked about."""

import re

import pytest

from agronomy.base.errors import RuleError, UnknownUnit
from agronomy.base.quantities import BASE_UNITS, KNOWN_UNITS, _for_pint, _registry, factor, parse_quantity
from agronomy.base.unit_words import REFUSED, WORDS
from agronomy.intake.conversion import convert
from agronomy.intake.request import read_request
from agronomy.tables import load_tables


def test_no_word_of_the_unit_library_is_taken_that_is_not_on_our_list():
    let_in = set()
    for word in dir(_registry()) + list(_registry()._units):
        words = set(re.findall(r"[^\W\d]+", _for_pint(word)))
        for base in BASE_UNITS.values():
            try:
                factor(word, base)
            except UnknownUnit:
                continue
            if not words <= WORDS:
                let_in.add(word)
    assert let_in == set()
    assert not WORDS & set(REFUSED)


@pytest.mark.parametrize("kind", BASE_UNITS)
def test_every_unit_that_is_offered_is_known(kind):
    assert all(factor(unit, BASE_UNITS[kind]) > 0 for unit in KNOWN_UNITS[kind])


@pytest.mark.parametrize(
    ("typed", "says"),
    [
        ("1 bag", "how much is in a bag"),
        ("3 sacks", "how much is in a bag"),
        ("2 cwt", "112 lb in some countries and 100 lb in others"),
        ("60 bu/acre", "with each crop"),
        ("1 wheelbarrow", "how much does it hold"),
        ("3 stone", "is no unit of mass"),
        ("1 grade", "is no unit of mass"),
    ],
)
def test_a_word_that_means_two_things_says_what_to_type(typed, says):
    with pytest.raises(UnknownUnit, match=says):
        parse_quantity(typed, "mass", "amount")


@pytest.mark.parametrize(
    ("country", "units", "kg"),
    [("GB", "metric", 50.80), ("US", "metric", 45.36), (None, "us", 45.36), (None, "uk", 50.80), ("IE", "us", 50.80)],
)
def test_a_hundredweight_is_the_countrys(country, units, kg):
    document = {"today": "2027-03-01", "country": country, "units": units, "crop": {"key": "potato", "yield_goal": "1000 kg/ha"}}
    document["plot"] = {"name": "Long field", "kind": "field", "area": "1 ha", "depth": "20 cm"}
    document["done"] = [{"material": "urea", "amount": "1 cwt", "on": "2026-09-01"}]
    assert read_request(document, load_tables()).done[0].rate_kg_per_ha == pytest.approx(kg, rel=1e-3)


def test_a_bag_is_the_materials_usual_one_or_is_asked_about():
    tables = load_tables()
    about = {"depth": None, "bulk_density": None, "tables": tables}
    assert convert("2 bags", "kg", material="urea", **about)["value"] == 2 * tables.materials["urea"].bag_kg
    assert convert("2 bags of 40 kg", "kg", material=None, **about)["value"] == 80
    with pytest.raises(RuleError, match="how much is in a bag"):
        convert("2 bags", "kg", material=None, **about)
