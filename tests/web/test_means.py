"""With what you have: the shed first, then no more money than so much, and what stays undone is said."""

import pytest
from django.urls import reverse

from agronomy.intake.request import read_request
from agronomy.whatif.within import within_means
from tests.helpers.requests import TABLES, document, reading
from web.jobs.models import Job
from web.supplies.models import StockLot

HUNGRY = (
    reading("pH", 6.6, method="water 1:1"),
    reading("P", 8, "mg/kg", "Mehlich 3"),
    reading("K", 40, "mg/kg", "Mehlich 3"),
    reading("Mg", 30, "mg/kg", "Mehlich 3"),
)


def asked(shed: list[dict]):
    return read_request(document(*HUNGRY, area="100 m2") | {"shed": shed}, TABLES)


@pytest.mark.parametrize("money", [0.0, 1.0, 2.0, 5.0, 20.0, 500.0])
def test_no_more_is_spent_than_there_is_and_more_money_leaves_less_undone(money):
    bare, told = (within_means(asked([]), TABLES, most_money=sum_) for sum_ in (0.0, money))
    assert told.cost <= money + 0.005
    assert not bare.lines
    worth = {key: TABLES.nutrients.worth_per_kg(key).value for key in told.needs if key != "CaCO3"}
    left = [sum(item.undone.get(key, 0) * value for key, value in worth.items()) for item in (bare, told)]
    assert left[1] <= left[0]
    assert bool(told.lines) == (money > 0)
    if money == 500:
        assert not told.undone


def test_the_shed_is_used_as_far_as_it_goes_and_never_further():
    told = within_means(asked([{"material": "potassium_sulfate", "in_stock": "0.4 kg"}]), TABLES, most_money=None)
    assert [(line.material.key, round(line.kg, 3)) for line in told.lines] == [("potassium_sulfate", 0.4)]
    assert told.cost == 0
    assert {"P", "K"} <= set(told.undone)
    assert told.undone["K"] == pytest.approx(told.needs["K"] - 40 * 0.5 * 0.83, rel=0.02)


def test_ash_in_the_shed_stays_within_one_dressing():
    acid = (reading("pH", 5.2, method="water 1:1"), *HUNGRY[1:])
    shed = [{"material": "wood_ash", "in_stock": "200 kg"}]
    told = within_means(read_request(document(*acid, area="100 m2") | {"shed": shed}, TABLES), TABLES, most_money=None)
    assert sum(line.kg for line in told.lines if line.material.key == "wood_ash") <= 12
    assert "CaCO3" in told.undone


def test_the_page_tells_it_and_puts_it_on_the_list(grower, border):
    StockLot.objects.create(holding=border.holding, material="potassium_sulfate", kg=0.1)
    address = reverse("desks:means", args=[border.pk])
    page = grower.get(address).content.decode()
    assert "from the shed" in page
    assert "Not met by this plan" in page
    assert "With what you have" in grower.get(reverse("plot_compare", args=[border.pk])).content.decode()
    assert grower.post(f"{address}?money=3").status_code == 302
    assert {job.origin for job in Job.objects.all()} == {"desk"}
    assert grower.get(f"{address}?money=-1").status_code == 422


def test_a_budget_over_the_whole_holding_goes_on_the_list_of_every_plot(grower, border, settings):
    address = reverse("planning:holding_bags")
    settings.QUOTAS = settings.QUOTAS | {"jobs.Job": 0}
    assert grower.post(reverse("desks:holding_means"), {"aim": "money", "opened": "1", "most": "4"}).status_code == 413
    settings.QUOTAS = settings.QUOTAS | {"jobs.Job": 1000}
    assert "cost" in grower.get(f"{address}?aim=money&most=0.01").content.decode()
    page = grower.get(f"{address}?aim=money&opened=1&most=4").content.decode()
    assert "Add all to jobs" in page
    grower.post(reverse("desks:holding_means"), {"aim": "money", "opened": "1", "most": "4"})
    jobs = Job.objects.filter(plot=border, origin=Job.Origin.DESK).count()
    assert jobs > 0
    grower.post(reverse("desks:holding_means"), {"aim": "money", "opened": "1", "most": "4"})  # once more: there is work already
    assert Job.objects.filter(plot=border).count() == jobs
