"""The shed by lots, and the list of what to buy."""

import pytest
from django.urls import reverse

from tests.helpers.pages import page, text_of
from web.planning.models import AdoptedPlan
from web.planning.service import plan_of
from web.readings.models import LabReport
from web.supplies.buying import purchases_of
from web.supplies.models import StockLot, Supplier, SupplierOffer

LOT = {"material": "magnesian_lime_pelletised", "amount": "40 lb", "price": "3.00 per 20 kg", "bag": "20"}


def test_a_lot_is_kept_in_base_units_and_plans_use_it_first(grower, border, thornmere):
    assert "shed is empty" in page(grower, "supplies:shed")
    assert "ground limestone" in page(grower, "planning:bench", border.pk)
    assert grower.post(reverse("supplies:shed"), LOT).status_code == 302
    lot = StockLot.objects.get()
    assert (lot.kg, lot.price_per_kg, lot.bag_kg) == (pytest.approx(18.144, rel=1e-3), pytest.approx(0.15), 20)
    told = page(grower, "planning:bench", border.pk)
    assert "magnesian pelletised lime" in told
    assert "It is in your shed" in told
    grower.post(reverse("supplies:edit_lot", args=[lot.pk]), LOT | {"amount": "5 kg"})
    lot.refresh_from_db()
    assert lot.kg == 5
    grower.post(reverse("supplies:take_out_lot", args=[lot.pk]))
    assert "magnesian pelletised lime" not in page(grower, "planning:bench", border.pk)


@pytest.mark.parametrize(
    ("wrong", "says"),
    [
        ({"amount": "many"}, "many"),
        ({"price": "-3"}, "below zero"),
        ({"material": "fairy dust"}, "Select a valid choice"),
        ({"bag": "0"}, "is outside"),
        ({"price": "0"}, "write “free”"),
        ({"n": "40", "k2o": "55"}, "more than the whole bag"),
    ],
)
def test_a_refused_lot_keeps_what_was_typed(grower, border, wrong, says):
    answer = grower.post(reverse("supplies:shed"), LOT | wrong)
    assert answer.status_code == 422
    assert says in text_of(answer)
    assert not StockLot.objects.exists()


def test_what_to_buy_is_whole_bags_less_the_shed(grower, border):
    assert "Nothing to buy" in page(grower, "supplies:buying")
    grower.post(reverse("planning:adopt", args=[border.pk]))
    told = page(grower, "supplies:buying")
    assert "ground limestone" in told.lower()
    assert "1 of 25 kg" in told
    assert border.name in told
    grower.post(reverse("supplies:shed"), {"material": "calcitic_limestone_ground", "amount": "25 kg"})
    assert "your adopted plans will use" in page(grower, "supplies:shed")
    rows = grower.get(reverse("supplies:buying_csv")).content.decode().splitlines()
    lime = next(row.split(",") for row in rows if row.startswith("ground"))
    assert lime[3] == "0"  # the shed covers it


def test_a_lots_own_label_goes_before_the_table(grower, border):
    ash = {
        "material": "calcitic_limestone_ground",
        "amount": "90 kg",
        "price": "free",
        "own_name": "quarry dust",
        "cce": "30",
        "fineness": "100",
    }
    grower.post(reverse("supplies:shed"), ash)
    assert StockLot.objects.get().label == {"name": "quarry dust", "cce": 30.0, "fineness": 100.0}
    assert "worked out by its own label" in page(grower, "supplies:shed")
    assert "quarry dust" in page(grower, "planning:bench", border.pk)


@pytest.mark.parametrize(
    ("typed", "kg", "a_kilo"),
    [
        ({"amount": "2 bags", "bag": "25 kg", "price": "30 for all"}, 50, 0.6),
        ({"amount": "3 bags of 20 kg", "bag": "", "price": "free"}, 60, 0.0),
        ({"amount": "40 kg", "bag": "20 kg", "price": "15 a bag"}, 40, 0.75),
        ({"amount": "2 bags", "bag": "", "price": ""}, "ow much is in a bag", None),
        ({"amount": "40 kg", "bag": "", "price": "30"}, "for all of it, or for a kilogram?", None),
    ],
)
def test_amounts_and_prices_as_people_say_them(grower, thornmere, typed, kg, a_kilo):
    answer = grower.post(reverse("supplies:shed"), LOT | typed)
    if a_kilo is None:
        assert kg in text_of(answer)
        assert not thornmere.stock_lots.exists()
        return
    lot = thornmere.stock_lots.get()
    assert (lot.kg, lot.price_per_kg) == (pytest.approx(kg), pytest.approx(a_kilo))
    again = grower.post(
        reverse("supplies:edit_lot", args=[lot.pk]), LOT | {"amount": f"{kg} kg", "price": f"{a_kilo:g} per kg" if a_kilo else "free"}
    )
    assert again.status_code == 302
    lot.refresh_from_db()
    assert lot.price_per_kg == pytest.approx(a_kilo)


