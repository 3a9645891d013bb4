"""A plot's own buffering, learnt from its tests: what was put on, what should have come of it, and what did.

Two figures are carried from test to test, the pH and how far a tonne of lime moves it, with their errors and how these hang together. Each
test moves both a little, by how sure each is. What is too young, too small or too far off to learn from is kept and not learnt from.
"""

from datetime import date
from itertools import pairwise
from math import hypot, sqrt

import numpy as np

from agronomy.base.errors import RuleError
from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.model.climate import soil_warmth
from agronomy.model.reading import Reading, best_readings
from agronomy.model.request import Request
from agronomy.model.seasons import add_months
from agronomy.model.soil import Soil
from agronomy.plan.assess import soil_of
from agronomy.plan.water import lime_a_year
from agronomy.recommend.acidity.buffer_capacity import caco3_per_ph, in_mix
from agronomy.tables import Tables
from agronomy.tables.rooms.forecast import TrendQuestion
from agronomy.whatif.forecast.acidity import AcidState, leaching_load, one_month, wetness
from agronomy.whatif.forecast.pools import put_on

DAYS_A_YEAR = 365.25


@record
class Belief:
    """pH and its move for one t/ha of CaCO3, with variances and covariance."""

    ph: float
    per_tonne: float
    var_ph: float
    cov: float
    var_per_tonne: float

    def after(self, tonnes: float, tonnes_u: float) -> "Belief":
        """The belief after `tonnes` t/ha of net CaCO3, known to `tonnes_u`. Source: trend-learning."""
        var = self.var_ph + 2 * tonnes * self.cov + tonnes**2 * self.var_per_tonne + (self.per_tonne * tonnes_u) ** 2
        cov = self.cov + tonnes * self.var_per_tonne
        return Belief(self.ph + tonnes * self.per_tonne, self.per_tonne, var, cov, self.var_per_tonne)

    def seen(self, ph: float, u: float) -> tuple["Belief", float]:
        """The belief after a test, and how many of both errors the test lies off. Source: trend-learning."""
        spread = self.var_ph + u * u
        gain, gain_per = self.var_ph / spread, self.cov / spread
        off = ph - self.ph
        moved = Belief(
            self.ph + gain * off,
            self.per_tonne + gain_per * off,
            self.var_ph * (1 - gain),
            self.cov * (1 - gain),
            self.var_per_tonne - gain_per * self.cov,
        )
        return moved, off / sqrt(spread)

    def only_ph(self, ph: float, u: float) -> "Belief":
        """The belief with the test as its pH, and nothing learnt of the buffering."""
        return Belief(ph, self.per_tonne, u * u, 0.0, self.var_per_tonne)


@record(kw_only=True)
class Interval:
    """From one test to the next: what was net put on (t CaCO3/ha, or kg oxide/ha), what was expected, what was read, and what came of it.

    `off` in both errors; `learnt` false with `why`; `asks`: reading and forecast part by more than both errors.
    """

    begins: date
    ends: date
    net: float
    expected: float
    low: float
    high: float
    read: float
    off: float
    learnt: bool
    why: str

    @property
    def asks(self) -> bool:
        return abs(self.off) >= 2


@record(kw_only=True)
class Learned:
    """How much lime this ground takes, beside the table's: `times` it, most likely between `low` and `high`, from so many tests."""

    times: float
    low: float
    high: float
    tests: int
    intervals: tuple[Interval, ...]
    working: tuple[Step, ...]

    @property
    def is_known(self) -> bool:
        """Whether anything was learnt at all."""
        return any(interval.learnt for interval in self.intervals)

    @property
    def says(self) -> str:
        if not self.is_known:
            return say("Nothing is learnt yet of this ground’s own buffering: it takes two tests with lime, sulfur or years between them.")
        count = f"{self.tests} tests"
        return say(
            "Your ground needs {times:.1f} times the table’s lime ({low:.1f} to {high:.1f}), from {count}.",
            times=self.times,
            low=self.low,
            high=self.high,
            count=count,
        )


