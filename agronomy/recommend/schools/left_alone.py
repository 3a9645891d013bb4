"""Ground that is best left hungry: flower-rich grass from which nothing is wanted but flowers."""

from agronomy.base.said import say
from agronomy.model.answers import Answer, Need, Nothing, about
from agronomy.recommend.schools.situation import Situation


def wants_no_feed(situation: Situation) -> bool:
    """Whether the grower has said that this grass is to get no nitrogen: then it is kept for its flowers.

    Source: user-value.

    >>> from agronomy.intake.example import situation
    >>> wants_no_feed(situation())
    False
    """
    return situation.crop.is_grass and situation.crop.n_high <= 0


def left_alone(answers: list[Answer], situation: Situation) -> list[Answer]:
    """Every need of such ground becomes nothing, and why.

    Rates in kg/ha. Source: user-value.

    >>> from agronomy.intake.example import needs, situation
    >>> [answer.what for answer in left_alone([needs()[1]], situation())]
    ['P']
    """
    if not wants_no_feed(situation):
        return answers
    return [Nothing(about(answer), _why(about(answer), situation)) if isinstance(answer, Need) else answer for answer in answers]


def _why(nutrient: str, situation: Situation) -> str:
    name = situation.tables.analytes[nutrient].name.lower()
    if nutrient == "P":
        return say("No phosphorus: low phosphorus is what flowers need. It stays for thirty years, and coarse grass would smother them.")
    return say("No {name}: flower-rich grass stays so because the ground is poor.", name=name)
