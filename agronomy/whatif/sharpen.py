"""What would sharpen a plan: for each dose, how much narrower its band would be after one more measurement, beside what that costs.

Each measurement is tried by making the plan again as if it had been made and had read what is now supposed.
"""

from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta

from agronomy.base.record import record
from agronomy.base.uncertainty import HALF_WIDTH_80, in_quadrature
from agronomy.model.answers import Need, NeedKind
from agronomy.model.reading import Reading, best_readings
from agronomy.model.request import Request
from agronomy.plan.assess import soil_of
from agronomy.plan.plan import Plan, make_plan
from agronomy.recommend.acidity.method_ranges import why_not
from agronomy.recommend.acidity.smp import smp_table_rate
from agronomy.tables import Tables


@record(kw_only=True)
class Sharper:
    """One measurement and what it does to one need: the band [kg/ha] now and then, and by what share it narrows."""

    test: str
    name: str
    price: float
    hours: float
    what: str
    now: tuple[float, float]
    then: tuple[float, float]
    material_kg: tuple[tuple[float, float], tuple[float, float]] | None

    @property
    def narrows_by(self) -> float:
        width = self.now[1] - self.now[0]
        return 0.0 if width <= 0 else max(0.0, 1 - (self.then[1] - self.then[0]) / width)


LEAST_NARROWING = 0.05


def what_would_sharpen(request: Request, tables: Tables) -> list[Sharper]:
    """The measurement that narrows each need most, the plan's most uncertain money first. Empty where none would help.

    Source: test-prices.
    Ranges in kg/ha.

    >>> from agronomy.intake.example import bed, tables
    >>> len(what_would_sharpen(bed(), tables)) > 0
    True
    """
    plan = make_plan(request, tables)
    found: dict[str, Sharper] = {}
    for key, trial in _TRIALS.items():
        changed = trial(request, plan, tables)
        if changed is None:
            continue
        for now, then in _pairs(plan, make_plan(changed, tables)):
            sharper = _sharper(key, plan, now, then, tables)
            best = found.get(now.what)
            if sharper.narrows_by >= LEAST_NARROWING and (best is None or _worth(sharper) > _worth(best)):
                found[now.what] = sharper
    return sorted(found.values(), key=lambda item: -_money_at_stake(item, plan))


def _worth(sharper: Sharper) -> tuple[float, float]:
    """Narrowing in tenths, then the lower price: a test that narrows a hair more is not worth three times the money."""
    return round(sharper.narrows_by, 1), -sharper.price


def _pairs(before: Plan, after: Plan) -> list[tuple[Need, Need]]:
    then = {need.what: need for need in after.needs}
    return [(need, then[need.what]) for need in before.needs if need.what in then]


def _sharper(key: str, plan: Plan, now: Need, then: Need, tables: Tables) -> Sharper:
    """The comparison around the present rate: the other band is centred on it, so that only its width is told."""
    row = tables.readings.test_prices[key]
    scale = now.rate_kg_per_ha / then.rate_kg_per_ha if then.rate_kg_per_ha else 1.0
    band = (then.low_kg_per_ha * scale, then.high_kg_per_ha * scale)
    doses = [item for item in plan.applications if item.what == now.what and not item.later]
    kg = None
    if doses:
        total = sum(item.total_kg for item in doses)
        factor = total / now.rate_kg_per_ha
        kg = ((now.low_kg_per_ha * factor, now.high_kg_per_ha * factor), (band[0] * factor, band[1] * factor))
    return Sharper(
        test=key,
        name=row.name,
        price=row.price,
        hours=row.hours,
        what=now.what,
        now=(now.low_kg_per_ha, now.high_kg_per_ha),
        then=band,
        material_kg=kg,
    )


def _money_at_stake(sharper: Sharper, plan: Plan) -> float:
    """Money that lies between the ends of the band, with this season's materials."""
    need = next(need for need in plan.needs if need.what == sharper.what)
    cost = sum(item.cost for item in plan.applications if item.what == sharper.what and not item.later)
    return cost * (sharper.now[1] - sharper.now[0]) / need.rate_kg_per_ha if need.rate_kg_per_ha else 0.0


def _with_reading(request: Request, reading: Reading) -> Request:
    kept = tuple(item for item in request.readings if item.analyte != reading.analyte)
    return replace(request, readings=(*kept, reading))


def _surer(reading: Reading, u: float) -> Reading:
    reach = HALF_WIDTH_80 * u
    return replace(reading, u=u, low=max(0.0, reading.value - reach), high=reading.value + reach, how="lab", trust="yes")


def _lab_error(analyte: str, value: float, tables: Tables, *, cores: float = 1.0) -> float:
    """Standard error of a laboratory's reading; `cores` times the cores in the sample."""
    rows = tables.readings.reading_errors
    by_lab = rows.get((analyte, "lab")) or rows[("*", "lab")]
    sampling = rows.get((analyte, "sampling")) or rows[("*soil", "sampling")]
    errors = [row.error * (value if row.kind == "cv" else 1.0) for row in (by_lab, sampling)]
    return in_quadrature(errors[0], errors[1] / cores**0.5)


