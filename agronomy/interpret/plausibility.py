"""Doubts about what was typed: said in plain words with one possible correction, never changed silently."""

from typing import NamedTuple

from agronomy.errors import RuleError
from agronomy.numbers import parse_value
from agronomy.reading import Reading, read
from agronomy.tables import Tables


class Doubt(NamedTuple):
    """What looks wrong, and the unit that would make it ordinary (or None)."""

    text: str
    unit: str | None


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
    """A Doubt where the reading would be strange in its unit, else None. Nothing is said of values that cannot be read."""
    row = tables.analytes[analyte]
    try:
        parsed = parse_value(typed)
        if parsed.qualifier and parsed.low == 0:
            return None  # below a limit is low by its own word
        value = _in_base(analyte, typed, unit, method, tables)
    except RuleError:
        value = None
    if value is not None and row["typical_low"] <= value <= row["typical_high"]:
        return None
    shown = f"{str(typed).strip()} {unit}".strip()
    for other in _MIX_UPS.get(unit or row["base_unit"], ()):
        try:
            instead = _in_base(analyte, typed, other, method, tables)
        except RuleError:
            continue
        if other in row["units"].split(";") and row["typical_low"] <= instead <= row["typical_high"]:
            return Doubt(f"{shown} of {row['name'].lower()}? Did you mean {other}?", other)
    if value is None:
        return None
    side = "low" if value < row["typical_low"] else "high"
    return Doubt(f"{shown} is unusually {side} for {row['name'].lower()}. Please check the slip.", None)


def _in_base(analyte: str, typed: object, unit: str, method: str, tables: Tables) -> float:
    return read(analyte, typed, unit=unit, method=method, how="lab", taken=None, tables=tables).value


def doubts_between(readings: dict[str, Reading]) -> dict[str, Doubt]:
    """Readings that contradict each other, by analyte."""
    ph, buffer = readings.get("pH"), readings.get("buffer pH")
    if ph and buffer and ph.value < 6.8 and buffer.value < ph.value - 0.1:
        return {"buffer pH": Doubt(f"The buffer pH ({buffer.value:.1f}) is below the soil pH ({ph.value:.1f}). Are the two lines swapped?", None)}
    return {}
