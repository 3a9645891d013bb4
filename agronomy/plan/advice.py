"""What an adviser would add to the doses: sentences that bear on this plan and no others. Source: each row of advice.toml."""

from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.tables import Tables
from agronomy.tables.rooms.advice import Advice as AdviceRow

MOST = 8  # more than a reader takes in; the table has what matters most first


@record
class Advice:
    """One piece of advice: what it is about, and what it says."""

    key: str
    about: str
    says: str


def advice_for(facts: set[str], crop_name: str, tables: Tables) -> tuple[Advice, ...]:
    """The advice whose conditions hold, in the order of the table, no more than the most.

    Source: each row's own.

    >>> from agronomy.intake.example import tables
    >>> len(advice_for({"free lime", "garden"}, "blueberry", tables))
    0
    """
    holds = facts.issuperset
    fitting = [row for row in tables.advice.advice if holds(row.when) and _nothing_against(row, facts)]
    return tuple(Advice(row.key, row.about, say(row.says, crop=crop_name)) for row in fitting[:MOST])


def _nothing_against(row: AdviceRow, facts: set[str]) -> bool:
    return (not row.any or not facts.isdisjoint(row.any)) and facts.isdisjoint(row.unless)
