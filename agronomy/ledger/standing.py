"""What a standing crop has had of nitrogen and is still to have: the account beside which a leaf is read."""

from collections.abc import Sequence
from datetime import date, timedelta

from agronomy.base.record import record
from agronomy.ledger.intent import Intended, brought
from agronomy.tables import Tables


@record(kw_only=True)
class NitrogenAccount:
    """Nitrogen that the season still needs, planned dressings included [kg/ha; None where no need is known]; days since the last dressing;
    the next planned one, its place in `meant`, and in how many days; whether something slow is still giving.
    """

    remaining_kg_per_ha: float | None
    last_days: float | None
    due_days: float | None
    due_kg_per_ha: float
    due: int | None
    still_releasing: bool


def nitrogen_account(
    need_kg_per_ha: float | None, meant: Sequence[Intended], done: Sequence[Intended], today: date, area_m2: float, tables: Tables
) -> NitrogenAccount:
    """The account of a plot today; `need` is what the plan still asks for, with what was done taken off. Source: definition.

    >>> from agronomy.intake.example import tables
    >>> day = date(2027, 6, 1)
    >>> soon = Intended("urea", 1.0, day + timedelta(days=5), day + timedelta(days=9), "the plan")
    >>> nitrogen_account(60.0, [soon], [], day, 100.0, tables).due_kg_per_ha
    46.0
    """
    slow_for = timedelta(days=tables.choice.lately_days.value)
    last = max((item.begins for item in done if _nitrogen(item, tables) > 0 and item.begins <= today), default=None)
    coming = [(max(item.begins, today), place) for place, item in enumerate(meant) if _nitrogen(item, tables) > 0 and item.ends >= today]
    day, place = min(coming, default=(None, None))
    return NitrogenAccount(
        remaining_kg_per_ha=need_kg_per_ha,
        last_days=(today - last).days if last else None,
        due_days=(day - today).days if day else None,
        due_kg_per_ha=_nitrogen(meant[place], tables) * 10_000 / area_m2 if place is not None else 0.0,
        due=place,
        still_releasing=any(_is_slow(item, tables) and today - item.begins <= slow_for for item in done),
    )


def _nitrogen(item: Intended, tables: Tables) -> float:
    material = tables.materials.get(item.material)
    return brought(material, item.kg).get("N", 0.0) if material else 0.0


def _is_slow(item: Intended, tables: Tables) -> bool:
    row = tables.topdress.sources.get(item.material)
    return row is not None and row.share_3_weeks < tables.topdress.counted_below_share.value
