"""The limits that a request sets to its dates."""

from agronomy.request import Request
from agronomy.schedule.limits import Limits
from agronomy.soil import Soil
from agronomy.tables import Tables


def limits_of(request: Request, soil: Soil, tables: Tables) -> Limits:
    crop = request.crop
    traits = tables.crop_traits.get(crop.key) or {}
    return Limits(
        soil,
        grass=crop.is_grass,
        flooded=bool(traits.get("flooded")),
        hardens=crop.is_perennial and not crop.is_grass,
        group=crop.group,
        climate=request.climate,
        hands=request.hands,
        closed=request.closed,
        harvest=request.harvest,
        done=request.done,
    )
