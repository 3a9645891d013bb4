"""Which crop would fit which ground: the same readings judged for another crop, in words and with what it would take."""

from collections.abc import Sequence
from dataclasses import replace

from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.model.answers import NeedKind
from agronomy.model.request import Request
from agronomy.plan.plan import Plan, make_plans
from agronomy.tables import Tables
from agronomy.tables.crop import Crop

ORDER = {"well": 0, "with work": 1, "poorly": 2, "not known": 3}


@record
class Fit:
    """How a crop fits a plot: "well", "with work", "poorly" or "not known", why, and what the plan for it would cost."""

    crop: str
    name: str
    word: str
    why: str
    cost: float


def fit(request: Request, crop: Crop, tables: Tables) -> Fit:
    """The Fit of a crop for the ground and readings of a request.

    pH weighs most, since it takes longest to move: ground that is too alkaline for a crop fits poorly where sulfur can't
    change it. Shortage of two nutrients or more, or of lime, is work; plenty is none. Source: own-experience.

    >>> from agronomy.intake.example import bed, tables
    >>> fit(bed(), tables.crops["blueberry"], tables).crop
    'blueberry'
    """
    return fits_of(request, [crop], tables)[0]


def fits_of(request: Request, crops: Sequence[Crop], tables: Tables) -> list[Fit]:
    """The Fit of each crop, in their order. Source: own-experience.

    Costs per plot, rates in kg/ha.

    >>> from agronomy.intake.example import bed, tables
    >>> [fit.crop for fit in fits_of(bed(), [tables.crops["blueberry"], tables.crops["cabbage"]], tables)]
    ['blueberry', 'cabbage']
    """
    fresh = replace(request, planting=None, yield_goal_t_per_ha=None, target_ph=None, response=None)
    plans = make_plans([replace(fresh, crop=crop) for crop in crops], tables)
    return [Fit(crop.key, crop.name, *_judged(plan, crop, tables), plan.cost) for crop, plan in zip(crops, plans, strict=True)]


def _judged(plan: Plan, crop: Crop, tables: Tables) -> tuple[str, str]:
    acidity = next((finding for finding in plan.findings if finding.analyte == "pH"), None)
    if acidity is None:
        return "not known", say("there is no pH reading")
    salt = next((finding for finding in plan.findings if finding.analyte == "EC"), None)
    if salt is not None and salt.class_ == "too_salty":
        return "poorly", say(
            "there is too much salt: {salt:.1f} dS/m where it tolerates {wanted:g}", salt=salt.value, wanted=salt.wanted[1]
        )
    short = [
        finding.name.lower()
        for finding in plan.findings
        if finding.analyte in ("P", "K", "Mg", "S") and finding.class_ in ("short", "very_short")
    ]
    if acidity.class_ == "too_alkaline" and acidity.act:
        off = acidity.value - acidity.wanted[1]
        cannot = any(answer.what == NeedKind.ACIDIFIER for answer in plan.unmet)
        if cannot or off > tables.schools.fit_alkaline_by.value:
            return "poorly", say(
                "pH {acidity:.1f} is above {wanted:.1f} and can hardly be brought down", acidity=acidity.value, wanted=acidity.wanted[1]
            )
        return "with work", say("pH {acidity:.1f} is a little high; sulfur and time would bring it down", acidity=acidity.value)
    if acidity.class_ == "too_acid" and acidity.act:
        off = acidity.wanted[0] - acidity.value
        if off > tables.schools.fit_acid_by.value:
            return "poorly", say(
                "pH {acidity:.1f} is far below {wanted:.1f}; lime takes years to change that",
                acidity=acidity.value,
                wanted=acidity.wanted[0],
            )
        return "with work", say(
            "pH {acidity:.1f} needs lime first{which}", acidity=acidity.value, which=f"; {_listed(short)} short" if short else ""
        )
    if salt is not None and salt.class_ == "salty":
        return "with work", say(
            "salt takes some of its yield: {salt:.1f} dS/m where it tolerates {wanted:g}", salt=salt.value, wanted=salt.wanted[1]
        )
    if len(short) > 1:
        return "with work", say("{listed} are short", listed=_listed(short))
    if acidity.class_ != "right":
        return "well", say(
            "pH {acidity:.1f} is a little outside its range, not enough to act on{which}",
            acidity=acidity.value,
            which=f"; {short[0]} short" if short else "",
        )
    return "well", say("{short} is short, the rest is right", short=short[0]) if short else say(
        "pH {acidity:.1f} suits {crop} and nothing is short", acidity=acidity.value, crop=crop.name
    )


def _listed(names: list[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def best_crops(request: Request, crops: list[Crop], tables: Tables) -> list[Fit]:
    """The fits of some crops, best first; equals by what they would cost. Source: own-experience.

    Costs per plot, rates in kg/ha.

    >>> from agronomy.intake.example import bed, tables
    >>> [fit.crop for fit in best_crops(bed(), [tables.crops["blueberry"], tables.crops["cabbage"]], tables)]
    ['cabbage', 'blueberry']
    """
    return sorted(fits_of(request, crops, tables), key=lambda item: (ORDER[item.word], item.cost, item.name))
