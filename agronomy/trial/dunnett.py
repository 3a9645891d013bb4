"""Several treatments against one control: how far the furthest of them lies off by chance alone."""

from functools import lru_cache
from math import exp

import numpy as np
from scipy import integrate, optimize, special

_NODES, _WEIGHTS = np.polynomial.hermite_e.hermegauss(60)
_SHARE = _WEIGHTS / _WEIGHTS.sum()


def chance_within(edge: float, comparisons: int, df: float) -> float:
    """The chance that none of so many comparisons with one control, of equal repeats, lies further than `edge` errors off.

    Source: Dunnett 1955 (dunnett-1955).

    >>> round(chance_within(2.80708, 4, 12), 3)
    0.95
    """
    scale = (1 - df / 2) * np.log(2) - special.gammaln(df / 2)

    def given(spread: float) -> float:
        reach, chi = edge * spread * 2**0.5, spread * df**0.5
        within = special.ndtr(_NODES + reach) - special.ndtr(_NODES - reach)
        density = exp(scale + special.xlogy(df - 1, chi) - chi * chi / 2)  # of chi with so many degrees of freedom
        return float((within**comparisons) @ _SHARE) * density * df**0.5

    return float(integrate.quad(given, 0, 6, epsabs=1e-9, epsrel=1e-8, limit=200)[0])


@lru_cache(maxsize=256)
def critical(comparisons: int, df: float, alpha: float = 0.05) -> float:
    """How many errors a difference from the control must lie off. Source: Dunnett 1955 (dunnett-1955).

    >>> round(critical(3, 20), 3)
    2.54
    """
    return float(optimize.brentq(lambda edge: chance_within(edge, comparisons, df) - (1 - alpha), 0.5, 20, xtol=1e-6))
