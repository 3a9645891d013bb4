"""From what the readings say to what the plot needs, as one school has it; or as all of them have it, side by side."""

from dataclasses import replace

from agronomy.base.record import record
from agronomy.base.said import Rate, joined, say
from agronomy.interpret.salinity import salt_answers
from agronomy.model.answers import Answer, Method, Need, NeedKind, Nothing, Unmet
from agronomy.plan.assess import Assessment
from agronomy.plan.first_years import before_planting, youth_of
from agronomy.plan.water import less_boron
from agronomy.recommend.acidity.caps import ApplicationLimit, lime_limit, most_sulfur_worth_trying, sulfur_limit
from agronomy.recommend.acidity.lime_need import lime_need
from agronomy.recommend.acidity.own_buffering import METHOD, own_lime_need, own_sulfur_need
from agronomy.recommend.acidity.sulfur_need import sulfur_need
from agronomy.recommend.nutrients.micronutrients import micronutrient_answers
from agronomy.recommend.nutrients.nitrogen import NitrogenCase
from agronomy.recommend.schools import country_guide, low_input, sufficiency
from agronomy.recommend.schools.adjust import less_credits, within_caps
from agronomy.recommend.schools.already_applied import less_already_applied
from agronomy.recommend.schools.by_ground import held_fast, without_a_test
from agronomy.recommend.schools.by_leaf import by_leaf
from agronomy.recommend.schools.hungry import feed_hungry
from agronomy.recommend.schools.left_alone import left_alone
from agronomy.recommend.schools.registry import SCHOOLS
from agronomy.recommend.schools.situation import Situation
from agronomy.tables import Tables


@record
class Answers:
    """All answers of one school: acidity first; with the limits of one dressing where lime or sulfur is put on."""

    acidity: Answer
    rest: tuple[Answer, ...]
    dressing: ApplicationLimit | None

    @property
    def all(self) -> tuple[Answer, ...]:
        return (self.acidity, *self.rest)

    def needs(self) -> list[Need]:
        return [answer for answer in self.all if isinstance(answer, Need)]


def bale_answers() -> Answers:
    """A bale is no ground: what soil tests ask does not concern it, its start says all. Source: straw-bale-guide."""
    return Answers(Nothing("CaCO3", say("No lime, and no soil test: a bale is fed as a bale.")), (), None)


def answers_by(school: str, assessment: Assessment, tables: Tables) -> Answers:
    """The needs as a school has them, less what the plot is given anyway, within the owner's caps.

    Rates in kg of element per hectare. Source: each school's own.

    >>> from agronomy.intake.example import found, tables
    >>> [need.what for need in answers_by("sufficiency", found(), tables).needs()]
    ['CaCO3', 'P', 'K', 'N']
    """
    if assessment.request.plot.ground == "bale":
        return bale_answers()
    acidity, dressing = _acidity(assessment, tables)
    situation = situation_of(assessment, tables)
    shared = _shared(assessment, tables)
    return _answers(school, assessment, situation, acidity, dressing, shared, tables)


def side_by_side(assessment: Assessment, tables: Tables) -> dict[str, Answers]:
    """The answers of every school; what does not depend on the school is worked out once.

    Rates in kg of element per hectare. Source: each school's own.

    >>> from agronomy.intake.example import found, tables
    >>> sorted(side_by_side(found(), tables))[:3]
    ['build_maintain', 'cation_balance', 'country_guide']
    """
    acidity, dressing = _acidity(assessment, tables)
    situation, shared = situation_of(assessment, tables), _shared(assessment, tables)
    return {school: _answers(school, assessment, situation, acidity, dressing, shared, tables) for school in SCHOOLS}


def situation_of(assessment: Assessment, tables: Tables) -> Situation:
    """What every school looks at, of a plot judged; needs are in kg of element per hectare. Source: each school's own."""
    request = assessment.request
    bears = request.yield_goal_t_per_ha is not None  # who hopes for so many tonnes says that it bears
    youth = None if bears else youth_of(request.crop, request.planting, assessment.calendar, tables)
    nitrogen = NitrogenCase(
        assessment.credits,
        assessment.readings.get("NO3-N"),
        request.planting,
        request.response,
        *((youth.share, youth.says, youth.row.source) if youth else ()),
    )
    goal, ph = request.yield_goal_t_per_ha, assessment.ph
    crop = before_planting(request.crop, assessment.calendar, tables)
    return Situation(
        judged=assessment.judged,
        crop=request.crop,
        soil=assessment.soil,
        yield_goal_t_per_ha=request.removal_yield_t_per_ha,
        ph=ph,
        tables=tables,
        nitrogen=nitrogen,
        own_classes=assessment.own_classes,
        own_pools=request.own_pools,
        base=sufficiency.base_needs(assessment.judged, crop, assessment.soil, goal, ph, tables, nitrogen, assessment.readings),
    )


