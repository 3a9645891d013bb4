"""A plan as a letter of a page: what to do, why, what to leave, what to test next. Every figure in it is the plan's own."""

from itertools import groupby

from agronomy.base.record import record
from agronomy.dose.application import Application
from agronomy.model.answers import Need
from agronomy.plan.plan import Plan

MOST_JOBS, MOST_REASONS, MOST_ADVICE = 7, 3, 4
NOT_TESTED = "not tested"


@record
class Letter:
    """Paragraphs of a letter, with who writes to whom."""

    greeting: str
    paragraphs: tuple[str, ...]
    farewell: str

    @property
    def text(self) -> str:
        return "\n\n".join((self.greeting, *self.paragraphs, self.farewell))


def letter(plan: Plan, *, plot: str, crop: str, to: str = "", by: str = "") -> Letter:
    """The letter of a plan, under 400 words. `to` and `by` are names; without them it is written to the plot's owner.

    Source: own-experience.
    Figures as the plan says them (kg, g, days).

    >>> from agronomy.intake.example import plan
    >>> letter(plan(), plot="Long bed", crop="cabbage").greeting.split(",")[0]
    'Good day'
    """
    paragraphs = [plan.headline, *_jobs(plan), _leave(plan), _why(plan), _advice(plan), _next(plan)]
    return Letter(
        greeting=f"{'Dear ' + to if to else 'Good day'},\n{plot}: {crop}",
        paragraphs=tuple(part for part in paragraphs if part),
        farewell="With kind regards" + (f",\n{by}" if by else ""),
    )


def _jobs(plan: Plan) -> list[str]:
    """What to do, in order of date; the same bag on several days in one sentence."""
    now = [item for item in plan.applications if not item.later]
    lines = []
    for key, group in groupby(sorted(now, key=lambda item: (item.material, item.what, item.measure, item.from_)), key=_same):
        items = list(group)
        lines.append((items[0].from_, _sentence(items, key)))
    told = [text for _, text in sorted(lines, key=lambda pair: pair[0])]
    if not told:
        return []
    more = f" {len(told) - MOST_JOBS} smaller jobs stand in the plan." if len(told) > MOST_JOBS else ""
    return ["What to do:\n" + "\n".join(told[:MOST_JOBS]) + more]


def _same(item: Application) -> tuple[str, str, str, str]:
    return item.material, item.what, item.measure, item.placement


def _sentence(items: list[Application], key: tuple[str, str, str, str]) -> str:
    first = items[0]
    days = [f"{item.from_:%-d %B}" for item in items]
    when = f"From {days[0]}" if len(days) == 1 else f"From {', '.join(days[:-1])} and {days[-1]}, each time"
    place = first.placement.split(",")[0]
    return f"{when}: {first.measure} of {first.name}, {place}."


def _leave(plan: Plan) -> str:
    """What not to give: what there is plenty of, and what was not tested, each in few words."""
    tested = [item.why.split(".")[0].split(":")[0] for item in plan.nothing if NOT_TESTED not in item.why]
    untested = [item.why.split(" was ")[0] for item in plan.nothing if NOT_TESTED in item.why]
    said = []
    if tested:
        said.append("Leave out what is not needed. " + ". ".join(dict.fromkeys(tested)) + ".")
    if untested:
        said.append(f"Not tested, so nothing is said of it: {', '.join(name.lower() for name in untested)}.")
    return " ".join(said)


def _why(plan: Plan) -> str:
    reasons = list(dict.fromkeys(_reason(need) for need in plan.needs if need.why and need.what != "N"))
    return "Why. " + " ".join(reasons[:MOST_REASONS]) if reasons else ""


def _reason(need: Need) -> str:
    """The first sentence of a need's reason; that of lime tells only how it was reckoned, so it is told of what."""
    first = need.why.split(". ")[0].rstrip(".") + "."
    return f"The lime is reckoned {first[0].lower()}{first[1:]}" if need.what == "CaCO3" and first.startswith("From ") else first


def _advice(plan: Plan) -> str:
    return " ".join(item.says for item in plan.advice[:MOST_ADVICE])


def _next(plan: Plan) -> str:
    return f"The next test: about {plan.retest:%B %Y}. {plan.next_test}".strip()
