"""What has to be laid in more than one pass over the ground."""

from collections.abc import Iterable
from math import ceil

from agronomy.base.said import large, say
from agronomy.dose.application import Application
from agronomy.model.request import Request
from agronomy.products.equipment import equipment_on
from agronomy.tables import Tables


def said_passes(applications: Iterable[Application], request: Request, tables: Tables) -> list[str]:
    """What has to be laid in more than one pass, because no tool lays so many kg/ha at once. Source: spread-guide.

    >>> from agronomy.intake.example import bed, tables
    >>> said_passes([], bed(), tables)
    []
    """
    tools = equipment_on(request.plot, request.equipment, tables)
    told: dict[str, str] = {}
    for item in applications:
        fitting = [tool for tool in tools if tables.materials[item.material].form in tool.takes]
        best = max(fitting, key=lambda tool: tool.most_kg_per_ha, default=None)
        if best is not None and item.rate_kg_per_ha > best.most_kg_per_ha:
            times = ceil(item.rate_kg_per_ha / best.most_kg_per_ha)
            told[item.name] = say(
                "{item}: more than a {best} lays at once. Go over it {times} times.", item=large(item.name), best=best.name, times=times
            )
    return list(told.values())
