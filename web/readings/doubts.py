"""Doubts about stored lines, with the one-tap correction where there is one."""

from agronomy.interpret.plausibility import Doubt, doubt_about, doubts_between
from web.core import tables
from web.readings.models import LabReport, LabResult
from web.readings.past import Past, reading_of, readings_of


def open_doubts(slip: LabReport, lines: list[LabResult]) -> dict[int, Doubt]:
    """By the line's key: what a line's file, its value, its neighbours or its past make doubtful and nobody has settled."""
    found: dict[int, Doubt] = {}
    readings = [line for line in lines if line.kind == LabResult.Kind.READING and line.analyte in tables().analytes]
    between = doubts_between(readings_of(readings), tables())
    past = Past(slip.plot, slip.taken_on, leave_out=slip.pk) if slip.medium == LabReport.Medium.SOIL and slip.plot else None
    for line in lines:
        if line.settled:
            continue
        doubt = None
        if line in readings:
            doubt = doubt_about(
                line.analyte, line.typed, unit=line.unit, method=line.method or "not stated", tables=tables()
            ) or between.get(line.analyte)
            reading = reading_of(line)
            if doubt is None and past and reading:
                doubt = past.doubt_of(reading, line.typed, line.unit)
        if doubt is None and line.doubt:
            doubt = Doubt(line.doubt, None)
        if doubt:
            found[line.pk] = doubt
    return found
