"""The walk through all stages, from readings to dated doses; reads like the diagram of the work.

reading -> finding -> need -> choice -> dose -> date
"""

from collections.abc import Generator, Sequence
from dataclasses import replace
from datetime import date

from agronomy import __version__
from agronomy.apply.fertigation import FeedSpell, Gear, feed_spells, weekly
from agronomy.base.record import record
from agronomy.base.said import Measure, joined, large, say
from agronomy.base.working import Step
from agronomy.critic.fault import Fault
from agronomy.critic.plan_faults import faults_of
from agronomy.dose.application import Application, for_each
from agronomy.dose.packs import Purchased, purchased
from agronomy.dose.passes import said_passes
from agronomy.interpret.balance import Remark, Share, remarks, shares
from agronomy.interpret.leaf_and_ground import leaf_and_ground, leaf_ratios
from agronomy.interpret.nutrients import NoRule
from agronomy.interpret.plausibility import doubts_between
from agronomy.model.answers import ACIDITY, SPOKEN, Answer, Need, NeedKind, Nothing, Unmet
from agronomy.model.credit import Credit
from agronomy.model.finding import Finding
from agronomy.model.reading import Reading
from agronomy.model.request import Request
from agronomy.model.soil import Soil
from agronomy.plan.advice import Advice, advice_for
from agronomy.plan.amendments import compost_dose, gypsum_dose, wants_compost
from agronomy.plan.assess import Assessment, assess
from agronomy.plan.bales import bale_plan
from agronomy.plan.budget import within_budget
from agronomy.plan.cautions import Caution, cautions_for
from agronomy.plan.dating import dated
from agronomy.plan.facts import facts_of
from agronomy.plan.ground import ground_for
from agronomy.plan.harvests import harvest_remarks
from agronomy.plan.headline import headline
from agronomy.plan.micronutrients import dosed_instead, micronutrient_doses
from agronomy.plan.needs import Answers, answers_by
from agronomy.plan.pots import pot_feed
from agronomy.plan.retest import next_test
from agronomy.plan.signing import facts_for_critic
from agronomy.plan.water import water_remarks
from agronomy.products.compatibility import Clash, clashes
from agronomy.products.equipment import laid_evenly
from agronomy.products.packs import priced_by_pack
from agronomy.products.selection import select
from agronomy.products.shop import available_products
from agronomy.recommend.schools.registry import SCHOOLS
from agronomy.schedule.arrange import Conflict
from agronomy.schedule.frost import frost_risk
from agronomy.schedule.retest_days import is_too_old
from agronomy.schedule.windows import applications_for
from agronomy.tables import Tables

NEAR_DAYS = 30  # further apart than the days asked for and a month, nobody needs the word


@record(kw_only=True)
class SoilSummary:
    """What the plan took the ground to be."""

    texture: str
    bulk_density_g_per_cm3: float
    cec_cmol_per_kg: float
    soil_mass_t_per_ha: float
    organic_matter_pct: float
    working: tuple[Step, ...]


@record(kw_only=True)
class Plan:
    """One plan: the plain result that the command line prints and the web keeps."""

    rules_version: str
    request_sha256: str
    school: str
    soil: SoilSummary
    findings: tuple[Finding, ...]
    needs: tuple[Need, ...]
    applications: tuple[Application, ...]
    nothing: tuple[Nothing, ...]
    unmet: tuple[Unmet, ...]
    cautions: tuple[Caution, ...]
    unjudged: tuple[NoRule, ...]
    doubts: tuple[str, ...]
    notes: tuple[str, ...]
    cost: float
    retest: date
    next_test: str = ""
    headline: str = ""
    rests: bool = False  # nothing is to be done
    advice: tuple[Advice, ...] = ()
    credits: tuple[Credit, ...] = ()
    remarks: tuple[Remark, ...] = ()
    shares: tuple[Share, ...] = ()
    buy: tuple[Purchased, ...] = ()
    fertigation: tuple[FeedSpell, ...] = ()
    not_ready: tuple[Fault, ...] = ()  # why nobody should sign it as it stands


def rules_version(tables: Tables) -> str:
    """Version of code and tables together; a plan kept under it can be explained by it.

    Source: definition.

    >>> from agronomy.intake.example import tables
    >>> len(rules_version(tables)) > 6
    True
    """
    return f"{__version__}+{tables.version}"


