"""What a plot needs, what it does not, and what cannot be met: the three answers of every rule."""

from enum import StrEnum

from agronomy.base.record import record
from agronomy.base.working import Step

SPOKEN = {
    "CaCO3": "lime, as pure CaCO₃",
    "S_acid": "sulfur for acidity",
    "N": "nitrogen",
    "P": "phosphorus",
    "K": "potassium",
    "Mg": "magnesium",
    "S": "sulfur",
    "Na": "gypsum against sodium",
    "OM": "humus",
    "Zn": "zinc",
    "Mn": "manganese",
    "Fe": "iron",
    "Cu": "copper",
    "B": "boron",
}


@record
class Method:
    """Another method's figure for the same need, shown beside the chosen one."""

    method: str
    rate_kg_per_ha: float
    note: str = ""


@record(kw_only=True)
class Need:
    """An amount of an element (or CaCO3, S_acid) per hectare with its 80 % band.

    share_now: the part to put on before the next test (0.5 where only a colour kit was used). `why` tells how it was reckoned, not what is
    wrong, where says_how.
    """

    what: str
    rate_kg_per_ha: float
    low_kg_per_ha: float
    high_kg_per_ha: float
    method: str
    why: str
    share_now: float = 1.0
    others: tuple[Method, ...] = ()
    working: tuple[Step, ...] = ()
    says_how: bool = False


class NeedKind(StrEnum):
    """What a need is for, beside plain elements; written in plans as these words."""

    LIME = "CaCO3"
    ACIDIFIER = "S_acid"
    GYPSUM = "Na"
    HUMUS = "OM"


ACIDITY = (NeedKind.LIME, NeedKind.ACIDIFIER)


class Because(StrEnum):
    """Why nothing is given, for whoever must not read it out of the sentence."""

    ENOUGH = "enough"
    UNTESTED = "untested"
    UNJUDGED = "unjudged"  # tested, but no level here judges it
    STANDING_CROP = "standing crop"  # its own nitrate is enough for now


@record
class Nothing:
    """Nothing is needed, and why: a full answer."""

    nutrient: str
    why: str
    because: Because = Because.ENOUGH


@record
class Unmet:
    """Something is wanted that this plan does not meet, and why; `rate_kg_per_ha` is nought where no amount is known."""

    what: str
    rate_kg_per_ha: float
    why: str


Answer = Need | Nothing | Unmet


def about(answer: Answer) -> str:
    """What an answer is about: the key of its nutrient, CaCO3 or S_acid.

    Its rate stays in kg/ha.

    >>> from agronomy.intake.example import needs
    >>> [about(need) for need in needs()][:2]
    ['CaCO3', 'P']
    """
    return answer.nutrient if isinstance(answer, Nothing) else answer.what
