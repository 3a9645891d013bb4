"""A plot's own buffering from its tests: the worked example step by step, simulated plots, and what is not learnt from."""

from dataclasses import replace
from datetime import date, timedelta
from math import sqrt

import numpy as np
import pytest

from agronomy.base.errors import RuleError
from agronomy.intake.request import read_request
from agronomy.model.application_record import ApplicationRecord
from agronomy.model.own_buffering import OwnBuffering
from agronomy.model.own_pool import OwnPool
from agronomy.plan.plan import make_plan
from agronomy.tables import load_tables
from agronomy.whatif.forecast.learned import Belief, learn
from agronomy.whatif.forecast.learned_pools import Moved, PoolBelief, learn_pool
from agronomy.whatif.forecast.outlook import outlook
from tests.helpers.requests import document

TABLES = load_tables()


def test_the_worked_example_of_three_stretches():
    table = 0.2899
    belief = Belief(5.60, table, 0.14**2, 0.0, (0.35 * table) ** 2)
    for tonnes, u, read, expected, after, per_tonne, off in (
        (2.683, 0.7596, 6.05, 6.378, 6.090, 0.2340, -0.815),
        (-0.2715, 0.3282, 5.95, 6.026, 5.986, 0.2306, -0.375),
        (2 * (1 - np.exp(-4)) - 0.52, float(np.hypot(0.4 * (1 - np.exp(-4)), 0.208)), 6.15, 6.319, 6.211, 1 / 4.92, None),
    ):
        belief = belief.after(tonnes, u)
        assert belief.ph == pytest.approx(expected, abs=0.003)
        belief, seen_off = belief.seen(read, 0.14)
        assert (belief.ph, belief.per_tonne) == (pytest.approx(after, abs=0.003), pytest.approx(per_tonne, abs=0.001))
        assert off is None or seen_off == pytest.approx(off, abs=0.01)
    assert sqrt(belief.var_per_tonne) == pytest.approx(0.0638, abs=0.001)


def test_the_stated_band_holds_the_truth_of_simulated_plots_nine_times_in_ten():
    rng, table, held, plots = np.random.default_rng(20), 0.29, 0, 400
    reach = TABLES.forecast.stated_half_width.value
    for _ in range(plots):
        truth, ph = max(0.05, rng.normal(table, 0.35 * table)), 5.6
        belief = Belief(ph + rng.normal(0, 0.14), table, 0.14**2, 0.0, (0.35 * table) ** 2)
        for reacted in (3.4, 0.4, 2.0, 0.2):
            load = 0.8
            true_net = reacted * max(0, rng.normal(1, 0.2)) - load * max(0, rng.normal(1, 0.4))
            ph += truth * true_net
            belief, _ = belief.after(reacted - load, float(np.hypot(0.2 * reacted, 0.4 * load))).seen(ph + rng.normal(0, 0.14), 0.14)
        held += abs(truth - belief.per_tonne) <= reach * sqrt(belief.var_per_tonne)
    assert 0.87 <= held / plots <= 0.96


def grown(readings: list[tuple[str, float]], done: list[tuple[str, float]], **changes):
    """A request with pH tests by day and dressings of lime [kg/ha] by day."""
    doc = document() | {"today": "2030-10-05"} | changes
    about = {"analyte": "pH", "method": "water 1:1", "how": "lab"}
    doc["readings"] = [about | {"value": ph, "taken": day} for day, ph in readings]
    request = read_request(doc, TABLES)
    lime = TABLES.materials["limestone_flour"]
    return replace(request, done=tuple(ApplicationRecord(lime, kg, date.fromisoformat(day)) for day, kg in done))


def test_ground_that_moves_less_than_it_should_needs_more_lime_and_the_plan_takes_it_up():
    request = grown([("2024-10-01", 5.5), ("2026-10-01", 5.8), ("2028-10-01", 5.95)], [("2024-11-01", 2500), ("2026-11-01", 1800)])
    told = learn(request, TABLES)
    assert told.is_known
    assert 1.2 < told.times < 3
    assert told.low <= told.times < told.high
    assert told.says.startswith("Your ground needs ")
    own = OwnBuffering(told.times, told.low, told.high, told.tests)
    by_table, by_ground = (
        next(need for need in make_plan(asked, TABLES).needs if need.what == "CaCO3")
        for asked in (request, replace(request, own_buffering=own))
    )
    assert by_ground.rate_kg_per_ha == pytest.approx(by_table.rate_kg_per_ha * told.times, rel=1e-6)
    assert by_ground.low_kg_per_ha < by_ground.rate_kg_per_ha < by_ground.high_kg_per_ha
    assert by_ground.others[0].rate_kg_per_ha == by_table.rate_kg_per_ha
    assert "By 3 tests of this ground" in by_ground.why


