"""How much of each nutrient roots can reach at a pH, in parts of the best pH for it. An estimate, drawn and never reckoned with."""

from itertools import pairwise

from agronomy.tables import Tables


def availability(nutrient: str, ph: float, tables: Tables) -> float:
    """Share [%] of its best at a pH, straight between the table's steps; the ends hold beyond pH 4 and 8.5. Source: availability-by-ph.

    Raises KeyError for an element that has no row.

    >>> from agronomy.tables import load_tables
    >>> [availability('Fe', ph, load_tables()) for ph in (4.0, 6.5, 8.5)]
    [100.0, 60.0, 10.0]
    """
    row = tables.acidity.availability[nutrient]
    points = row.points
    if ph <= points[0][0]:
        return points[0][1]
    for (low, first), (high, second) in pairwise(points):
        if ph <= high:
            return first + (second - first) * (ph - low) / (high - low)
    return points[-1][1]
