"""The same school followed for some years: what is spread each year, and what the tests would then read."""

from dataclasses import replace
from math import log, sqrt

import numpy as np

from agronomy.base.record import record
from agronomy.base.uncertainty import HALF_WIDTH_80
from agronomy.dose.application import Application
from agronomy.interpret.acidity import ph_range
from agronomy.model.answers import ACIDITY, NeedKind
from agronomy.model.application_record import ApplicationRecord
from agronomy.model.climate import soil_warmth
from agronomy.model.own_buffering import OwnBuffering
from agronomy.model.own_pool import OwnPool
from agronomy.model.reading import Reading, best_readings
from agronomy.model.request import Request
from agronomy.model.seasons import add_months
from agronomy.model.soil import Soil
from agronomy.plan.assess import soil_of
from agronomy.plan.plan import Plan, make_plan
from agronomy.plan.water import lime_a_year
from agronomy.recommend.acidity.buffer_capacity import caco3_per_ph, in_mix
from agronomy.recommend.nutrients.credits import counted
from agronomy.recommend.schools.already_applied import brings, counts_from
from agronomy.recommend.schools.removal import removal
from agronomy.tables import Tables
from agronomy.tables.material import K_IN_K2O, P_IN_P2O5, Material
from agronomy.whatif.forecast.acidity import AcidState, leaching_load, one_month, wetness
from agronomy.whatif.forecast.pools import lime_pools

DRAWS, SEED = 300, 7
TOLD_YEARS = (1, 3, 5)


@record(kw_only=True)
class Expected:
    """What a test would read after some years: median and the middle eight of ten draws. `beyond` marks years past the horizon."""

    analyte: str
    name: str
    unit: str
    years: int
    value: float
    low: float
    high: float
    beyond: bool


@record
class Outlook:
    """Expected readings in the order of analyte and year, and what the bags of all those years cost."""

    expected: tuple[Expected, ...]
    cost: float

    def of(self, analyte: str) -> tuple[Expected, ...]:
        return tuple(item for item in self.expected if item.analyte == analyte)


def outlook(request: Request, tables: Tables, *, years: tuple[int, ...] = TOLD_YEARS) -> Outlook:
    """The Outlook of a request whose school is followed every year, with a new test each year that reads the median.

    What was put on since the tests has its year's work still to do. Where the climate is known, each month is as warm and wet as it is
    there.
    The same request gives the same outlook: the draws are seeded. Source: soil-test-drift, lime-kinetics, acid-load.
    In pH and mg/kg, by years.
    """
    readings = best_readings(list(request.readings))
    draws = _Draws(tables)
    soil = soil_of(request, readings, tables)
    state = _acid_state(request, readings.get("pH"), soil, draws, tables)
    tests: dict[str, np.ndarray] = {key: draws.around(readings[key]) for key in ("P", "K") if key in readings}
    told: list[Expected] = []
    cost = 0.0
    if state is not None:
        _lies_already(state, request, readings, soil, tables)
    for year in range(1, max(years) + 1):
        plan = make_plan(_next_request(request, readings, state, tests), tables)
        cost += plan.cost
        if state is not None:
            _spread(state, plan, soil, tables)
            _one_year(state, plan, request, tables)
        before = {key: sum(brings(done, key, tables) for done in _since_test(key, request, readings, tables)) for key in tests}
        drifted = {key: _drift(key, test, readings[key], plan, request, soil, draws, tables, before[key]) for key, test in tests.items()}
        tests = {key: test for key, test in drifted.items() if test is not None}
        request = replace(request, done=())  # from now on the tests know of it
        if year in years:
            told += _told(year, state, tests, tables)
    order = {"pH": 0, "P": 1, "K": 2}
    return Outlook(tuple(sorted(told, key=lambda item: (order[item.analyte], item.years))), round(cost, 2))


class _Draws:
    """The same seeded draws for every school, so that schools differ by what they do and not by chance."""

    def __init__(self, tables: Tables):
        rng, figures = np.random.default_rng(SEED), tables.forecast
        self.normal = rng.standard_normal((3, DRAWS))
        self.capacity, self.load, self.speed, self.per_ppm = (
            self._lognormal(rng, figure.value) for figure in (figures.cv_buffering, figures.cv_load, figures.cv_speed, figures.cv_per_ppm)
        )

    @staticmethod
    def _lognormal(rng, cv: float) -> np.ndarray:
        return rng.lognormal(0.0, sqrt(log(1 + cv * cv)), DRAWS)

    def around(self, reading: Reading) -> np.ndarray:
        """Draws around a reading by its standard error, never below a tenth of it."""
        row = {"pH": 0, "P": 1, "K": 2}[reading.analyte]
        return np.maximum(reading.value * 0.1, reading.value + reading.u * self.normal[row])


