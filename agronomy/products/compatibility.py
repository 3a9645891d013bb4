"""What must not be put together: in a bag, in a tank, or on the ground within some days of each other."""

from itertools import combinations

from agronomy.base.record import record
from agronomy.tables import Tables
from agronomy.tables.material import Material

PARTED = frozenset({"never", "apart", "pointless"})  # kinds of clash that count on the ground too
WORST = ("never", "pointless", "apart", "not in one tank")  # worst first


@record(kw_only=True)
class Clash:
    """Two materials that don't go together: how ("never", "pointless", "apart", "not in one tank"), why, what is dangerous, days to part
    them.
    """

    first: str
    second: str
    together: str
    reason: str
    danger: str
    days: int
    row: str


def groups_of(material: Material, tables: Tables) -> frozenset[str]:
    """The kinds that a material counts as. Source: compatibility-guide.

    >>> from agronomy.intake.example import tables
    >>> sorted(groups_of(tables.materials["calcium_nitrate"], tables))
    ['calcium', 'calcium_nitrate', 'nitrate']
    """
    return frozenset(material.groups)


def clash(first: Material, second: Material, tables: Tables) -> Clash | None:
    """The worst clash of two materials, whichever comes first; None where they go together. Source: compatibility-guide.

    >>> from agronomy.intake.example import tables
    >>> clash(tables.materials["calcium_nitrate"], tables.materials["epsom_salt"], tables).together
    'not in one tank'
    """
    found = [
        row
        for ours in first.groups
        for row in tables.pairs_of.get(ours, ())
        if (row.second if row.first == ours else row.first) in second.groups
    ]
    if not found:
        return None
    row = min(found, key=lambda row: (WORST.index(row.together), not row.danger, -row.days))
    days = int(max(row.days for row in found))
    return Clash(
        first=first.name, second=second.name, together=row.together, reason=row.reason, danger=row.danger or "", days=days, row=row.key
    )


def clashes(materials: list[Material], tables: Tables) -> list[Clash]:
    """Every clash among some materials, dangerous ones first. Source: compatibility-guide.

    >>> from agronomy.intake.example import tables
    >>> len(clashes([tables.materials["calcium_nitrate"], tables.materials["epsom_salt"]], tables))
    1
    """
    found = [made for pair in combinations(materials, 2) if (made := clash(*pair, tables)) is not None]
    return sorted(found, key=lambda item: (not item.danger, WORST.index(item.together), item.first, item.second))


def parting(first: Material, second: Material, tables: Tables) -> Clash | None:
    """The clash that keeps two materials some days apart on the ground; None where they need not be. Source: compatibility-guide.

    Days apart as the table has them.

    >>> from agronomy.intake.example import tables
    >>> parting(tables.materials["hydrated_lime"], tables.materials["urea"], tables).together
    'never'
    """
    if first.key == second.key:
        return None
    of_the_table = tables.materials.get(first.key) is first and tables.materials.get(second.key) is second
    if not of_the_table:
        return _parted(clash(first, second, tables))
    pair = ("parting", first.key, second.key)
    if pair not in tables.kept:
        tables.kept[pair] = _parted(clash(first, second, tables))
    return tables.kept[pair]


def _parted(found: Clash | None) -> Clash | None:
    return found if found is not None and found.days and found.together in PARTED else None
