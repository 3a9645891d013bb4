"""A plan in the words and units of its reader: what the templates get."""

from dataclasses import dataclass, replace
from datetime import date

from agronomy.base import showing
from agronomy.base.working import Step
from agronomy.dose.application import Application, brings, measures
from agronomy.dose.packs import say_purchase
from agronomy.model.answers import SPOKEN, Because
from agronomy.model.finding import Finding
from agronomy.plan.plan import Plan
from agronomy.plan.shopping import cost_in_words, to_buy
from agronomy.plan.telling import tell_plan
from agronomy.recommend.schools.registry import NAMES, SCHOOLS
from agronomy.tables import Tables
from agronomy.tables.catalogue import rows_behind
from agronomy.tables.material import Material
from web.drawing.rake import FINE, rake
from web.drawing.year_strip import Event, year_strip
from web.query_params import key_of
from web.sentences import reader_in, tell
from web.words import between, day, money, nutrient_in

CLASS_WORDS = {
    "too_acid": "too acid",
    "too_alkaline": "too alkaline",
    "very_short": "very short",
    "short": "short",
    "building": "building",
    "right": "right",
    "plenty": "plenty",
    "excess": "far too much",
    "salty": "salty",
    "too_salty": "far too salty",
    "sodium_rising": "sodium rising",
    "sodic": "sodic",
}
ON_THE_STRIP = {
    "CaCO3": "lime",
    "S_acid": "sulfur",
    "Na": "gypsum",
    "OM": "compost",
    "N": "nitrogen",
    "P": "phosphate",
    "K": "potash",
    "Mg": "magnesium",
    "S": "sulfate",
    "Zn": "zinc",
    "Mn": "manganese",
    "Fe": "iron",
    "Cu": "copper",
    "B": "boron",
}
CHANGES_GROUND = frozenset({"CaCO3", "S_acid", "Na", "OM"})
TIMES = {2: "twice", 3: "three times", 4: "four times", 5: "five times"}


@dataclass(frozen=True, slots=True)
class Reader:
    """How a reader likes figures: units, form of P and K, currency, size of the plot."""

    units: str
    nutrient_form: str
    currency: str
    area_m2: float
    equipment: tuple[str, ...] = ()  # what the holding spreads and lifts with
    litres: float | None = None  # of mix, where the plot is pots

    def rate(self, kg_per_ha: float) -> str:
        """A rate by the habit of the ground."""
        if self.litres:
            return showing.pot_rate(kg_per_ha, self.units, self.area_m2, self.litres)
        return showing.rate(kg_per_ha, self.units, self.area_m2)

    def nutrient(self, kg_per_ha: float) -> str:
        """A rate of a nutrient, in units an acre where farmers count so."""
        return self.rate(kg_per_ha) if self.litres else showing.nutrient_rate(kg_per_ha, self.units, self.area_m2)

    @property
    def ground(self) -> str:
        """How much ground, or mix, there is."""
        return showing.litres_of_mix(self.litres, self.units) if self.litres else showing.area(self.area_m2, self.units)


@dataclass(frozen=True, slots=True)
class JobView:
    """One line of "what to do": the same dose of one material, on one or more dates."""

    key: str
    material: str
    what: str
    when: tuple[str, ...]
    weight: str
    times: str
    name: str
    rate: str
    placement: str
    low: str
    high: str
    scoops: str | None
    bags: str | None
    cost: str
    why: str
    note: str
    later: bool
    cautions: tuple[str, ...]
    brings: str


def jobs(plan: Plan, today: date, reader: Reader, tables: Tables) -> list[JobView]:
    """The plan's applications, equal dressings of one material told as one line."""
    groups: dict[tuple, list[tuple[int, Application]]] = {}
    for place, application in enumerate(plan.applications):
        key = (application.material, application.what, application.later, f"{application.total_kg:.4g}", application.placement_pattern)
        groups.setdefault(key, []).append((place, application))
    views: list[JobView] = []
    told: set[str] = set()
    for group in groups.values():
        material = group[0][1].material
        # each caution stands at the first step it is for, and is not repeated at the next
        cautions = tuple(caution.text for caution in plan.cautions if material in caution.materials and caution.text not in told)
        told.update(cautions)
        views.append(_job(group, cautions, today, reader, tables))
    return views