def make_plan(request: Request, tables: Tables) -> Plan:
    """The plan for a request. Same request and tables, same plan, to the byte.

    Rates in kg/ha, area in m2. Source: each application's own.

    >>> from agronomy.intake.example import bed, tables
    >>> make_plan(bed(), tables).applications[0].what
    'CaCO3'
    """
    return make_plans([request], tables)[0]


def make_plans(requests: Sequence[Request], tables: Tables) -> list[Plan]:
    """The plan for each request, as make_plan, in their order.

    All go through one stage before the first goes through the next: the code and tables of a stage then stay near the processor
    (docs/decisions/0013-kept-simple.md). Source: each application's own.

    >>> from agronomy.intake.example import bed, tables
    >>> [plan.applications[0].what for plan in make_plans([bed(), bed()], tables)]
    ['CaCO3', 'CaCO3']
    """
    walks = [_walk(request, tables) for request in requests]
    plans: list[Plan] = []
    while len(plans) < len(walks):
        for walk in walks:
            try:
                next(walk)
            except StopIteration as done:
                plans.append(done.value)
    return plans


def _walk(request: Request, tables: Tables) -> Generator[None, None, Plan]:
    """All stages for one request; waits after each."""
    found = assess(request, tables)
    yield
    answers = answers_by(request.school, found, tables)
    needs, soil = answers.needs(), found.soil
    applications, unmet, met, asked, traces = _chosen(found, answers, tables)
    yield
    if request.plot.ground == "bale":
        applications, asked = bale_plan(request, tables)
        conflicts: list[Conflict] = []
    else:
        applications, conflicts, left = dated(applications, found, tables)
        applications, beyond = within_budget(applications, request.budget)
        applications = _as_given(applications, request, tables)
        unmet += left + beyond
    test = next_test(found, applications, _last_taken(found.readings), tables)
    open_ = dosed_instead(tuple(answer for answer in answers.all if isinstance(answer, Unmet)), (*traces, *asked)) + unmet
    yield
    notes = (*_notes(request, found.readings, soil, applications, tables), *(conflict.says for conflict in conflicts))
    yield
    first = headline(found, applications, answers.all, open_, tables)
    advice = advice_for(facts_of(found, applications, needs, tables), request.crop.name, tables)
    yield
    plan = Plan(
        rules_version=rules_version(tables),
        request_sha256=request.sha256,
        school=request.school,
        soil=_ground_taken(soil),
        findings=tuple(_with_expected(finding, answers.acidity, applications, found.figures) for finding in found.findings()),
        needs=(*needs, *traces, *asked),
        applications=tuple(applications),
        nothing=_left_out([answer for answer in answers.all if isinstance(answer, Nothing)] + met, [*traces, *asked]),
        unmet=tuple(open_),
        cautions=tuple(cautions_for(applications, tables, by_machine=request.plot.kind == "field")),
        unjudged=found.unjudged,
        doubts=_doubts(found, tables),
        notes=notes,
        cost=round(sum(application.cost for application in applications if not application.later), 2),
        retest=test.day,
        next_test=test.says,
        headline=first.says,
        rests=first.rests,
        advice=advice,
        credits=found.credits,
        remarks=_remarks(found, needs, applications, tables),
        shares=shares(found.readings, soil, tables),
        buy=purchased(applications, request, tables),
        fertigation=_fertigation(found, applications, tables),
    )
    return _read_by_the_critic(plan, found)


def _as_given(applications: list[Application], request: Request, tables: Tables) -> list[Application]:
    """The doses with what each plant gets, and in weekly feeds where they go through the drippers."""
    told = weekly(applications, request.plants, request.units, tables)
    return for_each(told, request.plants, request.units, least_g=tables.choice.least_for_each_g.value)


def _read_by_the_critic(plan: Plan, found: Assessment) -> Plan:
    """The plan, with what keeps it from being signed."""
    faults = faults_of(plan, facts_for_critic(found))
    return replace(plan, not_ready=faults) if faults else plan


