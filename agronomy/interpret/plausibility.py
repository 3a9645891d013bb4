"""Doubts about what was typed: said in plain words with one possible correction, never changed silently."""

from typing import NamedTuple

from agronomy.base.errors import RuleError
from agronomy.base.numbers import parse_value
from agronomy.base.required import required
from agronomy.base.said import say
from agronomy.base.uncertainty import in_quadrature
from agronomy.model.reading import Reading, read
from agronomy.tables import Tables
from agronomy.tables.rooms.readings import Analyte


class Doubt(NamedTuple):
    """What looks wrong, and the one thing that would make it ordinary: another unit, or another value (or neither)."""

    text: str
    unit: str | None
    value: str | None = None


# Mix-ups worth asking about, in the order in which they are tried: the unit typed, the unit perhaps meant.
_MIX_UPS = {
    "%": ("mg/kg",),
    "mg/kg": ("lb/acre", "cmol/kg", "mg/100 g"),
    "ppm": ("lb/acre", "cmol/kg", "mg/100 g"),
    "lb/acre": ("mg/kg",),
    "mg/100 g": ("mg/kg",),
    "cmol/kg": ("mg/kg",),
    "meq/100 g": ("mg/kg",),
}


def doubt_about(analyte: str, typed: object, *, unit: str, method: str, tables: Tables) -> Doubt | None:
    """A Doubt where the reading would be strange in its unit, else None. Nothing is said of values that cannot be read.

    Source: plausible-range.
    Typed in `unit`, compared in pH, mg/kg or %.

    >>> from agronomy.intake.example import tables
    >>> doubt_about("pH", 57, unit="", method="water 1:1", tables=tables) is None
    False
    """
    row = tables.analytes[analyte]
    try:
        parsed = parse_value(typed)
        if parsed.qualifier and parsed.low == 0:
            return None  # below a limit is low by its own word
        value = _in_base(analyte, typed, unit, method, tables)
    except RuleError:
        value = None
    if value is not None and row.typical_low <= value <= row.typical_high:
        return None
    if row.base_unit == "pH" and (slipped := _lost_point(typed, row)):
        return Doubt(
            say("{row} {typed} can't be: did you mean {slipped}?", row=row.name, typed=str(typed).strip(), slipped=slipped), None, slipped
        )
    shown = f"{str(typed).strip()} {unit}".strip()
    for other in _MIX_UPS.get(unit or row.base_unit, ()):
        try:
            instead = _in_base(analyte, typed, other, method, tables)
        except RuleError:
            continue
        if other in row.units and row.typical_low <= instead <= row.typical_high:
            return Doubt(say("{shown} of {row}? Did you mean {other}?", shown=shown, row=row.name.lower(), other=other), other)
    if value is None:
        return None
    side = "low" if value < row.typical_low else "high"
    return Doubt(say("{shown} is unusually {side} for {row}. Please check the report.", shown=shown, side=side, row=row.name.lower()), None)


def _lost_point(typed: object, row: Analyte) -> str | None:
    """The pH that was meant where its decimal point was lost: 57 for 5.7, 625 for 6.25."""
    try:
        value = parse_value(typed).value
    except RuleError:
        return None
    for divisor in (10, 100):
        if value > row.hard_high and row.typical_low <= value / divisor <= row.typical_high:
            return f"{value / divisor:g}"
    return None


def _in_base(analyte: str, typed: object, unit: str, method: str, tables: Tables) -> float:
    return read(analyte, typed, unit=unit, method=method, how="lab", taken=None, tables=tables).value


def doubts_between(readings: dict[str, Reading], tables: Tables | None = None) -> dict[str, Doubt]:
    """Readings that contradict each other, by analyte. Source: plausible-range.

    Readings in their base units (pH, mg/kg, %).

    >>> from agronomy.intake.example import found, tables
    >>> sorted(doubts_between(found().readings, tables))
    []
    """
    found = _buffer_below_ph(readings)
    if tables is not None:
        found |= _cations_beyond_cec(readings, tables)
    return found