def _to_buy(group: list[Application], material: Material, reader: Reader, tables: Tables) -> str:
    """The bags, big bags or loads that all these dressings want, by the bag that the plan was made with."""
    bag_kg = group[0].bag_kg or material.bag_kg
    bagged = material if bag_kg == material.bag_kg else replace(material, bag_kg=bag_kg)
    return say_purchase(sum(item.total_kg for item in group), bagged, reader.equipment, tables, reader.units)


def _job(group: list[tuple[int, Application]], cautions: tuple[str, ...], today: date, reader: Reader, tables: Tables) -> JobView:
    place, first = group[0]
    material = tables.materials.get(first.material)
    said = measures(first, material, reader.area_m2, reader.units) if material else {}
    cost = sum(application.cost for _, application in group)
    return JobView(
        key=f"dose-{place}",
        material=first.material,
        what=first.what,
        when=tuple(between(application.from_, application.to, today) for _, application in group),
        weight=said.get("weight") or first.measure,
        times=TIMES.get(len(group), f"{len(group)} times") if len(group) > 1 else "",
        name=first.name,
        rate=_rate(first, reader) if reader.litres else said.get("rate") or "",
        placement=first.placement,
        low=(said.get("low") or "") if said.get("low") != said.get("high") else "",
        high=said.get("high") or "",
        scoops=said.get("scoops"),
        bags=_to_buy([application for _, application in group], material, reader, tables) if material else None,
        cost=f"{reader.currency}{cost:.2f}" if cost else "",
        why=first.why,
        note=first.timing_note,
        later=first.later,
        cautions=cautions,
        brings=_brings(first, reader),
    )


def _rate(application: Application, reader: Reader) -> str:
    """The rate on pots; what is poured into the can is told by the can."""
    return "" if application.poured else reader.rate(application.rate_kg_per_ha)


def _brings(application: Application, reader: Reader) -> str:
    parts = []
    for nutrient, kg_per_ha in brings(application).items():
        label, amount = nutrient_in(nutrient, kg_per_ha, reader.nutrient_form)
        parts.append(f"{reader.nutrient(amount)} {label}")
    return ", ".join(parts)


def needs(plan: Plan, reader: Reader) -> list[dict]:
    """The needs as a table's rows."""
    rows = []
    for place, need in enumerate(plan.needs):
        label, amount = nutrient_in(need.what, need.rate_kg_per_ha, reader.nutrient_form)
        scale = amount / need.rate_kg_per_ha if need.rate_kg_per_ha else 1.0
        told = reader.rate if need.what in CHANGES_GROUND else reader.nutrient
        low, high = (told(end * scale) for end in (need.low_kg_per_ha, need.high_kg_per_ha))
        name = SPOKEN[need.what]
        if label not in (need.what, "CaCO₃", "S"):
            name += f", as {label}"
        rate = told(amount)
        others = [f"{other.method}: {told(other.rate_kg_per_ha * scale)}" for other in need.others]
        rows.append(
            {
                "key": f"need-{place}",
                "name": name,
                "rate": rate,
                "low": low,
                "high": high,
                "method": NAMES.get(need.method, need.method),
                "why": need.why,
                "others": others,
            }
        )
    return rows


def findings(plan: Plan) -> list[dict]:
    """Findings worst first, with their sentence and class word."""
    return [
        {
            "key": f"finding-{finding.analyte.replace(' ', '_')}",
            "name": finding.name,
            "class_": finding.class_,
            "word": CLASS_WORDS[finding.class_],
            "why": finding.why,
            "range": _range(finding),
        }
        for finding in plan.findings
    ]


def _range(finding: Finding) -> str:
    figures = "{:.1f}" if finding.high < 10 else "{:.0f}"
    unit = "" if finding.unit == "pH" else f" {finding.unit}"
    return f"{figures.format(finding.low)} to {figures.format(finding.high)}{unit}"


def steps_for(plan: Plan, key: str, units: str) -> tuple[str, tuple[Step, ...]] | None:
    """The heading and steps behind a key such as `dose-0`, `need-1`, `finding-P` or `soil`; None where there is none."""
    kind, _, which = key.partition("-")
    if kind == "soil":
        return "What the ground is taken to be", plan.soil.working
    if kind == "finding":
        return next(
            (
                (f"{finding.name}: {CLASS_WORDS[finding.class_]}", finding.working)
                for finding in plan.findings
                if finding.analyte == which.replace("_", " ")
            ),
            None,
        )
    at = key_of(which)
    if at is None:
        return None
    if kind == "dose" and at < len(plan.applications):
        dose = plan.applications[at]
        return f"{showing.mass(dose.total_kg, units, 3)} of {dose.name}", dose.working
    if kind == "need" and at < len(plan.needs):
        need = plan.needs[at]
        return f"The need of {SPOKEN[need.what]}", need.working
    return None


