"""The school of sufficiency: only what this year's crop will respond to.

Below the critical level the rate falls along a bent line; at the level and above nothing, but for vegetables, bulbs and potatoes, which
answer to a small dose a little above it.
"""

from collections.abc import Collection

from agronomy.base.said import joined, say
from agronomy.base.uncertainty import band
from agronomy.base.working import Figure, Step
from agronomy.interpret.nutrients import Critical
from agronomy.model.answers import Answer, Because, Need, Nothing, Unmet
from agronomy.model.finding import Finding
from agronomy.model.soil import Soil
from agronomy.recommend.nutrients.nitrogen import NitrogenCase, nitrogen_need
from agronomy.recommend.schools.situation import Situation
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.material import K_IN_K2O, P_IN_P2O5
from agronomy.tables.rooms.nutrients import ResponseShape

KEY = "sufficiency"
NAME = "sufficiency"
SAYS = say("only what this year's crop will respond to")
NOTE = ""
ANSWERS_ABOVE = say("Crops of this kind still respond to a small dose at that level.")
OXIDE_SHARE = {"P": ("P2O5", P_IN_P2O5), "K": ("K2O", K_IN_K2O)}


def needs(situation: Situation) -> list[Answer]:
    """Needs of P, K, Mg, S and N as elements [kg/ha]; one answer for each, in that order. Source: slan, iowa-2013.

    >>> from agronomy.intake.example import situation
    >>> [answer.what for answer in needs(situation()) if isinstance(answer, Need)]
    ['P', 'K', 'N']
    """
    return situation.base


def base_needs(
    judged: dict[str, tuple[Finding, Critical]],
    crop: Crop,
    soil: Soil,
    yield_goal_t_per_ha: float | None,
    ph: float | None,
    tables: Tables,
    nitrogen: NitrogenCase,
    tested: Collection[str] = (),
) -> list[Answer]:
    """What `needs` gives, worked out once for all schools that start from it. The arguments are those of a Situation;
    `tested` are all analytes that were read, judged or not.

    Source: slan, iowa-2013.
    Rates in kg of element per hectare.
    """
    answers = [_from_test(nutrient, judged, crop, tested, tables) for nutrient in ("P", "K", "Mg", "S")]
    return [*answers, nitrogen_need(crop, soil, yield_goal_t_per_ha, nitrogen, tables)]


def sufficiency_rate(test: float, critical: float, rate_at_zero: float, *, ends_at: float = 1.0, bend: float = 1.0) -> float:
    """Rate = R0 x max(0, 1 - test/critical), in the unit of R0. Source: slan.

    Tests in mg/kg, rates in kg/ha.

    >>> sufficiency_rate(6.0, 15.0, 60.0), sufficiency_rate(15.0, 15.0, 60.0)
    (36.0, 0.0)
    """
    return rate_at_zero * max(0.0, 1 - (test / (ends_at * critical)) ** bend)


def _from_test(nutrient: str, judged: dict, crop: Crop, tested: Collection[str], tables: Tables) -> Answer:
    if nutrient not in judged and nutrient in tested:
        why = say("{name} was tested, but that test can’t be judged here, so we cannot advise on it.", name=tables.analytes[nutrient].name)
        return Nothing(nutrient, why, Because.UNJUDGED)
    if nutrient not in judged:
        why = say("{name} was not tested, so we cannot advise on it.", name=tables.analytes[nutrient].name)
        return Nothing(nutrient, why, Because.UNTESTED)
    finding, critical = judged[nutrient]
    if nutrient in OXIDE_SHARE and (finding.is_short or (finding.class_ == "right" and _answers_above(finding, critical, crop, tables))):
        return _by_response(finding, critical, crop, tables)
    if not finding.is_short:
        return Nothing(nutrient, _nothing_because(finding, crop))
    return _secondary(finding, critical, crop, tables)


def _answers_above(finding: Finding, critical: Critical, crop: Crop, tables: Tables) -> bool:
    """Whether a crop of this group still answers to a dose at a test that is right."""
    return finding.value < tables.response_of[crop.nutrient_group, finding.analyte].ends_at * critical.level


def _nothing_because(finding: Finding, crop: Crop) -> str:
    name = finding.name.lower().removesuffix(" (sulfate)")
    if finding.class_ == "excess":
        return say("No {name}: this ground holds several years' worth. Choose nothing that brings more.", name=name)
    if finding.class_ == "plenty":
        return say("No {name}: there is plenty. Choose nothing that brings more.", name=name)
    return say("No {name}: the ground has enough, and {crop} would not respond to more.", name=name, crop=crop.name)


