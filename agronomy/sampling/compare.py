"""Two samples line by line: a good and a bad place, or before and after. Which differences are larger than the two errors?"""

from typing import Any

from agronomy.base.record import record
from agronomy.base.uncertainty import in_quadrature
from agronomy.model.reading import Reading
from agronomy.tables import Tables


@record(kw_only=True)
class Difference:
    """One analyte in two samples: second less first [base unit], the error of that, and whether it means something."""

    analyte: str
    name: str
    unit: str
    first: Reading | None
    second: Reading | None
    difference: float | None
    error: float | None
    means_something: bool
    text: str
    could_mean: str = ""
    check: str = ""

    @property
    def strength(self) -> float:
        """How many errors the difference spans; 0 where it cannot be told."""
        return abs(self.difference) / self.error if self.difference is not None and self.error else 0.0


def compare(first: dict[str, Reading], second: dict[str, Reading], tables: Tables) -> list[Difference]:
    """Every analyte of either sample, the most telling difference first. Source: pair-guide.

    Readings by different methods are not subtracted: it says so. A difference means something above 1.5 times its error.
    Values in their base units (pH, mg/kg, %).

    >>> from agronomy.intake.example import found, tables
    >>> compare(found().readings, found(test={"P": 40}).readings, tables)[0].analyte
    'P'
    """
    keys = [key for key in tables.analytes if key in first or key in second]
    lines = [_difference(key, first.get(key), second.get(key), tables) for key in keys]
    return sorted(lines, key=lambda line: -line.strength)


def _difference(key: str, first: Reading | None, second: Reading | None, tables: Tables) -> Difference:
    row = tables.analytes[key]
    unit = "" if row.base_unit == "pH" else row.base_unit
    base: dict[str, Any] = {"analyte": key, "name": row.name, "unit": unit, "first": first, "second": second}
    if first is None or second is None:
        return Difference(**base, difference=None, error=None, means_something=False, text="only on one of the two")
    if key != "pH" and first.method != second.method:
        text = f"measured by {first.method} and {second.method}: not comparable"
        return Difference(**base, difference=None, error=None, means_something=False, text=text)
    difference, error = second.value - first.value, in_quadrature(first.u, second.u)
    telling = abs(difference) > tables.sampling.pair_difference.value * error
    side = "higher" if difference > 0 else "lower"
    text = f"{side}, by more than the two errors" if telling else "no difference that the two errors would not make"
    meaning = tables.sampling.pair_meanings.get((key, side)) if telling else None
    told: dict[str, Any] = {"could_mean": meaning.means, "check": meaning.check} if meaning else {}
    return Difference(**base, difference=difference, error=error, means_something=telling, text=text, **told)
