"""How tests of P and K move on a plot, and what its harvests take, learnt from test to test.

Three figures are carried: the test, how far a kilogram of oxide moves it, and how much of the table's removal harvests take here. The
product of the last two is straightened around what is believed at the time, as is usual where a rule is nearly straight.
"""

from datetime import date, timedelta
from itertools import pairwise
from math import hypot, sqrt

import numpy as np

from agronomy.base.errors import RuleError
from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.model.reading import Reading, best_readings
from agronomy.model.request import Request
from agronomy.model.soil import Soil
from agronomy.plan.assess import soil_of
from agronomy.recommend.schools.already_applied import brings
from agronomy.recommend.schools.removal import removal
from agronomy.tables import Tables
from agronomy.tables.material import K_IN_K2O, P_IN_P2O5
from agronomy.whatif.forecast.learned import DAYS_A_YEAR, Interval

SHARE = {"P": P_IN_P2O5, "K": K_IN_K2O}
OXIDE = {"P": "P₂O₅", "K": "K₂O"}


@record
class Moved:
    """What happened between two tests [kg oxide/ha]: given, carried off by the table, washed out; and the error of what was given."""

    given: float
    carried: float
    washed: float
    u: float = 0.0


@record
class PoolBelief:
    """A test [mg/kg], its move for one kg oxide/ha and the share of the table's removal that is taken, with their covariance (3 × 3)."""

    state: tuple[float, float, float]
    cov: np.ndarray

    @property
    def test(self) -> float:
        return self.state[0]

    def after(self, moved: Moved) -> "PoolBelief":
        """The belief after what was given and taken. Source: trend-learning."""
        test, per_kg, taken = self.state
        net = moved.given - taken * moved.carried - moved.washed
        step = np.array([[1.0, net, -per_kg * moved.carried], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]])
        cov = step @ self.cov @ step.T
        cov[0, 0] += (per_kg * moved.u) ** 2
        return PoolBelief((test + per_kg * net, per_kg, taken), cov)

    def seen(self, value: float, u: float) -> tuple["PoolBelief", float]:
        """The belief after a test, and how many of both errors the test lies off. Source: trend-learning."""
        spread = float(self.cov[0, 0]) + u * u
        gain = self.cov[:, 0] / spread
        off = value - self.test
        state = tuple(float(part) for part in np.array(self.state) + gain * off)
        return PoolBelief((state[0], state[1], state[2]), self.cov - np.outer(gain, self.cov[0])), off / sqrt(spread)

    def only_test(self, value: float, u: float) -> "PoolBelief":
        """The belief with a test as it reads, and nothing learnt from it."""
        cov = self.cov.copy()
        cov[0, :] = cov[:, 0] = 0.0
        cov[0, 0] = u * u
        return PoolBelief((value, *self.state[1:]), cov)


@record(kw_only=True)
class LearnedPool:
    """What it takes here to move a test of `nutrient` by one step, beside the table's, and what harvests take; from so many tests."""

    nutrient: str
    times: float
    low: float
    high: float
    taken: float
    taken_low: float
    taken_high: float
    tests: int
    intervals: tuple[Interval, ...]
    working: tuple[Step, ...]

    @property
    def is_known(self) -> bool:
        """Whether anything was learnt at all."""
        return any(interval.learnt for interval in self.intervals)

    @property
    def says(self) -> str:
        oxide = OXIDE[self.nutrient]
        if not self.is_known:
            return say(
                "Nothing is learnt yet of how {oxide} moves this test: it takes two tests with a dressing between them.", oxide=oxide
            )
        moves = say(
            "One step of this test takes {times:.1f} times the table’s {oxide} here ({low:.1f} to {high:.1f}).",
            times=self.times,
            oxide=oxide,
            low=self.low,
            high=self.high,
        )
        takes = say(
            "Harvests take {taken:.1f} times the table’s ({taken_low:.1f} to {taken_high:.1f}).",
            taken=self.taken,
            taken_low=self.taken_low,
            taken_high=self.taken_high,
        )
        return say("{moves} {takes} From {tests} tests.", moves=moves, takes=takes, tests=self.tests)


