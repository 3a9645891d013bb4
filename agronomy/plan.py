"""The walk through all stages, from readings to dated doses; reads like the diagram of the work.

reading -> finding -> need -> choice -> dose -> date
"""

from dataclasses import dataclass, replace
from datetime import date

from agronomy import __version__
from agronomy.acidity.caps import Dressing, lime_dressing, sulfur_dressing
from agronomy.acidity.lime_need import lime_need
from agronomy.acidity.sulfur_need import sulfur_need
from agronomy.cautions import Caution, cautions_for
from agronomy.choose.choice import Shop
from agronomy.choose.nutrient_sources import Ground
from agronomy.choose.selection import select
from agronomy.dose.application import Application
from agronomy.interpret.acidity import judge_acidity, ph_range
from agronomy.interpret.balance import Remark, Share, remarks, shares
from agronomy.interpret.finding import Finding
from agronomy.interpret.nutrients import Critical, NoRule, judge_nutrient
from agronomy.interpret.plausibility import doubts_between
from agronomy.interpret.salinity import SALT, judge_salt, salt_answers
from agronomy.nutrients.credits import Credit, credits_for
from agronomy.nutrients.micronutrients import MICRONUTRIENTS, micronutrient_answers
from agronomy.nutrients.nitrogen import NitrogenCase
from agronomy.own import target_for
from agronomy.reading import Reading, best_readings
from agronomy.request import Request
from agronomy.schedule.windows import applications_for, calendar_for, is_too_old, keep_apart_from_lime, retest_day
from agronomy.schools import low_input, sufficiency
from agronomy.schools.adjust import less_credits, within_caps
from agronomy.schools.need import Answer, Need, Nothing, Unmet
from agronomy.schools.registry import SCHOOLS
from agronomy.schools.situation import Situation
from agronomy.soil import Soil, describe_soil
from agronomy.tables import Tables
from agronomy.working import Step

JUDGED = ("P", "K", "Mg", "Ca", "S", "OM", *MICRONUTRIENTS)  # the order of the teeth after pH, then what has none
WORST_FIRST = {
    "too_acid": 0,
    "too_alkaline": 0,
    "too_salty": 0,
    "sodic": 0,
    "salty": 1,
    "sodium_rising": 1,
    "excess": 1,
    "very_short": 1,
    "short": 2,
    "plenty": 3,
    "building": 3,
    "right": 4,
}


@dataclass(frozen=True, slots=True)
class SoilSummary:
    """What the plan took the ground to be."""

    texture: str
    bulk_density_g_per_cm3: float
    cec_cmol_per_kg: float
    soil_mass_t_per_ha: float
    organic_matter_pct: float
    working: tuple[Step, ...]


@dataclass(frozen=True, slots=True)
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
    credits: tuple[Credit, ...] = ()
    remarks: tuple[Remark, ...] = ()
    shares: tuple[Share, ...] = ()


def rules_version(tables: Tables) -> str:
    """Version of code and tables together; a plan kept under it can be explained by it."""
    return f"{__version__}+{tables.version}"


def make_plan(request: Request, tables: Tables) -> Plan:
    """The plan for a request. Same request and tables, same plan, to the byte."""
    readings = best_readings(list(request.readings))
    soil = soil_of(request, readings, tables)
    ph_finding, judged, unjudged = _findings(request, readings, soil, tables)
    salty = judge_salt(readings, request.crop, soil, tables)
    salt = {item.analyte: item for item in salty if isinstance(item, Finding)}
    unjudged += [item for item in salty if isinstance(item, NoRule)]
    figures = ph_range(request.crop, soil, request.target_ph, tables)
    acidity, dressing = _acidity_answer(request, readings, ph_finding, figures, soil, tables)
    credits = _credits(request, readings, soil, tables)
    answers = [*acidity, *_by_school(request, readings, judged, soil, credits, tables)]
    if not any(isinstance(answer, Unmet) and answer.what == "Ca" for answer in answers):
        answers += sufficiency.calcium_answer(judged, limes=any(isinstance(answer, Need) and answer.what == "CaCO3" for answer in acidity))
    answers += micronutrient_answers(judged, request.crop, readings["pH"].value if "pH" in readings else None, tables)
    answers += salt_answers(salt, soil, tables)
    needs = [answer for answer in answers if isinstance(answer, Need)]
    unmet = [answer for answer in answers if isinstance(answer, Unmet)] + sufficiency.organic_matter_note(judged)
    applications, more_unmet, met = _applications(request, needs, ph_finding, judged, figures, soil, dressing, tables)
    findings = _in_order(ph_finding, judged, salt)
    if ph_finding is not None:
        findings = [_with_expected(finding, acidity, applications, figures) if finding is ph_finding else finding for finding in findings]
    return Plan(
        rules_version=rules_version(tables),
        request_sha256=request.sha256,
        school=request.school,
        soil=SoilSummary(soil.texture, soil.bulk_density_g_per_cm3, soil.cec_cmol_per_kg, soil.soil_mass_t_per_ha, soil.organic_matter_pct, soil.steps),
        findings=tuple(findings),
        needs=tuple(needs),
        applications=tuple(applications),
        nothing=tuple([answer for answer in answers if isinstance(answer, Nothing)] + met),
        unmet=tuple(unmet + more_unmet),
        cautions=tuple(cautions_for(applications, tables)),
        unjudged=tuple(unjudged),
        doubts=tuple(doubt.text for doubt in doubts_between(readings, tables).values()),
        notes=tuple(_notes(request, readings, soil, tables)),
        cost=round(sum(application.cost for application in applications if not application.later), 2),
        retest=retest_day(applications, _last_taken(readings), soil, request.today, tables),
        credits=credits,
        remarks=remarks(readings, {key: finding for key, (finding, _) in judged.items()}, needs, request.crop, soil, tables),
        shares=shares(readings, soil, tables),
    )


