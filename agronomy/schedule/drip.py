"""Which nutrients go through the drippers where there is an injector. Source: fertigation-guide."""

from agronomy.schedule.calendar import Calendar

WHILE_IT_GROWS = frozenset({"N", "P", "K", "Mg"})
AFTER_PLANTING = frozenset({"N", "K"})  # of what is still to be planted: the rest goes into the ground before


def dripped(calendar: Calendar) -> frozenset[str]:
    """The nutrients that are dissolved for a crop that stands, or is still to be planted. Source: fertigation-guide.

    >>> from agronomy.intake.example import found
    >>> sorted(dripped(found().calendar))
    ['K', 'N']
    """
    return WHILE_IT_GROWS if calendar.stands or calendar.growing else AFTER_PLANTING
