"""Probes left in the ground: what they may send, and when they are stale or faulty."""

from datetime import datetime, timedelta
from itertools import takewhile
from math import isfinite

from agronomy.base.errors import NotANumber, OutOfRange, RuleError, UnknownName
from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.tables import Tables
from agronomy.tables.rooms.documents import Quantity


@record
class ProbeState:
    """How far a probe is to be believed: "ok", "stale", "faulty" or "silent" (never heard), and why."""

    state: str
    says: str


def check_value(quantity: str, value: object, field: str, tables: Tables) -> float:
    """The value of a probe in the quantity's unit; raises UnknownName, NotANumber, OutOfRange. Nothing is rounded or clipped.

    Source: the row of the quantity.
    In the quantity's own unit (pH, dS/m, degrees, %).

    >>> from agronomy.intake.example import tables
    >>> check_value("ph", 6.4, "value", tables)
    6.4
    """
    row = quantity_row(quantity, tables)
    if isinstance(value, bool) or not isinstance(value, int | float) or not isfinite(value):
        raise NotANumber(field, str(value)[:40], "the value is not a finite number", f"send it in {row.unit}")
    if not row.low <= value <= row.high:
        raise OutOfRange(field, value, f"{value:g} is outside {row.low:g} to {row.high:g} {row.unit}", "check the probe and its wiring")
    return float(value)


def quantity_row(quantity: str, tables: Tables) -> Quantity:
    """The row of a quantity; raises UnknownName.

    Its unit stands in the row (pH, dS/m, %).

    >>> from agronomy.intake.example import tables
    >>> quantity_row("ph", tables).unit
    'pH'
    """
    rows = tables.sensors.quantity
    if quantity not in rows:
        raise UnknownName("quantity", quantity[:40], "this is nothing our probes measure", f"use one of {', '.join(rows)}")
    return rows[quantity]


def check_time(at: datetime, now: datetime, field: str, tables: Tables) -> datetime:
    """The moment of a reading; raises RuleError for one without a zone, ahead of now, or too long ago."""
    if at.tzinfo is None:
        raise RuleError(field, at.isoformat(), "the time has no zone", "write it as 2026-10-03T06:00:00Z")
    if at > now + timedelta(minutes=tables.sensors.ahead_minutes):
        raise RuleError(field, at.isoformat(), "the time lies ahead", "set the gateway's clock")
    if at < now - timedelta(days=tables.sensors.back_days):
        raise RuleError(field, at.isoformat(), "the time is too long ago", "set the gateway's clock")
    return at


def judge_probe(
    readings: list[tuple[datetime, float]],
    *,
    quantity: str,
    every_minutes: float,
    refused_at: datetime | None,
    now: datetime,
    tables: Tables,
) -> ProbeState:
    """The state of a probe from its latest readings (time, value), oldest first. Source: sensors.toml (unsure).

    Faulty: it lately sent what cannot be, or its value has not moved for hours. Stale: it has been silent for several of its
    own intervals.
    """
    figures = tables.sensors
    is_refused = refused_at is not None and now - refused_at < timedelta(hours=figures.refused_hours)
    if is_refused and (not readings or required(refused_at) >= readings[-1][0]):
        return ProbeState("faulty", "it lately sent values that cannot be; check the probe and its wiring")
    if not readings:
        return ProbeState("silent", "not heard of yet")
    last, value = readings[-1]
    silent_for = now - last
    if silent_for > timedelta(minutes=every_minutes * figures.stale_after_intervals):
        return ProbeState("stale", f"silent for {_spoken(silent_for)}; the value is from then")
    varies = quantity_row(quantity, tables).varies
    same = [at for at, _ in takewhile(lambda pair: abs(pair[1] - value) < varies, reversed(readings))]
    if len(same) >= figures.stuck_times and last - same[-1] >= timedelta(hours=figures.stuck_hours):
        return ProbeState("faulty", f"stuck at {value:g} for {_spoken(last - same[-1])}")
    return ProbeState("ok", "")


def _spoken(span: timedelta) -> str:
    hours = span.total_seconds() / 3600
    if hours < 1:
        return f"{span.total_seconds() / 60:.0f} minutes"
    return f"{hours:.0f} hours" if hours < 48 else f"{hours / 24:.0f} days"
