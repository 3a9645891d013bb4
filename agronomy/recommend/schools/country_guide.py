"""The school of the country's own guide: the rate that it prints for a class, for this crop and yield."""

from dataclasses import replace

from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.base.said import Measure, say
from agronomy.base.working import Figure, Step
from agronomy.model.answers import Answer, Method, Need, Nothing, Unmet, about
from agronomy.model.finding import Finding
from agronomy.recommend.schools.removal import removal
from agronomy.recommend.schools.situation import Situation
from agronomy.tables.rooms.systems import GuideRate

KEY = "country_guide"
NAME = "your country’s guide"
SAYS = say("gives what your country’s own guide prints for the class of your test")
NOTE = say("Where the guide has no rate for a crop, or no country is told, this goes by sufficiency.")
PRINTED = say("the rate that your country’s guide prints")


@record
class GuideSays:
    """What a guide prints [kg of element/ha] for a class, with the name of system and class, and how it was worked out."""

    rate: float
    low: float
    high: float
    called: str
    steps: tuple[Step, ...]


def needs(situation: Situation) -> list[Answer]:
    """P, K and Mg by the country's guide where it has a rate, else as the school of sufficiency has them. Source: each row's own.

    Rates in kg of element per hectare.

    >>> from agronomy.intake.example import situation
    >>> needs(situation()) == situation().base
    True
    """
    return [_answer(answer, situation) for answer in situation.base]


def beside(answers: list[Answer], situation: Situation) -> list[Answer]:
    """The answers of another school, each with what the country's guide would give beside it. Source: each row's own.

    >>> from agronomy.intake.example import situation
    >>> beside([], situation())
    []
    """
    return [_beside(answer, situation) for answer in answers]


def _beside(answer: Answer, situation: Situation) -> Answer:
    says = guide_rate(about(answer), situation)
    if says is None or isinstance(answer, Unmet):
        return answer
    if isinstance(answer, Need):
        return replace(answer, others=(*answer.others, Method(says.called, says.rate, PRINTED)))
    if says.rate < situation.tables.nutrients.smallest_worth_spreading_kg_per_ha.value:
        return answer
    return Nothing(answer.nutrient, would_give(answer.why, answer.nutrient, Method(says.called, says.rate)))


def would_give(why: str, what: str, printed: Method) -> str:
    """A reason for giving nothing, with what [kg/ha] the country's guide would give. Source: each row's own.

    >>> would_give("No potassium.", "K", Method("British index (Index 1)", 80))
    'No potassium. The British index (Index 1) would give 80 kg/ha of K: choose “your country’s guide” as your approach to use it.'
    """
    rate = say("{rate:.0f} of {what}", rate=Measure(printed.rate_kg_per_ha, "kg/ha"), what=what)
    return say(
        "{why} The {method} would give {rate}: choose “{name}” as your approach to use it.",
        why=why,
        method=printed.method,
        rate=rate,
        name=NAME,
    )


def _answer(answer: Answer, situation: Situation) -> Answer:
    what = about(answer)
    says = guide_rate(what, situation)
    if says is None:
        return answer
    finding = situation.judged[what][0]
    if finding.class_ == "excess":
        return Nothing(what, say("No {finding}: the ground holds several years' worth.", finding=finding.name.lower()))
    if says.rate < situation.tables.nutrients.smallest_worth_spreading_kg_per_ha.value:
        return Nothing(what, say("No {finding}: the {called} needs none.", finding=finding.name.lower(), called=says.called))
    own = (Method("sufficiency", answer.rate_kg_per_ha),) if isinstance(answer, Need) else ()
    return Need(
        what=what,
        rate_kg_per_ha=says.rate,
        low_kg_per_ha=says.low,
        high_kg_per_ha=says.high,
        method=KEY,
        why=say("{why} The rate is the guide’s for this class.", why=finding.why),
        others=own,
        working=(*finding.working, *says.steps),
    )


