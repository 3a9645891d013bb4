"""What was read on a plot before, so that a jump that nothing explains can be asked about."""

from datetime import date
from functools import cached_property

from agronomy.base.errors import RuleError
from agronomy.interpret.plausibility import Doubt, doubt_since_last_time
from agronomy.model.reading import Reading, best_readings, read
from web.core import tables
from web.ground.models import Plot
from web.readings.models import LabReport, LabResult
from web.readings.selectors import PlanLine

# What a dressing explains a change of beside the nutrients that it brings, by what is in it.
EXPLAINS = {"CaCO3": {"pH", "buffer pH", "Ca", "Mg"}, "S_acid": {"pH", "buffer pH", "S"}}


def reading_of(line: LabResult | PlanLine) -> Reading | None:
    """A stored line as a Reading; None where its stored values no longer fit the rules."""
    slip = line.slip
    try:
        return read(
            line.analyte,
            line.typed,
            unit=line.unit,
            method=line.method or "not stated",
            how=slip.how,
            taken=slip.taken_on,
            tables=tables(),
            error=line.own_error,
        )
    except (RuleError, KeyError):
        return None


def readings_of(lines) -> dict[str, Reading]:
    """The reading to go by for each analyte of some lines of one sample."""
    found = [reading for line in lines if line.kind == LabResult.Kind.READING and (reading := reading_of(line))]
    return best_readings(found)


class Past:
    """A plot before a day: its last readings, and what was spread since."""

    def __init__(self, plot: Plot, before: date, *, leave_out: int | None = None):
        self.plot, self.before, self.leave_out = plot, before, leave_out

    @cached_property
    def last(self) -> dict[str, Reading]:
        slips = (
            self.plot.slips.filter(medium=LabReport.Medium.SOIL, taken_on__lt=self.before)
            .exclude(pk=self.leave_out)
            .prefetch_related("lines")[:4]
        )
        found: dict[str, Reading] = {}
        for slip in slips:
            for line in slip.lines.all():
                line.slip = slip
            for analyte, reading in readings_of(slip.lines.all()).items():
                found.setdefault(analyte, reading)
        return found

    @cached_property
    def log(self) -> list:
        """What was really put on the ground."""
        return [entry for entry in self.plot.log.all() if entry.stands and entry.way != "leaf" and entry.done_on <= self.before]

    def doubt_of(self, reading: Reading, typed: str, unit: str) -> Doubt | None:
        """A Doubt where a reading has jumped since last time and nothing put on explains it."""
        last = self.last.get(reading.analyte)
        if last is None:
            return None
        return doubt_since_last_time(
            reading, last, typed=typed, unit=unit, explained=self._explains(reading.analyte, last.taken), tables=tables()
        )

    def _explains(self, analyte: str, since: date | None) -> bool:
        between = (entry for entry in self.log if since is None or entry.done_on >= since)
        return any(analyte in EXPLAINS.get(what, {what}) for entry in between for what in entry.brings)
