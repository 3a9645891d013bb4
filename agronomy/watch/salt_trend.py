"""Whether salt stands above what a crop bears, or is on its way there, by the plot's own tests."""

from collections.abc import Sequence
from math import hypot
from typing import Literal

from agronomy.model.finding import Finding
from agronomy.model.reading import Reading


def salt_says(salt: Finding | None, tests: Sequence[Reading]) -> Literal["", "building", "high"]:
    """ "high" where the newest test lies above what the crop bears; "building" where the next one would, if it rises as the last two did.

    A rise within both errors is none. `tests` are dated readings of conductivity [dS/m], of one method. Source: maas-hoffman.

    >>> salt_says(None, [])
    ''
    """
    if salt is None:
        return ""
    if salt.class_ in ("salty", "too_salty"):
        return "high"
    dated = sorted((test for test in tests if test.taken is not None), key=lambda test: str(test.taken))
    if len(dated) < 2 or dated[-1].method != dated[-2].method:
        return ""
    rise = dated[-1].value - dated[-2].value
    if rise <= hypot(dated[-1].u, dated[-2].u):
        return ""
    return "building" if salt.value + rise > salt.wanted[1] else ""
