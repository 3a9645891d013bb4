"""What the holding spreads with decides what is chosen, what is too little to lay, and in what form it is bought."""

import pytest

from agronomy.base.errors import RequestError
from agronomy.intake.example import bed, needs, shop
from agronomy.products.equipment import laid_evenly
from agronomy.products.nutrient_sources import choice_at
from tests.helpers.requests import TABLES, document, plan, reading

ACID = (reading("pH", 5.3, method="water 1:1"), reading("P", 8, "mg/kg", "Olsen"), reading("K", 60, "mg/kg", "ammonium acetate"))


def wheat(*readings, area="5 ha", **told):
    return plan(
        document(*readings, crop="winter_wheat", planting="2027-10-05", kind="field", area=area, texture="loam", depth="20 cm"),
        today="2027-09-01",
        **told,
    )


def lime(made):
    return next(item for item in made.applications if item.what == "CaCO3")


def test_a_disc_spreader_lays_no_powder():
    assert "ground" in lime(wheat(*ACID)).name
    by_disc = wheat(*ACID, equipment=["disc", "loader"])
    assert lime(by_disc).material == "pelletised_lime"
    assert any("Go over it" in note and "Pelletised" in note for note in by_disc.notes)
    assert lime(wheat(*ACID, equipment=["loader"])).material == lime(wheat(*ACID)).material  # a loader lays nothing


@pytest.mark.parametrize(
    ("area", "equipment", "says"),
    [
        ("5 ha", [], " in 2 loose loads"),
        ("1 ha", [], "10 big bags of 600 kg"),
        ("1 ha", ["by_hand"], "bags of 25 kg"),
        ("500 m2", [], "bags of 25 kg"),
    ],
)
def test_the_form_follows_the_amount_and_the_equipment(area, equipment, says):
    made = wheat(*ACID, area=area, equipment=equipment)
    assert says in next(row.says for row in made.buy if row.material == lime(made).material)


def test_loose_lime_costs_a_fifth_and_an_own_price_stays():
    assert lime(wheat(*ACID)).cost < 0.25 * 5 * lime(wheat(*ACID, area="1 ha")).cost
    own = wheat(*ACID, shed=[{"material": lime(wheat(*ACID)).material, "price": "0.10 per kg"}])
    assert lime(own).cost == pytest.approx(0.10 * lime(own).total_kg, rel=0.01)


def test_what_is_too_little_for_the_machine_is_raised_to_what_it_lays_or_left_out():
    little = (reading("pH", 6.8, method="water 1:1"), reading("K", 94, "mg/kg", "ammonium acetate"))
    doses = {eq: next(a for a in wheat(*little, equipment=[eq]).applications if a.what == "K") for eq in ("air_boom", "drill")}
    assert doses["air_boom"].rate_kg_per_ha < doses["drill"].rate_kg_per_ha == 60
    assert "A little more than is needed" in doses["drill"].why
    asked = bed(kind="field", area="5 ha")
    phosphate = next(item for item in needs() if item.what == "P")
    speck, enough = (choice_at(phosphate, TABLES.materials["triple_superphosphate"], rate, 20.0, shop()) for rate in (8.0, 80.0))
    kept, left = laid_evenly([speck, enough], asked, shop(), TABLES)
    assert kept == [enough]
    assert "far less than" in left[0].why


def test_unknown_equipment_is_told():
    with pytest.raises(RequestError, match="not in our list of equipment"):
        wheat(*ACID, equipment=["catapult"])
