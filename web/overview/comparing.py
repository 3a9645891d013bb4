"""What other ways there are for a plot, each with what it would change, told before it is opened."""

from dataclasses import dataclass, replace

from django.urls import reverse
from django.utils import timezone

from agronomy.base.errors import RequestError
from agronomy.intake.request import read_request
from agronomy.model.answers import SPOKEN
from agronomy.plan.plan import Plan, make_plan
from agronomy.recommend.schools.registry import NAMES
from agronomy.whatif.aims import plans_by_aim
from agronomy.whatif.fit import fit
from agronomy.whatif.within import Within, within_means
from web.core import tables
from web.date_format import said
from web.ground.models import Plot
from web.planning.requests import request_document
from web.planning.service import crop_of, lines_by_plot

AIMS = {"money": "least money", "fewest": "fewest bags", "loss": "least loss"}
TRIED_CROPS = 12


@dataclass(frozen=True, slots=True)
class Comparison:
    """One way of comparing: its name, its page, and in a line what it would change here."""

    name: str
    address: str
    says: str


def comparisons(request, plot: Plot) -> list[Comparison]:
    """All that can be compared on a plot; only what fits its kind, and only the other crops where there is no plan yet."""
    crops = Comparison("Another crop", reverse("planning:fits"), "Which crops this ground suits as it is.")
    lines = lines_by_plot([plot])[plot.pk]
    if plot.planting is None or crop_of(plot) is None or not lines or plot.kind == "bale":
        return [crops]
    try:
        asked = read_request(request_document(plot, plot.planting, lines, today=timezone.localdate(), units=request.place.units), tables())
    except RequestError:
        return [crops]
    sign, mine = plot.holding.currency, make_plan(asked, tables())
    schools = {key: make_plan(replace(asked, school=key), tables()) for key in NAMES}
    by_aim = plans_by_aim(asked, tables())
    rows = [
        Comparison("Approaches to fertilizing", reverse("planning:schools", args=[plot.pk]), _schools(schools, asked.school, sign)),
        Comparison("Other bags for the same needs", reverse("planning:aims", args=[plot.pk]), _bags(by_aim, mine, sign)),
    ]
    told = within_means(asked, tables(), most_money=None)
    rows.append(Comparison("With what you have", reverse("desks:means", args=[plot.pk]), _means(told)))
    if any(item.what == "N" for item in mine.applications):
        rows.append(Comparison("Nitrogen sources", reverse("planning:nitrogen_sources", args=[plot.pk]), _nitrogen(mine)))
    if plot.kind != "container":
        rows += [
            Comparison("Ways to move pH", reverse("desks:acidity", args=[plot.pk]), _acidity(mine)),
            Comparison("Manure or compost instead", reverse("desks:manure", args=[plot.pk]), _manure(mine)),
        ]
    return [*rows, Comparison(crops.name, f"{crops.address}?plot={plot.pk}", _crops(asked))]


def _schools(plans: dict[str, Plan], chosen: str, sign: str) -> str:
    costs = {NAMES[key]: plan.cost for key, plan in plans.items()}
    low, high = min(costs, key=lambda name: costs[name]), max(costs, key=lambda name: costs[name])
    yours = f"yours, {NAMES[chosen]}, {sign}{plans[chosen].cost:.2f}"
    if costs[low] == costs[high]:
        return f"All six ask for the same here: {sign}{costs[low]:.2f}."
    return f"This season from {sign}{costs[low]:.2f} ({low}) to {sign}{costs[high]:.2f} ({high}); {yours}."


def _bags(plans: dict[str, Plan], mine: Plan, sign: str) -> str:
    told = [f"{AIMS[aim]} {sign}{plan.cost:.2f} in {_count(plan)}" for aim, plan in plans.items() if aim in AIMS]
    return f"{'; '.join(told)[0].upper()}{'; '.join(told)[1:]}. Yours: {sign}{mine.cost:.2f} in {_count(mine)}."


def _means(told: Within) -> str:
    if not told.needs:
        return "Nothing is needed, so the shed stays as it is."
    if not told.lines:
        return "Nothing in the shed serves here. What a given sum of money would do."
    used = " and ".join(line.material.name for line in told.lines)
    left = " and ".join(SPOKEN[key] for key in told.undone)
    return f"From the shed alone: {used}. {f'It leaves {left} open.' if left else 'That meets all.'} Or with so much money."


def _count(plan: Plan) -> str:
    count = len({item.material for item in plan.applications if not item.later})
    return f"{count} material{'s' if count != 1 else ''}"


def _nitrogen(mine: Plan) -> str:
    names = list(dict.fromkeys(item.name for item in mine.applications if item.what == "N"))
    return f"Yours: {' and '.join(names)}. Others by price, by what is lost to the air, and by what they do to pH."


def _acidity(mine: Plan) -> str:
    dose = next((item for item in mine.applications if item.what in ("CaCO3", "S_acid")), None)
    if dose is None:
        return "pH is to stay as it is. How fast it would move, and with what."
    return f"Yours: {dose.measure} of {dose.name} from {said(dose.from_, 'j F')}. Quicker and slower ways, and a moment's relief."


def _manure(mine: Plan) -> str:
    phosphorus = next((item for item in mine.findings if item.analyte == "P"), None)
    if phosphorus is not None and phosphorus.is_plenty:
        return "Phosphorus is plenty already: manure would bring more of it. How little would do."
    return "How many tonnes would stand in for the bags, and what they bring beside."


def _crops(asked) -> str:
    """How many of some common crops do well on this ground, and which."""
    others = [crop for crop in tables().crops.values() if crop.group == asked.crop.group and crop.key != asked.crop.key][:TRIED_CROPS]
    well = [crop.name for crop in others if fit(asked, crop, tables()).word == "well"]
    if not others:
        return "Which crops this ground suits as it is."
    if not well:
        return f"Of {len(others)} crops of its kind none would do well without work."
    return f"Of {len(others)} crops of its kind {len(well)} would do well: {', '.join(well[:3])}{' and others' if len(well) > 3 else ''}."
