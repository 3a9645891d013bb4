"""What a spreader really does: by trays across its path, by a bucket, by a walk; and the setting for next time."""

from itertools import pairwise

import numpy as np

from agronomy.base.errors import OutOfRange, check_range
from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.tables import Tables


@record
class Bout:
    """One bout width [m] with the pattern of neighbouring passes laid over each other: amount by place across it, and its coefficient of
    variation [%].
    """

    width_m: float
    pattern: tuple[float, ...]
    cv_pct: float
    word: str


@record
class TrayTest:
    """Trays across one pass: their own evenness, every bout width that could be driven, and the best: the widest that is even."""

    caught: tuple[float, ...]
    spacing_m: float
    cv_pct: float
    bouts: tuple[Bout, ...]
    best: Bout


def coefficient_of_variation(values) -> float:
    """100 × standard deviation (n - 1) over the mean [%]. Source: spread-guide.

    >>> round(coefficient_of_variation([41, 52, 60, 63, 60, 50, 38]), 2)
    18.74
    """
    values = np.asarray(values, float)
    mean = values.mean()
    if len(values) < 2 or mean <= 0:
        raise OutOfRange("trays", list(values), "at least two trays, and something in them, are needed", "type what each tray caught")
    return float(100 * values.std(ddof=1) / mean)


def tray_test(caught: list[float], spacing_m: float, tables: Tables, *, there_and_back: bool = True) -> TrayTest:
    """A test with trays at equal distances [m] across one pass, the middle tray under the spreader; `caught` in any one unit.

    Passes are laid over each other at every whole number of tray distances; driven there and back they are mirrored in turn.
    Raises OutOfRange for fewer than 3 trays, an empty row, or a negative catch. Source: spread-guide.

    >>> from agronomy.intake.example import tables
    >>> round(tray_test([4.0, 6.0, 4.0], 1.0, tables).cv_pct)
    25
    """
    check_range("spacing", spacing_m, low=0.05, high=10, unit="m")
    if len(caught) < 3:
        raise OutOfRange("trays", caught, "three trays or more are needed", "set some out to both sides")
    if min(caught) < 0 or max(caught) <= 0:
        raise OutOfRange("trays", caught, "no tray can catch less than zero, and one must catch something", "check the figures")
    figures, row = tables.spread, np.array(caught, float)
    bouts = tuple(_bout(row, steps, spacing_m, there_and_back, tables) for steps in range(2, len(row) + 1))
    even = [bout for bout in bouts if bout.cv_pct < figures.even_cv.value]
    usable = [bout for bout in bouts if bout.cv_pct <= figures.usable_cv.value]
    best = even[-1] if even else usable[-1] if usable else min(bouts, key=lambda bout: bout.cv_pct)
    return TrayTest(tuple(caught), spacing_m, coefficient_of_variation(row), bouts, best)


def _bout(row: np.ndarray, steps: int, spacing_m: float, there_and_back: bool, tables: Tables) -> Bout:
    """The pattern between two passes `steps` trays apart, with all neighbours that reach in."""
    middle, pattern = (len(row) - 1) / 2, np.zeros(steps)
    reach = len(row) // steps + 2
    for number in range(-reach, reach + 1):
        thrown = row[::-1] if there_and_back and number % 2 else row
        for place in range(steps):
            across = place - number * steps + middle - (steps - 1) / 2
            low = int(np.floor(across))
            for tray, share in ((low, 1 - (across - low)), (low + 1, across - low)):
                if 0 <= tray < len(row):
                    pattern[place] += share * thrown[tray]
    cv = coefficient_of_variation(pattern)
    figures = tables.spread
    word = "even" if cv < figures.even_cv.value else "usable" if cv <= figures.usable_cv.value else "streaky"
    return Bout(steps * spacing_m, tuple(float(value) for value in pattern), cv, word)


def rate_by_walk(grams: float, swath_m: float, distance_m: float) -> float:
    """Rate [kg/ha] from what a walk of some metres spread over a swath. Source: definition.

    >>> rate_by_walk(640, 8, 20)
    40.0
    """
    return (
        check_range("grams", grams, low=0, high=1e6)
        * 10
        / (check_range("swath", swath_m, low=0.1, high=60) * check_range("distance", distance_m, low=1, high=5000))
    )


def rate_by_bucket(kg_per_min: float, swath_m: float, km_per_h: float) -> float:
    """Rate [kg/ha] from a bucket under the outlet. Source: definition.

    >>> rate_by_bucket(12.5, 12, 10)
    62.5
    """
    return (
        600
        * check_range("kg_per_min", kg_per_min, low=0, high=2000)
        / (check_range("swath", swath_m, low=0.1, high=60) * check_range("speed", km_per_h, low=0.2, high=40))
    )


def setting_for(rate_kg_per_ha: float, kept: list[tuple[float, float]]) -> tuple[float, str] | None:
    """The setting for a rate, from kept pairs of setting and measured rate [kg/ha] of the same spreader and material; None without any.

    Between two measurements straight; from one alone in proportion, and past the ends too, which is said. Source: definition.

    >>> setting_for(150.0, [(10.0, 100.0), (20.0, 200.0)])[0]
    15.0
    """
    pairs = sorted({setting: rate for setting, rate in kept if setting > 0 and rate > 0}.items(), key=lambda pair: pair[1])
    if not pairs or rate_kg_per_ha <= 0:
        return None
    for (low_setting, low), (high_setting, high) in pairwise(pairs):
        if low <= rate_kg_per_ha <= high and high > low:
            share = (rate_kg_per_ha - low) / (high - low)
            return low_setting + share * (high_setting - low_setting), "between two measurements"
    setting, rate = min(pairs, key=lambda pair: abs(pair[1] - rate_kg_per_ha))
    return setting * rate_kg_per_ha / rate, say("in proportion to one measurement: check it with a walk")