def _by_response(finding: Finding, critical: Critical, crop: Crop, tables: Tables) -> Answer:
    share = OXIDE_SHARE[finding.analyte][1]
    at_zero = crop.p2o5_r0 if finding.analyte == "P" else crop.k2o_r0
    row = tables.response_of[crop.nutrient_group, finding.analyte]

    def rate_at(test: float, level: float) -> float:
        return sufficiency_rate(test, level, at_zero, ends_at=row.ends_at, bend=row.bend) * share

    rate = rate_at(finding.value, critical.level)
    as_oxide = rate / share
    low, high = band(
        rate,
        (rate_at(finding.low, critical.level), rate_at(finding.high, critical.level)),
        (rate_at(finding.value, critical.low), rate_at(finding.value, critical.high)),
    )
    return _if_worth_it(
        Need(
            what=finding.analyte,
            rate_kg_per_ha=rate,
            low_kg_per_ha=max(0.0, low),
            high_kg_per_ha=high,
            method=KEY,
            why=finding.why if finding.is_short else joined((finding.why, ANSWERS_ABOVE)),
            share_now=1.0,
            others=(),
            working=_response_steps(finding, critical, crop, row, at_zero, as_oxide),
        ),
        finding,
        tables,
    )


def _response_steps(
    finding: Finding, critical: Critical, crop: Crop, row: ResponseShape, at_zero: float, as_oxide: float
) -> tuple[Step, ...]:
    """How the rate [kg of oxide/ha] follows from the test [mg/kg], and the element in it."""
    oxide, share = OXIDE_SHARE[finding.analyte]
    return (
        *finding.working,
        Step(
            "response rate",
            "rate at zero × max(0, 1 − (test / (end × critical level)) ^ bend)",
            {
                "rate at zero": Figure(at_zero, f"kg {oxide}/ha"),
                "test": Figure(finding.value, finding.unit),
                "critical level": Figure(critical.level, finding.unit),
                "end": Figure(row.ends_at, "times", row.source),
                "bend": Figure(row.bend, "power", row.source),
            },
            Figure(as_oxide, f"kg {oxide}/ha"),
            "slan;r0-default;response-bands",
            f"{crop.name}, {crop.where}",
        ),
        Step(
            f"as {finding.analyte}",
            f"{oxide} × {finding.analyte} in {oxide}",
            {oxide: Figure(as_oxide, "kg/ha"), f"{finding.analyte} in {oxide}": Figure(share, "fraction", "definition")},
            Figure(as_oxide * share, "kg/ha"),
            "definition",
        ),
    )


def _secondary(finding: Finding, critical: Critical, crop: Crop, tables: Tables) -> Answer:
    figures = tables.nutrients
    sulfur = figures.sulfur_rate_hungry_kg_per_ha if crop.sulfur_hungry else figures.sulfur_rate_kg_per_ha
    figure = figures.magnesium_rate_kg_per_ha if finding.analyte == "Mg" else sulfur
    shortness = 1 - finding.value / critical.level
    rate = figure.low + (figure.high - figure.low) * shortness
    step = Step(
        "rate when short",
        "low + (high − low) × (1 − test / critical level)",
        {
            "low": Figure(figure.low, "kg/ha"),
            "high": Figure(figure.high, "kg/ha"),
            "test": Figure(finding.value, finding.unit),
            "critical level": Figure(critical.level, finding.unit),
        },
        Figure(rate, "kg/ha"),
        figure.source,
        figure.where,
    )
    return Need(
        what=finding.analyte,
        rate_kg_per_ha=rate,
        low_kg_per_ha=figure.low,
        high_kg_per_ha=figure.high,
        method=KEY,
        why=finding.why,
        share_now=1.0,
        others=(),
        working=(*finding.working, step),
    )


def _if_worth_it(need: Need, finding: Finding, tables: Tables) -> Answer:
    if need.rate_kg_per_ha < tables.nutrients.smallest_worth_spreading_kg_per_ha.value:
        return Nothing(
            need.what,
            say(
                "No {finding} this year: it is only just under the level, and what is missing is too little to spread.",
                finding=finding.name.lower(),
            ),
        )
    return need


def organic_matter_note(judged: dict[str, tuple[Finding, Critical]]) -> list[Unmet]:
    """Short organic matter is told, not dosed: this school knows no rate for it. Source: secondary-classes.

    >>> from agronomy.intake.example import found
    >>> organic_matter_note(found().judged)
    []
    """
    if "OM" not in judged or not judged["OM"][0].is_short:
        return []
    return [
        Unmet(
            "OM",
            0.0,
            say("Organic matter is low. Compost, rotted manure or a green manure each year builds it slowly; this plan doesn't dose it."),
        )
    ]


def calcium_answer(judged: dict[str, tuple[Finding, Critical]], *, limes: bool) -> list[Answer]:
    """Short calcium comes with the lime where lime is due; else it is told, not dosed: pH says more than this test.

    Source: secondary-classes.

    >>> from agronomy.intake.example import found
    >>> calcium_answer(found().judged, limes=True)
    []
    """
    if "Ca" not in judged or not judged["Ca"][0].is_short:
        return []
    if limes:
        return [Nothing("Ca", say("No extra calcium: the lime brings it."))]
    return [
        Unmet(
            "Ca",
            0.0,
            (
                say(
                    "Calcium reads short though no lime is due. Gypsum would bring it without moving pH; test again before "
                    "you spread any. This plan doesn't dose it."
                )
            ),
        )
    ]
