"""Potting mixes by their own extracts, and never through a soil table."""

import pytest

from tests.helpers.requests import document, plan, reading

TUB = {"kind": "container", "mix": "peat_bark", "area": "0.5 m2", "depth": "30 cm"}


def potted(*readings, crop="patio_tub", **told):
    return plan(document(*readings, crop=crop, **TUB | told))


@pytest.mark.parametrize(
    ("analyte", "value", "unit", "method", "crop", "class_"),
    [
        ("EC", 2.5, "dS/m", "saturated media extract", "patio_tub", "right"),
        ("EC", 4.0, "dS/m", "saturated media extract", "patio_tub", "salty"),
        ("EC", 2.5, "dS/m", "saturated media extract", "plug_trays", "too_salty"),
        ("EC", 4.0, "dS/m", "pour-through", "patio_tub", "too_salty"),
        ("EC", 0.5, "dS/m", "water 1:5", "patio_tub", "right"),
        ("K", 40, "mg/L", "saturated media extract", "patio_tub", "short"),
        ("P", 8, "mg/L", "saturated media extract", "patio_tub", "right"),
        ("NO3-N", 320, "mg/L", "saturated media extract", "patio_tub", "excess"),
    ],
)
def test_a_mix_is_judged_by_its_own_table(analyte, value, unit, method, crop, class_):
    made = potted(reading(analyte, value, unit, method), crop=crop)
    found = next(item for item in made.findings if item.analyte == analyte)
    assert found.class_ == class_
    assert found.value == value


def test_a_salty_mix_gets_no_feed_and_is_told_to_be_flushed():
    salty, right = (potted(reading("EC", value, "dS/m", "saturated media extract")) for value in (5.5, 2.5))
    assert not [item for item in salty.applications if item.what == "N"]
    assert [item for item in right.applications if item.what == "N"]
    assert "water" in salty.headline
