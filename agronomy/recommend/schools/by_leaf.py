"""What a leaf test adds to the soil's: nitrogen up or down by the leaf, and potassium given back where the leaf is short of it.

For what stands for years the leaf says more than the soil; a trace element that the leaf is short of is dosed by the plan beside these.
"""

from dataclasses import replace

from agronomy.base.said import joined, say
from agronomy.base.working import Figure, Step
from agronomy.model.answers import Answer, Need, Nothing, about
from agronomy.model.finding import Finding
from agronomy.recommend.schools.situation import Situation
from agronomy.recommend.schools.sufficiency import OXIDE_SHARE

METHOD = "leaf test"


def by_leaf(answers: list[Answer], leaves: dict[str, Finding], situation: Situation) -> list[Answer]:
    """The answers, nitrogen and potassium bent by what the leaf says. Source: own-experience.

    Rates in kg of element per hectare, leaves in % of dry matter.

    >>> from agronomy.intake.example import situation
    >>> by_leaf([], {}, situation())
    []
    """
    if not leaves:
        return answers
    bent = {"N": _nitrogen, "K": _potassium}
    return [bent[about(answer)](answer, leaves, situation) if about(answer) in bent else answer for answer in answers]


def _nitrogen(answer: Answer, leaves: dict[str, Finding], situation: Situation) -> Answer:
    leaf = leaves.get("leaf N")
    if leaf is None or not isinstance(answer, Need) or leaf.class_ == "right":
        return answer
    figures = situation.tables.nitrogen
    times = (figures.leaf_short_times if leaf.is_short else figures.leaf_plenty_times).value
    if not leaf.is_short and leaf.value >= figures.leaf_far_over_times.value * leaf.wanted[1]:
        return Nothing("N", say("No nitrogen this year. {why}", why=leaf.why))
    rate = answer.rate_kg_per_ha * times
    step = Step(
        "by the leaf",
        "nitrogen × by the leaf",
        {"nitrogen": Figure(answer.rate_kg_per_ha, "kg/ha"), "by the leaf": Figure(times, "times", figures.leaf_short_times.source)},
        Figure(rate, "kg/ha"),
        figures.leaf_short_times.source,
        figures.leaf_short_times.where,
    )
    return replace(
        answer,
        rate_kg_per_ha=rate,
        low_kg_per_ha=min(rate, answer.low_kg_per_ha * times),
        high_kg_per_ha=max(rate, answer.high_kg_per_ha * times),
        why=joined((answer.why, leaf.why)),
        working=(*answer.working, *leaf.working, step),
    )


def _potassium(answer: Answer, leaves: dict[str, Finding], situation: Situation) -> Answer:
    leaf = leaves.get("leaf K")
    if leaf is None or not leaf.is_short:
        return answer
    tables, (oxide, share) = situation.tables, OXIDE_SHARE["K"]
    removed = situation.removed("K")
    least = tables.schools.leaf_short_k2o_kg_per_ha
    back = max(least.value, removed.kg_per_ha if removed else 0.0) * tables.schools.leaf_short_times.value
    if isinstance(answer, Need) and answer.rate_kg_per_ha >= back * share:
        return answer
    carried = removed.kg_per_ha if removed else 0.0
    step = Step(
        "potash by the leaf",
        "max(least worth giving, carried off) × more where the leaf is short × K in K2O",
        {
            "least worth giving": Figure.of(least),
            "carried off": Figure(carried, f"kg {oxide}/ha"),
            "more where the leaf is short": Figure.of(tables.schools.leaf_short_times),
            "K in K2O": Figure(share, "fraction", "definition"),
        },
        Figure(back * share, "kg/ha"),
        least.source,
        least.where,
    )
    return Need(
        what="K",
        rate_kg_per_ha=back * share,
        low_kg_per_ha=back * share / 2,
        high_kg_per_ha=back * share * 1.5,
        method=METHOD,
        why=say("{why} Lime, clay and dry ground can hold potassium that the soil test counts.", why=leaf.why),
        working=(*leaf.working, step),
    )