def _shared(assessment: Assessment, tables: Tables) -> list[Answer]:
    """Answers on trace elements and salt, which no school has its own word on."""
    return [
        *less_boron(micronutrient_answers(assessment.judged, assessment.request.crop, assessment.ph, tables), assessment.readings, tables),
        *salt_answers(assessment.salt, assessment.soil, tables),
    ]


def _answers(
    school: str,
    assessment: Assessment,
    situation: Situation,
    acidity: Answer,
    dressing: ApplicationLimit | None,
    shared: list[Answer],
    tables: Tables,
) -> Answers:
    untouched = low_input.leaves_alone(assessment.acidity, tables) if school == low_input.KEY else None
    if untouched is not None:
        acidity, dressing = untouched, None
    request = assessment.request
    acidity = less_already_applied([acidity], request.done, assessment.readings, request.today, tables)[0]
    asked = SCHOOLS[school].needs(situation)
    if school != country_guide.KEY:
        asked = country_guide.beside(asked, situation)
    if school != low_input.KEY:
        asked = feed_hungry(asked, situation)
        asked = without_a_test(
            held_fast(asked, assessment.readings, situation), assessment.readings, situation, on_field=request.plot.kind == "field"
        )
    asked = left_alone(by_leaf(asked, assessment.leaves, situation), situation)
    needs = less_already_applied(less_credits(asked, assessment.credits, tables), request.done, assessment.readings, request.today, tables)
    found = within_caps(_practicable(needs, assessment, tables), request.caps)
    if not any(isinstance(answer, Unmet) and answer.what == "Ca" for answer in found):
        found += sufficiency.calcium_answer(assessment.judged, limes=isinstance(acidity, Need) and acidity.what == NeedKind.LIME)
    return Answers(acidity, (*found, *shared, *sufficiency.organic_matter_note(assessment.judged)), dressing)


def _practicable(answers: list[Answer], assessment: Assessment, tables: Tables) -> list[Answer]:
    """What no spreader or hand can lay evenly becomes nothing for this year; in a pot the feed goes by the litre of mix instead."""
    plot, figures = assessment.request.plot, tables.nutrients
    if plot.ground == "container":
        told = say("Pots are fed by the litre of mix, not by the hectare.")
        return [Nothing(answer.what, told) if isinstance(answer, Need) else answer for answer in answers]
    by_hand = plot.ground not in ("field", "zone", "pasture")
    least = (
        {"P": figures.least_by_hand_kg_p_per_ha.value, "K": figures.least_by_hand_kg_k_per_ha.value}
        if by_hand
        else {"P": figures.least_on_a_field_kg_p_per_ha.value, "K": figures.least_on_a_field_kg_k_per_ha.value}
    )
    found: list[Answer] = []
    for answer in answers:
        if isinstance(answer, Need) and answer.rate_kg_per_ha < least.get(answer.what, 0.0):
            name = tables.analytes[answer.what].name.lower()
            rate = Rate(answer.rate_kg_per_ha, plot.area_m2, assessment.request.units)
            told = say(
                "No {name} this year: {rate} is less than a {which} can spread evenly.",
                name=name,
                rate=rate,
                which="hand" if by_hand else "spreader",
            )
            printed = next((other for other in answer.others if other.note == country_guide.PRINTED), None)
            found.append(Nothing(answer.what, told if printed is None else country_guide.would_give(told, answer.what, printed)))
        else:
            found.append(answer)
    return found


def _limed_by_water(assessment: Assessment, tables: Tables) -> Unmet | None:
    """Pots that hard water limes, so that sulfur would be undone."""
    finding = assessment.acidity
    alkalinity = assessment.readings.get("alkalinity")
    limes = alkalinity is not None and alkalinity.value >= tables.timing.retest.alkaline_water_from_mg_per_l
    if (
        finding is not None
        and finding.class_ == "too_alkaline"
        and assessment.request.plot.ground == "container"
        and limes
        and alkalinity is not None
    ):
        text = say(
            "The water's alkalinity ({alkalinity:.0f} mg/L as CaCO₃) is the cause: it limes the pot at each watering, "
            "and sulfur would be undone. Give rain water, or acidify the tap water, and repot in fresh acid mix. Till "
            "then an iron chelate that holds at high pH (EDDHA) is a stop-gap.",
            alkalinity=alkalinity.value,
        )
        return Unmet("S_acid", 0.0, text)
    return None


