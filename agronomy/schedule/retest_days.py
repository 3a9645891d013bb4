"""When a plot is tested again, and when a test is too old to go by."""

from collections.abc import Iterable
from datetime import date

from agronomy.dose.application import Application
from agronomy.model.answers import ACIDITY
from agronomy.model.reading import Reading
from agronomy.model.seasons import add_months
from agronomy.model.soil import Soil
from agronomy.tables import Tables


def retest_day(
    applications: list[Application], last_taken: date | None, soil: Soil, today: date, tables: Tables, *, on_grass: bool = False
) -> date:
    """When to test again: a year after lime or sulfur, else two years on light ground and three elsewhere; same season as last time.

    Source: retest-guide.
    In days.

    >>> from agronomy.intake.example import soil, tables
    >>> str(retest_day([], date(2027, 2, 20), soil(), date(2027, 3, 1), tables))
    '2030-02-20'
    """
    rule = tables.timing.retest
    acidity = [application for application in applications if application.what in ACIDITY]
    after = rule.months_after_ph_change_grass if on_grass else rule.months_after_ph_change
    months = after if acidity else rule.months_light if soil.is_light else rule.months_other
    due = add_months(last_taken or today, months)
    while due <= today:
        due = add_months(due, 12)
    return due


def years_old(readings: Iterable[Reading], today: date, tables: Tables) -> int | None:
    """How many years ago the newest reading of the ground was taken, where that is so long that another test comes first; else None.

    Source: retest-guide.

    >>> from agronomy.intake.example import found, tables
    >>> years_old(found().readings.values(), date(2036, 3, 1), tables)
    9
    """
    newest = max((reading.taken for reading in readings if reading.taken), default=None)
    if newest is None or add_months(newest, tables.timing.retest.months_test_first) > today:
        return None
    return (today - newest).days * 4 // 1461


def is_too_old(taken: date, today: date, tables: Tables) -> bool:
    """Whether a reading lies further back than the longest time between tests. Source: retest-guide.

    In days.

    >>> from agronomy.tables import load_tables
    >>> is_too_old(date(2026, 10, 3), date(2020, 1, 1), load_tables())
    False
    """
    return add_months(taken, tables.timing.retest.months_other) < today
