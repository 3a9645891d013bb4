"""The choice of bags: against brute force on small cases, and what must hold of every choice."""

from dataclasses import replace
from itertools import combinations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import linprog

from agronomy.intake.request import read_request
from agronomy.model.stock import StockLine
from agronomy.plan.assess import assess
from agronomy.plan.ground import ground_for
from agronomy.plan.needs import answers_by
from agronomy.plan.plan import make_plan
from agronomy.products.choice import AvailableProducts
from agronomy.products.optimiser import Model, front, model_for, solve
from agronomy.whatif.aims import plans_by_aim, rejected, trade_offs
from agronomy.whatif.case import case_for
from benchmarks.made_up import requests
from tests.helpers.requests import TABLES, document, reading

NEARLY_MET, SHORT_TIMES = TABLES.choice.nearly_met.value, TABLES.choice.short_times.value
NEARLY_TIMES = TABLES.choice.nearly_times.value
CROPS = sorted(TABLES.crops)
ALL = tuple(sorted(TABLES.materials))
QUICK = settings(max_examples=25, deadline=None)


def model(doc: dict, only=None, shed=None) -> Model | None:
    asked = read_request(doc, TABLES)
    found = assess(asked, TABLES)
    answers = answers_by("sufficiency", found, TABLES)
    needs = answers.needs()
    shop = AvailableProducts(TABLES.materials, only, shed or {}, organic_only=False, chloride=True)
    return model_for(needs, {need.what: need.rate_kg_per_ha for need in needs}, ground_for(found, answers, TABLES), shop, TABLES)


def hungry(**readings) -> dict:
    """A maize field short of what is named."""
    lines = {"P": (8, "Olsen"), "K": (60, "ammonium acetate"), "Mg": (30, "ammonium acetate")} | readings
    return document(
        reading("pH", 6.6), *(reading(key, value, "mg/kg", method) for key, (value, method) in lines.items()), crop="maize", texture="loam"
    )


def by_brute_force(made: Model, most_bags: int) -> float:
    """The least weight for money over every set of at most so many materials, each solved as a plain linear program."""
    needs, best = len(made.needs), np.inf
    for size in range(most_bags + 1):
        for chosen in combinations(range(len(made.materials)), size):
            share, beside = made.share[:, chosen], made.beside[:, chosen]
            near, rest = np.diag(NEARLY_MET * made.wanted), np.diag(made.wanted)
            zero = np.zeros((needs, needs))
            upper = np.vstack(
                [np.hstack([-share, -near, -rest]), np.hstack([share, zero, zero]), np.hstack([beside, np.zeros((len(beside), 2 * needs))])]
            )
            limits = np.concatenate([-made.wanted, made.most, made.beside_most])
            cost = np.concatenate(
                [made.price[list(chosen)], NEARLY_TIMES * NEARLY_MET * made.wanted * made.worth, SHORT_TIMES * made.wanted * made.worth]
            )
            found = linprog(cost, A_ub=upper, b_ub=limits, bounds=[(0, None)] * size + [(0, 1)] * (2 * needs))
            if found.success:
                best = min(best, found.fun + size * 1e-4 * float(made.wanted @ made.worth))
    return best


SMALL = ("urea", "dap", "triple_superphosphate", "potassium_chloride", "kieserite", "npk_15_15_15", "potassium_magnesium_sulfate", "map")


@pytest.mark.parametrize("bags", [1, 2, 3])
@pytest.mark.parametrize("short", [{}, {"P": (30, "Olsen")}, {"K": (300, "ammonium acetate")}, {"Mg": (200, "ammonium acetate")}])
def test_no_set_of_bags_beats_the_one_that_is_chosen(short, bags):
    made = model(hungry(**short), only=SMALL)
    assert solve(made, "money", TABLES, most_bags=bags).weight == pytest.approx(by_brute_force(made, bags), rel=1e-4)


soils = st.integers(0, 10**6).map(lambda seed: requests(1, CROPS, seed)[0])


@QUICK
@given(soils, st.sampled_from(["money", "fewest", "loss"]))
def test_windows_are_kept_and_plenty_is_never_brought(doc, aim):
    made = model(doc)
    if made is None:
        return
    mix = solve(made, aim, TABLES)
    given_ = made.share @ mix.rates
    assert (given_ <= made.most + 1e-6).all()
    assert (given_ + mix.open >= made.wanted * (1 - NEARLY_MET) - 1e-6).all()
    assert (made.beside @ mix.rates <= made.beside_most + 1e-6).all()
    plenty = {finding.analyte for finding in assess(read_request(doc, TABLES), TABLES).nutrients.values() if finding.is_plenty} & {
        "N",
        "P",
        "K",
    }
    for m in np.flatnonzero(mix.rates):
        assert not plenty & set(made.materials[m].share)


