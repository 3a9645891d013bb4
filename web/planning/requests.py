"""From stored ground and readings to the core's request: the same document that the command line takes."""

from datetime import date
from typing import Any

from web.ground.models import Planting, Plot
from web.readings.models import SlipLine

FREE_LIME = {"": None, "yes": True, "no": False}


def request_document(plot: Plot, planting: Planting, lines: list[SlipLine], *, today: date, units: str) -> dict[str, Any]:
    """The request document for one plot (docs/plan-format.md)."""
    holding = plot.holding
    return {
        "today": today.isoformat(),
        "units": units,
        "plot": {
            "name": plot.name,
            "kind": plot.kind,
            "area": f"{plot.area_m2!r} m2",
            "depth": f"{plot.depth_cm!r} cm",
            "texture": plot.texture or None,
            "mix": plot.mix or None,
            "free_lime": FREE_LIME[plot.free_lime],
            "dug": plot.dug,
            "hemisphere": holding.hemisphere,
        },
        "readings": [_reading(line) for line in lines],
        "crop": {
            "key": planting.crop,
            "planting": planting.planted_on.isoformat() if planting.planted_on else None,
            "yield_goal": None if planting.yield_goal_t_per_ha is None else f"{planting.yield_goal_t_per_ha!r} t/ha",
            "target_ph": planting.target_ph,
        },
        "school": plot.school or holding.school,
        "allow": {"organic_only": holding.organic_only, "chloride": holding.chloride},
        "materials": None,
        "shed": [],
    }


def _reading(line: SlipLine) -> dict[str, Any]:
    slip = line.slip
    reading = {"analyte": line.analyte, "value": line.typed, "unit": line.unit, "method": line.method, "how": slip.how, "taken": slip.taken_on.isoformat()}
    return reading if line.own_error is None else reading | {"error": line.own_error}
