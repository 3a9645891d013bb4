"""Leaves, sap and greenness by crop, part and stage, and what they say beside the ground."""

import pytest

from agronomy.interpret.leaf import GREENNESS, SAP, STRIP
from tests.helpers.requests import TABLES, document, finding, plan, reading


def leaf(analyte, value, unit="%", **told):
    return reading(analyte, value, unit, how="tissue") | told


def judged(*readings, crop, **plot):
    return plan(document(reading("pH", 6.5, method="water 1:1"), *readings, crop=crop, **plot))


@pytest.mark.parametrize(
    ("crop", "analyte", "value", "unit", "stage", "class_"),
    [
        ("tomato", "sap nitrate", 500, "mg/L", "first open flowers", "short"),  # 600 to 800
        ("tomato", "sap nitrate", 500, "mg/L", "first harvest", "plenty"),  # 300 to 400
        ("tomato", "sap nitrate", 350, "mg/L", "first harvest", "right"),
        ("potato", "sap potassium", 4000, "mg/L", "plants 20 cm", "short"),
        ("maize", "leaf N", 2.6, "%", "silking", "short"),  # 2.9 to 3.5
        ("apple", "leaf K", 1.6, "%", "60 to 70 days after petal fall", "right"),
    ],
)
def test_the_range_is_that_of_the_stage(crop, analyte, value, unit, stage, class_):
    made = judged(leaf(analyte, value, unit, stage=stage), crop=crop)
    assert finding(made, analyte).class_ == class_
    assert "say when and what you picked" not in finding(made, analyte).why
    bare = finding(judged(leaf(analyte, value, unit), crop=crop), analyte)
    assert "say when and what you picked" in bare.why
    odd = finding(judged(leaf(analyte, value, unit, stage="moonrise"), crop=crop), analyte)
    assert "read it with care" in odd.why


@pytest.mark.parametrize(("strip", "class_"), [(50, "short"), (46, "right"), (None, None)])
def test_greenness_is_read_beside_a_strip_that_had_plenty(strip, class_):
    readings = [leaf(GREENNESS, 45, "units")] + ([leaf(STRIP, strip, "units")] if strip else [])
    made = judged(*readings, crop="maize")
    found = [item.class_ for item in made.findings if item.analyte == GREENNESS]
    assert found == ([class_] if class_ else [])
    assert bool([item for item in made.unjudged if item.analyte == GREENNESS]) == (strip is None)


@pytest.mark.parametrize(
    ("in_leaf", "in_ground", "says"),
    [
        (0.9, 60, "Leaf and ground are both short of potassium"),
        (0.9, 180, "The ground has enough potassium, and the leaf is short"),
        (0.9, None, "the ground was not tested for it"),
        (1.6, 60, "The leaf still has enough potassium though the ground is short"),
        (1.6, 180, None),
    ],
)
def test_leaf_and_ground_together(in_leaf, in_ground, says):
    ground = [reading("K", in_ground, "mg/kg", "ammonium acetate")] if in_ground else []
    made = judged(leaf("leaf K", in_leaf), *ground, crop="apple", kind="orchard_block", area="1 ha")
    told = [item.says for item in made.remarks if item.key.startswith("leaf-")]
    assert (says is None and told == []) or any(says in item for item in told)


def test_ratios_are_told_only_beyond_their_bounds():
    out, within = (judged(leaf("leaf N", 3.2), leaf("leaf S", sulfur), crop="maize") for sulfur in (0.14, 0.25))
    assert any("beside sulfur" in item.says for item in out.remarks)
    assert not any("beside sulfur" in item.says for item in within.remarks)


def test_every_leaf_analyte_of_every_crop_is_judged_or_answered():
    analytes = [key for key, row in TABLES.analytes.items() if row.medium == "leaf" and (key.startswith("leaf ") or key in SAP)]
    for crop in TABLES.crops:
        readings = [leaf(key, TABLES.analytes[key].typical_low, TABLES.analytes[key].default_unit) for key in analytes if key != STRIP]
        made = judged(*readings, crop=crop)
        answered = {item.analyte for item in (*made.findings, *made.unjudged)}
        assert set(analytes) - {STRIP} <= answered, crop
