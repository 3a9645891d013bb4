"""Years between what the ground was given and the crop that has it."""

from datetime import date


def years_between(first: date, crop_from: date) -> int:
    """Whole years from a gift to the crop; 0 for the first crop after it, and for what is still planned.

    Days before the first count as nought; raises nothing. Source: definition.
    Whole years, from days.

    >>> years_between(date(2024, 3, 1), date(2026, 5, 1))
    2
    """
    return max(0, (crop_from - first).days // 365)
