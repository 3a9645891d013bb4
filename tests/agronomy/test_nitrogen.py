"""The nitrogen budget: published cases, lines that can be switched off, caps, and what must hold of every budget."""

from datetime import date, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from agronomy.base.errors import RequestError
from agronomy.intake.request import read_request
from agronomy.model.credit import CreditSource
from agronomy.model.response import Response
from agronomy.model.soil import describe_soil
from agronomy.recommend.nutrients.credits import counted, credits_for, organic_matter_nitrogen
from agronomy.recommend.nutrients.nitrogen import economic_rate, standing_crop_rate
from agronomy.recommend.nutrients.told_credits import green_manure_share, straw_tie_up, water_nitrogen
from tests.helpers.cases import cases
from tests.helpers.requests import TABLES, document, need, plan, reading

SPREAD = date(2026, 4, 1)


def soil(om=2.5, density=1.4, depth_cm=15.0):
    request = read_request(document(depth=f"{depth_cm} cm", bulk_density_g_per_cm3=density), TABLES)
    return describe_soil(request.plot, om, None, 6.0, TABLES)


def gift(**told):
    empty = dict.fromkeys(
        ("what", "t_per_ha", "nitrogen_pct", "nitrate_n_mg_per_l", "water_mm", "on", "ammonium_kg_per_t", "organic_kg_per_t")
    )
    return CreditSource(**empty | {"name": "", "counted": True, "worked_in": "one_day"} | told)


def given_by(made: CreditSource, years: int = 0) -> float:
    crop_from = date(SPREAD.year + years, 4, 2)
    lines = credits_for(
        (made,), {}, soil(), uncounted=frozenset({"organic_matter"}), today=crop_from, crop_from=crop_from, south=False, tables=TABLES
    )
    return counted(lines, "N")[0]


RULES = {
    "organic_matter": lambda om, density, depth_cm: organic_matter_nitrogen(soil(om, density, depth_cm), TABLES)[0],
    "green_manure": lambda t, pct: t * 10 * pct * green_manure_share(pct, TABLES),
    "slurry": lambda t, ammonium, organic, worked_in, years: given_by(
        gift(
            kind="manure",
            what="cattle_slurry",
            t_per_ha=t,
            ammonium_kg_per_t=ammonium,
            organic_kg_per_t=organic,
            worked_in=worked_in,
            on=SPREAD,
        ),
        years,
    ),
    "water": lambda mg_per_l, mm: water_nitrogen(mg_per_l, mm, TABLES),
    "straw": lambda t: -t * straw_tie_up(TABLES)[0],
    "standing": lambda nitrate, critical: standing_crop_rate(nitrate, critical, TABLES),
    "economic": lambda **told: economic_rate(Response(**told)),
    "by_yield": lambda crop, goal: nitrogen(goal=goal, crop=crop, uncounted=["organic_matter"]),
    "legume": lambda what, years: given_by(gift(kind="legume", what=what, on=SPREAD), years),
}


def nitrogen(*readings, goal=None, crop="maize", planting="2027-05-01", **changes) -> float:
    doc = document(reading("pH", 6.6), *readings, crop=crop, planting=planting, texture="loam")
    doc["crop"]["yield_goal"] = goal
    found = need(plan(doc, **changes), "N")
    return found.rate_kg_per_ha if found else 0.0


@pytest.mark.parametrize("case", cases("nitrogen"))
def test_published(case):
    assert RULES[case["what"]](**case["given"]) == pytest.approx(case["expect"], rel=case["tolerance"], abs=0.01), case["whose"]


CLOVER = {"kind": "legume", "what": "red_clover", "on": "2026-10-01"}
SLURRY = {"kind": "manure", "what": "cattle_slurry", "rate": "25 t/ha", "on": "2027-03-20"}


def test_each_credit_is_a_line_that_can_be_switched_off():
    bare = nitrogen(goal="9 t/ha", uncounted=["organic_matter"])
    assert nitrogen(goal="9 t/ha") < bare
    counted_, left_out = (
        nitrogen(goal="9 t/ha", uncounted=["organic_matter"], credits=[CLOVER | {"counted": switch}]) for switch in (True, False)
    )
    assert bare - counted_ == pytest.approx(70.0)
    assert left_out == pytest.approx(bare)
    lines = plan(document(crop="maize"), credits=[CLOVER | {"counted": False}]).credits
    assert [(line.key, line.counted) for line in lines] == [("organic_matter", True), ("0", False)]


def test_manure_feeds_phosphorus_and_potassium_unless_the_test_has_seen_it():
    doc = document(reading("pH", 6.6), reading("K", 60, "mg/kg", "Mehlich 3"), crop="maize", planting="2027-05-01", texture="loam")
    bare, fed = need(plan(doc), "K"), need(plan(doc, credits=[SLURRY]), "K")
    assert bare.rate_kg_per_ha - (fed.rate_kg_per_ha if fed else 0) == pytest.approx(min(bare.rate_kg_per_ha, 25 * 2.5 * 0.9 / 1.2046))
    seen = need(plan(doc, credits=[SLURRY | {"on": "2026-09-01"}]), "K")
    assert seen.rate_kg_per_ha == pytest.approx(bare.rate_kg_per_ha)


