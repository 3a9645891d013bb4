"""One reading, brought to the house's unit and scale, with the error that follows from how it was measured."""

from datetime import date
from functools import lru_cache
from typing import Any, NamedTuple

from agronomy.base.errors import OutOfRange, RuleError, UnknownName, UnknownUnit
from agronomy.base.numbers import ReadValue, parse_value
from agronomy.base.quantities import factor
from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.base.uncertainty import HALF_WIDTH_80, in_quadrature
from agronomy.base.working import Figure, Step
from agronomy.tables import Tables
from agronomy.tables.indexes import method_words
from agronomy.tables.rooms.readings import NOT_STATED, Analyte

OTHER_NAMES = {
    "ph": "pH",
    "buffer ph": "buffer pH",
    "bph": "buffer pH",
    "phosphorus": "P",
    "potassium": "K",
    "calcium": "Ca",
    "magnesium": "Mg",
    "sulfur": "S",
    "sulphur": "S",
    "organic matter": "OM",
    "nitrate": "NO3-N",
}
SCOOP_KG_PER_L = 1.1  # dried soil in a laboratory's scoop, 0.9 to 1.25; classes by volume hold for peat as they stand (lab-scoop)
SUBSOIL_FROM_CM = 10.0  # a sample that begins deeper says nothing of the layer that is fed and limed
LAB_LAYER_MOST_CM = 20.0  # a top layer up to here is the laboratory's own
LAB_LAYER_INCH = 6.667  # the layer of two million lb an acre behind a laboratory's lb/acre
BY_LAYER = ("lb/acre", "kg/ha")  # so much in a layer: its depth and weight say how much to the kg
HOWS = ("lab", "kit", "strip", "meter", "probe", "sensor", "leaf_card", "tissue", "label")


@record(kw_only=True)
class Reading:
    """A reading in base units (mg/kg, %, cmol/kg, pH in water 1:1) with its standard error and its 80 % band.

    `trust` says what it may be used for: "yes" rates, "half" half a rate and a retest, "no" never a rate.
    """

    analyte: str
    value: float
    low: float
    high: float
    u: float
    unit: str
    method: str
    how: str
    taken: date | None
    qualifier: str | None
    trust: str
    steps: tuple[Step, ...]
    top_cm: float | None = None
    bottom_cm: float | None = None
    stage: str = ""  # of the crop, and which part was picked: of leaves only
    part: str = ""

    @property
    def is_of_subsoil(self) -> bool:
        """Whether the sample was taken from below the top layer."""
        return self.top_cm is not None and self.top_cm >= SUBSOIL_FROM_CM


MIX_EXTRACTS = ("saturated media extract", "mix extract 1:1.5", "pour-through")


def analyte_key(typed: str, tables: Tables, field: str = "analyte") -> str:
    """The analyte's key from a key or common name; raises UnknownName.

    >>> from agronomy.tables import load_tables
    >>> analyte_key("P", load_tables(), "readings.2.analyte")
    'P'
    """
    wanted = typed.strip()
    if wanted in tables.analytes:
        return wanted
    found = OTHER_NAMES.get(wanted.lower()) or next((key for key in tables.analytes if key.lower() == wanted.lower()), None)
    if found:
        return found
    raise UnknownName(
        field,
        typed[:40],
        f"“{typed[:40]}” is not in our list of analytes",
        f"use one of {', '.join(key for key, row in tables.analytes.items() if row.medium == 'soil')}",
    )


def method_key(typed: str, analyte: str, tables: Tables, field: str = "method") -> str:
    """The method's name for an analyte; raises UnknownName where the table has no such method.

    >>> from agronomy.tables import load_tables
    >>> method_key("", "P", load_tables(), "readings.3.method")
    'not stated'
    """
    known = tables.analytes[analyte].methods
    if typed in known:
        return typed
    if typed.strip().lower() in ("", "unknown", NOT_STATED):
        return NOT_STATED
    if name := tables.methods_by_name.get((analyte, method_words(typed))):
        return name
    raise UnknownName(field, typed[:40], f"“{typed[:40]}” is no method for {analyte} that we know", f"use one of {', '.join(known)}")


