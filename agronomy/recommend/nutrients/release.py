"""Nitrogen that organic materials give over weeks."""

from math import exp

from agronomy.tables import Tables
from agronomy.tables.material import Material


def released(share_fast: float, fast: float, slow: float, q10: float, weeks: float, warmth_c: float, moisture: float = 1.0) -> float:
    """Share of organic nitrogen released after some weeks at a soil warmth [°C]. Source: manure-release; valid 5 to 35 °C, within 30 %.

    >>> round(released(0.62, 0.70, 0.010, 1.3, 2, 25), 3), round(100 * released(0.50, 0.45, 0.008, 2, 8, 16), 1)
    (0.475, 44.4)
    """
    if warmth_c < 5:
        return 0.0
    pace = q10 ** ((warmth_c - 25) / 10) * moisture
    return share_fast * (1 - exp(-fast * pace * weeks)) + (1 - share_fast) * (1 - exp(-slow * pace * weeks))


def released_by(material: Material, weeks: float, warmth_c: float, tables: Tables) -> float:
    """Share of a material's nitrogen that a crop can use after some weeks: at once for salts, by class for organics, evenly over months
    for coated ones. Source: manure-release.
    A share of 0 to 1; warmth in degrees, time in weeks.

    >>> from agronomy.intake.example import tables
    >>> round(released_by(tables.materials["feather_meal"], 8, 15, tables), 2)
    0.63
    """
    if material.release_class:
        row = tables.organics.release[material.release_class]
        return released(row.fast_share, row.fast_per_week, row.slow_per_week, row.q10, weeks, warmth_c)
    if material.n_form == "coated":
        return min(1.0, weeks / 16)
    return 1.0 if weeks > 0 else 0.0
