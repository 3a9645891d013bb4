"""What a crop carries off the plot, by its yield."""

from agronomy.base.record import record
from agronomy.base.working import Figure, Step
from agronomy.model.own_pool import OwnPool
from agronomy.tables import Tables
from agronomy.tables.crop import Crop


@record(kw_only=True)
class Removal:
    """An oxide that is carried off [kg/ha], with its 20 % spread, and how it was found."""

    oxide: str
    kg_per_ha: float
    low: float
    high: float
    by_goal: bool
    step: Step


def removal(crop: Crop, nutrient: str, yield_goal_t_per_ha: float | None, tables: Tables, *, own: OwnPool | None = None) -> Removal | None:
    """Removal of P2O5 ("P") or K2O ("K") by a crop; None where no figure is known for it. Source: crop-removal.

    Without a yield goal the crop's usual yield is taken, and the step says so. `own`: what the plot's tests have shown that harvests take.
    In kg of oxide per hectare, yields in t/ha.

    >>> from agronomy.intake.example import bed, tables
    >>> removal(bed("onion").crop, "K", 50, tables).kg_per_ha
    100.0
    """
    row = tables.nutrients.removal.get(crop.key)
    if row is None:
        return None
    oxide, per_t = ("P2O5", row.p2o5_kg_per_t) if nutrient == "P" else ("K2O", row.k2o_kg_per_t)
    yield_t = yield_goal_t_per_ha if yield_goal_t_per_ha is not None else row.usual_t_per_ha
    times = 1.0 if own is None else own.taken
    rate, spread = per_t * yield_t * times, tables.schools.removal_spread.value
    shown = {} if own is None else {"by your own tests": Figure(times, "times", "trend-learning")}
    step = Step(
        f"{oxide} carried off",
        "yield × content × by your own tests" if own else "yield × content",
        {"yield": Figure(yield_t, "t/ha"), "content": Figure(per_t, f"kg {oxide}/t")} | shown,
        Figure(rate, f"kg {oxide}/ha"),
        row.source,
        row.where,
        note="" if yield_goal_t_per_ha is not None else "no yield is hoped for here, so a usual one is taken; type yours to sharpen this",
    )
    return Removal(
        oxide=oxide, kg_per_ha=rate, low=rate * (1 - spread), high=rate * (1 + spread), by_goal=yield_goal_t_per_ha is not None, step=step
    )