@pytest.mark.parametrize(
    ("readings", "done", "why"),
    [
        ([("2024-10-01", 5.5), ("2025-01-15", 6.1)], [("2024-11-01", 3000)], "within six months"),
        ([("2024-10-01", 5.5), ("2025-10-01", 5.55)], [], "Too little"),
        ([("2024-10-01", 5.5), ("2026-10-01", 7.9)], [("2024-11-01", 1000)], "questions come first"),
    ],
)
def test_what_is_too_young_too_small_or_too_far_off_is_kept_and_not_learnt_from(readings, done, why):
    told = learn(grown(readings, done), TABLES)
    assert not told.is_known
    assert told.times == pytest.approx(1)
    assert why in told.intervals[0].why
    assert told.intervals[0].asks == (why == "questions come first")


def test_without_a_dated_test_it_says_so():
    request = grown([("2024-10-01", 5.5)], [])
    with pytest.raises(RuleError, match="no dated pH test"):
        learn(replace(request, readings=()), TABLES)
    assert "Nothing is learnt yet" in learn(request, TABLES).says


def test_one_stretch_alone_is_held_near_the_table():
    flat = [("2024-10-01", 5.5), ("2026-10-01", 5.5)]
    told = learn(grown(flat, [("2024-11-01", 6000)]), TABLES)
    assert told.times <= TABLES.forecast.learnt_cap.value or not told.is_known
    day = date(2024, 10, 1) + timedelta(days=730)
    assert told.intervals[0].ends == day


def test_the_worked_example_of_potash():
    table = 1 / (4.5 * 1.5)
    belief = PoolBelief((130.0, table, 1.0), np.diag([13.0**2, (0.4 * table) ** 2, 0.0])).after(Moved(240, 85, 10))
    assert belief.test == pytest.approx(151.5, abs=0.05)
    seen, _ = belief.seen(156, 15.6)
    assert (seen.state[1] * 145, 1 / seen.state[1]) == (pytest.approx(22.2, abs=0.05), pytest.approx(6.54, abs=0.01))


def test_the_bands_of_potash_and_of_what_harvests_take_hold_the_truth_nine_times_in_ten():
    rng, table, held, plots = np.random.default_rng(3), 1 / 6.75, np.zeros(2), 400
    reach = TABLES.forecast.stated_half_width.value
    for _ in range(plots):
        truth = np.array([max(0.02, rng.normal(table, 0.4 * table)), max(0.2, rng.normal(1, 0.2))])
        test = 130.0
        belief = PoolBelief((test + rng.normal(0, 8), table, 1.0), np.diag([64.0, (0.4 * table) ** 2, 0.04]))
        for given in (400, 0, 300, 0, 350):
            test += truth[0] * (given * max(0, rng.normal(1, 0.1)) - truth[1] * 170 - 20)
            belief, _ = belief.after(Moved(given, 170, 20, 0.1 * given)).seen(test + rng.normal(0, 8), 8)
        held += np.abs(truth - belief.state[1:]) <= reach * np.sqrt(np.diag(belief.cov)[1:])
    assert held / plots == pytest.approx([0.9, 0.9], abs=0.04)


def test_ground_that_holds_potash_fast_gets_more_of_it_and_its_forecast_rises_less():
    doc = document(crop="onion", planting=None, texture="clay loam") | {"today": "2030-10-05", "school": "build_maintain"}
    about = {"analyte": "K", "method": "Mehlich-3", "how": "lab"}
    tests = (("2024-10-01", 150), ("2026-10-01", 154), ("2028-10-01", 156))
    doc["readings"] = [about | {"value": value, "taken": day} for day, value in tests]
    potash, plan = TABLES.materials["potassium_sulfate"], {}
    done = tuple(ApplicationRecord(potash, 1200, date(year, 3, 1)) for year in (2025, 2027))
    request = replace(read_request(doc, TABLES), done=done)
    told = learn_pool(request, "K", TABLES)
    assert told.is_known, told.intervals
    assert told.times > 1.1
    own = OwnPool(told.times, told.low, told.high, 1.0, told.tests)
    for name, asked in (("table", request), ("ground", replace(request, own_pools={"K": own}))):
        plan[name] = next(need for need in make_plan(asked, TABLES).needs if need.what == "K")
    assert plan["ground"].rate_kg_per_ha > 1.02 * plan["table"].rate_kg_per_ha
    by_table, by_ground = (outlook(asked, TABLES, years=(1,)).of("K")[0] for asked in (request, replace(request, own_pools={"K": own})))
    assert by_ground.high - by_ground.low < by_table.high - by_table.low
