"""Checks of a plan. Each is written anew from what an adviser would not sign; none calls the rules that made the plan."""

import re
from collections.abc import Iterator
from datetime import timedelta

from agronomy.base.said import Measure, say
from agronomy.critic.fault import Dressing, Facts, Fault, Written

MAIN = ("N", "P", "K", "Mg", "S")
ACIDITY = ("CaCO3", "S_acid")
NOT_FOOD = (*ACIDITY, "Na", "OM")
WORKED = re.compile(
    "|".join(("worked in", "raked in", "dug in", "ploughed", "harrowed", "with the seedbed", "before planting")), re.IGNORECASE
)
WELL = re.compile("|".join(("only nitrogen", "near right", "nothing is needed")), re.IGNORECASE)
MOST_IN_A_YEAR = {"N": 450.0, "P": 240.0, "K": 650.0, "Mg": 250.0}  # kg/ha of the element; no guide of any crop gives more
MET = 0.6  # of a need: what is less is told as unmet
AFTER_SOWING = timedelta(days=3)
SHORT_OF_AIM = 0.4  # pH


def faults_of(plan: Written, facts: Facts) -> tuple[Fault, ...]:
    """What keeps a plan from being signed, in the order of the checks; empty where nothing does.

    Rates in kg/ha, totals in kg, areas in m2. Source: own-experience.

    >>> from agronomy.intake.example import facts, plan
    >>> faults_of(plan(), facts())
    ()
    """
    return (
        *_dates(plan, facts),
        *_worked_in(plan, facts),
        *_untold(plan, facts),
        *_given_and_left_out(plan),
        *_untested(plan, facts),
        *_classes(plan),
        *_aim(plan),
        *_totals(plan, facts),
        *_stock(plan, facts),
        *_headline(plan),
    )


def _now(plan: Written) -> list[Dressing]:
    return [item for item in plan.applications if not item.later]


def _dates(plan: Written, facts: Facts) -> Iterator[Fault]:
    for item in plan.applications:
        if item.from_ < facts.today:
            says = say("{name} is dated {day:%-d %b %Y}, which is past.", name=item.name, day=item.from_)
            yield Fault("date_behind", says)
        if item.to < item.from_:
            yield Fault("date_backwards", say("The window of {name} ends before it begins.", name=item.name))
        feeds = item.what not in NOT_FOOD and not item.later
        if feeds and facts.ends is not None and item.from_ > facts.ends:
            says = say(
                "{name} is dated {day:%-d %b %Y}, and the crop is over by {ends:%-d %b %Y}.",
                name=item.name,
                day=item.from_,
                ends=facts.ends,
            )
            yield Fault("past_harvest", says)


def _worked_in(plan: Written, facts: Facts) -> Iterator[Fault]:
    if facts.apart or (facts.planting is None and not facts.stands):
        return
    for item in plan.applications:
        if not WORKED.search(item.placement) or "not dug in" in item.placement:
            continue
        if facts.stands:
            late = True
        elif facts.planting is None:
            late = False
        else:
            last = facts.planting if facts.perennial else facts.planting + AFTER_SOWING
            late = item.from_ > last and (facts.perennial or facts.ends is None or item.from_ < facts.ends - timedelta(days=20))
        if late and not (item.later and not facts.perennial) and "fter this crop" not in item.timing_note:
            yield Fault("worked_in_after_planting", say("{name} would be worked in where plants already stand.", name=item.name))


def _untold(plan: Written, facts: Facts) -> Iterator[Fault]:
    if facts.apart:
        return
    told = {item.what for item in plan.unmet} | {item.nutrient for item in plan.nothing}
    for need in plan.needs:
        given = sum(item.supplies.get(need.what, 0.0) for item in plan.applications)
        if need.what in (*MAIN, *ACIDITY) and need.what not in told and given < MET * need.rate_kg_per_ha:
            says = say(
                "{need:.0f} of {what} is needed, {given:.0f} is given, and nothing explains the rest.",
                need=Measure(need.rate_kg_per_ha, "kg/ha"),
                given=Measure(given, "kg/ha"),
                what=need.what,
            )
            yield Fault("need_untold", says)