def _acid_state(request: Request, ph: Reading | None, soil: Soil, draws: _Draws, tables: Tables) -> AcidState | None:
    if ph is None:
        return None
    capacity = _capacity_by_buffer(request, ph, soil, tables)
    if capacity is None:
        field = 1.0 if in_mix(soil) else tables.acidity.field_factor.value
        capacity = field * caco3_per_ph(soil, soil.depth_cm, tables)
    limy = soil.free_lime is True or (soil.free_lime is None and ph.value >= tables.acidity.free_lime_near_certain_ph.value)
    own, spread = request.own_buffering, draws.capacity
    if own is not None:
        capacity, spread = capacity * own.times, spread ** _narrowed(own, tables.forecast.cv_buffering.value, tables)
    return AcidState(ph=np.clip(draws.around(ph), 3.5, 8.3), capacity=capacity * spread, load=draws.load, speed=draws.speed, limy=limy)


def _narrowed(own: OwnBuffering | OwnPool, cv: float, tables: Tables) -> float:
    """The power that draws a lognormal spread in from the table's `cv` to what the plot's own tests leave of it."""
    left = (own.high - own.low) / (2 * tables.forecast.stated_half_width.value * own.times)
    return min(1.0, sqrt(log(1 + left * left) / log(1 + cv * cv)))


def _capacity_by_buffer(request: Request, ph: Reading, soil: Soil, tables: Tables) -> float | None:
    """CaCO3 [kg/ha] for one pH unit as a buffer test tells it, so that its own need ends at its own target; None without one."""
    buffers = tables.analytes["buffer pH"].methods
    need = next((need for need in make_plan(request, tables).needs if need.what == NeedKind.LIME and need.method in buffers), None)
    rise = ph_range(request.crop, soil, request.target_ph, tables)["lime_to"] - ph.value
    return None if need is None or rise <= 0 else need.rate_kg_per_ha / rise


def _next_request(request: Request, readings: dict[str, Reading], state: AcidState | None, tests: dict[str, np.ndarray]) -> Request:
    """The request with the medians of now in place of the readings; a buffer test no longer holds once pH has moved."""
    found = []
    for key, reading in readings.items():
        now = float(np.median(state.ph)) if key == "pH" and state is not None else float(np.median(tests[key])) if key in tests else None
        if key == "buffer pH" and state is not None and state.month > 0:
            continue
        found.append(reading if now is None else _moved(reading, now))
    return replace(request, readings=tuple(found))


def _moved(reading: Reading, now: float) -> Reading:
    reach = HALF_WIDTH_80 * reading.u
    return replace(reading, value=now, low=max(0.0, now - reach), high=now + reach, qualifier=None)


def _spread(state: AcidState, plan: Plan, soil: Soil, tables: Tables) -> None:
    for application in _now(plan):
        if application.what == NeedKind.LIME:
            lime_pools(state, tables.materials[application.material], application.rate_kg_per_ha, soil, tables)
        elif application.what == NeedKind.ACIDIFIER:
            state.add_sulfur(application.supplies["S_acid"])


def _lies_already(state: AcidState, request: Request, readings: dict[str, Reading], soil: Soil, tables: Tables) -> None:
    """Lime and sulfur that were put on since the test and still have their work to do."""
    for done in _since_test("CaCO3", request, readings, tables):
        if done.material.has_role("lime"):
            lime_pools(state, done.material, done.rate_kg_per_ha, soil, tables)
        elif (acid := brings(done, "S_acid", tables)) > 0:
            state.add_sulfur(acid)


def _since_test(what: str, request: Request, readings: dict[str, Reading], tables: Tables) -> list[ApplicationRecord]:
    since = counts_from(what, readings, request.today, tables)
    return [done for done in request.done if since is not None and since <= done.on <= request.today]


def _one_year(state: AcidState, plan: Plan, request: Request, tables: Tables) -> None:
    """Twelve months on from the request's own, each as warm and wet as it usually is there; an even year where no climate is known."""
    climate = request.climate
    watered = lime_a_year({reading.analyte: reading for reading in request.readings}, request.plot.watering_mm)
    load = acid_load(plan, request, tables) - watered
    for ahead in range(12):
        acid = load if request.plot.is_under_film else leaching_load(state.ph, tables, climate) + load
        if climate is None:
            one_month(state, acid, tables)
            continue
        middle = add_months(request.today.replace(day=15), ahead)
        warmth = soil_warmth(middle, climate, tables, grass=request.crop.is_grass)
        one_month(state, acid, tables, warmth_c=warmth, wet=wetness(climate, middle.month, tables))