def guide_rate(what: str, situation: Situation) -> GuideSays | None:
    """What the country's guide prints for a nutrient [kg of element/ha]; None where it prints nothing for this crop.

    Source: each row's own.

    >>> from agronomy.intake.example import situation
    >>> guide_rate("P", situation()) is None
    True
    """
    own = situation.own_classes.get(what)
    if own is None or what not in situation.judged:
        return None
    rows = [
        row
        for row in situation.tables.guide_rates_of.get((own.key, what), ())
        if row.own_class == own.own_class and _is_for(row, situation)
    ]
    named = next(
        (told for name in (situation.crop.key, situation.crop.group, "*") if (told := [row for row in rows if name in row.crops])), []
    )
    if not named:
        return _above_the_table(own.key, what, situation.judged[what][0], situation)
    said = [said for row in named if (said := _rate(row, situation)) is not None]
    if not said:
        return None
    called = f"{own.system} ({own.own_class})"
    return GuideSays(
        sum(item[0] for item in said), sum(item[1] for item in said), sum(item[2] for item in said), called, tuple(item[3] for item in said)
    )


def _is_for(row: GuideRate, situation: Situation) -> bool:
    return any(name in row.crops for name in (situation.crop.key, situation.crop.group, "*"))


def _above_the_table(system: str, what: str, finding: Finding, situation: Situation) -> GuideSays | None:
    """Nothing for a class above those that the guide prints a rate for, where it has rates for the crop at all."""
    known_crop = any(_is_for(row, situation) for row in situation.tables.guide_rates_of.get((system, what), ()))
    own = situation.own_classes[what]
    return GuideSays(0.0, 0.0, 0.0, f"{own.system} ({own.own_class})", ()) if known_crop and finding.is_plenty else None


def _rate(row: GuideRate, situation: Situation) -> tuple[float, float, float, Step] | None:
    """Rate, lowest and highest [kg of element/ha] of one row, moved with the yield hoped for; None where removal isn't known."""
    share = row.element_share
    goal = situation.yield_goal_t_per_ha
    removed = removal(situation.crop, row.analyte, goal, situation.tables) if row.analyte in ("P", "K") else None
    to_element = Figure(share, "fraction", "definition")
    if row.basis == "a_year":
        middle, more = (row.low + row.high) / 2, 0.0
        if goal is not None and row.yield_t_per_ha is not None and removed is not None and middle > 0:
            more = removed.kg_per_ha * (1 - row.yield_t_per_ha / goal) * (share_of_oxide(row.analyte) / share)
        rate = max(0.0, middle + more) * share
        inputs = {"printed": Figure(middle, "kg/ha"), "for the yield": Figure(more, "kg/ha"), "as element": to_element}
        formula = "max(0, printed + for the yield) × as element"
        low, high = max(0.0, row.low + more) * share, max(0.0, row.high + more) * share
    else:
        if removed is None:
            return None
        carried = removed.kg_per_ha * share_of_oxide(row.analyte)
        times, added = (row.low, 0.0) if row.basis == "times_removal" else (1.0, row.low * share)
        rate = carried * times + added
        inputs = {
            "carried off": Figure(carried, "kg/ha"),
            "times": Figure(times, "times"),
            "above it": Figure(added, "kg/ha"),
        }
        formula = "carried off × times + above it"
        low, high = rate, rate
    name = say("the guide’s rate{which}", which=f", {row.cut}" if row.cut else "")
    step = Step(
        name,
        formula,
        inputs,
        Figure(rate, "kg/ha"),
        row.source.split(";")[0],
        row.where,
    )
    return rate, low, high, step


def share_of_oxide(analyte: str) -> float:
    """Element in a kilogram of the oxide that removal is reckoned in [fraction].

    Source: definition.

    >>> round(share_of_oxide("K"), 3)
    0.83
    """
    return required({"P": GuideRate.SHARES["P2O5"], "K": GuideRate.SHARES["K2O"]}.get(analyte))
