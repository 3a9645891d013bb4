"""Micronutrients: short or locked up, for a crop that answers to them or one that hardly does; told with their hard limits, never dosed
unasked.
"""

from agronomy.base.said import Measure, joined, large, say
from agronomy.interpret.nutrients import Critical
from agronomy.model.answers import Nothing, Unmet
from agronomy.model.finding import Finding
from agronomy.tables import Tables
from agronomy.tables.crop import Crop

MICRONUTRIENTS = ("Zn", "Mn", "Fe", "Cu", "B", "Mo")


def micronutrient_answers(
    judged: dict[str, tuple[Finding, Critical]], crop: Crop, ph: float | None, tables: Tables
) -> list[Nothing | Unmet]:
    """An answer for each micronutrient that was tested, short ones first in the order of MICRONUTRIENTS. Source: micro-rates.

    Readings in mg/kg, rates in kg/ha.

    >>> from agronomy.intake.example import bed, found, tables
    >>> [answer.what for answer in micronutrient_answers(found().judged, bed().crop, 5.6, tables)]
    ['Zn']
    """
    found = [_answer(key, judged[key][0], crop, ph, tables) for key in MICRONUTRIENTS if key in judged]
    return sorted(found, key=lambda answer: isinstance(answer, Nothing))


def _answer(key: str, finding: Finding, crop: Crop, ph: float | None, tables: Tables) -> Nothing | Unmet:
    row, name = tables.nutrients.micronutrients[key], finding.name.lower()
    is_hungry = tables.trace_response_of.get((crop.key, key)) == "high"
    if not finding.is_short:
        if finding.class_ == "excess":
            return Nothing(key, say("No {name}: there is so much that it may harm. {limit}", name=name, limit=row.limit))
        return Nothing(key, say("No {name}: the ground has enough.", name=name))
    if finding.class_ == "building" and not is_hungry:
        return Nothing(key, say("No {name}: it is a little low, but {crop} hardly responds to it.", name=name, crop=crop.name))
    parts: list[str] = [say("{finding} is low.", finding=finding.name)]
    is_locked = ph is not None and row.locked_above_ph is not None and ph > row.locked_above_ph
    if is_locked:
        parts.append(say("pH {ph:.1f} locks it up. {way_round}", ph=ph, way_round=_way_round(key)))
    elif not row.fixed_in_soil and row.soil_low_kg_per_ha is not None and row.soil_high_kg_per_ha is not None:
        parts.append(
            say(
                "Guides give {soil_low:g} to {soil_high:g}, once.",
                soil_low=Measure(row.soil_low_kg_per_ha, "kg/ha", bare=True),
                soil_high=Measure(row.soil_high_kg_per_ha, "kg/ha"),
            )
        )
    parts += [row.says, row.limit, say("Have leaves tested before you act.")]
    if not is_hungry:
        parts.insert(1, say("{crop} is not among the crops that suffer first.", crop=large(crop.name)))
    return Unmet(key, 0.0 if (is_locked and key != "Zn") or row.soil_low_kg_per_ha is None else row.soil_low_kg_per_ha, joined(parts))


def _way_round(key: str) -> str:
    """What helps where pH locks an element up: zinc salts still serve in the ground, iron and manganese salts do not."""
    if key == "Zn":
        return say("Zinc sulfate worked in lasts for some years, and a spray for this crop.")
    return say("A chelate that holds at this pH, or the leaves, help; a plain salt in the ground does not.")