def _now(plan: Plan) -> list[Application]:
    return [application for application in plan.applications if not application.later]


def acid_load(plan: Plan, request: Request, tables: Tables) -> float:
    """Acid [kg CaCO3/ha a year] of fertilizers (below zero where they lime) and of what the harvest carries off. Source: acid-load.

    >>> from agronomy.intake.example import bed, plan, tables
    >>> acid_load(plan(), bed(), tables) > 0
    True
    """
    fed = sum(-_acidity(tables.materials[item.material]) * item.rate_kg_per_ha for item in _now(plan) if item.what not in ACIDITY)
    row = tables.nutrients.removal.get(request.crop.key)
    if row is None:
        return fed
    yielded = request.removal_yield_t_per_ha if request.removal_yield_t_per_ha is not None else row.usual_t_per_ha
    return fed + (row.caco3_kg_per_t or 0.0) * yielded


def _acidity(material: Material) -> float:
    return material.cce / 100


def _drift(
    key: str, test: np.ndarray, reading: Reading, plan: Plan, request: Request, soil: Soil, draws: _Draws, tables: Tables, before: float
) -> np.ndarray | None:
    """A year's drift of P or K by balance, with what was put on `before` [kg/ha]; None for a P method whose figures can't be carried on."""
    given = before + sum(item.supplies.get(key, 0.0) for item in _now(plan)) + counted(plan.credits, key)[0]
    return drift_of(key, test, given, reading.method, request, soil, tables, per_ppm=draws.per_ppm)


def drift_of(
    key: str,
    test: np.ndarray,
    given: float,
    method: str,
    request: Request,
    soil: Soil,
    tables: Tables,
    *,
    per_ppm: np.ndarray | float = 1.0,
) -> np.ndarray | None:
    """What a test of P or K [mg/kg] reads after a year with so much `given` [kg of element/ha] and the usual harvest.

    `per_ppm` scales how much moves the test. None for a P method whose figures can't be carried on. Source: soil-test-drift.
    """
    figures, share = tables.forecast, P_IN_P2O5 if key == "P" else K_IN_K2O
    given /= share
    own = request.own_pools.get(key)
    off = removal(request.crop, key, request.removal_yield_t_per_ha, tables, own=own)
    if own is not None:
        per_ppm = own.times * per_ppm ** _narrowed(own, figures.cv_per_ppm.value, tables)
    carried = off.kg_per_ha if off else (figures.p2o5_off_unknown if key == "P" else figures.k2o_off_unknown).value
    if key == "K":
        leached = (figures.k2o_leached_light if soil.is_light else figures.k2o_leached).value
        per_cec = 1 + tables.schools.k2o_per_ppm_and_cec.value * soil.cec_cmol_per_kg
        return np.maximum(1.0, test + (given - carried - leached) / (figures.k2o_per_ppm.value * per_cec * per_ppm))
    row = tables.forecast.p_per_ppm.get(method)
    if row is None:
        return None
    by_balance = test + (given - carried) / (row.kg_p2o5_per_ppm * per_ppm)
    if given > 0:
        return np.maximum(1.0, by_balance)
    floor = np.minimum(figures.p_floor_ppm.value, test)
    return np.maximum(1.0, np.minimum(by_balance, floor + (test - floor) * 0.5 ** (1 / figures.p_half_life_years.value)))


def _told(year: int, state: AcidState | None, tests: dict[str, np.ndarray], tables: Tables) -> list[Expected]:
    found = [] if state is None else [("pH", "Soil pH", "pH", state.ph, year > tables.forecast.horizon_ph_years.value)]
    found += [(key, tables.analytes[key].name, "mg/kg", test, False) for key, test in tests.items()]
    return [_expected(key, name, unit, year, draws, beyond) for key, name, unit, draws, beyond in found]


def _expected(key: str, name: str, unit: str, year: int, draws: np.ndarray, beyond: bool) -> Expected:
    low, median, high = (round(float(edge), 3) for edge in np.percentile(draws, (10, 50, 90)))
    return Expected(analyte=key, name=name, unit=unit, years=year, value=median, low=low, high=high, beyond=beyond)