def learn(request: Request, tables: Tables) -> Learned:
    """What the pH tests of a request say of its ground, by what was put on between them (`done`).

    Lime in t CaCO3/ha, pH in water. Raises RuleError where there is no pH. Source: trend-learning, lime-kinetics, acid-load.
    """
    tests = _tests(request)
    if not tests:
        raise RuleError("readings", None, "there is no dated pH test", "add one; two are needed to learn from")
    soil = soil_of(request, best_readings(list(request.readings)), tables)
    table = 1000 / table_capacity(soil, tables)  # pH for one t/ha
    figures = tables.forecast
    belief = Belief(tests[0].value, table, _u(tests[0], tables) ** 2, 0.0, (figures.cv_buffering_known.value * table) ** 2)
    state = AcidState(ph=_one(tests[0].value), capacity=_one(1000 / table), load=_one(1.0), speed=_one(1.0))
    intervals = []
    for before, test in pairwise(tests):
        begins, ends = _day(before), _day(test)
        state.ph, state.capacity = _one(belief.ph), _one(1000 / belief.per_tonne)
        tonnes, u = _net(state, begins, ends, request, soil, tables)
        expected = belief.after(tonnes, u)
        belief, interval = _taken(expected, belief, test, begins, ends, tonnes, request, tables)
        belief = _within(belief, table, tables)
        intervals.append(interval)
    return _told(belief, table, tests, tuple(intervals), tables)


def _one(value: float) -> np.ndarray:
    return np.array([value])


def _tests(request: Request) -> list[Reading]:
    """Dated pH tests of the top layer in order, one a day, the surest of each."""
    by_day: dict[date, Reading] = {}
    for reading in request.readings:
        if reading.analyte == "pH" and reading.taken is not None and not (reading.top_cm or 0.0):
            other = by_day.get(reading.taken)
            by_day[reading.taken] = reading if other is None or reading.u < other.u else other
    return [by_day[day] for day in sorted(by_day)]


def _day(reading: Reading) -> date:
    return required(reading.taken)


def _u(reading: Reading, tables: Tables) -> float:
    """A test's own error, never below what the same cores and laboratory scatter by."""
    return max(reading.u, tables.forecast.ph_same_laboratory_u.value)


def table_capacity(soil: Soil, tables: Tables) -> float:
    """CaCO3 [kg/ha] for one pH unit of the layer in the field, by the table. Source: helling-1964, lime-kinetics-field.

    >>> from agronomy.intake.example import soil, tables
    >>> 1000 < table_capacity(soil(), tables) < 8000
    True
    """
    field = 1.0 if in_mix(soil) else tables.acidity.field_factor.value
    return field * caco3_per_ph(soil, soil.depth_cm, tables)


def _net(state: AcidState, begins: date, ends: date, request: Request, soil: Soil, tables: Tables) -> tuple[float, float]:
    """Net CaCO3 [t/ha] that acted between two tests, and its error: lime that reacted less the acid load and what sulfur turned to acid."""
    figures, months = tables.forecast, max(1, round((ends - begins).days / (DAYS_A_YEAR / 12)))
    dressings = sorted((done for done in request.done if begins <= done.on < ends), key=lambda done: done.on)
    start_ph, capacity = float(state.ph[0]), float(state.capacity[0])
    left = sum(float(pool[1][0]) for pool in state.lime)
    acid, water = yearly_acid(request, tables), lime_a_year({item.analyte: item for item in request.readings}, request.plot.watering_mm)
    moved = 0.0
    for month in range(months):
        first, last = add_months(begins, month), add_months(begins, month + 1)
        ph_before = float(state.ph[0])
        for done in [item for item in dressings if first <= item.on < last or (month == months - 1 and item.on >= last)]:
            left += put_on(state, done, soil, tables)
        load = acid - water + (0.0 if request.plot.is_under_film else float(leaching_load(ph_before, tables, request.climate)))
        climate = request.climate
        warm = {} if climate is None else {"warmth_c": soil_warmth(first, climate, tables, grass=request.crop.is_grass)}
        wet = 1.0 if climate is None else wetness(climate, first.month, tables)
        one_month(state, load, tables, wet=wet, **warm)
        moved += float(state.ph[0]) - ph_before
    net = moved * capacity / 1000
    reacted = (left - sum(float(pool[1][0]) for pool in state.lime)) / 1000
    loaded = reacted - net
    state.ph = _one(start_ph)
    return net, hypot(figures.reacted_u.value * reacted, figures.load_u.value * loaded)