def _acidity(assessment: Assessment, tables: Tables) -> tuple[Answer, ApplicationLimit | None]:
    """The answer on acidity: lime, sulfur, or nothing; with the limits of one dressing where something is put on."""
    request, readings, soil, finding = assessment.request, assessment.readings, assessment.soil, assessment.acidity
    if assessment.calendar.stands:
        soil = replace(soil, dug=False)  # nothing is dug in among roots that stand: the caps and the depth are those of a surface dressing
    disputed = next((item for item in assessment.contradictions if "pH" in item.about), None)
    if disputed is not None:
        return Unmet("CaCO3", 0.0, joined((disputed.says, disputed.check))), None
    if finding is None:
        return Unmet(
            "CaCO3", 0.0, say("There is no pH reading, so we cannot advise on lime or sulfur. It is the first test to make.")
        ), None
    if (cause := _limed_by_water(assessment, tables)) is not None:
        return cause, None
    if finding.class_ == "too_alkaline":
        dressing = sulfur_limit(soil, tables)
        answer: Answer = sulfur_need(
            finding,
            readings["pH"],
            target_ph=assessment.figures["acid_to"],
            kind=request.plot.kind,
            is_acid_lover=request.crop.is_acid_lover,
            soil=soil,
            dressing=dressing,
            tables=tables,
            carbonate=readings.get("carbonate"),
        )
        own = request.own_buffering
        if own is not None and isinstance(answer, Need) and "carbonate" not in readings:
            answer = own_sulfur_need(answer, own, most=most_sulfur_worth_trying(request.plot.kind, tables))
        return answer, dressing
    dressing = lime_limit(request.plot.kind, request.crop, soil, tables, on_lawn=request.plot.ground == "lawn")
    answer = lime_need(
        finding,
        readings["pH"],
        readings.get("buffer pH"),
        aluminium=readings.get("Al"),
        bases=_bases(assessment, tables),
        tolerated_pct=request.crop.aluminium_pct,
        lead=tables.ground.countries[request.country].lime_by if request.country else None,
        target_ph=assessment.figures["lime_to"],
        is_grass=request.crop.is_grass,
        soil=soil,
        dressing=dressing,
        tables=tables,
    )
    return _with_laboratory(_by_own_tests(answer, assessment, tables), assessment), dressing


def _by_own_tests(answer: Answer, assessment: Assessment, tables: Tables) -> Answer:
    """A lime need by the plot's own buffering where it is known; the table's figure stays beside it."""
    own, soil = assessment.request.own_buffering, assessment.soil
    if own is None or not isinstance(answer, Need) or answer.what != NeedKind.LIME:
        return answer
    target = assessment.figures["lime_to"]
    need = own_lime_need(assessment.readings["pH"], own, target_ph=target, depth_cm=soil.depth_cm, soil=soil, tables=tables)
    return replace(
        answer,
        rate_kg_per_ha=need.value,
        low_kg_per_ha=need.low,
        high_kg_per_ha=need.high,
        method=METHOD,
        says_how=False,
        why=say(
            "By {tests} tests of this ground, to pH {target:g}: it takes {times:.1f} times the table’s lime.",
            tests=own.tests,
            target=target,
            times=own.times,
        ),
        others=(Method(answer.method, answer.rate_kg_per_ha, say("without what your tests have shown")), *answer.others),
        working=need.steps,
    )


def _with_laboratory(answer: Answer, assessment: Assessment) -> Answer:
    """A lime need with the laboratory's own figure beside it, where the slip has one."""
    printed = assessment.readings.get("lab lime")
    if printed is None or not isinstance(answer, Need):
        return answer
    own = Method(
        "the laboratory’s own figure", printed.value * 1000, say("as printed, of the lime it has in mind; its target and depth may differ")
    )
    return replace(answer, others=(own, *answer.others))


def _bases(assessment: Assessment, tables: Tables) -> float | None:
    """Calcium and magnesium as charge [cmol/kg], where both were read."""
    readings = assessment.readings
    if "Ca" not in readings or "Mg" not in readings:
        return None
    return sum(readings[key].value / tables.analytes[key].per_cmol for key in ("Ca", "Mg"))