def read(
    analyte: str,
    typed: object,
    *,
    unit: str,
    method: str,
    how: str,
    taken: date | None,
    tables: Tables,
    error: float | None = None,
    bulk_density_g_per_cm3: float | None = None,
    layer_cm: float | None = None,
    top_cm: float | None = None,
    bottom_cm: float | None = None,
    field: str = "reading",
) -> Reading:
    """A Reading from what was typed. Unit and method must be those of the analyte's table ('' means its default unit).

    `error` is the user's own standard error in base units. `layer_cm` is the layer a lab's lb/acre speaks of;
    `top_cm` and `bottom_cm` are where the sample was taken.
    Raises NotANumber, UnknownUnit, OutOfRange. Source: the tables reading_errors and ph_methods.

    >>> from agronomy.tables import load_tables
    >>> round(read("pH", "4.6", unit="", method="KCl 1 M", how="lab", taken=None, tables=load_tables()).value, 2)
    5.6
    """
    about = (typed, unit, method, how, error, bulk_density_g_per_cm3 if unit.strip() in BY_LAYER else None, layer_cm)
    found = _measured(analyte, *about, tables) if isinstance(typed, str | float | int) else None
    found = found or _measure(field, analyte, *about, tables)
    return Reading(
        analyte=analyte,
        value=found.value,
        low=found.low,
        high=found.high,
        u=found.u,
        unit=found.unit,
        method=method,
        how=how,
        taken=taken,
        qualifier=found.qualifier,
        trust=found.trust,
        steps=found.steps,
        top_cm=top_cm,
        bottom_cm=bottom_cm,
    )


class _Measure(NamedTuple):
    """What follows from what was typed, whenever and wherever it was taken."""

    value: float
    low: float
    high: float
    u: float
    unit: str
    qualifier: str | None
    trust: str
    steps: tuple[Step, ...]


def _measure(
    field: str,
    analyte: str,
    typed: object,
    unit: str,
    method: str,
    how: str,
    error: float | None,
    density: float | None,
    layer_cm: float | None,
    tables: Tables,
) -> _Measure:
    row = tables.analytes[analyte]
    read_value = parse_value(typed, f"{field}.value")
    is_of_mix = unit.strip() == "mg/L" and method in MIX_EXTRACTS  # so much to the litre of extract, not of soil
    share, steps = (1.0, ()) if is_of_mix else _to_base(row, unit, field, density, layer_cm, read_value, tables)
    value = read_value.value * share
    _check_plausible(row, value, typed, field)
    conversion_u = 0.0
    if analyte == "pH":
        value, conversion_u, steps = _to_water(value, method, steps, tables)
    u, trust, error_step = _error_of(analyte, how, value, tables, conversion_u, error, read_value, share)
    low = read_value.low * share if read_value.low is not None and analyte != "pH" else value - HALF_WIDTH_80 * u
    high = read_value.high * share if read_value.high is not None and analyte != "pH" else value + HALF_WIDTH_80 * u
    base_unit = "mg/L" if is_of_mix else row.base_unit
    return _Measure(value, max(0.0, low), high, u, base_unit, read_value.qualifier, trust, (*steps, error_step))


# A plot's past is read again with every plan, and laboratories write few digits: the same values come again and again.
@lru_cache(maxsize=16_384, typed=True)
def _measured(*about: Any) -> _Measure | None:
    """As _measure, remembered; None where it has something to say of a field."""
    try:
        return _measure("", *about)
    except RuleError:
        return None


def _to_base(
    row: Analyte, unit: str, field: str, density: float | None, layer_cm: float | None, typed: ReadValue, tables: Tables
) -> tuple[float, tuple[Step, ...]]:
    """Factor from the typed unit to the analyte's base unit, with the step that says so."""
    base, analyte = row.base_unit, row.key
    unit = unit.strip() or base
    if unit == base:
        return 1.0, ()
    special = tables.readings.special_units.get((analyte, unit))
    if special:
        return special.factor, (_unit_step(row, typed, unit, special.factor, special.says, special.source),)
    allowed = row.units
    if unit in BY_LAYER and "lb/acre" in allowed:
        return _from_layer(unit, density, layer_cm, typed)
    if unit == "mg/L" and "mg/L" in allowed:
        share, source = 1.0 / SCOOP_KG_PER_L, "lab-scoop"
        note = f"by volume of dried soil, {SCOOP_KG_PER_L:g} kg to the litre of a laboratory’s scoop"
    elif row.mg_per_cmol and base == "mg/kg" and factor_or_none(unit, "cmol/kg"):
        share, note, source = factor(unit, "cmol/kg") * row.mg_per_cmol, f"{row.mg_per_cmol:g} mg per cmol of {analyte}", "definition"
    elif row.oxide and unit.endswith(" " + row.oxide):
        share = factor(unit[: -len(row.oxide)].strip(), base, f"{field}.unit") / required(row.oxide_factor)
        note, source = f"{row.oxide} / {row.oxide_factor:g}", "definition"
    else:
        share, note, source = _plain_factor(unit, base, allowed, field), "", "definition"
    return share, (_unit_step(row, typed, unit, share, note, source),)


