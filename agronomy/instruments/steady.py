"""When a meter that settles, drifts and jitters may be read, and what several readings come to."""

from math import sqrt

from agronomy.base.errors import RuleError
from agronomy.base.record import record
from agronomy.base.uncertainty import in_quadrature
from agronomy.tables import Tables


@record
class Sample:
    """One line of a meter: seconds since it was put in, pH, and temperature [°C]."""

    seconds: float
    ph: float
    temperature_c: float


@record
class Steadiness:
    """Whether the meter holds still: mean and spread of the last stretch, its drift [pH/min], and the state in words."""

    state: str  # settling, noisy, drifting, steady, given_up
    mean: float | None
    spread: float | None
    drift_per_min: float | None
    says: str


def judge(samples: list[Sample], tables: Tables) -> Steadiness:
    """How steady the last stretch is. Steady: it spans little and drifts little for long enough. Source: own-experience (unsure).

    In pH, over seconds.

    >>> from agronomy.intake.example import tables
    >>> judge([Sample(second, 6.5, 20.0) for second in range(0, 120, 5)], tables).state
    'settling'
    """
    figures = tables.meter
    span_s = figures.steady_seconds.value
    if not samples:
        return Steadiness("settling", None, None, None, "Waiting for the meter.")
    now = samples[-1].seconds
    last = [sample for sample in samples if sample.seconds >= now - span_s]
    mean = sum(sample.ph for sample in last) / len(last)
    if now < span_s or len(last) < 5:
        return Steadiness("settling", mean, None, None, "Settling. Leave it alone.")
    drift = _slope_per_min(last)
    rest = [sample.ph - mean - drift / 60 * (sample.seconds - _middle(last)) for sample in last]
    spread = sqrt(sum(value * value for value in rest) / (len(rest) - 1))
    # a slope through jitter has an error of its own, and only what goes beyond it is drift
    drift_error = 60 * spread / sqrt(sum((sample.seconds - _middle(last)) ** 2 for sample in last))
    if abs(drift) <= figures.steady_drift_ph_per_min.value + drift_error and spread <= figures.steady_span_ph.value:
        return Steadiness("steady", mean, spread, drift, f"Steady at pH {mean:.2f}.")
    if now > figures.longest_seconds.value:
        return Steadiness("given_up", mean, spread, drift, "It will not hold still. Clean the electrode, stir the slurry and begin again.")
    if spread > figures.steady_span_ph.value:
        return Steadiness("noisy", mean, spread, drift, "Jumping about. Check the plug, keep hands and cables still.")
    way = "up" if drift > 0 else "down"
    early = abs(drift) > 5 * figures.steady_drift_ph_per_min.value
    return Steadiness(
        "settling" if early else "drifting",
        mean,
        spread,
        drift,
        "Settling. Leave it alone." if early else f"Still drifting {way}, {abs(drift):.2f} a minute.",
    )


def steady_lately(samples: list[Sample], tables: Tables) -> Steadiness | None:
    """The latest moment within a short while at which the meter held still: a hand is slower than a jitter. None where there was none.

    Source: meter-handling.
    In pH, over seconds.

    >>> from agronomy.intake.example import tables
    >>> steady_lately([], tables) is None
    True
    """
    if not samples:
        return None
    since = samples[-1].seconds - tables.meter.steady_hold_seconds.value
    for end in range(len(samples), 0, -1):
        if samples[end - 1].seconds < since:
            return None
        found = judge(samples[:end], tables)
        if found.state == "steady":
            return found
    return None


def _middle(samples: list[Sample]) -> float:
    return sum(sample.seconds for sample in samples) / len(samples)


def _slope_per_min(samples: list[Sample]) -> float:
    middle, mean = _middle(samples), sum(sample.ph for sample in samples) / len(samples)
    width = sum((sample.seconds - middle) ** 2 for sample in samples)
    return 60 * sum((sample.seconds - middle) * (sample.ph - mean) for sample in samples) / width if width else 0.0


@record
class Average:
    """Several readings as one: mean, spread (standard deviation), error of the mean, and a remark where they part too far."""

    count: int
    mean: float
    spread: float
    error: float
    remark: str


def average(values: list[float]) -> Average:
    """pH readings averaged as they are, since lime need goes with pH, not with acidity of the water. Source: meter-handling.

    >>> average([6.1, 6.3, 6.2]).mean
    6.2
    """
    if not values:
        raise RuleError("readings", None, "there is no reading to average", "take one")
    mean = sum(values) / len(values)
    spread = sqrt(sum((value - mean) ** 2 for value in values) / (len(values) - 1)) if len(values) > 1 else 0.0
    remark = (
        f"They part by {max(values) - min(values):.1f}: the spots differ, or the meter does. Take more."
        if max(values) - min(values) > 0.8
        else ""
    )
    return Average(len(values), round(mean, 3), round(spread, 3), round(spread / sqrt(len(values)), 3), remark)


def error_of_average(of: Average, tables: Tables) -> float:
    """Standard error of an averaged pH [pH]: the meter's own, and that of the spots it was imported. Source: reading_errors.csv."""
    own = tables.readings.reading_errors["pH", "meter"].error
    spots = of.error if of.count > 1 else tables.readings.reading_errors["pH", "sampling"].error
    return in_quadrature(own, spots)
