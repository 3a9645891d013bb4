"""The shed by lots, and the list of what to buy."""

import pytest
from django.urls import reverse

from web.planning.models import StockLot


def page(grower, name, *args) -> str:
    answer = grower.get(reverse(name, args=args))
    assert answer.status_code == 200
    return " ".join(answer.content.decode().split())


LOT = {"material": "magnesian_lime_pelletised", "amount": "40 lb", "price": "3.00 per 20 kg", "bag": "20"}


def test_a_lot_is_kept_in_base_units_and_plans_use_it_first(grower, border, thornmere):
    assert "shed is empty" in page(grower, "planning:shed")
    assert "ground limestone" in page(grower, "planning:bench", border.pk)
    assert grower.post(reverse("planning:shed"), LOT).status_code == 302
    lot = StockLot.objects.get()
    assert (lot.kg, lot.price_per_kg, lot.bag_kg) == (pytest.approx(18.144, rel=1e-3), pytest.approx(0.15), 20)
    told = page(grower, "planning:bench", border.pk)
    assert "magnesian pelletised lime" in told
    assert "It is in your shed" in told
    grower.post(reverse("planning:edit_lot", args=[lot.pk]), LOT | {"amount": "5 kg"})
    lot.refresh_from_db()
    assert lot.kg == 5
    grower.post(reverse("planning:take_out_lot", args=[lot.pk]))
    assert "magnesian pelletised lime" not in page(grower, "planning:bench", border.pk)


@pytest.mark.parametrize(
    ("wrong", "says"),
    [({"amount": "many"}, "many"), ({"price": "-3"}, "below nought"), ({"material": "fairy dust"}, "Select a valid choice"), ({"bag": "0"}, "lies outside")],
)
def test_a_refused_lot_keeps_what_was_typed(grower, border, wrong, says):
    answer = grower.post(reverse("planning:shed"), LOT | wrong)
    assert answer.status_code == 422
    assert says in answer.content.decode()
    assert not StockLot.objects.exists()


def test_what_to_buy_is_whole_bags_less_the_shed(grower, border):
    assert "Nothing to buy" in page(grower, "planning:buying")
    grower.post(reverse("planning:adopt", args=[border.pk]))
    told = page(grower, "planning:buying")
    assert "ground limestone" in told
    assert "1 of 25 kg" in told
    assert border.name in told
    grower.post(reverse("planning:shed"), {"material": "calcitic_limestone_ground", "amount": "25 kg"})
    assert "your adopted plans will use" in page(grower, "planning:shed")
    rows = grower.get(reverse("planning:buying_csv")).content.decode().splitlines()
    lime = next(row.split(",") for row in rows if row.startswith("ground"))
    assert lime[3] == "0"
