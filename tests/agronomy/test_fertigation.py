"""Food through the drippers: weekly feeds, stock tanks, water, and what may not share a tank."""

from datetime import date, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from agronomy.apply.fertigation import is_dripped
from agronomy.intake.answering import as_request
from agronomy.intake.request import read_request
from agronomy.plan.letter import letter
from agronomy.plan.plan import make_plan
from agronomy.tables import load_tables

APPLES = {
    "today": "2026-12-02",
    "plot": {
        "name": "Lower rows",
        "kind": "orchard_block",
        "area": "1 ha",
        "depth": "30 cm",
        "texture": "loam",
        "watering": "drip",
        "injector": 100,
        "stock_tank_l": 200,
    },
    "readings": [
        {"analyte": "pH", "value": 6.4, "method": "water 1:1", "taken": "2026-10-20"},
        {"analyte": "P", "value": 30, "unit": "mg/kg", "method": "Olsen", "taken": "2026-10-20"},
        {"analyte": "K", "value": 90, "unit": "mg/kg", "method": "Ammonium acetate", "taken": "2026-10-20"},
    ],
    "crop": {"key": "apple", "planting": "2018-03-01", "spacing": "4 m x 5 m"},
    "climate": {"key": "thornmere_vale"},
}


def planned(**changes):
    asked = {name: value | changes.pop(name, {}) if isinstance(value, dict) else value for name, value in APPLES.items()} | changes
    return make_plan(read_request(as_request(asked), load_tables()), load_tables())


def test_a_bearing_orchard_is_fed_each_week_from_growth_to_june():
    """An adviser: nitrogen in six to twelve weekly feeds from bud burst, potash along with it, none in late summer."""
    plan = planned()
    fed = [item for item in plan.applications if "through the drippers" in item.placement]
    assert {item.what for item in fed} == {"N", "K"} == {item.what for item in plan.applications}
    assert sum(item.feeds for item in fed if item.what == "N") in range(6, 13)
    assert max(item.to for item in fed) < date(2027, 7, 10)
    assert "to each" in fed[0].placement
    assert plan.not_ready == ()


@settings(max_examples=25, deadline=None)
@given(
    injector=st.sampled_from((50, 100, 200)),
    area=st.sampled_from(("0.2 ha", "1 ha", "6 ha")),
    k=st.integers(30, 160),
    p=st.integers(3, 40),
    crop=st.sampled_from(("apple", "avocado", "pear", "grape", "hop", "raspberry")),
)
def test_every_kilogram_is_in_a_tank_and_dissolves(injector, area, k, p, crop):
    readings = [APPLES["readings"][0], APPLES["readings"][1] | {"value": p}, APPLES["readings"][2] | {"value": k}]
    plan = planned(plot={"injector": injector, "area": area}, readings=readings, crop={"key": crop, "spacing": None})
    tables = load_tables()
    dripped = [item for item in plan.applications if is_dripped(item, tables) and not item.later]
    fed = {item.name: sum(one.total_kg for one in dripped if one.name == item.name) for item in dripped}
    tanked: dict[str, float] = dict.fromkeys(fed, 0.0)
    for spell in plan.fertigation:
        assert spell.last - spell.first >= timedelta(days=6)
        assert 0.1 <= spell.salts_g_per_l <= 1.01
        for tank in spell.tanks:
            for name, kg in tank.kg:
                row = next(row for row in tables.materials.values() if row.name == name)
                assert kg * 1000 / tank.litres <= 0.81 * row.solubility_g_per_l
                tanked[name] += kg * spell.feeds
    assert tanked == pytest.approx(fed)


def test_calcium_and_sulfate_keep_to_tanks_of_their_own():
    changes = {
        "crop": {"key": "pepper_tunnel", "planting": "2027-04-10", "spacing": None},
        "materials": ["calcium_nitrate", "potassium_sulfate"],
    }
    plan = planned(plot={"kind": "bed", "area": "180 m2", "cover": "tunnel"}, **changes)
    both = [spell for spell in plan.fertigation if len(spell.tanks) == 2]
    assert both
    assert all(len(tank.kg) == 1 for spell in both for tank in spell.tanks)
    assert "must not meet" in both[0].says


def test_the_letter_says_what_goes_into_the_tank_and_keeps_the_well_safe():
    plan = planned(crop={"key": "hop", "spacing": None})
    text = letter(plan, plot="Lower rows", crop="hop").text
    assert text.count("tank A") == len(plan.fertigation) > 1  # each stage's feed, however short the letter
    assert "backflow" in text
    assert len(text.split()) < 350


def test_without_an_injector_nothing_is_dissolved():
    assert planned(plot={"injector": None}).fertigation == ()
