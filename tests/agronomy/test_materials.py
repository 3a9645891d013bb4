"""Materials: losses, what goes together, the price of what works, and the sense of the table itself."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from agronomy.intake.request import read_request
from agronomy.plan.assess import assess
from agronomy.products.compatibility import clash, clashes
from agronomy.products.nitrogen_losses import Conditions, ammonia_share, nitrous_oxide_kg, side_by_side
from agronomy.products.worth import working_share, worth
from tests.helpers.cases import cases
from tests.helpers.requests import TABLES, document, plan, reading

MATERIALS = TABLES.materials
SOIL = assess(read_request(document(reading("pH", 6.5)), TABLES), TABLES).soil


def _together(first, second):
    found = clash(MATERIALS[first], MATERIALS[second], TABLES)
    return found.together if found else "fine"


RULES = {
    "ammonia": lambda form, ph, worked_in, cec: 100 * ammonia_share(form, ph, cec, Conditions(worked_in), TABLES),
    "nitrous": lambda form, kg: nitrous_oxide_kg(kg, form, TABLES),
    "lime_effect": lambda material: MATERIALS[material].cce / 100,
    "works": lambda material, purpose: working_share(MATERIALS[material], purpose),
    "together": _together,
}


@pytest.mark.parametrize("case", cases("materials"))
def test_published(case):
    found, expected = RULES[case["what"]](**case["given"]), case["expect"]
    assert found == (expected if isinstance(expected, str) else pytest.approx(expected, rel=case["tolerance"])), case["whose"]


def test_the_table_of_materials_makes_sense_row_by_row():
    assert len(MATERIALS) >= 110
    for key, material in MATERIALS.items():
        contents = material.n + material.p2o5 * 0.436 + material.k2o * 0.83 + material.ca + material.mg + material.s + material.chloride_pct
        assert 0 <= contents <= 101, key
        assert material.density_g_per_ml > 0.05, key
        assert material.bag_kg > 0, key
        assert not material.has_role("lime") or 0 < material.effective_neutralising_value <= 1.8, key
        if material.has_role("tonic"):
            assert not material.share, key
    pairs = {group for row in TABLES.products.pairs.values() for group in (row.first, row.second)}
    used = {group for row in TABLES.materials.values() for group in row.groups}
    assert pairs <= used


def test_new_materials_come_in_only_when_they_are_named():
    doc = document(reading("pH", 6.6), reading("K", 50, "mg/kg", "Mehlich 3"), texture="loam", crop="maize")
    assert all(MATERIALS[item.material].chosen_for_you for item in plan(doc).applications)
    named = plan(doc, materials=["kainite", "uan_32"])
    assert {item.material for item in named.applications} <= {"kainite", "uan_32"}


KEYS = st.sampled_from(sorted(MATERIALS))


@given(KEYS, KEYS)
def test_a_clash_is_the_same_from_both_sides(first, second):
    there, back = clash(MATERIALS[first], MATERIALS[second], TABLES), clash(MATERIALS[second], MATERIALS[first], TABLES)
    assert (there is None) == (back is None)
    if there:
        assert (there.together, there.danger, there.days, there.row) == (back.together, back.danger, back.days, back.row)


def test_dangers_come_first():
    chosen = [MATERIALS[key] for key in ("calcium_nitrate", "epsom_salt", "sulfur_powder", "dolomitic_limestone_ground", "urea")]
    found = clashes(chosen, TABLES)
    assert [bool(item.danger) for item in found] == sorted((bool(item.danger) for item in found), reverse=True)
    assert {item.danger for item in found} == {"gas", "fire", ""}


@given(st.sampled_from(["never", "two_days", "one_day", "banded"]), st.floats(4.5, 8.5), st.floats(0, 35), st.booleans())
def test_nitrogen_that_is_spread_arrives_or_is_told_as_lost(worked_in, ph, warmth, residue):
    for item in side_by_side(list(MATERIALS.values()), ph, SOIL, Conditions(worked_in, warmth, residue), {}, TABLES):
        assert item.spread_n_kg * MATERIALS[item.material].available_n - item.ammonia_n_kg == pytest.approx(100)
        assert item.ammonia_n_kg >= 0
        assert item.nitrous_oxide_kg > 0


def test_working_in_never_loses_more_and_an_inhibitor_saves():
    shares = [ammonia_share("urea", 6.5, SOIL.cec_cmol_per_kg, Conditions(way), TABLES) for way in ("never", "two_days", "one_day")]
    assert shares == sorted(shares, reverse=True)
    rows = {
        item.material: item for item in side_by_side([MATERIALS["urea"], MATERIALS["urea_inhibited"]], 6.5, SOIL, Conditions(), {}, TABLES)
    }
    assert rows["urea_inhibited"].spread_n_kg < rows["urea"].spread_n_kg


@pytest.mark.parametrize("purpose", ["lime", "acid", "N", "P", "K", "Mg", "S", "Ca"])
def test_worth_is_in_rising_order_and_own_prices_go_first(purpose):
    rows = worth(list(MATERIALS.values()), purpose, {}, least=0.02)
    assert rows[0].dearer_by == 1.0
    assert [row.price_per_working_kg for row in rows] == sorted(row.price_per_working_kg for row in rows)
    dearest = rows[-1].material
    assert worth(list(MATERIALS.values()), purpose, {dearest: 0.0001}, least=0.02)[0].material == dearest
    assert worth([], purpose, {}, least=0.02) == []


@pytest.mark.parametrize("aim", ["rule", "money", "fewest", "loss"])
@pytest.mark.parametrize("case", cases("selections"))
def test_selections_an_adviser_would_make(case, aim):
    """By the rule all of it; by other aims what is left out, and what stays open, holds too."""
    readings = [reading(analyte, value, unit, method) for analyte, value, unit, method in case["readings"]]
    doc = document(*readings, crop=case["crop"], texture=case["texture"], **{"area": "100 m2"} | case.get("plot", {})) | case.get(
        "request", {}
    )
    made = plan(doc, aim=aim)
    taken = {item.material for item in made.applications}
    assert set(case["open"]) <= {item.what for item in made.unmet}, case["why"]
    if aim == "rule":
        assert all(taken & set(either.split("|")) for either in case["takes"]), (taken, case["why"])
    assert not taken & set(case["leaves"]), (taken, case["why"])
