"""The shed by lots, and the list of what to buy."""

import pytest
from django.urls import reverse

from tests.helpers.pages import page, text_of
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
        ({"price": "-3"}, "below nought"),
        ({"material": "fairy dust"}, "Select a valid choice"),
        ({"bag": "0"}, "lies outside"),
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
    assert "reckoned by its own label" in page(grower, "supplies:shed")
    assert "quarry dust" in page(grower, "planning:bench", border.pk)


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
    assert "below nought" in text_of(grower.post(address, {"material": "urea", "price": "-2"}))
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
