"""Crops that carry off much potassium: what leaves is given back though the test reads right, whatever the school.

A right test is a stock, and a hungry crop takes a large share of it in one year; at plenty half of it is given back where a yield is told,
and far above nothing. Source: crop-calendars (its chapter on removal).
"""

from dataclasses import replace

from agronomy.base.said import Measure, say
from agronomy.base.working import Figure, Step
from agronomy.interpret.nutrients import Critical
from agronomy.model.answers import Answer, Method, Need, about
from agronomy.model.finding import Finding
from agronomy.recommend.schools import country_guide
from agronomy.recommend.schools.removal import Removal
from agronomy.recommend.schools.situation import Situation
from agronomy.recommend.schools.sufficiency import OXIDE_SHARE
from agronomy.tables.rooms.schools import Schools

METHOD = say("given back to a hungry crop")


def feed_hungry(answers: list[Answer], situation: Situation) -> list[Answer]:
    """The answers with what a hungry crop carries off given back, where a school would give less. Source: crop-removal.

    Rates in kg of element per hectare.

    >>> from agronomy.intake.example import needs, situation
    >>> [answer.what for answer in feed_hungry([needs()[2]], situation())]
    ['K']
    """
    return [_fed(answer, situation) if about(answer) == "K" else answer for answer in answers]


def carried_off(situation: Situation) -> Removal | None:
    """Potash carried off [kg K2O/ha], where it is so much that the crop counts as hungry; else None. Source: crop-removal.

    >>> from agronomy.intake.example import situation
    >>> carried_off(situation()) is None
    False
    """
    removed = situation.removed("K")
    if removed is None or removed.kg_per_ha < situation.tables.schools.hungry_from_kg_k2o_per_ha.value:
        return None
    return removed


def _near_the_level(finding: Finding, critical: Critical, situation: Situation) -> Removal | None:
    """Potash carried off [kg K2O/ha] by a crop that is not hungry but takes much, where the ground has no more than it needs."""
    figures = situation.tables.schools
    removed = situation.removed("K")
    if removed is None or removed.kg_per_ha < figures.near_level_from_kg_k2o_per_ha.value:
        return None
    return removed if finding.value <= figures.near_level_times.value * critical.level else None


def _part_given_back(finding: Finding, critical: Critical, figures: Schools) -> float:
    """All that leaves up to the middle of what is right, falling straight to what is given back where plenty begins, and on to no less."""
    right, plenty = (critical.level + critical.edges[3]) / 2, critical.edges[3]
    way = min(1.0, max(0.0, (finding.value - right) / (plenty - right))) if plenty > right else 1.0
    return 1.0 - way * (1.0 - figures.hungry_share_at_plenty.value)


def _given_back(part: float, share: float, back: float, figures: Schools, removed: Removal, oxide: str) -> Step:
    return Step(
        "potash given back",
        "min(most in a year, part given back × carried off) × K in K2O",
        {
            "part given back": Figure(part, "fraction", figures.hungry_share_at_plenty.source),
            "carried off": Figure(removed.kg_per_ha, f"kg {oxide}/ha"),
            "most in a year": Figure.of(figures.hungry_most_kg_k2o_per_ha),
            "K in K2O": Figure(share, "fraction", "definition"),
        },
        Figure(back * share, "kg/ha"),
        "crop-calendars",
        figures.hungry_from_kg_k2o_per_ha.where,
    )


def _fed(answer: Answer, situation: Situation) -> Answer:
    if "K" not in situation.judged or (isinstance(answer, Need) and answer.method == country_guide.KEY):
        return answer  # a guide's own rates count what is carried off
    finding, critical = situation.judged["K"]
    removed = carried_off(situation) or _near_the_level(finding, critical, situation)
    if removed is None or finding.class_ == "excess" or (finding.class_ == "plenty" and not removed.by_goal):
        return answer
    figures, (oxide, share) = situation.tables.schools, OXIDE_SHARE["K"]
    part = _part_given_back(finding, critical, figures)
    back = min(figures.hungry_most_kg_k2o_per_ha.value, part * removed.kg_per_ha)
    before = answer.rate_kg_per_ha if isinstance(answer, Need) else 0.0
    if back * share <= before:
        return answer
    step = _given_back(part, share, back, figures, removed, oxide)
    goal = (
        say("{yield_goal:g} of ", yield_goal=Measure(situation.yield_goal_t_per_ha, "t/ha"))
        if removed.by_goal and situation.yield_goal_t_per_ha is not None
        else "a usual yield of "
    )
    why = say(
        "{why} But {goal}{crop} removes about {kg_per_ha:.0f} of potash (K₂O); left unreplaced, the next crop finds too little.",
        why=finding.why,
        goal=goal,
        crop=situation.crop.name,
        kg_per_ha=Measure(removed.kg_per_ha, "kg/ha"),
    )
    own = Method(say("by this year’s response alone"), before, say("leaving it out once is sound on clay or ground rented for a year"))
    need = Need(
        what="K",
        rate_kg_per_ha=back * share,
        low_kg_per_ha=min(back, part * removed.low) * share,
        high_kg_per_ha=part * removed.high * share,
        method=METHOD,
        why=why,
        others=(own,),
        working=(*finding.working, removed.step, step),
    )
    return replace(need, others=(own, *answer.others)) if isinstance(answer, Need) else need
