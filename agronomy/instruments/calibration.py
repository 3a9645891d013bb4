"""Calibrating a pH electrode in two buffers: its slope and zero, and whether it may be trusted."""

from agronomy.base.errors import RuleError, check_range
from agronomy.base.record import record
from agronomy.base.working import Figure, Step
from agronomy.tables import Tables

KELVIN = 273.15


@record(kw_only=True)
class Calibration:
    """Slope [% of theory], zero offset [mV at pH 7], whether it passes, what to do, and the working."""

    slope_pct: float
    offset_mv: float
    mv_per_ph: float
    passes: bool
    advice: str
    steps: tuple[Step, ...]

    def ph(self, mv: float) -> float:
        """The pH that a voltage [mV] stands for."""
        return 7.0 - (mv - self.offset_mv) / self.mv_per_ph


def nernst_mv_per_ph(temperature_c: float, tables: Tables) -> float:
    """Slope of a perfect electrode [mV/pH] at a temperature [°C]. Source: definition.

    >>> from agronomy.tables import load_tables
    >>> round(nernst_mv_per_ph(25.0, load_tables()), 2)
    59.16
    """
    return tables.meter.nernst_mv_per_k.value * (temperature_c + KELVIN)


def calibrate(first_ph: float, first_mv: float, second_ph: float, second_mv: float, *, temperature_c: float, tables: Tables) -> Calibration:
    """The Calibration from the voltages [mV] in two buffers at one temperature [°C].

    One buffer should be near pH 7. Raises OutOfRange for what no buffer or electrode gives, RuleError for two buffers alike.
    Source: electrode-slope.

    >>> from agronomy.tables import load_tables
    >>> round(calibrate(first_ph=7.0, first_mv=5.0, second_ph=4.0, second_mv=155.0, temperature_c=25.0, tables=load_tables()).slope_pct, 2)
    84.52
    """
    for name, ph in (("first_ph", first_ph), ("second_ph", second_ph)):
        check_range(name, ph, low=1.0, high=13.0, mend="type the buffer's pH from its bottle")
    for name, mv in (("first_mv", first_mv), ("second_mv", second_mv)):
        check_range(name, mv, low=-600, high=600, unit="mV", mend="read the millivolts, not the pH")
    check_range("temperature_c", temperature_c, low=0, high=50, unit="°C", mend="measure the buffer's temperature")
    if abs(first_ph - second_ph) < 1:
        raise RuleError("second_ph", second_ph, "the two buffers are too alike", "use 7 and 4 for acid soil, 7 and 10 for alkaline")
    theory = nernst_mv_per_ph(temperature_c, tables)
    mv_per_ph = -(second_mv - first_mv) / (second_ph - first_ph)
    offset = first_mv + (first_ph - 7.0) * mv_per_ph
    slope_pct = 100 * mv_per_ph / theory
    steps = (
        Step(
            "slope of a perfect electrode",
            "millivolts to a kelvin × (temperature + zero on the absolute scale)",
            {
                "millivolts to a kelvin": Figure.of(tables.meter.nernst_mv_per_k),
                "temperature": Figure(temperature_c, "°C"),
                "zero on the absolute scale": Figure(KELVIN, "K", "definition"),
            },
            Figure(theory, "mV/pH"),
            "definition",
        ),
        Step(
            "slope of yours",
            "100 × (mV 1 − mV 2) / (pH 2 − pH 1) / slope of a perfect electrode",
            {
                "slope of a perfect electrode": Figure(theory, "mV/pH"),
                "pH 1": Figure(first_ph),
                "mV 1": Figure(first_mv, "mV"),
                "pH 2": Figure(second_ph),
                "mV 2": Figure(second_mv, "mV"),
            },
            Figure(slope_pct, "%"),
            "electrode-slope",
        ),
    )
    advice = _advice(slope_pct, offset, tables)
    return Calibration(
        slope_pct=slope_pct,
        offset_mv=offset,
        mv_per_ph=mv_per_ph,
        passes=advice == "",
        advice=advice or "The electrode is sound. Calibrate again tomorrow.",
        steps=steps,
    )


def _advice(slope_pct: float, offset_mv: float, tables: Tables) -> str:
    figures = tables.meter
    if slope_pct < 0:
        return "The two voltages are swapped: the acid buffer gives the higher one. Check which is which."
    if slope_pct < figures.slope_least_pct.value:
        return (
            f"The slope is only {slope_pct:.0f} %. Clean the electrode, let it stand in storage liquid for an hour and try fresh "
            "buffers; if it stays low, replace it."
        )
    if slope_pct > figures.slope_most_pct.value:
        return f"The slope is {slope_pct:.0f} %, more than can be. A buffer is old or mislabelled: try fresh ones."
    if abs(offset_mv) > figures.offset_most_mv.value:
        return f"The zero is off by {offset_mv:+.0f} mV. Clean the electrode and try again; if it stays, replace it."
    return ""