def _unit_step(row: Analyte, typed: ReadValue, unit: str, share: float, note: str, source: str) -> Step:
    inputs = {"reading": Figure(typed.value, unit), "factor": Figure(share)}
    return Step(f"{row.key} in {row.base_unit}", "reading × factor", inputs, Figure(typed.value * share, row.base_unit), source, note)


def factor_or_none(unit: str, base: str) -> float | None:
    try:
        return factor(unit, base)
    except UnknownUnit:
        return None


def _plain_factor(unit: str, base: str, allowed: tuple[str, ...], field: str) -> float:
    if base == "pH":
        raise UnknownUnit(f"{field}.unit", unit[:40], "pH has no unit", "leave the unit empty")
    try:
        return factor(unit, base, f"{field}.unit")
    except UnknownUnit as error:
        raise UnknownUnit(
            error.field,
            unit[:40],
            f"“{unit[:40]}” is no unit for this line",
            error.mend.split("use one")[0] + f"use one of {', '.join(allowed)}",
        ) from error


def _from_layer(unit: str, density: float | None, layer_cm: float | None, typed: ReadValue) -> tuple[float, tuple[Step, ...]]:
    """lb/acre or kg/ha of a soil layer. A stated layer and density are used; else a laboratory's two million lb."""
    in_kg_per_ha = factor(unit, "kg/ha")
    if layer_cm and density:
        share, source = in_kg_per_ha / (density * layer_cm * 0.1), "definition"
        formula = "10 × reading × in kg/ha / (bulk density × depth)"
        inputs = {
            "in kg/ha": Figure(in_kg_per_ha, f"kg/ha per {unit}"),
            "bulk density": Figure(density, "g/cm3"),
            "depth": Figure(layer_cm, "cm"),
        }
    else:
        # a layer that is not stated is exactly the laboratory's own, with no rounding of inches in between
        layers = layer_cm / (LAB_LAYER_INCH * 2.54) if layer_cm else 1.0
        share, source = in_kg_per_ha / factor("lb/acre", "kg/ha") / (2 * layers), "lab-two-million"
        formula = "reading × in lb/acre / (2 × layer / layer of two million lb)"
        inputs = {
            "in lb/acre": Figure(in_kg_per_ha / factor("lb/acre", "kg/ha"), f"lb/acre per {unit}"),
            "layer": Figure(layers * LAB_LAYER_INCH, "in"),
            "layer of two million lb": Figure(LAB_LAYER_INCH, "in", "lab-two-million"),
        }
    step = Step("to mg/kg", formula, {"reading": Figure(typed.value, unit), **inputs}, Figure(typed.value * share, "mg/kg"), source)
    return share, (step,)


def _check_plausible(row: Analyte, value: float, typed: object, field: str) -> None:
    low, high = row.hard_low, row.hard_high
    if low <= value <= high:
        return
    mend = "check the unit on the report, or leave the line empty"
    if row.base_unit == "pH" and low <= value / 10 <= high:
        mend = f"did you mean {value / 10:g}? else leave the line empty"
    unit = "" if row.base_unit == "pH" else " " + row.base_unit
    raise OutOfRange(f"{field}.value", str(typed)[:40], f"{row.name} {value:g}{unit} is outside {low:g} to {high:g}{unit}", mend)


def _to_water(value: float, method: str, steps: tuple[Step, ...], tables: Tables) -> tuple[float, float, tuple[Step, ...]]:
    row = tables.readings.ph_methods[method]
    if row.slope == 1 and row.offset == 0:
        return value, row.u, steps
    water = row.slope * value + row.offset
    step = Step(
        "pH on the water scale",
        "slope × reading + offset",
        {
            "slope": Figure(row.slope, "pH per pH", row.source),
            "reading": Figure(value, "pH"),
            "offset": Figure(row.offset, "pH", row.source),
            "method": Figure(method),
        },
        Figure(water, "pH"),
        row.source,
        row.where or "",
        note=f"adds an error of {row.u:g}",
    )
    return water, row.u, (*steps, step)