def test_a_test_in_the_standing_crop_goes_before_the_budget():
    standing = reading("NO3-N", 14, "mg/kg", "KCl 2 M", taken="2026-06-05")
    changes = {"planting": "2026-05-01", "goal": "9 t/ha"}
    assert nitrogen(standing, **changes) == pytest.approx(98.7, abs=0.2)
    assert nitrogen(standing, **changes, credits=[CLOVER | {"on": "2026-04-20"}]) == pytest.approx((20.5 - 14) * 8.97, abs=0.2)
    assert nitrogen(standing | {"value": 26}, **changes) == 0


def test_an_old_nitrate_test_is_told_and_not_counted():
    lines = plan(document(reading("NO3-N", 20, "mg/kg", taken="2026-05-01"), crop="maize")).credits
    line = next(line for line in lines if line.key == "nitrate")
    assert not line.counted
    assert "too old" in line.why


def test_a_known_response_gives_the_rate_that_pays_and_shows_the_budget_beside_it():
    response = {"slope": 35, "curvature": 0.12, "nitrogen_price": "1.12 per kg", "crop_price": "200 per t"}
    doc = document(reading("pH", 6.6), crop="maize", texture="loam")
    doc["crop"]["yield_goal"] = "10 t/ha"
    made = need(plan(doc, response=response), "N")
    assert made.method == "economic rate"
    assert made.rate_kg_per_ha == pytest.approx(122.5)
    assert made.others[0].method == "by yield"


def test_own_caps_hold_last_and_tell_what_they_hold_back():
    made = plan(document(reading("pH", 6.6), crop="maize", texture="loam"), caps={"N": "60 kg/ha", "P2O5": 0})
    assert need(made, "N").rate_kg_per_ha == 60
    assert any(item.what == "N" and "cap of 60" in item.why for item in made.unmet)


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"credits": [{"kind": "legume"}]}, "credits.0.what"),
        ({"credits": [{"kind": "legume", "what": "red clovr"}]}, "credits.0.what"),
        ({"credits": [{"kind": "green_manure", "rate": "4 t/ha"}]}, "credits.0.nitrogen_pct"),
        ({"credits": [{"kind": "green_manure", "rate": "4 t/ha", "nitrogen_pct": 30}]}, "credits.0.nitrogen_pct"),
        ({"credits": [SLURRY | {"rate": "25 km"}]}, "credits.0.rate"),
        ({"credits": [SLURRY | {"worked_in": "someday"}]}, "credits.0.worked_in"),
        ({"credits": [{"kind": "water", "nitrate_n_mg_per_l": 8, "water": "9 km"}]}, "credits.0.water"),
        ({"caps": {"N": "-3 kg/ha"}}, "caps.N"),
        ({"response": {"slope": 35, "curvature": 0, "nitrogen_price": 1, "crop_price": 1}}, "response.curvature"),
        ({"response": {"slope": 35, "curvature": 0.1, "nitrogen_price": 1, "crop_price": 0}}, "response.crop_price"),
    ],
)
def test_bad_lines_name_the_field_to_mend(changes, field):
    with pytest.raises(RequestError) as caught:
        plan(document(crop="maize"), **changes)
    assert [error.field for error in caught.value.errors] == [field]
    assert all(error.mend for error in caught.value.errors)


GIFTS = st.lists(
    st.sampled_from(
        [
            CLOVER,
            SLURRY,
            {"kind": "straw", "rate": 3},
            {"kind": "water", "nitrate_n_mg_per_l": 6, "water": "200 mm"},
            {"kind": "green_manure", "rate": 3, "nitrogen_pct": 2.5},
        ]
    ),
    max_size=4,
)


@settings(max_examples=40, deadline=None)
@given(GIFTS, st.sampled_from(["maize", "cabbage", "spring_barley", "potato"]), st.integers(0, 200))
def test_a_budget_adds_up_and_stays_within_its_band(gifts, crop, cap):
    made = plan(document(reading("pH", 6.6), crop=crop, texture="loam"), credits=gifts, caps={"N": cap})
    given_, low, high = counted(made.credits, "N")
    assert low <= given_ <= high
    found = need(made, "N")
    if found:
        assert 0 <= found.low_kg_per_ha <= found.rate_kg_per_ha <= min(cap, found.high_kg_per_ha) + 1e-9
        held = sum(item.rate_kg_per_ha for item in made.unmet if item.what == "N" and "cap" in item.why)
        free = need(plan(document(reading("pH", 6.6), crop=crop, texture="loam"), credits=gifts), "N")
        assert found.rate_kg_per_ha + held == pytest.approx(free.rate_kg_per_ha)


@pytest.mark.parametrize(
    ("south", "spread", "is_autumn"),
    [(False, "2026-10-01", True), (False, "2026-04-01", False), (True, "2026-04-01", True), (True, "2026-10-01", False)],
)
def test_ammonium_spread_in_autumn_is_half_lost_in_both_hemispheres(south, spread, is_autumn):
    made = gift(kind="manure", what="cattle_slurry", t_per_ha=20.0, on=date.fromisoformat(spread))
    crop_from = made.on + timedelta(days=200)
    lines = credits_for((made,), {}, soil(), uncounted=frozenset(), today=crop_from, crop_from=crop_from, south=south, tables=TABLES)
    kept = 1.3 * 0.65 * (0.5 if is_autumn else 1.0)
    assert next(line for line in lines if line.key == "0").kg_per_ha == pytest.approx(20 * (kept + 1.3 * 0.35))