def soil_of(request: Request, readings: dict[str, Reading], tables: Tables) -> Soil:
    """The ground, with organic matter and CEC from a reading before the plot's own description."""
    om, cec, ph = readings.get("OM"), readings.get("CEC"), readings.get("pH")
    return describe_soil(
        request.plot,
        om.value if om else request.plot.organic_matter_pct,
        cec.value if cec and cec.value > 0 else request.plot.cec_cmol_per_kg,
        ph.value if ph else None,
        tables,
    )


def _findings(request: Request, readings: dict[str, Reading], soil: Soil, tables: Tables):
    """The finding on pH (or None), findings on nutrients with their critical levels, and what no rule here can judge."""
    ph = readings.get("pH")
    figures = ph_range(request.crop, soil, request.target_ph, tables)
    ph_finding = judge_acidity(ph, request.crop, figures, tables) if ph else None
    judged: dict[str, tuple[Finding, Critical]] = {}
    unjudged: list[NoRule] = []
    for analyte in sorted(readings, key=lambda key: (key not in JUDGED, JUDGED.index(key) if key in JUDGED else key)):
        if analyte in ("pH", "buffer pH", "CEC", "NO3-N", "NH4-N", "carbonate", *SALT) or (analyte == "Al" and ph_finding and ph_finding.class_ == "too_acid"):
            continue
        if analyte not in JUDGED:
            unjudged.append(
                NoRule(analyte, f"{tables.analytes[analyte]['name']} is kept, but this version has no rule for it yet", "see an adviser if it worries you")
            )
            continue
        result = judge_nutrient(
            readings[analyte], request.crop, soil, ph.value if ph else None, tables, target_for(request.targets, analyte, readings[analyte].method)
        )
        if isinstance(result, NoRule):
            unjudged.append(result)
        else:
            judged[analyte] = result
    return ph_finding, judged, unjudged


def _credits(request: Request, readings: dict[str, Reading], soil: Soil, tables: Tables) -> tuple[Credit, ...]:
    return credits_for(
        request.gifts,
        readings,
        soil,
        uncounted=request.uncounted,
        today=request.today,
        crop_from=request.planting or request.today,
        south=request.plot.hemisphere == "south",
        tables=tables,
    )


def _by_school(request: Request, readings: dict[str, Reading], judged: dict, soil: Soil, credits: tuple[Credit, ...], tables: Tables) -> list[Answer]:
    """The needs as the request's school has them, less what the plot is given anyway, within the owner's caps."""
    ph = readings["pH"].value if "pH" in readings else None
    nitrogen = NitrogenCase(credits, readings.get("NO3-N"), request.planting, request.response)
    situation = Situation(judged, request.crop, soil, request.yield_goal_t_per_ha, ph, tables, nitrogen)
    return within_caps(less_credits(SCHOOLS[request.school].needs(situation), credits, tables), request.caps)