def learn_pool(request: Request, nutrient: str, tables: Tables) -> LearnedPool:
    """What tests of P or K say of the ground, by what was put on (`done`) and carried off (`harvests`) between them.

    Amounts in kg oxide/ha, tests in mg/kg. Raises RuleError where there is no dated test, or no figure for its method.
    Source: trend-learning, soil-test-drift.
    """
    tests = _tests(request, nutrient)
    if not tests:
        raise RuleError("readings", None, f"there is no dated test of {nutrient}", "add one; two are needed to learn from")
    soil = soil_of(request, best_readings(list(request.readings)), tables)
    table = 1 / kg_per_step(nutrient, tests[-1].method, soil, tables)
    figures = tables.forecast
    spreads = (tests[0].u, figures.cv_per_ppm_known.value * table, figures.cv_removal.value)
    belief = PoolBelief((tests[0].value, table, 1.0), np.diag([spread**2 for spread in spreads]))
    intervals = []
    for before, test in pairwise(tests):
        moved = _between(nutrient, before, test, request, soil, tables)
        expected = belief.after(moved)
        seen, off = expected.seen(test.value, test.u)
        why = _why_not(nutrient, moved, off, _day(test), request, tables)
        reach = figures.stated_half_width.value * sqrt(expected.cov[0, 0])
        intervals.append(
            Interval(
                begins=_day(before),
                ends=_day(test),
                net=moved.given - belief.state[2] * moved.carried - moved.washed,
                expected=expected.test,
                low=expected.test - reach,
                high=expected.test + reach,
                read=test.value,
                off=off,
                learnt=not why,
                why=why,
            )
        )
        belief = _within(seen if not why else expected.only_test(test.value, test.u), table, tables)
    return _told(nutrient, belief, table, tests, tuple(intervals), tables)


def kg_per_step(nutrient: str, method: str, soil: Soil, tables: Tables) -> float:
    """Oxide [kg/ha] that moves a test by 1 mg/kg, by the table. Raises RuleError for a P method without a figure. Source: soil-test-drift.

    >>> from dataclasses import replace
    >>> from agronomy.intake.example import soil, tables
    >>> kg_per_step("K", "Mehlich-3", soil(), tables) > kg_per_step("K", "Mehlich-3", replace(soil(), cec_cmol_per_kg=5), tables)
    True
    """
    figures = tables.forecast
    if nutrient == "K":
        return figures.k2o_per_ppm.value * (1 + tables.schools.k2o_per_ppm_and_cec.value * soil.cec_cmol_per_kg)
    row = figures.p_per_ppm.get(method)
    if row is None:
        raise RuleError("readings", method, f"no table here tells how phosphate moves a test by {method}", "ask for a method that has one")
    return row.kg_p2o5_per_ppm


def _tests(request: Request, nutrient: str) -> list[Reading]:
    """Dated tests of the top layer by the newest one's method, in order, one a day, the surest of each."""
    by_day: dict[date, Reading] = {}
    for reading in request.readings:
        if reading.analyte == nutrient and reading.taken is not None and not (reading.top_cm or 0.0) and reading.qualifier is None:
            other = by_day.get(reading.taken)
            by_day[reading.taken] = reading if other is None or reading.u < other.u else other
    if not by_day:
        return []
    method = by_day[max(by_day)].method
    return [by_day[day] for day in sorted(by_day) if by_day[day].method == method]


def _day(reading: Reading) -> date:
    return required(reading.taken)


