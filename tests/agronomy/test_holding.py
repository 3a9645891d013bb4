"""Bags for a whole holding, wishes that conflict, swaps, and labels that go before the table."""

import json
import os
import random
import subprocess
import sys
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import Bounds, LinearConstraint, milp

from agronomy.base.errors import OutOfRange, RequestError, UnknownName
from agronomy.intake.own_material import LabelDoc, own_material
from agronomy.intake.prices import price_per_kg
from agronomy.intake.request import read_request
from agronomy.model.stock import StockLine
from agronomy.plan.plan import make_plan
from agronomy.products import optimiser
from agronomy.products.optimiser import solve
from agronomy.whatif import holding
from agronomy.whatif.account import account
from agronomy.whatif.case import case_for
from agronomy.whatif.holding import AIMS, choose_for_holding
from agronomy.whatif.swap import swapped, swaps
from agronomy.whatif.wishes import conflicts
from benchmarks.made_up import requests
from tests.helpers.requests import TABLES, document, reading

CROPS = sorted(TABLES.crops)
FEW = ("urea", "dap", "triple_superphosphate", "potassium_chloride", "kieserite")


def hungry(area: str = "2 ha", **more) -> dict:
    lines = {"P": (4, "Olsen"), "K": (60, "ammonium acetate"), "Mg": (30, "ammonium acetate")}
    readings = [reading(key, value, "mg/kg", method) for key, (value, method) in lines.items()]
    return document(reading("pH", 6.6), *readings, crop="potato", texture="loam", area=area, kind="field") | more


def small_holding(seed: int, plots: int, only=None):
    rng = random.Random(seed)  # noqa: S311 -- makes up plots
    docs = requests(plots, CROPS, seed)
    for doc in docs:
        doc["plot"]["area"] = f"{rng.randint(4, 200)} m2"
    return [case_for(replace(read_request(doc, TABLES), only=only), TABLES) for doc in docs]


def test_no_clock_decides_which_bags_a_plot_or_a_holding_gets(monkeypatch):
    """The search of a plot ends by its nodes; that of a holding too, and where the clock ends it, the choice says so."""
    asked = []

    def watched(*args, options, **kwargs):
        asked.append(options)
        return milp(*args, options=options | ({"time_limit": 1e-9} if "time_limit" in options and slow else {}), **kwargs)

    slow = False
    monkeypatch.setattr(optimiser, "milp", watched)
    monkeypatch.setattr(holding, "milp", watched)
    cases = small_holding(3, 4)
    assert not choose_for_holding(cases, {}, {}, "money", TABLES).stopped
    assert all("node_limit" in options for options in asked)
    assert sum("time_limit" in options for options in asked) == 1
    slow = True
    assert choose_for_holding(cases, {}, {}, "money", TABLES).stopped


def test_a_search_that_ends_at_its_nodes_says_that_it_is_not_proved(monkeypatch):
    def ended(*args, **kwargs):
        found = milp(*args, **kwargs)
        found.status = 1  # as the solver says where its nodes ran out
        return found

    told = document(reading("P", 4, "mg/kg", "Olsen"), crop="potato", texture="loam", area="2 ha", kind="field") | {"aim": "fewest"}
    request = read_request(told, TABLES)
    notes = [step.note for item in make_plan(request, TABLES).applications for step in item.working]
    assert not any("not proved the best" in note for note in notes)
    monkeypatch.setattr(optimiser, "milp", ended)
    notes = [step.note for item in make_plan(request, TABLES).applications for step in item.working]
    assert any("not proved the best" in note for note in notes)


