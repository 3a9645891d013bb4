"""Quick doubts for many readings: each distinct unit is worked out once, and only what looks odd is looked at closely."""

from agronomy.base.errors import RuleError
from agronomy.interpret.plausibility import Doubt, doubt_about
from agronomy.model.reading import read
from agronomy.tables import Tables


class Doubter:
    """Asks of a reading whether it is plausible; the common answer, yes, costs one comparison."""

    def __init__(self, tables: Tables):
        self.tables = tables
        self._ranges: dict[tuple[str, str, str], tuple[float, float] | None] = {}

    def about(self, analyte: str, typed: str, value: float, *, unit: str, method: str) -> tuple[Doubt | None, bool]:
        """A Doubt about a reading as typed, or None; and whether it can be reckoned with at all. `value` is the number in it."""
        key = (analyte, unit, method)
        if key not in self._ranges:
            self._ranges[key] = self._range(*key)
        plausible = self._ranges[key]
        if plausible and plausible[0] <= value <= plausible[1]:
            return None, True
        doubt = doubt_about(analyte, typed, unit=unit, method=method, tables=self.tables)
        try:
            read(analyte, typed, unit=unit, method=method, how="lab", taken=None, tables=self.tables)
        except RuleError as error:
            return doubt or Doubt(f"{error.problem}; {error.mend}", None), False
        return doubt, True

    def _range(self, analyte: str, unit: str, method: str) -> tuple[float, float] | None:
        """The typical range in the unit typed; None where the unit is none for this analyte."""
        row = self.tables.analytes[analyte]
        try:
            if analyte == "pH":
                scale = self.tables.readings.ph_methods[method]
                return (row.typical_low - scale.offset) / scale.slope, (row.typical_high - scale.offset) / scale.slope
            middle = self._some_value(analyte, unit, method)
        except (RuleError, KeyError):
            return None
        return row.typical_low / middle, row.typical_high / middle

    def _some_value(self, analyte: str, unit: str, method: str) -> float:
        """What one typed unit comes to in base units."""
        for probe in (1.0, 0.01, 100.0, 1e-4):
            try:
                return read(analyte, probe, unit=unit, method=method, how="lab", taken=None, tables=self.tables).value / probe
            except RuleError as error:
                last = error
        raise last
