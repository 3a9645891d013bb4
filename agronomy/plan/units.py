"""A plan told in another system of units than it was asked in: its weights and depths, and the headline that names one."""

from dataclasses import replace

from agronomy.base import showing
from agronomy.dose.application import Application, digits, say_placement
from agronomy.plan.plan import Plan


def in_units(plan: Plan, system: str, area_m2: float) -> Plan:
    """The same plan with every measure that it says in a system of units, "metric" or "us".

    Area in m2. Source: definition.

    >>> from agronomy.intake.example import plan
    >>> in_units(plan(), "us", 20.0).applications[0].measure
    '21 lb'
    """
    told = tuple(_told(item, system, area_m2) for item in plan.applications)
    headline = plan.headline
    for before, after in zip(plan.applications, told, strict=True):
        phrase = f"{before.measure} of {before.name}"
        if phrase in headline:
            headline = headline.replace(phrase, f"{after.measure} of {after.name}")
            break
    said = {name: _sentences(getattr(plan, name), field, system) for name, field in _SENTENCES.items()}
    return replace(plan, applications=told, headline=headline, **said)


# Where the sentences of a plan stand: its part, and the field of each row.
_SENTENCES = {"nothing": "why", "unmet": "why", "remarks": "says"}


def _sentences(rows: tuple, field: str, system: str) -> tuple:
    return tuple(replace(row, **{field: showing.in_words(getattr(row, field), system)}) for row in rows)


def _told(item: Application, system: str, area_m2: float) -> Application:
    return replace(
        item,
        measure=showing.mass(item.total_kg, system, digits(area_m2)),
        placement=say_placement(item.placement_pattern, item.depth_cm, system),
    )