@QUICK
@given(soils, st.sampled_from(ALL))
def test_one_material_more_is_never_worse(doc, key):
    fewer = model(doc, only=tuple(name for name in ALL if name != key))
    more = model(doc, only=ALL)
    if fewer is None or more is None:
        return
    assert solve(more, "money", TABLES).weight <= solve(fewer, "money", TABLES).weight + 1e-4


@QUICK
@given(soils, st.floats(0.1, 1.0))
def test_a_price_that_falls_is_never_worse(doc, part):
    made = model(doc)
    if made is None:
        return
    before = solve(made, "money", TABLES)
    cheaper = made.price.copy()
    cheaper[int(np.argmax(before.rates))] *= part
    assert solve(replace(made, price=cheaper), "money", TABLES).weight <= before.weight + 1e-4


@QUICK
@given(soils)
def test_each_aim_is_best_at_what_it_aims_at(doc):
    made = model(doc)
    if made is None:
        return
    money, fewest, loss = (solve(made, aim, TABLES) for aim in ("money", "fewest", "loss"))
    met = [float((mix.open * made.worth).sum()) for mix in (money, fewest, loss)]
    if max(met) - min(met) < 1e-3:  # what is left open is the same, so that the aims can be compared
        assert fewest.bags <= money.bags
        assert loss.lost_kg <= money.lost_kg + 0.02 * max(1.0, money.lost_kg) + 0.05 * money.money


def test_the_front_falls_in_what_is_open_or_in_money():
    points = front(model(hungry()), TABLES)
    assert len(points) >= 2
    assert [point.bags for point in points] == sorted({point.bags for point in points})
    assert points[0].open.sum() > points[-1].open.sum()


def test_what_stands_in_the_shed_is_opened_first_where_it_costs_no_more():
    doc = hungry(P=(30, "Olsen"), Mg=(200, "ammonium acetate"))
    shed = {"potassium_sulfate": StockLine(0.0, 500.0)}
    made = model(doc, only=("potassium_chloride", "potassium_sulfate", "urea"), shed=shed)
    mix = solve(made, "money", TABLES)
    opened = {made.materials[m].key for m in np.flatnonzero(mix.rates)}
    assert "potassium_sulfate" in opened
    assert "potassium_chloride" not in opened


def test_plans_by_aim_are_whole_plans_and_the_trade_offs_are_for_the_plot():
    doc = hungry() | {"plot": hungry()["plot"] | {"area": "2 ha", "kind": "field"}}
    asked = read_request(doc, TABLES)
    plans = plans_by_aim(asked, TABLES)
    assert set(plans) == {"rule", "money", "fewest", "loss"}
    assert plans["money"].cost <= plans["rule"].cost + 0.01
    assert all(item.working for plan in plans.values() for item in plan.applications)
    last = trade_offs(case_for(asked, TABLES), TABLES)[-1]
    assert last.is_whole
    assert plans["money"].cost <= 1.02 * last.cost
    assert plans["money"].cost <= 1.001 * min(plans["fewest"].cost, plans["loss"].cost)


def test_every_material_that_was_not_taken_says_why_in_one_sentence():
    asked = read_request(hungry() | {"allow": {"organic_only": False, "chloride": False}}, TABLES)
    taken = {item.name for item in plans_by_aim(asked, TABLES)["money"].applications}
    rows = {row.name: row.why for row in rejected(case_for(asked, TABLES), TABLES)}
    assert rows["muriate of potash"] == "would bring chloride"
    assert "times that of" in rows["blood meal"]
    assert not taken & set(rows)
    assert all(rows.values())


def test_an_empty_shop_leaves_every_need_open_and_says_so():
    asked = read_request(hungry() | {"materials": ["garden_compost"], "aim": "money"}, TABLES)
    made = make_plan(asked, TABLES)
    assert not [item for item in made.applications if item.what in ("P", "K", "Mg")]
    assert {item.what for item in made.needs} == {item.what for item in made.unmet} - {"OM"}
    assert trade_offs(case_for(asked, TABLES), TABLES) == []