def plainly(cases, mixes) -> float:
    """The least money for whole bags over some plots, from a second model written without the first: no switches, bags as integers."""
    keys = sorted({item.key for case in cases if case.model for item in case.model.materials})
    columns, rows, low, high = len(keys), [], [], []
    cost = [TABLES.materials[key].bag_kg * TABLES.materials[key].list_price_per_kg for key in keys]
    top = [np.inf] * len(keys)
    supply = {key: {place: -TABLES.materials[key].bag_kg} for place, key in enumerate(keys)}
    nearly = TABLES.choice.nearly_met.value
    for case, mix in zip(cases, mixes, strict=True):
        model = case.model
        if model is None:
            continue
        count, needs, first = len(model.materials), len(model.needs), columns
        columns += count + 2 * needs
        by_need = model.wanted * model.worth * case.hectares
        cost += [0.0] * count + list(nearly * by_need) + list(TABLES.choice.short_times.value * by_need)
        top += [np.inf] * count + [1.0] * needs + list(mix.open / model.wanted + 1e-6)
        for m, item in enumerate(model.materials):
            supply[item.key][first + m] = case.hectares
        for n in range(needs):
            given_ = {first + m: model.share[n, m] for m in range(count)}
            rows += [given_, given_ | {first + count + n: nearly * model.wanted[n], first + count + needs + n: model.wanted[n]}]
            low, high = [*low, -np.inf, model.wanted[n]], [*high, model.most[n], np.inf]
        for n in range(len(model.beside)):
            rows.append({first + m: model.beside[n, m] for m in range(count)})
            low, high = [*low, -np.inf], [*high, model.beside_most[n]]
    rows += list(supply.values())
    low, high = [*low, *[-np.inf] * len(keys)], [*high, *[0.0] * len(keys)]
    matrix = np.zeros((len(rows), columns))
    for place, row in enumerate(rows):
        matrix[place, list(row)] = list(row.values())
    integer = np.array([1] * len(keys) + [0] * (columns - len(keys)))
    found = milp(np.array(cost), constraints=LinearConstraint(matrix, low, high), integrality=integer, bounds=Bounds(0, np.array(top)))
    return float(found.fun)


@pytest.mark.parametrize("seed", [1, 2, 5])
def test_no_other_whole_bags_cost_less(seed):
    # lime and boron follow from the plan of each plot, not from the choice of bags
    made = [(case, {item.what for item in make_plan(case.request, TABLES).applications}) for case in small_holding(seed, 12, FEW)]
    cases = [case for case, given_ in made if case.model and not {"CaCO3", "S_acid", "B"} & given_]
    mixes = [solve(case.model, "money", TABLES) for case in cases]
    chosen = choose_for_holding(cases, {}, {}, "money", TABLES)
    assert chosen.gap <= 0.011
    assert chosen.cost <= plainly(cases, mixes) * 1.02 + 0.01
    assert chosen.cost <= chosen.apart_cost + 1e-6


@settings(max_examples=8, deadline=None)
@given(st.integers(0, 10**6), st.sampled_from(sorted(AIMS)), st.booleans())
def test_windows_bags_and_stock_add_up_on_any_holding(seed, aim, whole_bags):
    cases = small_holding(seed, 6)
    shed = {"urea": StockLine(None, 3.0), "kieserite": StockLine(0.4, 1.0)}
    chosen = choose_for_holding(cases, shed, {"urea": 10.0}, aim, TABLES, whole_bags=whole_bags)
    for case, share in zip(cases, chosen.shares, strict=True):
        if case.model is None:
            continue
        rates = np.array(
            [(share.kg.get(item.key, 0.0) - share.by_rule.get(item.key, 0.0)) / case.hectares for item in case.model.materials]
        )
        assert (case.model.share @ rates <= case.model.most + 1e-4).all()
        assert (case.model.beside @ rates <= case.model.beside_most + 1e-4).all()
        own = solve(case.model, "money", TABLES)
        assert {key for key, left in share.open.items() if left > 1} <= {
            need.what for need, left in zip(own.model.needs, own.open, strict=True) if left > 0
        }
    for row in chosen.buy:
        assert row.from_shed_kg <= shed.get(row.material, StockLine(None, 0.0)).in_stock_kg + 1e-9
        assert row.bags * row.bag_kg == pytest.approx(row.needed_kg - row.from_shed_kg + row.left_over_kg, abs=1e-5)
        assert 0 <= row.left_over_kg < row.bag_kg + 1e-6
    assert 0 <= chosen.gap <= 0.05


