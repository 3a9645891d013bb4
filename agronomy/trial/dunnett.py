"""Several treatments against one control: how far the furthest of them lies off by chance alone."""

import numpy as np
from scipy import integrate, optimize, stats


def chance_within(edge: float, comparisons: int, df: float) -> float:
    """The chance that none of so many comparisons with one control, of equal repeats, lies further than `edge` errors off.

    Source: Dunnett 1955 (dunnett-1955).

    >>> round(chance_within(2.80708, 4, 12), 3)
    0.95
    """
    nodes, weights = np.polynomial.hermite_e.hermegauss(60)
    share = weights / weights.sum()

    def given(spread: float) -> float:
        reach = edge * spread * 2**0.5
        within = stats.norm.cdf(nodes + reach) - stats.norm.cdf(nodes - reach)
        return float((within**comparisons) @ share) * stats.chi.pdf(spread * df**0.5, df) * df**0.5

    return float(integrate.quad(given, 0, 6, epsabs=1e-9, epsrel=1e-8, limit=200)[0])


def critical(comparisons: int, df: float, alpha: float = 0.05) -> float:
    """How many errors a difference from the control must lie off. Source: Dunnett 1955 (dunnett-1955).

    >>> round(critical(3, 20), 3)
    2.54
    """
    return float(optimize.brentq(lambda edge: chance_within(edge, comparisons, df) - (1 - alpha), 0.5, 20, xtol=1e-6))
