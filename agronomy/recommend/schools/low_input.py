"""The low-input school: do least. Organic matter and legumes first, mined salts at half rates, pH only well outside its range."""

from dataclasses import replace

from agronomy.base.said import Measure, say
from agronomy.base.working import Figure, Step
from agronomy.model.answers import Answer, Need, Nothing, Unmet
from agronomy.model.finding import Finding
from agronomy.recommend.schools.situation import Situation
from agronomy.tables import Tables

KEY = "low_input"
NAME = "low input"
SAYS = say("organic matter and legumes first, mined salts at half rates, pH only well outside its range")
NOTE = say("Doing least is slow: where a nutrient is short, the first two or three years may yield less.")


def needs(situation: Situation) -> list[Answer]:
    """P, K, Mg and S at half the response rate; nitrogen from what grows and rots, told with the compost that would bring it.

    Source: low-input-guide.
    Rates in kg of element per hectare.

    >>> from agronomy.intake.example import situation
    >>> [answer.what for answer in needs(situation()) if isinstance(answer, Need)]
    ['P', 'K']
    """
    return [_answer(answer, situation) for answer in situation.base]


def leaves_alone(finding: Finding | None, tables: Tables) -> Nothing | None:
    """The answer on acidity that this school has of its own: nothing, where pH is only a little outside the range; else None.

    Source: low-input-guide.

    >>> from agronomy.intake.example import found, tables
    >>> leaves_alone(found().acidity, tables) is None
    True
    """
    slack = tables.schools.low_input_ph_slack.value
    if finding is None or finding.class_ == "right" or not finding.wanted[0] - slack <= finding.value <= finding.wanted[1] + slack:
        return None
    return Nothing(
        "CaCO3",
        say("pH {finding:.1f} is within {slack:g} of the range, and this approach leaves it alone.", finding=finding.value, slack=slack),
    )


def compost_t_per_ha(p2o5_removed: float, build_share: float, tables: Tables) -> float:
    """Fresh compost [t/ha] that brings no more phosphate than wanted and no more nitrogen than the cap. Source: low-input-guide.

    `build_share` is 1 where phosphorus is short, 0.3 where it is right, 0 above.

    >>> from agronomy.tables import load_tables
    >>> round(compost_t_per_ha(40, 1, load_tables()), 1)
    21.2
    """
    figures = tables.schools
    by_p = p2o5_removed * (1 + build_share) / (10 * figures.compost_p2o5_pct.value)
    by_n = figures.compost_n_cap_kg_per_ha.value / (10 * figures.compost_n_pct.value)
    return min(by_p, by_n, figures.compost_most_t_per_ha.value)


def _answer(answer: Answer, situation: Situation) -> Answer:
    if not isinstance(answer, Need):
        return answer
    if answer.what == "N":
        return Unmet(
            "N",
            answer.rate_kg_per_ha,
            say("No bought nitrogen by this approach.{compost} Grow legumes before it, or between.", compost=_compost(situation)),
        )
    tables = situation.tables
    share = tables.schools.low_input_share.value
    rate = answer.rate_kg_per_ha * share
    if rate < tables.nutrients.smallest_worth_spreading_kg_per_ha.value:
        return Nothing(answer.what, say("Half of a small need is too little to spread."))
    step = Step(
        "half of it",
        "need × share",
        {"need": Figure(answer.rate_kg_per_ha, "kg/ha"), "share": Figure(share, "fraction")},
        Figure(rate, "kg/ha"),
        "low-input-guide",
    )
    return replace(
        answer,
        rate_kg_per_ha=rate,
        low_kg_per_ha=answer.low_kg_per_ha * share,
        high_kg_per_ha=answer.high_kg_per_ha * share,
        method=KEY,
        working=(*answer.working, step),
    )


def _compost(situation: Situation) -> str:
    tables = situation.tables
    removed = situation.removed("P")
    finding = situation.judged["P"][0] if "P" in situation.judged else None
    if removed is None or finding is None:
        return say(" Compost or rotted manure brings it.")
    if finding.class_ == "excess":
        return say(" No compost either: it would bring phosphorus that this ground holds for years.")
    build = 1.0 if finding.is_short else 0.0 if finding.is_plenty else 0.3
    return say(
        " About {compost:.0f} of fresh compost brings some, and no more phosphorus than is needed.",
        compost=Measure(compost_t_per_ha(removed.kg_per_ha, build, tables), "t/ha"),
    )