def test_lime_traces_and_bales_are_bought_as_the_plan_gives_them():
    """The holding's list holds to one dressing's cap, and knows what is no choice."""
    sour = document(reading("pH", 4.6), crop="broad_beans", kind="field", area="2 ha", texture="clay")
    bale = document(crop="zinnia", kind="bale", area="2.7 m2")
    for doc in (sour, bale):
        request = read_request(doc, TABLES)
        wanted: dict[str, float] = {}
        for item in make_plan(request, TABLES).applications:
            if not item.later and item.what in ("CaCO3", "N"):
                wanted[item.material] = wanted.get(item.material, 0.0) + item.total_kg
        share = choose_for_holding([case_for(request, TABLES)], {}, {}, "money", TABLES).shares[0]
        assert wanted
        assert {key: share.kg.get(key) for key in wanted} == pytest.approx(wanted)


def test_each_aim_leads_where_it_aims():
    cases = small_holding(3, 10)
    by_aim = {aim: choose_for_holding(cases, {}, {}, aim, TABLES) for aim in AIMS}
    kinds = {aim: sum(row.bags > 0 for row in chosen.buy) for aim, chosen in by_aim.items()}
    assert min(chosen.cost for chosen in by_aim.values()) >= by_aim["money"].cost * 0.98
    assert kinds["fewest"] == min(kinds.values())
    assert by_aim["trips"].dressings <= by_aim["money"].dressings
    assert by_aim["loss"].lost_kg <= by_aim["money"].lost_kg + 1e-6


def test_a_bag_without_weight_is_refused_and_an_empty_holding_buys_nothing():
    with pytest.raises(OutOfRange, match="what a full bag weighs"):
        choose_for_holding([], {}, {"urea": 0.0}, "money", TABLES)
    nothing = choose_for_holding([], {}, {}, "money", TABLES)
    assert (nothing.cost, nothing.buy, nothing.gap) == (0, (), 0)


def test_a_cap_is_kept_by_the_rule_and_by_every_aim():
    for aim in ("rule", "money", "fewest", "loss"):
        made = make_plan(read_request(hungry(caps={"N": "60 kg/ha", "P": "10 kg/ha"}, aim=aim), TABLES), TABLES)
        brought = {line.nutrient: line.brought for line in account(made, TABLES)}
        assert brought["N"] <= 60.001
        assert brought["P"] <= 10.001


def test_salty_ground_gets_no_strong_salts():
    doc = hungry()
    doc["plot"]["kind"] = "bed"
    doc["readings"].append(reading("EC", 6.0, "dS/m", "saturated paste"))
    taken = {item.material for item in make_plan(read_request(doc, TABLES), TABLES).applications}
    limit = TABLES.choice.strong_salt_from.value
    assert taken
    assert all((TABLES.materials[key].salt_index or 0) < limit for key in taken)
    assert any(
        (TABLES.materials[item.material].salt_index or 0) >= limit
        for item in make_plan(read_request(hungry(), TABLES), TABLES).applications
    )


def test_wishes_in_each_others_way_are_named_with_what_letting_go_gives():
    one_bag = conflicts(read_request(hungry(aim="money", most_bags=1), TABLES), TABLES)
    assert [item.wish for item in one_bag] == ["no more than 1 bag of nutrients"]
    assert one_bag[0].opens
    assert one_bag[0].plan.cost > 0
    asked = hungry(wanted=["potassium_chloride", "cattle_slurry", "gypsum"], without=["cattle_slurry"], allow={"chloride": False})
    said = {item.wish: item.would for item in conflicts(read_request(asked, TABLES), TABLES)}
    assert said["muriate of potash was asked for"] == "would bring chloride"
    assert "left out as well" in said["cattle slurry was asked for"]
    assert conflicts(read_request(hungry(), TABLES), TABLES) == []


