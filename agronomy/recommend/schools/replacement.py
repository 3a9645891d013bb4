"""The school of replacement: give back what the crop carries off, nothing where the ground holds plenty."""

from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.model.answers import Answer, Need, Nothing, about
from agronomy.recommend.schools import build_maintain
from agronomy.recommend.schools.situation import Situation
from agronomy.recommend.schools.sufficiency import OXIDE_SHARE

KEY = "replacement"
NAME = "replacement"
SAYS = say("gives back what the crop removes; more where the test is short, nothing where there is plenty")
NOTE = say("Replacement uses the yield: a measured one is better than a hoped-for one.")


def needs(situation: Situation) -> list[Answer]:
    """P and K as carried off, with build-up where they are short; Mg, S and N as the school of sufficiency has them.

    Source: crop-removal.
    Rates in kg of element per hectare.

    >>> from agronomy.intake.example import situation
    >>> [answer.what for answer in needs(situation()) if isinstance(answer, Need)]
    ['P', 'K', 'N']
    """
    built = {about(answer): answer for answer in build_maintain.needs(situation)}
    return [_answer(answer, built, situation) if about(answer) in OXIDE_SHARE else answer for answer in situation.base]


def _answer(answer: Answer, built: dict[str, Answer], situation: Situation) -> Answer:
    nutrient, crop, tables = about(answer), situation.crop, situation.tables
    if nutrient not in situation.judged:
        return answer
    finding, _ = situation.judged[nutrient]
    removed = situation.removed(nutrient)
    if removed is None:
        return answer
    if finding.is_plenty:
        return Nothing(
            nutrient,
            say("No {finding}: there is plenty, so what the crop removes need not be given back yet.", finding=finding.name.lower()),
        )
    if finding.is_short:
        return built[nutrient]
    oxide, share = OXIDE_SHARE[nutrient]
    rate = removed.kg_per_ha * share
    if rate < tables.nutrients.smallest_worth_spreading_kg_per_ha.value:
        return Nothing(nutrient, say("No {finding}: {crop} removes too little to spread.", finding=finding.name.lower(), crop=crop.name))
    step = Step(
        f"as {nutrient}",
        f"{oxide} × {nutrient} in {oxide}",
        {oxide: Figure(removed.kg_per_ha, "kg/ha"), f"{nutrient} in {oxide}": Figure(share, "fraction", "definition")},
        Figure(rate, "kg/ha"),
        "definition",
    )
    why = say("{why} What the crop removes is given back.", why=finding.why)
    return Need(
        what=nutrient,
        rate_kg_per_ha=rate,
        low_kg_per_ha=removed.low * share,
        high_kg_per_ha=removed.high * share,
        method=KEY,
        why=why,
        share_now=1.0,
        others=(),
        working=(*finding.working, removed.step, step),
    )