def _acidity_answer(
    request: Request, readings: dict[str, Reading], finding: Finding | None, figures: dict, soil: Soil, tables: Tables
) -> tuple[list[Answer], Dressing | None]:
    """The answer on acidity: lime, sulfur, or nothing; with the limits of one dressing where something is put on."""
    if finding is None:
        return [Unmet("CaCO3", 0.0, "There is no pH reading, so nothing is said of lime or sulfur. It is the first test to make.")], None
    ph = readings["pH"]
    slack = tables.schools["low_input_ph_slack"].value
    if request.school == low_input.KEY and finding.class_ != "right" and finding.wanted[0] - slack <= ph.value <= finding.wanted[1] + slack:
        return [Nothing("CaCO3", f"pH {ph.value:.1f} is within {slack:g} of the range, and this school leaves it alone.")], None
    if finding.class_ == "too_alkaline":
        dressing = sulfur_dressing(soil, tables)
        answer = sulfur_need(
            finding,
            ph,
            target_ph=figures["acid_to"],
            kind=request.plot.kind,
            is_acid_lover=request.crop.is_acid_lover,
            soil=soil,
            dressing=dressing,
            tables=tables,
            carbonate=readings.get("carbonate"),
        )
        return [answer], dressing
    dressing = lime_dressing(request.plot.kind, request.crop, soil, tables)
    answer = lime_need(
        finding,
        ph,
        readings.get("buffer pH"),
        aluminium=readings.get("Al"),
        bases=_bases(readings, tables),
        tolerated_pct=tables.crop_traits[request.crop.key]["aluminium_pct"],
        target_ph=figures["lime_to"],
        is_grass=request.crop.is_grass,
        soil=soil,
        dressing=dressing,
        tables=tables,
    )
    return [answer], dressing


def _bases(readings: dict[str, Reading], tables: Tables) -> float | None:
    """Calcium and magnesium as charge [cmol/kg], where both were read."""
    if "Ca" not in readings or "Mg" not in readings:
        return None
    return sum(readings[key].value / tables.analytes[key]["mg_per_cmol"] for key in ("Ca", "Mg"))


def _applications(
    request: Request, needs: list[Need], ph_finding: Finding | None, judged: dict, figures: dict, soil: Soil, dressing: Dressing | None, tables: Tables
):
    """Chosen materials as dated doses in order of date, what stays unmet, and what comes along with another."""
    shop = Shop(tables.materials, request.only, request.shed, organic_only=request.organic_only, chloride=request.chloride)
    ph_after = figures["lime_to"] if any(need.what == "CaCO3" for need in needs) else ph_finding.value if ph_finding else None
    ground = Ground(request.crop, soil, ph_finding, ph_after, {key: finding for key, (finding, _) in judged.items()})
    choices, unmet, met = select(needs, ground, shop, tables)
    calendar = calendar_for(request.crop, request.planting, request.today, request.plot.hemisphere)
    applications: list[Application] = []
    for choice in choices:
        limits = dressing if choice.need.what in ("CaCO3", "S_acid") else None
        doses, waiting = applications_for(
            choice, area_m2=request.plot.area_m2, system=request.units, calendar=calendar, soil=soil, crop=request.crop, dressing=limits, tables=tables
        )
        applications += doses
        if waiting > 0:
            unmet.append(Unmet(choice.need.what, waiting, "More than two dressings would be needed; the rest waits for the test after them."))
        if choice.need.share_now < 1:
            unmet.append(Unmet(choice.need.what, choice.need.rate_kg_per_ha * (1 - choice.need.share_now), "The other half waits for the next test."))
    applications = keep_apart_from_lime(applications, tables)
    return sorted(applications, key=lambda application: (application.from_, application.material, application.dressing)), unmet, met


def _in_order(ph_finding: Finding | None, judged: dict[str, tuple[Finding, Critical]], salt: dict[str, Finding]) -> list[Finding]:
    found = ([ph_finding] if ph_finding else []) + [judged[key][0] for key in JUDGED if key in judged] + list(salt.values())
    return sorted(found, key=lambda finding: WORST_FIRST[finding.class_])


def _with_expected(finding: Finding, acidity: list[Answer], applications: list[Application], figures: dict) -> Finding:
    """The pH finding with where this season's lime or sulfur should bring it: straight in proportion to the part of the need met."""
    need = next((answer for answer in acidity if isinstance(answer, Need)), None)
    if need is None:
        return finding
    met = sum(application.supplies[need.what] for application in applications if application.what == need.what and not application.later)
    target = figures["lime_to"] if need.what == "CaCO3" else figures["acid_to"]
    share = min(1.0, met / need.rate_kg_per_ha)
    return replace(finding, expected=finding.value + (target - finding.value) * share)


def _notes(request: Request, readings: dict[str, Reading], soil: Soil, tables: Tables) -> list[str]:
    """What was assumed, said plainly."""
    said = [SCHOOLS[request.school].NOTE] if SCHOOLS[request.school].NOTE else []
    if not soil.texture_known:
        said.append("The texture isn't known, so an ordinary loam is reckoned with. A feel test would sharpen this.")
    if not soil.organic_matter_known and readings:
        said.append("Organic matter wasn't tested; an ordinary figure is used.")
    if any(reading.taken and is_too_old(reading.taken, request.today, tables) for reading in readings.values()):
        said.append("Some readings are more than three years old. Test again before spending much.")
    return said


def _last_taken(readings: dict[str, Reading]) -> date | None:
    return max((reading.taken for reading in readings.values() if reading.taken), default=None)
