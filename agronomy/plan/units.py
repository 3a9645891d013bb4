"""A plan told in another system of units than it was asked in: its weights and depths, and the headline that names one."""

from dataclasses import replace

from agronomy.base import showing
from agronomy.dose.application import Application, amount_of, say_placement
from agronomy.plan.plan import Plan


def in_units(plan: Plan, system: str, area_m2: float) -> Plan:
    """The same plan with every measure that it says in a system of units, "metric", "us" or "uk".

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
    return replace(
        plan,
        applications=told,
        headline=headline,
        nothing=tuple(replace(row, why=showing.in_words(row.why, system)) for row in plan.nothing),
        unmet=tuple(replace(row, why=showing.in_words(row.why, system)) for row in plan.unmet),
        remarks=tuple(replace(row, says=showing.in_words(row.says, system)) for row in plan.remarks),
    )


def _told(item: Application, system: str, area_m2: float) -> Application:
    return replace(
        item,
        measure=amount_of(item.total_kg, item.density_g_per_ml, system, area_m2, poured=item.poured),
        placement=say_placement(item.placement_pattern, item.depth_cm, system),
    )
