"""The school of replacement: give back what the crop carries off, nothing where the ground holds plenty."""

from agronomy.crop import Crop
from agronomy.interpret.finding import Finding
from agronomy.interpret.nutrients import Critical
from agronomy.schools import build_maintain, sufficiency
from agronomy.schools.need import Answer, Need, Nothing, about
from agronomy.schools.removal import removal
from agronomy.schools.sufficiency import OXIDE_SHARE
from agronomy.soil import Soil
from agronomy.tables import Tables
from agronomy.working import Figure, Step

KEY = "replacement"
NAME = "replacement"
SAYS = "gives back what the crop carries off; more where the test is short, nothing where there is plenty"
NOTE = "Replacement goes by the yield: a measured one is better than a hoped-for one."


def needs(judged: dict[str, tuple[Finding, Critical]], crop: Crop, soil: Soil, yield_goal_t_per_ha: float | None, tables: Tables) -> list[Answer]:
    """P and K as carried off, with build-up where they are short; Mg, S and N as the school of sufficiency has them."""
    built = {about(answer): answer for answer in build_maintain.needs(judged, crop, soil, yield_goal_t_per_ha, tables)}
    rest = sufficiency.needs(judged, crop, soil, yield_goal_t_per_ha, tables)
    return [_answer(answer, built, judged, crop, yield_goal_t_per_ha, tables) if about(answer) in OXIDE_SHARE else answer for answer in rest]


def _answer(answer: Answer, built: dict[str, Answer], judged: dict, crop: Crop, goal: float | None, tables: Tables) -> Answer:
    nutrient = about(answer)
    if nutrient not in judged:
        return answer
    finding, _ = judged[nutrient]
    removed = removal(crop, nutrient, goal, tables)
    if removed is None:
        return answer
    if finding.is_plenty:
        return Nothing(nutrient, f"No {finding.name.lower()}: there is plenty, so what the crop carries off need not be given back yet.")
    if finding.is_short:
        return built[nutrient]
    oxide, share = OXIDE_SHARE[nutrient]
    rate = removed.kg_per_ha * share
    if rate < tables.nutrients["smallest_worth_spreading_kg_per_ha"].value:
        return Nothing(nutrient, f"No {finding.name.lower()}: {crop.name} carries off too little to spread.")
    step = Step(f"as {nutrient}", f"{oxide} × {share:.4f}", {oxide: Figure(removed.kg_per_ha, "kg/ha")}, Figure(rate, "kg/ha"), "definition")
    why = f"{finding.why} What the crop carries off is given back."
    return Need(nutrient, rate, removed.low * share, removed.high * share, KEY, why, 1.0, (), (*finding.working, removed.step, step))
