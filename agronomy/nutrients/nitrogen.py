"""Nitrogen need: what the crop takes up less what organic matter gives, over what the crop recovers."""

from agronomy.crop import Crop
from agronomy.schools.need import Answer, Need, Nothing, Unmet
from agronomy.soil import Soil
from agronomy.tables import Tables
from agronomy.working import Figure, Step


def organic_matter_nitrogen(soil: Soil, tables: Tables) -> tuple[float, float, float]:
    """Nitrogen [kg/ha] that soil organic matter gives in the crop's time: value, low, high. Source: n-organic-matter."""
    figures = tables.nutrients
    share, rate, time = (figures[key] for key in ("nitrogen_in_organic_matter", "mineralised_a_year", "share_in_crop_time"))
    stock_kg_per_ha = soil.soil_mass_t_per_ha * 1000 * soil.organic_matter_pct / 100 * share.value
    cap = figures["organic_matter_n_cap_kg_per_ha"].value
    return tuple(min(cap, stock_kg_per_ha * part * time.value) for part in (rate.value, rate.low, rate.high))


def nitrogen_need(crop: Crop, soil: Soil, yield_goal_t_per_ha: float | None, tables: Tables) -> Answer:
    """A Need of N, or Nothing with its reason. No yield goal: the low end of the crop's guide figure, because bias low is cheap.

    Source: stanford-1973 with a yield goal (the factor counts recovery already), else n-uptake-guide over n-recovery.
    """
    given, given_low, given_high = organic_matter_nitrogen(soil, tables)
    credit = Step(
        "nitrogen from organic matter",
        "weight of the layer × organic matter × 0.058 × 2 % × 0.6",
        {"layer": Figure(soil.soil_mass_t_per_ha, "t/ha"), "organic matter": Figure(soil.organic_matter_pct, "%")},
        Figure(given, "kg/ha"),
        "n-organic-matter",
        note="" if soil.organic_matter_known else "organic matter was not tested: an ordinary figure is used",
    )
    if crop.legume and crop.n_low == 0:
        return Nothing("N", f"No nitrogen: {crop.name} gets its own from the air.")
    if yield_goal_t_per_ha is not None:
        if crop.n_per_t is None:
            return Unmet("N", 0.0, f"No nitrogen figure by yield is known here for {crop.name}; leave the yield goal empty to use the crop's guide figure.")
        return _by_yield(crop, yield_goal_t_per_ha, given, given_low, given_high, credit, tables)
    return _by_guide(crop, soil, given, given_low, given_high, credit, tables)


def _by_yield(crop: Crop, goal: float, given: float, given_low: float, given_high: float, credit: Step, tables: Tables) -> Answer:
    need = crop.n_per_t * goal - given
    step = Step(
        "nitrogen to give",
        "factor × yield − organic matter",
        {"factor": Figure(crop.n_per_t, "kg/t"), "yield": Figure(goal, "t/ha"), "organic matter": Figure(given, "kg/ha")},
        Figure(max(0.0, need), "kg/ha"),
        "stanford-1973",
    )
    return _need_or_nothing(crop, need, crop.n_per_t * goal * 0.85 - given_high, crop.n_per_t * goal * 1.15 - given_low, "by yield", (credit, step), tables)


def _by_guide(crop: Crop, soil: Soil, given: float, given_low: float, given_high: float, credit: Step, tables: Tables) -> Answer:
    recovery = tables.textures[soil.texture]["n_recovery"]
    need = (crop.n_low - given) / recovery
    step = Step(
        "nitrogen to give",
        "(uptake − organic matter) / recovered share",
        {"uptake, low end": Figure(crop.n_low, "kg/ha"), "organic matter": Figure(given, "kg/ha"), "recovered share": Figure(recovery, "fraction")},
        Figure(max(0.0, need), "kg/ha"),
        "n-uptake-guide;n-recovery",
        f"{crop.name}, {crop.where}",
        note=f"the guide runs from {crop.n_low:g} to {crop.n_high:g} kg/ha; the low end is used because nothing is known yet of earlier crops",
    )
    low, high = (crop.n_low - given_high) / recovery, (crop.n_high - given_low) / recovery
    return _need_or_nothing(crop, need, low, high, "crop guide less organic matter", (credit, step), tables)


def _need_or_nothing(crop: Crop, need: float, low: float, high: float, method: str, steps: tuple, tables: Tables) -> Answer:
    if need < tables.nutrients["smallest_worth_spreading_kg_per_ha"].value:
        return Nothing("N", f"No nitrogen: your soil's organic matter gives about what {crop.name} takes up.")
    why = f"What {crop.name} takes up, less what the soil's organic matter gives."
    return Need("N", need, max(0.0, low), max(need, high), method, why, 1.0, (), steps)