def _chosen(
    found: Assessment, answers: Answers, tables: Tables
) -> tuple[list[Application], list[Unmet], list[Nothing], list[Need], list[Need]]:
    """All that is put on, what stays unmet or comes along, and the needs of gypsum, pots and trace elements beside those of the school."""
    applications, unmet, met = _applications(found, answers, tables)
    micros = micronutrient_doses(found, tables)
    amended, asked = gypsum_dose(found, tables)
    potted, pot_needs = pot_feed(found, tables)
    asked = [*asked, *pot_needs]
    applications += [*micros.applications, *amended, *potted]
    return applications, dosed_instead(tuple(unmet), tuple(asked)), met, asked, list(micros.needs)


def _fertigation(found: Assessment, applications: list[Application], tables: Tables) -> tuple[FeedSpell, ...]:
    """The weeks of feeding through the drippers, where there is an injector."""
    plot, salt = found.request.plot, found.readings.get("water EC")
    if plot.injector is None:
        return ()
    gear = Gear(
        area_m2=plot.area_m2,
        injector=plot.injector,
        tank_l=plot.stock_tank_l,
        water_ec=salt.value if salt is not None else tables.liquids.water_ec_usual.value,
        system=found.request.units,
    )
    return feed_spells(applications, gear, tables)


def _left_out(nothing: list[Nothing], asked: list[Need]) -> tuple[Nothing, ...]:
    """What gets nothing, but for what is given after all: in pots and bales, and of trace elements."""
    given = {need.what for need in asked}
    return tuple(item for item in nothing if item.nutrient not in given)


def _ground_taken(soil: Soil) -> SoilSummary:
    return SoilSummary(
        texture=soil.texture,
        bulk_density_g_per_cm3=soil.bulk_density_g_per_cm3,
        cec_cmol_per_kg=soil.cec_cmol_per_kg,
        soil_mass_t_per_ha=soil.soil_mass_t_per_ha,
        organic_matter_pct=soil.organic_matter_pct,
        working=soil.steps,
    )


def _doubts(found: Assessment, tables: Tables) -> tuple[str, ...]:
    """What does not go together, what has no day, and what can hardly be."""
    return (
        *(joined((item.says, item.check)) for item in found.contradictions),
        *_undated_nitrate(found.request),
        *(doubt.text for doubt in doubts_between(found.readings, tables).values()),
    )


def _remarks(found: Assessment, needs: list[Need], applications: list[Application], tables: Tables) -> tuple[Remark, ...]:
    """What water, harvests, leaves and the balance of the readings give to say."""
    request = found.request
    return (
        *water_remarks(found, tables),
        *harvest_remarks(found, tables),
        *leaf_and_ground(found.leaves, found.nutrients, found.acidity, tables),
        *leaf_ratios(found.readings, request.crop.key, tables),
        *remarks(
            found.readings,
            found.nutrients,
            needs,
            request.crop,
            found.soil,
            tables,
            slope_pct=request.plot.slope_pct,
            water_m=request.plot.water_distance_m,
            sulfur_kg_per_ha=sum(item.supplies.get("S", 0.0) for item in applications if not item.later),
        ),
    )


def _applications(found: Assessment, answers: Answers, tables: Tables) -> tuple[list[Application], list[Unmet], list[Nothing]]:
    """Chosen materials as dated doses, what stays unmet, and what comes along with another."""
    request, soil, needs = found.request, found.soil, answers.needs()
    by_load = compost_dose(found, tables) if wants_compost(found, tables) else []
    met_by_load: list[Nothing] = []
    if by_load:
        for need in needs:
            if need.what in ("P", "K", "Mg", "S"):
                met_by_load.append(
                    Nothing(need.what, say("No extra {spoken}: the load of compost brings what is short.", spoken=SPOKEN[need.what]))
                )
        needs = [need for need in needs if need.what not in ("P", "K", "Mg", "S")]
    shop, where = available_products(request, tables), ground_for(found, answers, tables)
    saved: list[Nothing] = []
    while True:  # what is saved up brings nothing along for the others, so they are chosen again without it
        choices, unmet, met = select(needs, where, shop, tables, request.aim, most_bags=request.most_bags, lost_times=request.lost_times)
        choices, too_little = laid_evenly(choices, request, shop, tables)
        saved += too_little
        too_little = [item for item in too_little if item.nutrient != "N"]  # the nitrogen of other bags is counted on
        if not too_little:
            break
        needs = [need for need in needs if all(need.what != item.nutrient for item in too_little)]
    met += saved
    choices = priced_by_pack(choices, request, tables)
    applications: list[Application] = []
    for choice in choices:
        limits = answers.dressing if choice.need.what in ACIDITY else None
        doses, waiting = applications_for(choice, request, found.calendar, soil=soil, dressing=limits, tables=tables)
        applications += doses
        unmet += waiting
        if choice.need.share_now < 1:
            unmet.append(
                Unmet(
                    choice.need.what,
                    choice.need.rate_kg_per_ha * (1 - choice.need.share_now),
                    say("The other half waits for the next test."),
                )
            )
    return [*by_load, *applications], unmet, [*met, *met_by_load]


