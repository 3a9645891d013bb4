"""Trials: published sums and p-values of three data sets, how many blocks it takes, the drawn lot, and honest words."""

import csv
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from agronomy.base.errors import OutOfRange
from agronomy.trial.analysis import Observation, analyse, paying
from agronomy.trial.design import blocks_needed, lay_out
from agronomy.trial.results import Prices, YearResult, before_after

CASES = Path(__file__).parent / "cases"
EXPECTED = {(row["example"], row["quantity"]): float(row["value"]) for row in csv.DictReader((CASES / "trial_expected.csv").open())}


def observed(example: str, *, blocked: bool = True) -> list[Observation]:
    rows = [row for row in csv.DictReader((CASES / "trial_examples.csv").open()) if row["example"] == example and row["value"]]
    return [Observation(row["treatment"], float(row["value"]), int(row["block"]) if blocked else None) for row in rows]


def near(value: float, example: str, quantity: str):
    assert value == pytest.approx(EXPECTED[example, quantity], rel=0.002, abs=2e-4), quantity


def test_blocks_with_every_sum():
    told = analyse(observed("rcbd_beetroot"), "none", 0.5, "kg")
    for name, value in (
        *(("SST", told.ss_total), ("SSB", told.ss_blocks), ("SSTr", told.ss_treatments), ("SSE", told.ss_error), ("MSE", told.ms_error)),
        *(("F", told.f), ("p", told.p), ("CV_pct", told.cv_pct), ("SED", told.sed), ("Dunnett_crit_two_sided", told.edge)),
        ("largest_residual", told.largest_residual),
        ("mean_none", told.control_mean),
    ):
        near(value, "rcbd_beetroot", name)
    for item in told.differences:
        near(item.difference, "rcbd_beetroot", f"diff_vs_none_{item.treatment}")
        near(item.alone_low, "rcbd_beetroot", f"ci95_low_{item.treatment}")
        near(item.high, "rcbd_beetroot", f"dunnett_high_{item.treatment}")
        near(item.low, "rcbd_beetroot", f"dunnett_low_{item.treatment}")
        near(item.p_alone, "rcbd_beetroot", f"p_t_{item.treatment}")
    verdicts = {item.treatment: item.verdict for item in told.differences}
    assert verdicts == {"lime_full": "shown", "lime_half": "not shown", "ash": "not shown", "rock_dust": "not shown"}


def test_a_lost_plot_is_left_out_and_not_made_up():
    told = analyse(observed("rcbd_missing"), "none", 1.0)
    near(told.ss_error, "rcbd_missing", "SSE")
    near(told.f, "rcbd_missing", "F_exact_least_squares")
    near(told.p, "rcbd_missing", "p")
    assert told.df_error == 8
    mean = next(item.mean for item in told.differences if item.treatment == "K_low")
    near(mean, "rcbd_missing", "mean_K_low_with_estimate")


def test_pairs_of_strips_and_what_they_pay():
    told = analyse(observed("strips_wheat"), "without", 0.12, "t/ha")
    only = told.differences[0]
    near(only.difference, "strips_wheat", "mean_diff")
    near(only.low, "strips_wheat", "ci95_low")
    near(only.p_together, "strips_wheat", "p")
    money = paying(only, told.df_error, 180.0, 22.0)
    for name, value in (("profit_mean_per_ha", money.gain), ("profit_low_per_ha", money.low), ("p_of_paying", money.chance)):
        near(value, "strips_wheat", name)
    near(money.break_even, "strips_wheat", "break_even_t_ha")
    assert only.verdict == "shown, worth open"


def test_pots_without_blocks():
    told = analyse(observed("pots_crd", blocked=False), "none", 3.0)
    for name, value in (("SSTr", told.ss_treatments), ("SSE", told.ss_error), ("F", told.f), ("p", told.p), ("CV_pct", told.cv_pct)):
        near(value, "pots_crd", name)
    near(told.edge, "pots_crd", "Dunnett_crit_two_sided")
    for item in told.differences:
        assert item.p_together == pytest.approx(EXPECTED["pots_crd", f"p_dunnett_{item.treatment}"], abs=2e-3)