def test_an_analysis_becomes_a_lot_or_a_credit_without_retyping(grower, thornmere, border):
    made = LabReport.objects.create(holding=thornmere, medium="material", material="Slurry of our cattle", how="lab", taken_on="2026-09-01")
    for place, (analyte, typed) in enumerate([("label N", "0.4"), ("label NH4-N", "0.2"), ("label K2O", "0.5")]):
        made.lines.create(place=place, analyte=analyte, typed=typed, unit="%", method="as it comes")
    said = text_of(grower.get(reverse("slip_page", args=[made.pk])))
    assert "Put a lot of it in the shed" in said
    lot = text_of(grower.get(reverse("supplies:shed"), {"analysis": made.pk}))
    assert 'value="Slurry of our cattle"' in lot
    assert 'value="cattle_slurry" selected' in lot
    gift = text_of(grower.get(reverse("planning:given", args=[border.pk]), {"kind": "manure", "analysis": made.pk}))
    assert 'name="ammonium_kg_per_t" value="2"' in gift
    told = {"kind": "manure", "what": "cattle_slurry", "rate": "30 m3/ha", "on": "2026-10-01", "worked_in": "one_day"}
    assert grower.post(reverse("planning:given", args=[border.pk]), told).status_code == 302
    assert border.gifts.get().rate_t_per_ha == pytest.approx(30, rel=0.1)


def test_a_suppliers_price_goes_into_plans_and_its_days_into_the_list(grower, border, thornmere):
    assert "Nobody yet" in page(grower, "supplies:suppliers")
    grower.post(reverse("supplies:suppliers"), {"name": "Barn Lane Stores", "delivery_days": "12"})
    seller = Supplier.objects.get()
    refused = grower.post(reverse("supplies:suppliers"), {"name": "Barn Lane Stores", "delivery_days": "2"})
    assert "a supplier of this name already" in text_of(refused)
    address = reverse("supplies:supplier", args=[seller.pk])
    for price in ("0.60 per kg", "1.00 per 20 kg"):  # the second takes the place of the first
        assert grower.post(address, {"material": "magnesian_lime_pelletised", "price": price, "bag": "20 kg"}).status_code == 302
    assert SupplierOffer.objects.get().price_per_kg == pytest.approx(0.05)
    assert "below zero" in text_of(grower.post(address, {"material": "urea", "price": "-2"}))
    assert "magnesian pelletised lime" in page(grower, "planning:bench", border.pk)
    grower.post(reverse("planning:adopt", args=[border.pk]))
    told = page(grower, "supplies:buying")
    assert "From Barn Lane Stores" in told
    assert "Order by" in told
    grower.post(address, {"name": "Barn Lane", "delivery_days": "30000"})
    assert "Some should have been ordered already" in page(grower, "supplies:buying")
    grower.post(reverse("supplies:drop_offer", args=[SupplierOffer.objects.get().pk]))
    grower.post(reverse("supplies:drop_supplier", args=[seller.pk]))
    assert not Supplier.objects.exists()


@pytest.mark.parametrize("stock", [(), (("urea", 1.0, 10.0, 2.0),), (("urea", 500.0, None, None),)])
def test_a_plan_and_the_list_of_the_holding_buy_the_same_to_the_cent(grower, border, stock):
    for material, kg, bag_kg, price in stock:
        StockLot.objects.create(holding=border.holding, material=material, kg=kg, bag_kg=bag_kg, price_per_kg=price)
    grower.post(reverse("planning:adopt", args=[border.pk]))
    plan = plan_of(AdoptedPlan.objects.get())
    listed = {row.material: row for row in purchases_of(border.holding)}
    assert {row.material for row in plan.buy} == set(listed) != set()
    for row in plan.buy:
        there = listed[row.material]
        assert (row.kg, row.from_shed_kg) == pytest.approx((there.needed_kg, there.from_shed_kg), rel=1e-4), row.name
        assert (row.cost, row.is_list_price) == (there.cost, there.is_list_price), row.name
