"""Errors carried through the arithmetic as 80 % bands."""

from math import sqrt

HALF_WIDTH_80 = 1.28  # standard errors on each side of an 80 % band


def band(value: float, *spans: tuple[float, float]) -> tuple[float, float]:
    """Low and high of `value` when each span is what one cause alone would make of it.

    Source: definition.

    Deviations of independent causes add in quadrature, on each side by itself, so that a lopsided cause stays lopsided.

    >>> band(10.0, (7.0, 13.0), (6.0, 14.0))
    (5.0, 15.0)
    """
    down = sqrt(sum(max(0.0, value - min(span)) ** 2 for span in spans))
    up = sqrt(sum(max(0.0, max(span) - value) ** 2 for span in spans))
    return value - down, value + up


def in_quadrature(*errors: float) -> float:
    """Standard error of a sum of independent errors.

    Source: definition.

    >>> round(in_quadrature(0.05, 0.0), 4)
    0.05
    """
    return sqrt(sum(error * error for error in errors))
