"""The list of what to buy adds up."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from agronomy.model.stock import StockLine
from agronomy.products.buying import Offer, Use, purchases
from tests.helpers.requests import ACID, TABLES, document, plan

KEYS = st.sampled_from(["urea", "gypsum", "epsom_salt", "wood_ash"])
USES = st.lists(st.tuples(KEYS, st.floats(0.01, 500), st.sampled_from(["Bed 1", "Bed 2"])), max_size=12)


@given(USES, st.dictionaries(KEYS, st.floats(0, 400)), st.dictionaries(KEYS, st.floats(1, 50)))
def test_bags_and_shed_cover_what_is_needed_and_no_bag_is_bought_in_vain(uses, stock, sizes):
    rows = purchases([Use(*use) for use in uses], {key: StockLine(None, kg) for key, kg in stock.items()}, sizes, TABLES.materials)
    assert {row.material for row in rows} == {key for key, _, _ in uses}
    for row in rows:
        needed = sum(kg for key, kg, _ in uses if key == row.material)
        assert abs(row.needed_kg - needed) < 1e-6
        assert abs(row.from_shed_kg + row.bags * row.bag_kg - row.left_over_kg - needed) < 1e-6
        assert row.from_shed_kg <= stock.get(row.material, 0.0) + 1e-9
        assert -1e-6 <= row.left_over_kg < row.bag_kg
        assert row.bag_kg == sizes.get(row.material, TABLES.materials[row.material].bag_kg)
    assert [row.bags == 0 for row in rows] == sorted(row.bags == 0 for row in rows)


def test_a_material_that_is_no_longer_in_the_table_is_left_out():
    assert purchases([Use("moon_dust", 3.0, "Bed 1")], {}, {}, TABLES.materials) == []


@pytest.mark.parametrize(("in_stock", "taken"), [("50 kg", True), ("9 kg", True), ("0.2 kg", False), ("0 kg", False)])
def test_only_a_lot_that_is_enough_settles_the_choice(in_stock, taken):
    made = plan(document(*ACID), shed=[{"material": "magnesian_lime_pelletised", "in_stock": in_stock}])
    assert ("magnesian_lime_pelletised" in {item.material for item in made.applications}) is taken


@pytest.mark.parametrize(("key", "comes"), [("sugar_factory_lime", True), ("hydrated_lime", False), ("quicklime", False)])
def test_what_stands_in_the_shed_is_used_though_it_is_not_chosen_of_itself_but_never_a_caustic_one(key, comes):
    calcitic = [row for row in ACID if row["analyte"] != "Mg"]
    made = plan(document(*calcitic), shed=[{"material": key, "in_stock": "500 kg"}])
    assert (key in {item.material for item in made.applications}) is comes


def test_the_cheapest_offer_in_whole_bags_is_taken_and_ordered_before_the_shed_runs_out():
    uses = [Use("urea", 20.0, "Bed 1", date(2027, 3, 1)), Use("urea", 20.0, "Bed 2", date(2027, 5, 1))]
    offers = [
        Offer("urea", "Barn Lane Stores", 1.0, 25.0, 10),
        Offer("urea", "Coppice Supplies", 0.9, 100.0, 3),
        Offer("gypsum", "Coppice Supplies", 0.1, 20.0, 3),
    ]
    row = purchases(uses, {"urea": StockLine(None, 22.0)}, {}, TABLES.materials, offers)[0]
    assert (row.supplier, row.bags, row.cost, row.order_by) == ("Barn Lane Stores", 1, 25.0, date(2027, 4, 21))
    sold_out = purchases(uses, {}, {}, TABLES.materials, offers)[0]
    assert (sold_out.supplier, sold_out.bags, sold_out.order_by) == ("Barn Lane Stores", 2, date(2027, 2, 19))
    covered = purchases(uses, {"urea": StockLine(None, 90.0)}, {}, TABLES.materials, offers)[0]
    assert (covered.supplier, covered.bags, covered.order_by) == ("", 0, None)


@pytest.mark.parametrize(("kg", "told"), [(9.0, ("", 1, 25.0)), (700.0, ("Coppice", 2, 600.0))])
def test_a_large_bag_is_offered_in_vain_where_little_is_wanted(kg, told):
    offer = Offer("urea", "Coppice", 0.5, 600.0, 3)
    (row,) = purchases([Use("urea", kg, "Bed")], {}, {}, TABLES.materials, [offer])
    assert (row.supplier, row.bags, row.bag_kg) == told