def _between(nutrient: str, before: Reading, test: Reading, request: Request, soil: Soil, tables: Tables) -> Moved:
    """What was given, carried off and washed out between two tests; years without a harvest on record count as usual ones."""
    figures, begins, ends = tables.forecast, _day(before), _day(test)
    given = sum(brings(done, nutrient, tables) for done in request.done if begins <= done.on < ends) / SHARE[nutrient]
    years = (ends - begins).days / DAYS_A_YEAR
    carried, told = 0.0, set()
    for harvest in request.harvests:
        off = removal(harvest.crop, nutrient, harvest.yield_t_per_ha, tables) if begins <= harvest.on < ends else None
        if off is not None:
            carried += off.kg_per_ha
            told.add(harvest.on.year)
    usual = removal(request.crop, nutrient, request.removal_yield_t_per_ha, tables)
    unknown = (figures.p2o5_off_unknown if nutrient == "P" else figures.k2o_off_unknown).value
    carried += max(0.0, years - len(told)) * (usual.kg_per_ha if usual else unknown)
    washed = 0.0
    if nutrient == "K" and not request.plot.is_under_film:
        washed = years * (figures.k2o_leached_light if soil.is_light else figures.k2o_leached).value
    return Moved(given, carried, washed, hypot(figures.given_u.value * given, figures.load_u.value * washed))


def _why_not(nutrient: str, moved: Moved, off: float, ends: date, request: Request, tables: Tables) -> str:
    """Why nothing is learnt from a stretch; nothing said where it is."""
    figures = tables.forecast
    settles = timedelta(days=(figures.learn_after_p_days if nutrient == "P" else figures.learn_after_k_days).value)
    if abs(off) >= 2:
        return say("It lies further off than both errors carry. It is kept, and questions come first.")
    if any(ends - settles <= done.on < ends and brings(done, nutrient, tables) > 0 for done in request.done):
        return say("A dressing shortly before this test had not settled.")
    if nutrient == "P" and moved.given <= 0:
        return say("None was given: phosphorus then falls by itself, whatever the ground.")
    if abs(moved.given - moved.carried - moved.washed) < figures.learn_least_oxide.value:
        return say("As much was given as was taken, so nothing could move.")
    return ""


def _within(belief: PoolBelief, table: float, tables: Tables) -> PoolBelief:
    """Keeps what is learnt within sense, as many times above the table's as below."""
    most = tables.forecast.learnt_most_times.value
    test, per_kg, taken = belief.state
    return PoolBelief((test, min(max(per_kg, table / most), table * most), min(max(taken, 1 / most), most)), belief.cov)


def _told(
    nutrient: str, belief: PoolBelief, table: float, tests: list[Reading], intervals: tuple[Interval, ...], tables: Tables
) -> LearnedPool:
    figures = tables.forecast
    _, per_kg, taken = belief.state
    sd, sd_taken = sqrt(belief.cov[1, 1]), sqrt(belief.cov[2, 2])
    reach, least = figures.stated_half_width.value, table / figures.learnt_most_times.value
    agreed = sum(interval.learnt and abs(interval.off) < 1 for interval in intervals) >= 2
    times = table / per_kg
    if not agreed:
        times = min(max(times, figures.learnt_floor.value), figures.learnt_cap.value)
    step = Step(
        "fertilizer beside the table’s",
        "table’s move for a kilogram / learnt move for a kilogram",
        {
            "table’s move for a kilogram": Figure(table, "mg/kg per kg/ha", "soil-test-drift"),
            "learnt move for a kilogram": Figure(per_kg, "mg/kg per kg/ha"),
            "its error": Figure(sd, "mg/kg per kg/ha"),
            "taken beside the table’s": Figure(taken, "times"),
        },
        Figure(table / per_kg, "times"),
        "trend-learning",
        "three figures carried from test to test",
        note="" if agreed else "held near the table’s until two stretches agree",
    )
    return LearnedPool(
        nutrient=nutrient,
        times=times,
        low=min(times, table / (per_kg + reach * sd)),
        high=max(times, table / max(least, per_kg - reach * sd)),
        taken=taken,
        taken_low=max(0.0, taken - reach * sd_taken),
        taken_high=taken + reach * sd_taken,
        tests=sum(interval.learnt for interval in intervals) + 1,
        intervals=intervals,
        working=(step,),
    )