@pytest.mark.parametrize(
    ("cv", "difference", "treatments", "blocks"),
    [
        (5, 5, 2, 18),
        (5, 10, 2, 7),
        (8, 20, 2, 5),
        (10, 20, 2, 7),
        (15, 30, 2, 7),
        (20, 50, 2, 5),
        (20, 10, 2, None),
        (5, 40, 2, 3),
        (8, 10, 3, 12),
    ],
)
def test_how_many_blocks_a_difference_takes(cv, difference, treatments, blocks):
    assert blocks_needed(cv, difference, treatments) == blocks


@given(st.integers(2, 6), st.integers(3, 8), st.integers(0, 10_000))
def test_each_block_holds_every_treatment_once_and_the_seed_keeps_the_lot(treatments, blocks, seed):
    names = [chr(65 + place) for place in range(treatments)]
    units = lay_out(names, blocks, seed)
    assert units == lay_out(names, blocks, seed)
    assert len({unit.number for unit in units}) == treatments * blocks
    for block in range(1, blocks + 1):
        assert sorted(unit.treatment for unit in units if unit.block == block) == names


def test_no_difference_is_said_only_where_the_interval_lies_within_what_is_worth_having():
    flat = [Observation(name, 10 + 0.01 * block, block) for block in range(1, 9) for name in ("none", "tonic")]
    flat = [Observation(item.treatment, item.value + 0.01 * (number % 3), item.block) for number, item in enumerate(flat)]
    assert analyse(flat, "none", 1.0).differences[0].verdict == "no difference worth having"


def test_too_little_to_tell_is_refused_by_name():
    for told in ([], [Observation("none", 1.0, 1)], [Observation("none", 1.0, 1), Observation("fed", 2.0, 1), Observation("fed", 2.0, 2)]):
        with pytest.raises(OutOfRange):
            analyse(told, "none", 1.0)
    with pytest.raises(OutOfRange):
        lay_out(["A"], 4, 1)


def test_what_was_read_before_evens_out_uneven_ground():
    rng, effect = np.random.default_rng(4), {"none": 0.0, "ash": 0.1, "lime": 0.8}
    units = [(treatment, block, rng.normal(6, 0.4)) for block in range(1, 7) for treatment in effect]
    rows = [
        Observation(treatment, 3 + block + effect[treatment] + 2 * read + rng.normal(0, 0.02), block, read)
        for treatment, block, read in units
    ]
    told = analyse(rows, "none", 0.2)
    assert told.slope == pytest.approx(2, abs=0.1)
    assert [item.difference for item in told.differences] == pytest.approx([0.1, 0.8], abs=0.06)
    plain = analyse([Observation(row.treatment, row.value, row.block) for row in rows], "none", 0.2)
    assert (plain.slope, plain.could_see > 5 * told.could_see) == (None, True)
    partly = analyse([*rows[1:], Observation(rows[0].treatment, rows[0].value, rows[0].block)], "none", 0.2)
    assert "left out" in partly.doubts[0]


def test_a_partial_budget_with_grades_and_store_as_published():
    made = {"a": (42.0, 46.25), **{f"left {place}": (40.0, 40.0 + off) for place, off in enumerate((-1.0, 0.0, 1.0))}}
    grades = {0: {"first_grade": 0.78, "lost": 0.12}, 1: {"first_grade": 0.84, "lost": 0.09}}
    rows = [
        YearResult(plot=plot, crop="onion", year=year, t_per_ha=got[year], money_per_ha=600.0 * year, **grades[year])
        for plot, got in made.items()
        for year in (0, 1)
    ]
    prices = Prices(first=1400.0, second=500.0, handling=100.0, more_per_ha=750.0)
    told = before_after(rows, ["a"], "onion", (0, 1), prices)
    assert (told.followed, told.gain * 0.04, told.break_even) == pytest.approx((4.25, 266.4, 1.41), rel=1e-3)
    assert told.gains[0] < told.gain < told.gains[1]
    alone = before_after(rows[:2], ["a"], "onion", (0, 1), prices)
    assert (alone.interval, alone.others) == (None, None)
    assert "not caused" in alone.says()
