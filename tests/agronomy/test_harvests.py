"""What a crop really yielded stands for what it carries off."""

import pytest

from agronomy.intake.request import read_request
from agronomy.plan.plan import make_plan
from tests.helpers.requests import TABLES, document, need, plan, reading

RIGHT = (reading("pH", 6.0, method="water 1:1"), reading("P", 60, "mg/kg", "Mehlich 3"), reading("K", 190, "mg/kg", "ammonium acetate"))


def potatoes(**crop):
    doc = document(*RIGHT, crop="potato", kind="field", area="2 ha", texture="loam", depth="20 cm")
    doc["crop"] |= crop
    return doc


def test_what_it_gave_last_time_goes_before_a_usual_yield_and_a_hope_before_both():
    usual, got, hoped = (
        need(plan(potatoes(**told)), "K").rate_kg_per_ha for told in ({}, {"yield_got": "20 t/ha"}, {"yield_goal": "30 t/ha"})
    )
    assert got == pytest.approx(hoped * 20 / 30, rel=0.01)
    assert got < usual
    both = plan(potatoes(yield_got="20 t/ha", yield_goal="30 t/ha"))
    assert need(both, "K").rate_kg_per_ha == pytest.approx(hoped)


def test_harvests_since_the_test_are_told_and_older_ones_are_not():
    harvests = [{"crop": "potato", "got": "40 t/ha", "on": "2026-11-01"}, {"crop": "oats", "got": "5 t/ha", "on": "2026-08-01"}]
    made = make_plan(read_request(potatoes() | {"harvests": harvests}, TABLES), TABLES)
    said = next(item for item in made.remarks if item.key == "harvested")
    assert "potato removed" in said.says
    assert "oats" not in said.says
    assert said.working[-1].result.value == pytest.approx(40 * TABLES.nutrients.removal["potato"].k2o_kg_per_t)


@pytest.mark.parametrize(
    ("crop", "ended", "kg"),
    [
        ("soybean", "2026-10-01", 35),
        ("clover_ley", "2026-09-01", 70),
        ("clover_ley", "2025-09-01", 35),
        ("clover_ley", "2023-09-01", 0),
        ("oats", "2026-09-01", 0),
        ("potato", "2026-09-01", 30),
        ("potato", "2025-09-01", 0),
    ],
)
def test_the_crop_history_counts_by_itself(crop, ended, kg):
    doc = document(*RIGHT, crop="maize", kind="field", area="2 ha", texture="loam", depth="20 cm", planting="2027-05-01")
    stood = doc | {"harvests": [{"crop": crop, "on": ended}]}
    line = next((item for item in plan(stood).credits if item.key == "history"), None)
    assert (line.kg_per_ha if line else 0) == kg
    assert need(plan(doc), "N").rate_kg_per_ha - need(plan(stood), "N").rate_kg_per_ha == pytest.approx(kg)
    assert need(plan(stood | {"uncounted": ["history"]}), "N") == need(plan(doc), "N") or kg
    told = {"kind": "legume", "what": "soybean", "on": ended}
    assert not [item for item in plan(stood | {"credits": [told]}).credits if item.key == "history"]  # the owner's own word goes first


@pytest.mark.parametrize(("years_ago", "kg"), [(0, 80), (1, 40), (2, 16), (3, 0)])
def test_ploughed_grass_feeds_three_crops(years_ago, kg):
    told = {"kind": "crop_before", "what": "grass_four_years", "on": f"{2026 - years_ago}-10-01"}
    doc = document(*RIGHT, crop="winter_wheat", kind="field", area="2 ha", planting="2026-10-15")
    line = next(item for item in plan(doc | {"credits": [told]}).credits if item.name.startswith("grass"))
    assert line.kg_per_ha == pytest.approx(kg)
    stands = plan(doc | {"crop": {"key": "apple", "planting": "2020-03-01"}, "credits": [told]})
    assert not next(item for item in stands.credits if item.name.startswith("grass")).counted  # it stood there already


def test_rich_ground_never_swallows_the_nitrogen_of_a_vegetable():
    doc = document(*RIGHT, crop="cauliflower", texture="loam", planting="2027-04-20", organic_matter_pct=14)
    before = [{"kind": "crop_before", "what": what, "on": "2026-10-01"} for what in ("sprout_stems", "cabbage_leaves")]
    asked = need(plan(doc | {"credits": before}), "N")
    step = next(step for step in asked.working if step.name == "nitrogen to give")
    assert asked.rate_kg_per_ha == pytest.approx(0.3 * step.inputs["usual in a season"].value)
