"""What is said of soils and feeds, found by words and by what it is about."""

from agronomy.tables import Tables
from agronomy.tables.rooms.watch import Claim

WORST_FIRST = ("contradicted", "weak", "supported in some cases", "well supported")


def claims_with(words: str, tables: Tables) -> list[Claim]:
    """Claims that hold all words anywhere; all of them without words. Source: each row's own.

    >>> from agronomy.intake.example import tables
    >>> "eggshell_ber" in [row.key for row in claims_with("eggshell blossom", tables)]
    True
    """
    wanted = words.lower().split()
    rows = tables.watch.claims.values()
    return [row for row in rows if all(word in f"{row.claim} {row.evidence} {row.instead} {row.holds_where}".lower() for word in wanted)]


def claims_about(name: str, tables: Tables) -> list[Claim]:
    """Claims about a material or nutrient, the worst founded first. Source: each row's own.

    >>> from agronomy.intake.example import tables
    >>> claims_about("epsom_salt", tables)[0].verdict
    'contradicted'
    """
    found = [row for row in tables.watch.claims.values() if name in row.about]
    return sorted(found, key=lambda row: WORST_FIRST.index(row.verdict))