def steps(working: tuple[Step, ...], units: str, tables: Tables) -> list[dict]:
    """Steps with their figures in the reader's units and their sources by name."""
    return [
        {
            "name": step.name,
            "formula": step.formula,
            "inputs": [
                {
                    "name": name,
                    "text": showing.figure(figure.value, figure.unit, units),
                    "source": tables.sources.get(figure.source.partition(";")[0]),
                }
                for name, figure in step.inputs.items()
            ],
            "result": showing.figure(step.result.value, step.result.unit, units),
            "sources": [tables.sources[key] for key in step.source.split(";") if key in tables.sources],
            "where": step.where,
            "rows": rows_behind(step.source, step.where),
            "own_source": next((key for key in step.source.split(";") if key not in ("definition", "user-value", "user-target")), ""),
            "note": step.note,
        }
        for step in working
    ]


def strip(plan: Plan, planting: date | None, today: date):
    """The year strip of a plan."""
    events = [
        Event(ON_THE_STRIP[item.what], item.from_, item.to, "lime" if item.what in CHANGES_GROUND else "feed") for item in plan.applications
    ]
    if planting:
        events.append(Event("plant", planting, planting, "plant"))
    events.append(Event("test again", plan.retest, plan.retest, "test"))
    return year_strip(events, today)


def present(plan: Plan, *, today: date, planting: date | None, reader: Reader, tables: Tables) -> dict:
    """Everything a bench, a kept plan or a sheet shows."""
    plan = tell_plan(plan, reader_in(reader.units))
    general = [caution for caution in plan.cautions if not caution.materials]
    told = findings(plan)
    return {
        "plan": plan,
        "jobs": jobs(plan, today, reader, tables),
        "feed_spells": plan.fertigation,
        "drip_says": [row.says for row in tables.liquids.weather if row.way == "drip"],
        "needs": needs(plan, reader),
        "findings": told,
        "not_right": [item for item in told if item["class_"] != "right"] or told[:1],
        "right": [item for item in told if item["class_"] == "right"] if len(told) > 1 else [],
        "rake": rake(list(plan.findings), CLASS_WORDS),
        "fine_rake": rake(list(plan.findings), CLASS_WORDS, FINE),
        "strip": strip(plan, planting, today),
        "school": SCHOOLS[plan.school].NAME,
        "school_says": SCHOOLS[plan.school].SAYS,
        "headline": plan.headline,
        "not_ready": [fault.says for fault in plan.not_ready],
        "advice": plan.advice,
        "next_test": plan.next_test,
        "nothing": [item for item in plan.nothing if item.because not in (Because.UNTESTED, Because.UNJUDGED)],
        "untested": [tables.analytes[item.nutrient].name.lower() for item in plan.nothing if item.because is Because.UNTESTED],
        "unmet": plan.unmet,
        "general_cautions": general,
        "notes": plan.notes,
        "doubts": plan.doubts,
        "remarks": plan.remarks,
        "unjudged": plan.unjudged,
        "to_buy": to_buy(plan, reader.units),
        "cost": cost_in_words(plan, money(reader.currency)),
        "retest": day(plan.retest, year=True),
        "area": reader.ground,
    }


def asks(plan: Plan, today: date, reader: Reader, tables: Tables) -> str:
    """The one thing a plot asks for, as a short clause; empty where it asks for nothing."""
    soon = [job for job in jobs(plan, today, reader, tables) if not job.later]
    if not soon:
        return tell(plan.unmet[0].why, reader.units) if plan.unmet else ""
    first = next((job for job in soon if job.what in ("CaCO3", "S_acid")), soon[0])
    acidity = next((finding for finding in plan.findings if finding.analyte == "pH"), None)
    lead = f"{CLASS_WORDS[acidity.class_]}: " if acidity and first.what in ("CaCO3", "S_acid") else ""
    more = f", and {len(soon) - 1} more" if len(soon) > 1 else ""
    return f"{lead}{first.weight} {first.name}, {first.when[0]}{more}"