def _given_and_left_out(plan: Written) -> Iterator[Fault]:
    given = {item.what for item in _now(plan)}
    for item in plan.nothing:
        if item.nutrient in given and item.nutrient in (*MAIN, *ACIDITY):
            yield Fault("given_and_left_out", say("{what} is left out and given in one plan.", what=item.nutrient))


def _untested(plan: Written, facts: Facts) -> Iterator[Fault]:
    for item in plan.nothing:
        if item.because == "untested" and item.nutrient in facts.read:
            yield Fault("tested_called_untested", say("{what} was tested, and the plan calls it untested.", what=item.nutrient))


def _classes(plan: Written) -> Iterator[Fault]:
    seen: dict[str, str] = {}
    for finding in plan.findings:
        before = seen.setdefault(finding.analyte, finding.class_)
        if before != finding.class_:
            says = say("{name} is called {one} and {other}.", name=finding.name, one=before, other=finding.class_)
            yield Fault("class_twice", says)


def _aim(plan: Written) -> Iterator[Fault]:
    finding = next((item for item in plan.findings if item.analyte == "pH" and item.expected is not None), None)
    limes = [item for item in plan.applications if item.what == "CaCO3"]
    if finding is None or finding.expected is None or not limes or any(item.later for item in limes):
        return
    told = any(item.what == "CaCO3" for item in plan.unmet)
    if finding.expected < finding.wanted[0] - SHORT_OF_AIM and not told:
        says = say("The lime brings pH to {expected:.1f}; the target is {wanted:.1f}.", expected=finding.expected, wanted=finding.wanted[0])
        yield Fault("aim_not_reached", says)


def _totals(plan: Written, facts: Facts) -> Iterator[Fault]:
    food = [item for item in _now(plan) if item.what not in NOT_FOOD]
    for nutrient, most in MOST_IN_A_YEAR.items():
        given = sum(item.supplies.get(nutrient, 0.0) for item in food)
        if not facts.apart and given > most:
            says = say("{given:.0f} of {what} in one season is more than any guide gives.", given=Measure(given, "kg/ha"), what=nutrient)
            yield Fault("total_too_large", says)
    for item in plan.applications:
        whole = item.rate_kg_per_ha * facts.area_m2 / 10_000
        if abs(item.total_kg - whole) > 0.02 * whole + 1e-6:
            says = say("{name}: rate and area make {whole:.3g} kg, not {total:.3g} kg.", name=item.name, whole=whole, total=item.total_kg)
            yield Fault("total_wrong", says)


def _stock(plan: Written, facts: Facts) -> Iterator[Fault]:
    for material, kg in facts.free.items():
        items = [item for item in _now(plan) if item.material == material]
        used = sum(item.total_kg for item in items)
        if used > 1.05 * kg and not sum(item.cost for item in items):
            says = say("{used:.3g} kg of {name} at no cost, and {kg:.3g} kg lie there.", used=used, name=items[0].name, kg=kg)
            yield Fault("stock_twice", says)


def _headline(plan: Written) -> Iterator[Fault]:
    if plan.doubts:
        return
    calls_it_well = WELL.search(str(plan.headline))
    needed = {need.what for need in plan.needs} | {item.what for item in plan.unmet if item.rate_kg_per_ha > 0}
    starved = [
        item for item in plan.findings if item.class_ == "very_short" and item.analyte in ("P", "K", "Mg") and item.analyte in needed
    ]
    for finding in starved:
        unnamed = finding.name.lower().split(" (")[0] not in str(plan.headline).lower()
        if calls_it_well and unnamed:
            says = say("{name} is very short, and the headline does not say so.", name=finding.name)
            yield Fault("headline_not_largest", says)