def yearly_acid(request: Request, tables: Tables) -> float:
    """Acid [kg CaCO3/ha a year] that the crop's harvest leaves. Source: acid-load.

    >>> from agronomy.intake.example import bed, tables
    >>> yearly_acid(bed(), tables) >= 0
    True
    """
    row = tables.nutrients.removal.get(request.crop.key)
    if row is None:
        return 0.0
    got = request.removal_yield_t_per_ha if request.removal_yield_t_per_ha is not None else row.usual_t_per_ha
    return (row.caco3_kg_per_t or 0.0) * got


def _taken(
    expected: Belief, before: Belief, test: Reading, begins: date, ends: date, tonnes: float, request: Request, tables: Tables
) -> tuple[Belief, Interval]:
    """The belief after a test, and the interval told."""
    figures, u = tables.forecast, _u(test, tables)
    moved, off = expected.seen(test.value, u)
    limed = max((done.on for done in request.done if done.on < ends and done.material.has_role("lime")), default=None)
    young = limed is not None and limed >= begins and (ends - limed).days < figures.learn_after_lime_days.value
    small = abs(tonnes) < figures.learn_least_t.value and abs(test.value - before.ph) < figures.learn_least_ph.value
    why = ""
    if abs(off) >= 2:
        why = say("It lies further off than both errors carry. It is kept, and questions come first.")
    elif young:
        why = say("Lime went on within six months before this test and had not settled.")
    elif small:
        why = say("Too little was put on and too little changed to learn from.")
    spread = figures.stated_half_width.value * sqrt(expected.var_ph)
    interval = Interval(
        begins=begins,
        ends=ends,
        net=tonnes,
        expected=expected.ph,
        low=expected.ph - spread,
        high=expected.ph + spread,
        read=test.value,
        off=off,
        learnt=not why,
        why=why,
    )
    return (moved if not why else expected.only_ph(test.value, u)), interval


def _within(belief: Belief, table: float, tables: Tables) -> Belief:
    """Keeps what is learnt within sense: a third of the table's to three times it."""
    most = tables.forecast.learnt_most_times.value
    held = min(max(belief.per_tonne, table / most), table * most)
    return Belief(belief.ph, held, belief.var_ph, belief.cov, belief.var_per_tonne)


def _told(belief: Belief, table: float, tests: list[Reading], intervals: tuple[Interval, ...], tables: Tables) -> Learned:
    figures = tables.forecast
    sd = sqrt(belief.var_per_tonne)
    reach = figures.stated_half_width.value * sd
    least = table / figures.learnt_most_times.value
    low_per, high_per = max(least, belief.per_tonne - reach), belief.per_tonne + reach
    agreed = sum(interval.learnt and abs(interval.off) < 1 for interval in intervals) >= 2
    times = table / belief.per_tonne
    if not agreed:  # one swallow: what is used stays near the method's own until two stretches agree
        times = min(max(times, figures.learnt_floor.value), figures.learnt_cap.value)
    step = Step(
        "lime beside the table’s",
        "table’s pH for a tonne / learnt pH for a tonne",
        {
            "table’s pH for a tonne": Figure(table, "pH per t/ha"),
            "learnt pH for a tonne": Figure(belief.per_tonne, "pH per t/ha"),
            "its error": Figure(sd, "pH per t/ha"),
        },
        Figure(table / belief.per_tonne, "times"),
        "trend-learning",
        "two figures carried from test to test",
        note="" if agreed else "held near the table’s until two stretches agree",
    )
    used = [interval for interval in intervals if interval.learnt]
    count = len(used) + 1 if used else len(tests)
    low, high = min(times, table / high_per), max(times, table / low_per)
    return Learned(times=times, low=low, high=high, tests=count, intervals=intervals, working=(step,))


def what_to_ask(analyte: str, off: float, tables: Tables) -> list[TrendQuestion]:
    """The questions where a test lies so many of both errors `off` what was expected, in their order. Source: trend-questions.

    >>> from agronomy.intake.example import tables
    >>> len(what_to_ask("pH", -2.4, tables)) > 5, what_to_ask("pH", 0.3, tables)
    (True, [])
    """
    if abs(off) < 2:
        return []
    way = "lower than forecast" if off < 0 else "higher than forecast"
    return [row for row in tables.forecast.questions if row.analyte in ("*", analyte) and row.direction in ("either", way)]