def _cations_beyond_cec(readings: dict[str, Reading], tables: Tables) -> dict[str, Doubt]:
    """A measured exchange capacity that its own cations overfill. Free lime dissolves in the extract, so pH above 7.3 is left alone."""
    cec, ph, figures = readings.get("CEC"), readings.get("pH"), tables.plausibility
    if cec is None or cec.method == "sum of cations" or (ph and ph.value > figures.cations_ph_limit.value) or "Ca" not in readings:
        return {}
    parts = {key: readings[key].value / tables.analytes[key].per_cmol for key in ("Ca", "Mg", "K", "Na") if key in readings}
    total = sum(parts.values())
    if figures.cations_least_of_cec.value * cec.value <= total <= figures.cations_most_of_cec.value * cec.value:
        return {}
    text = say(
        "Calcium, magnesium and potassium add to {total:.1f} cmol/kg, {share:.0f} % of the exchange capacity "
        "({cec:.1f}). One of these lines has a wrong unit or number.",
        total=total,
        share=100 * total / cec.value,
        cec=cec.value,
    )
    largest = max(parts, key=lambda key: parts[key])
    return {largest: Doubt(text, None)}


def _buffer_below_ph(readings: dict[str, Reading]) -> dict[str, Doubt]:
    ph, buffer = readings.get("pH"), readings.get("buffer pH")
    if ph and buffer and ph.value < 6.8 and buffer.value < ph.value - 0.1:
        return {
            "buffer pH": Doubt(
                say(
                    "The buffer pH ({buffer:.1f}) is below the soil pH ({ph:.1f}). Are the two lines swapped?",
                    buffer=buffer.value,
                    ph=ph.value,
                ),
                None,
            )
        }
    return {}


# What a jump since last time may really be: the factor between the two figures, and the unit that would undo it.
_TELLING_FACTORS = (("lb/acre", 2.0), ("mg/100 g", 0.1), ("%", 1e-4))


def doubt_since_last_time(new: Reading, last: Reading, *, typed: str, unit: str, explained: bool, tables: Tables) -> Doubt | None:
    """A Doubt where a reading has jumped since last time by more than errors, and nothing that was put on explains it.

    Where the jump is just the factor between two units, that unit is offered. Source: sampling-error.
    Both readings in their base unit (pH, mg/kg, %).

    >>> from agronomy.intake.example import found, tables
    >>> new, last = found().readings["P"], found(test={"P": 90}).readings["P"]
    >>> doubt_since_last_time(new, last, typed="12", unit="mg/kg", explained=False, tables=tables) is None
    False
    """
    if explained or new.method != last.method or new.qualifier or last.qualifier or last.value <= 0:
        return None
    row, error, figures = tables.analytes[new.analyte], in_quadrature(new.u, last.u), tables.plausibility
    is_ph = row.base_unit == "pH"
    gap = abs(new.value - last.value)
    other = None if is_ph else _unit_behind(new.value / last.value, unit or row.base_unit, row, figures.factor_within.value)
    # a jump by just the factor between two units is asked about sooner than any other
    errors = (figures.telling_jump_errors if other else figures.jump_errors).value
    if gap <= errors * error or (not is_ph and gap <= figures.jump_share.value * last.value):
        return None
    was = f"{last.value:.1f}" if is_ph else f"{last.value:.0f} {last.unit}"
    when = f" in {last.taken:%B %Y}" if last.taken else ""
    shown = f"{typed.strip()} {unit}".strip()
    if other:
        return Doubt(
            say(
                "{row} was {was}{when}, and is {shown} now. Did you mean {other}?",
                row=row.name,
                was=was,
                when=when,
                shown=shown,
                other=other,
            ),
            other,
        )
    return Doubt(
        say(
            "{row} was {was}{when}, and is {shown} now, and nothing recorded here explains it. Please check the report.",
            row=row.name,
            was=was,
            when=when,
            shown=shown,
        ),
        None,
    )


def _unit_behind(factor: float, unit: str, row: Analyte, within: float) -> str | None:
    """The unit that would make a reading `factor` times smaller, where the factor is telling."""
    if unit not in ("mg/kg", "ppm"):
        return None
    candidates = [(other, share) for other, share in _TELLING_FACTORS if other in row.units]
    if row.oxide:
        candidates.append((say("mg/kg {oxide}", oxide=row.oxide), required(row.oxide_factor)))
    distance, nearest = min((abs(factor / share - 1), other) for other, share in candidates) if candidates else (within, None)
    return nearest if distance < within else None
