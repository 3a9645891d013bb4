"""How fast bacteria turn elemental sulfur into acid."""

import numpy as np

from agronomy.tables import Tables

ASLEEP_BELOW_C = 5.0
BEST_C = 32.0


def sulfur_oxidised(days, grain_um: float, warmth_c: float, tables: Tables, *, speed=1.0):
    """Fraction of sulfur grains oxidised after some days in moist soil, 0 to 1; numbers or arrays. Source: janzen-1987.

    A shrinking sphere: nothing below 5 °C, no faster above 32 °C.

    >>> from agronomy.tables import load_tables
    >>> [round(float(sulfur_oxidised(120, grain, 18, load_tables())), 3) for grain in (75, 300)]
    [0.568, 0.172]
    """
    return oxidised_share(eaten_um(days, warmth_c, tables, speed=speed), grain_um)


def eaten_um(days, warmth_c: float, tables: Tables, *, speed=1.0):
    """How deep [µm] bacteria eat into a grain in some days at a soil temperature; numbers or arrays. Source: janzen-1987.

    >>> from agronomy.tables import load_tables
    >>> round(float(eaten_um(60.8, 20.0, load_tables())), 2)
    5.57
    """
    if warmth_c < ASLEEP_BELOW_C:
        return np.zeros_like(np.asarray(days, dtype=float) * speed)
    figures = tables.forecast
    rate = figures.sulfur_rate_25c.value * figures.sulfur_q10.value ** ((min(warmth_c, BEST_C) - 25) / 10)
    return rate * speed / 2.07 * 0.01 * np.asarray(days, dtype=float)


def oxidised_share(depth_um, grain_um: float):
    """The share of a grain that is gone once bacteria have eaten so deep into it. Source: janzen-1987.

    Depth in µm [um].
    """
    return 1 - np.maximum(0.0, 1 - depth_um / (grain_um / 2)) ** 3