def _with_expected(finding: Finding, need: Answer, applications: list[Application], figures: dict) -> Finding:
    """The pH finding with where this season's lime or sulfur should bring it: straight in proportion to the part of the need met."""
    if finding.analyte != "pH" or not isinstance(need, Need):
        return finding
    met = sum(application.supplies[need.what] for application in applications if application.what == need.what and not application.later)
    target = figures["lime_to"] if need.what == NeedKind.LIME else figures["acid_to"]
    share = min(1.0, met / need.rate_kg_per_ha)
    return replace(finding, expected=finding.value + (target - finding.value) * share)


def _notes(request: Request, readings: dict[str, Reading], soil: Soil, applications: list[Application], tables: Tables) -> list[str]:
    """What was assumed, said plainly."""
    said = [SCHOOLS[request.school].NOTE] if SCHOOLS[request.school].NOTE else []
    grown = tables.crops[request.crop.key].name
    if request.crop_asked and request.crop_asked != grown and request.companion is None:
        said.append(say("It is fed as {grown}, not as {asked}.", grown=grown, asked=request.crop_asked))
    if request.companion is not None:
        told = say(
            "Fed once for both, as the hungrier: {lead} sets the days and the nitrogen. Both are held to what {along} tolerates.",
            lead=grown,
            along=request.companion.name,
        )
        said.append(told)
    if not soil.texture_known and request.plot.ground not in ("container", "bale"):
        said.append(say("The texture isn't known, so an ordinary loam is assumed. A feel test would sharpen this."))
    if soil.low_activity_clay:
        said.append(say("The exchange capacity is small for so much clay: it is treated as kaolin or oxide clay, which needs less lime."))
    if not soil.organic_matter_known and readings:
        said.append(say("Organic matter wasn't tested; an ordinary figure is used."))
    said += [
        say(
            "{first} and {second}: {days} days apart on the ground, {reason}.",
            first=large(item.first),
            second=item.second,
            days=item.days,
            reason=item.reason,
        )
        for item in clashes([tables.materials[key] for key in dict.fromkeys(application.material for application in applications)], tables)
        if item.days and item.together in ("never", "apart") and _near(item, applications)
    ]
    mulch, surface = request.plot.mulch_cm, [item for item in applications if not item.poured]
    if mulch is not None and mulch >= tables.choice.mulch_drawn_aside_cm.value and surface:
        said.append(say("Draw the mulch ({mulch:g} of it) aside first and put it back after.", mulch=Measure(mulch, "cm")))
    said += said_passes(applications, request, tables)
    if request.climate is not None and request.planting is not None and request.planting >= request.today:
        on_field = request.plot.kind == "field"
        said += filter(None, [frost_risk(request.crop, request.planting, request.climate, tables, on_field=on_field)])
    oldest = min((reading.taken for reading in readings.values() if reading.taken), default=None)
    if oldest is not None and is_too_old(oldest, request.today, tables):
        said.append(say("Some readings are more than three years old. Test again before spending much."))
    return said


def _undated_nitrate(request: Request) -> list[str]:
    """A question where nitrate was sampled on a day that nobody told."""
    undated = any(reading.analyte == "NO3-N" and reading.taken is None for reading in request.readings)
    return [say("When was the nitrate sampled? It moves with every rain, so it is not counted until you say.")] if undated else []


def _near(clash: Clash, applications: list[Application]) -> bool:
    """Whether two materials that must lie apart come near each other in this plan at all."""
    days = clash.days + NEAR_DAYS
    first, second = ([item for item in applications if item.name == name] for name in (clash.first, clash.second))
    return any(abs((one.from_ - other.from_).days) <= days for one in first for other in second)


def _last_taken(readings: dict[str, Reading]) -> date | None:
    return max((reading.taken for reading in readings.values() if reading.taken), default=None)