def _error_of(
    analyte: str, how: str, value: float, tables: Tables, conversion_u: float, own: float | None, typed: ReadValue, share: float
) -> tuple[float, str, Step]:
    """Standard error in base units, what the reading may be used for, and the step that says so."""
    if how not in HOWS:
        raise UnknownName("how", how[:40], f"“{how[:40]}” is not in our list of ways of measuring", f"use one of {', '.join(HOWS)}")
    errors = tables.readings.reading_errors
    row = errors.get((analyte, how)) or errors.get(("*", how)) or errors["*", "lab"]
    if row.analyte == "*" and analyte == "buffer pH":
        row = errors["buffer pH", "lab"]
    sampling = errors.get((analyte, "sampling")) or errors[f"*{tables.analytes[analyte].medium}", "sampling"]
    trust = row.rates or "no"
    if own is not None:
        total, inputs = own, {"stated by you": Figure(own)}
    else:
        measured = row.error if row.kind == "u" else row.error * value
        if typed.low is not None and typed.high is not None:
            # what lies between two colours or below a limit is spread evenly over that width
            measured = max(measured, (typed.high - typed.low) * share / 12**0.5)
        spread = 0.0 if analyte == "buffer pH" else sampling.error if sampling.kind == "u" else sampling.error * value
        total = in_quadrature(measured, spread, conversion_u)
        inputs = {"measuring": Figure(measured), "sampling": Figure(spread), "change of scale": Figure(conversion_u)}
    unit = tables.analytes[analyte].base_unit
    step = Step(
        "error of the reading",
        "square root of the sum of squares",
        inputs,
        Figure(total, unit),
        f"{row.source};sampling-error" if row.source != "sampling-error" else "sampling-error",
        how,
    )
    return total, trust, step


def best_readings(readings: list[Reading]) -> dict[str, Reading]:
    """The reading to go by for each analyte: the latest, and of one day's the surest; equals are averaged.

    The order in which they come makes no difference. Samples from below the top layer are left out. Source: definition.
    Values in their base units (pH, mg/kg, %).

    >>> from agronomy.intake.example import bed
    >>> best_readings(list(bed().readings))["pH"].value
    5.6
    """
    by_analyte: dict[str, list[Reading]] = {}
    for reading in readings:
        if reading.is_of_subsoil:
            continue
        by_analyte.setdefault(reading.analyte, []).append(reading)
    return {analyte: many[0] if len(many) == 1 else _pick(many) for analyte, many in by_analyte.items()}


def _pick(readings: list[Reading]) -> Reading:
    latest = max(reading.taken or date.min for reading in readings)
    same_day = [reading for reading in readings if (reading.taken or date.min) == latest]
    ranks = {"yes": 0, "half": 1, "no": 2}
    best = min(ranks[reading.trust] for reading in same_day)
    peers = [reading for reading in same_day if ranks[reading.trust] == best]
    surest = min(peers, key=lambda reading: (reading.u / max(reading.value, 1e-9), reading.method, reading.value))
    peers = sorted(
        (reading for reading in peers if reading.method == surest.method and reading.how == surest.how), key=lambda reading: reading.value
    )
    if len(peers) == 1:
        return surest
    return _average(peers)


def _average(peers: list[Reading]) -> Reading:
    mean = sum(reading.value for reading in peers) / len(peers)
    first = peers[0]
    step = Step(
        "average of repeats",
        "the mean of the readings",
        {f"reading {number}": Figure(reading.value, reading.unit) for number, reading in enumerate(peers, 1)},
        Figure(mean, first.unit),
        "definition",
    )
    u = max(reading.u for reading in peers)
    return Reading(
        analyte=first.analyte,
        value=mean,
        low=max(0.0, mean - HALF_WIDTH_80 * u),
        high=mean + HALF_WIDTH_80 * u,
        u=u,
        unit=first.unit,
        method=first.method,
        how=first.how,
        taken=first.taken,
        qualifier=first.qualifier,
        trust=first.trust,
        steps=(*first.steps, step),
        top_cm=first.top_cm,
        bottom_cm=first.bottom_cm,
    )


def try_read(*args: Any, errors: list[RuleError], **kwargs: Any) -> Reading | None:
    """As read(), but adds the error to `errors` and returns None, so that all errors are told at once."""
    try:
        return read(*args, **kwargs)
    except RuleError as error:
        errors.append(error)
        return None