def _lab_ph(request: Request, plan: Plan, tables: Tables) -> Request | None:
    reading = best_readings(list(request.readings)).get("pH")
    if reading is None or reading.how == "lab":
        return None
    return _with_reading(request, _surer(reading, _lab_error("pH", reading.value, tables)))


def _buffer(request: Request, plan: Plan, tables: Tables) -> Request | None:
    """A buffer test that would give the lime need of now."""
    readings = best_readings(list(request.readings))
    need = next((need for need in plan.needs if need.what == NeedKind.LIME), None)
    soil = soil_of(request, readings, tables)
    if need is None or "buffer pH" in readings or soil.mix is not None:
        return None
    target = request.target_ph if request.target_ph is not None else request.crop.ph_lime_to
    scale = tables.acidity.ton_per_acre_to_kg_per_ha.value * soil.depth_cm / tables.acidity.smp_reference_depth_cm.value
    tons = need.rate_kg_per_ha / tables.acidity.smp_pure_share.value / scale
    low, high = (edge(row.buffer_ph for row in tables.acidity.smp) for edge in (min, max))
    if why_not("SMP", {"target": target}, tables) or not smp_table_rate(high, target, tables) < tons < smp_table_rate(low, target, tables):
        return None
    for _ in range(30):
        middle = (low + high) / 2
        low, high = (middle, high) if smp_table_rate(middle, target, tables) > tons else (low, middle)
    u = tables.readings.reading_errors[("buffer pH", "lab")].error
    reach = HALF_WIDTH_80 * u
    reading = replace(
        readings["pH"],
        analyte="buffer pH",
        value=low,
        low=low - reach,
        high=low + reach,
        u=u,
        method="SMP",
        how="lab",
        qualifier=None,
        trust="yes",
        steps=(),
    )
    return _with_reading(request, reading)


def _feel(request: Request, plan: Plan, tables: Tables) -> Request | None:
    if request.plot.texture is not None or request.plot.mix is not None:
        return None
    return replace(request, plot=replace(request.plot, texture="loam"))


def _organic_matter(request: Request, plan: Plan, tables: Tables) -> Request | None:
    if request.plot.organic_matter_pct is not None or any(reading.analyte == "OM" for reading in request.readings):
        return None
    return replace(request, plot=replace(request.plot, organic_matter_pct=tables.nutrients.default_organic_matter_pct.value))


def _cores(request: Request, plan: Plan, tables: Tables) -> Request | None:
    """The same laboratory on a sample of twice the cores, for every reading by a laboratory."""
    readings = best_readings(list(request.readings))
    changed = [
        _surer(item, min(item.u, _lab_error(item.analyte, item.value, tables, cores=2)))
        for item in readings.values()
        if item.how == "lab" and item.analyte != "buffer pH"
    ]
    if not changed:
        return None
    keys = {item.analyte for item in changed}
    return replace(request, readings=(*changed, *(item for key, item in readings.items() if key not in keys)))


def _nutrients(request: Request, plan: Plan, tables: Tables) -> Request | None:
    readings = best_readings(list(request.readings))
    by_kit = [item for key, item in readings.items() if key in ("P", "K", "Mg") and item.how != "lab"]
    if not by_kit:
        return None
    for item in by_kit:
        request = _with_reading(request, _surer(item, _lab_error(item.analyte, item.value, tables)))
    return request


def _standing_nitrate(request: Request, plan: Plan, tables: Tables) -> Request | None:
    """A nitrate test in the standing crop that would ask for the nitrogen of now."""
    row = tables.nitrogen.nitrate_critical.get(request.crop.key)
    need = next((need for need in plan.needs if need.what == "N"), None)
    if row is None or need is None or request.planting is None or need.method == "nitrate in the standing crop":
        return None
    value = row.critical_ppm - need.rate_kg_per_ha / tables.nitrogen.standing_nitrate_kg_per_ppm.value
    if value <= 1:
        return None
    u = _lab_error("NO3-N", value, tables)
    reach = HALF_WIDTH_80 * u
    taken = request.planting + timedelta(days=35)
    reading = Reading(
        analyte="NO3-N",
        value=value,
        low=max(0.0, value - reach),
        high=value + reach,
        u=u,
        unit="mg/kg",
        method="KCl 2 M",
        how="lab",
        taken=taken,
        qualifier=None,
        trust="yes",
        steps=(),
    )
    return _with_reading(replace(request, gifts=()), reading)


_TRIALS: dict[str, Callable[[Request, Plan, Tables], Request | None]] = {
    "lab_ph": _lab_ph,
    "buffer_ph": _buffer,
    "feel": _feel,
    "organic_matter": _organic_matter,
    "more_cores": _cores,
    "nutrients": _nutrients,
    "standing_nitrate": _standing_nitrate,
}
