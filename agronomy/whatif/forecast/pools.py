"""What was put on as pools of the ground's state: lime in a quick and a slow part, sulfur as its grains."""

from agronomy.model.application_record import ApplicationRecord
from agronomy.model.soil import Soil
from agronomy.recommend.schools.already_applied import brings
from agronomy.tables import Tables
from agronomy.tables.material import Material
from agronomy.whatif.forecast.acidity import AcidState


def lime_pools(state: AcidState, material: Material, kg_per_ha: float, soil: Soil, tables: Tables) -> float:
    """Adds a lime [kg/ha] as two pools, the fine part that works soon and the coarse; the CaCO3 in it [kg/ha]. Source: lime-kinetics."""
    figures = tables.forecast
    amount, fast = kg_per_ha * material.cce / 100, material.fineness or 1.0
    quick = (figures.lime_instant_per_year if material.speed in ("days", "weeks") else figures.lime_fast_per_year).value
    state.add_lime(amount * fast, quick, mixed_in=soil.dug)
    state.add_lime(amount * (1 - fast), figures.lime_slow_per_year.value, mixed_in=soil.dug)
    return amount


def put_on(state: AcidState, done: ApplicationRecord, soil: Soil, tables: Tables) -> float:
    """Adds a dressing of the log: lime and sulfur as pools, a fertilizer's own acid at once. The CaCO3 of a lime [kg/ha], else nought.

    Source: lime-kinetics, material-typical.
    """
    if done.material.has_role("lime"):
        return lime_pools(state, done.material, done.rate_kg_per_ha, soil, tables)
    if (acid := brings(done, "S_acid", tables)) > 0:
        state.add_sulfur(acid)
    else:
        state.ph = state.ph + done.rate_kg_per_ha * done.material.cce / 100 / state.capacity
    return 0.0