def test_a_swap_shows_the_plan_that_comes_of_it():
    asked = read_request(hungry(), TABLES)
    plan, found, unfit = swaps(asked, "potassium_sulfate", TABLES)
    rows = {item.material: item for item in found}
    other = rows["potassium_magnesium_sulfate"]
    assert other.costs_more == pytest.approx(other.plan.cost - plan.cost)
    assert [item.costs_more for item in found] == sorted(item.costs_more for item in found)
    again = make_plan(swapped(asked, "potassium_sulfate", "potassium_magnesium_sulfate"), TABLES)
    assert {item.material for item in again.applications} == {item.material for item in other.plan.applications}
    assert "chloride" in unfit["muriate of potash"]
    assert all(unfit.values())
    with pytest.raises(UnknownName):
        swaps(asked, "borax", TABLES)


LIME = document(reading("pH", 5.9), texture="sandy loam")


@pytest.mark.parametrize(
    ("label", "says"),
    [
        ({"n": 30, "p2o5": 40, "k2o": 40}, "add to 117 %"),
        ({"n": "12,5", "s": 120}, "outside 0 to 100"),
        ({"cce": 900}, "outside -330 to 180"),
        ({"bag": "0 kg"}, "outside 0.001 to 5000"),
        ({"n": "lots"}, "lots"),
    ],
)
def test_a_label_that_cannot_be_is_refused_with_its_place(label, says):
    with pytest.raises(RequestError) as told:
        read_request(LIME | {"shed": [{"material": "npk_15_15_15", "label": label}]}, TABLES)
    assert says in str(told.value)
    assert told.value.errors[0].field.startswith("shed.0.label")


def test_a_label_goes_before_the_table():
    shed = [{"material": "wood_ash", "in_stock": "900 kg", "label": {"name": "own stove ash", "cce": 30, "fineness": 100, "bag": "12 kg"}}]
    named = make_plan(read_request(LIME | {"shed": shed, "materials": ["wood_ash"]}, TABLES), TABLES).applications[0]
    table = make_plan(read_request(LIME | {"materials": ["wood_ash"]}, TABLES), TABLES).applications[0]
    assert named.name == "own stove ash"
    assert named.bag_kg == 12
    works = [item.supplies["CaCO3"] / item.rate_kg_per_ha for item in (named, table)]
    assert works == pytest.approx([0.30, TABLES.materials["wood_ash"].effective_neutralising_value])
    same = own_material(TABLES.materials["urea"], LabelDoc(), "label")
    assert same is TABLES.materials["urea"]


@pytest.mark.parametrize(("typed", "says"), [("0", "would beat every other"), ("-1", "below zero"), ("3 per 0 kg", "outside")])
def test_prices_that_cannot_be_are_refused(typed, says):
    with pytest.raises(OutOfRange, match=says):
        price_per_kg(typed, "price")


def test_standard_output_holds_the_document_alone(tmp_path):
    lines = "\n".join(json.dumps(doc | {"aim": "loss"}) for doc in requests(8, CROPS, 4))
    (tmp_path / "requests.jsonl").write_text(lines)
    command = [sys.executable, "-m", "agronomy", "plan", "--many", str(tmp_path / "requests.jsonl")]
    told = subprocess.run(command, capture_output=True, text=True, check=True, env=os.environ)  # noqa: S603
    assert [json.loads(line)["school"] for line in told.stdout.splitlines()] == ["sufficiency"] * 8


def test_a_budget_is_kept_over_all_plots_and_what_it_leaves_is_told():
    cases = small_holding(5, 6)
    free = choose_for_holding(cases, {}, {}, "money", TABLES, whole_bags=False)
    tight = choose_for_holding(cases, {}, {}, "money", TABLES, whole_bags=False, most_money=0.9 * free.cost)
    assert tight.cost <= 0.9 * free.cost + 0.01
    assert sum(len(share.open) for share in tight.shares) > sum(len(share.open) for share in free.shares)
    ample = choose_for_holding(cases, {}, {}, "money", TABLES, whole_bags=False, most_money=2 * free.cost)
    assert ample.cost <= free.cost * 1.011  # as good as without, within what the solver leaves
    with pytest.raises(OutOfRange, match=r"cost .* alone"):
        choose_for_holding(cases, {}, {}, "money", TABLES, most_money=0.01)
