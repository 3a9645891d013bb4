"""The doses of a plan on days that serve, and what is left out because its day never comes."""

from datetime import date

from agronomy.base.said import say
from agronomy.dose.application import Application, joined_with
from agronomy.model.answers import ACIDITY, SPOKEN, Unmet
from agronomy.plan.assess import Assessment
from agronomy.schedule.arrange import Conflict, arrange
from agronomy.schedule.calendar import Calendar
from agronomy.schedule.limits import limits_of
from agronomy.schedule.nitrogen_parts import most_at_once
from agronomy.tables import Tables


def dated(applications: list[Application], found: Assessment, tables: Tables) -> tuple[list[Application], list[Conflict], list[Unmet]]:
    """The doses on days that serve, what had to give way, and what is left out because its day never comes. Source: each limit's own.

    >>> from agronomy.intake.example import found, plan, tables
    >>> [item.what for item in dated(list(plan().applications), found(), tables)[0]][0]
    'CaCO3'
    """
    arranged, conflicts = arrange(applications, limits_of(found.request, found.soil, tables, found.calendar), tables)
    kept, over = _without_what_is_over(arranged, found.calendar)
    kept, late = _without_late_nitrogen(kept, applications, conflicts, found, tables)
    told = [conflict for conflict in conflicts if not any(item.what == "N" and conflict.name in item.why for item in late)]
    return kept, told, [*over, *late]


def _without_what_is_over(applications: list[Application], calendar: Calendar) -> tuple[list[Application], list[Unmet]]:
    """Food that would come when the crop is off the ground is left out, and told."""
    if calendar.stands or calendar.growth.stands_unit != "days":
        return applications, []
    ends, feeds = calendar.off_the_ground, SPOKEN.keys() - {*ACIDITY, "Na", "OM"}
    late = [item for item in applications if item.what in feeds and not item.later and item.from_ > ends]
    left = [
        Unmet(
            what,
            sum(item.supplies.get(what, 0.0) for item in late if item.what == what),
            say("The crop is off the ground by {ends:%-d %b}, before this would serve it: it is left out.", ends=ends),
        )
        for what in dict.fromkeys(item.what for item in late)
    ]
    return [item for item in applications if item not in late], left


def _without_late_nitrogen(
    applications: list[Application], meant: list[Application], conflicts: list[Conflict], found: Assessment, tables: Tables
) -> tuple[list[Application], list[Unmet]]:
    """Nitrogen that had to give way beyond the last useful stage joins the dressing before it, as far as roots bear so much at once. Else
    it is left out, and told why; late nitrogen does more harm than good.
    """
    last = max((item.to for item in meant if item.what == "N"), default=date.max)
    is_late = [item.what == "N" and (item.from_ - last).days > tables.choice.nitrogen_days_late.value for item in applications]
    kept = [item for item, late in zip(applications, is_late, strict=True) if not late]
    left = []
    for item in (item for item, late in zip(applications, is_late, strict=True) if late):
        before = max((other for other in kept if _takes_in(other, item, found, tables)), key=lambda other: other.from_, default=None)
        if before is not None:
            kept = [
                joined_with(other, item, found.request.plot.area_m2, found.request.units) if other is before else other for other in kept
            ]
            continue
        said = next((conflict.why for conflict in conflicts if conflict.name == item.name and conflict.instead == item.from_), "")
        why = say(
            "{measure} of {item} is left out: {why}, and by {start:%-d %B} it is past the last useful stage.",
            measure=item.measure,
            item=item.name,
            why=said or say("other work puts it off"),
            start=item.from_,
        )
        left.append(Unmet("N", item.supplies.get("N", 0.0), why))
    if found.calendar.stands and left and not any(item.what == "N" for item in kept):
        return applications, []  # what stands for years uses it in its next season, rather than none at all
    return kept, left


def _takes_in(other: Application, late: Application, found: Assessment, tables: Tables) -> bool:
    """Whether a dressing of the same bag bears the nitrogen of a later one that no day suits."""
    most = most_at_once(found.calendar.season, tables, is_light=found.soil.is_light)
    both = other.supplies.get("N", 0.0) + late.supplies.get("N", 0.0)
    return other.what == "N" and other.material == late.material and not other.later and both <= most
