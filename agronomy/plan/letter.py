"""A plan as a letter of a page: what to do, why, what to leave, what to test next. Every figure in it is the plan's own."""

from collections.abc import Callable
from itertools import groupby

from agronomy.base.record import record
from agronomy.base.said import Reader, joined, say, say_n, small
from agronomy.dose.application import Application
from agronomy.model.answers import Because, Need
from agronomy.plan.plan import Plan
from agronomy.plan.telling import tell_plan

MOST_JOBS, MOST_REASONS, MOST_ADVICE, MOST_UNMET = 12, 3, 4, 3
MAIN = {
    "N": say("Nitrogen"),
    "P": say("Phosphorus"),
    "K": say("Potassium"),
    "Mg": say("Magnesium"),
    "S": say("Sulfur"),
    "CaCO3": say("Lime"),
    "S_acid": say("Sulfur to lower the pH"),
}
TRACE = {"B": say("boron"), "Zn": say("zinc"), "Mn": say("manganese"), "Fe": say("iron"), "Cu": say("copper"), "Mo": say("molybdenum")}


@record
class Letter:
    """Paragraphs of a letter, with who writes to whom."""

    greeting: str
    paragraphs: tuple[str, ...]
    farewell: str

    @property
    def text(self) -> str:
        return "\n\n".join((self.greeting, *self.paragraphs, self.farewell))


def letter(plan: Plan, *, plot: str, crop: str, to: str = "", by: str = "", reader: Reader | None = None) -> Letter:
    """The letter of a plan, under 400 words. `to` and `by` are names; without them it is written to the plot's owner. In the units of
    `reader`, or those that the plan was asked in.

    Source: own-experience.
    Figures as the plan says them (kg, g, days).

    >>> from agronomy.intake.example import plan
    >>> letter(plan(), plot="Long bed", crop="cabbage").greeting.split(",")[0]
    'Good day'
    """
    tell: Callable[[str], str] = reader.tell if reader else str
    if reader is not None:
        plan = tell_plan(plan, reader)
    paragraphs = [plan.headline, *_jobs(plan, tell), _unmet(plan, tell), _leave(plan), _why(plan), _advice(plan), tell(_next(plan))]
    return Letter(
        greeting=(say("Dear {to}", to=to) if to else say("Good day")) + say(",\n{plot}: {crop}", plot=plot, crop=crop),
        paragraphs=tuple(part for part in paragraphs if part),
        farewell="With kind regards" + (f",\n{by}" if by else ""),
    )


def _jobs(plan: Plan, tell: Callable[[str], str]) -> list[str]:
    """What to do, in order of date; the same bag on several days in one sentence."""
    now = [item for item in plan.applications if not item.later]
    lines = []
    for _, group in groupby(sorted(now, key=lambda item: (item.material, item.what, item.measure, item.from_)), key=_same):
        items = list(group)
        lines.append((items[0].from_, tell(_sentence(items))))
    told = [text for _, text in sorted(lines, key=lambda pair: pair[0])]
    if not told:
        return []
    beyond = len(told) - MOST_JOBS
    more = say_n("{count} more job stands in the plan.", "{count} more jobs stand in the plan.", beyond) if beyond > 0 else ""
    waits = [
        tell(say("{measure} of {item} waits: a new test decides it.", measure=item.measure, item=item.name))
        for item in plan.applications
        if item.later
    ]
    return ["What to do:\n" + "\n".join(filter(None, [*told[:MOST_JOBS], more, *waits[:1]]))]


def _same(item: Application) -> tuple[str, str, str, str]:
    return item.material, item.what, item.measure, item.placement


def _sentence(items: list[Application]) -> str:
    first = items[0]
    days = [say("{day:%-d %B}", day=item.from_) for item in items]
    when = (
        say("From {day}", day=days[0])
        if len(days) == 1
        else say("From {days} and {last}, each time", days=joined(days[:-1], ", "), last=days[-1])
    )
    place = first.placement.split(",")[0]
    return say("{when}: {measure} of {first}, {place}.", when=when, measure=first.measure, first=first.name, place=place)


def _leave(plan: Plan) -> str:
    """What not to give: what there is plenty of, and what was not tested, each in few words."""
    given = {"S"} if any(item.what == "S_acid" for item in plan.applications) else set()  # sulfur is not left out where it sours
    needless = [item for item in plan.nothing if item.because not in (Because.UNTESTED, Because.UNJUDGED) and item.nutrient not in given]
    tested = [item.why.split(".")[0].split(":")[0] for item in needless]
    untested = [item.why.split(" was ")[0] for item in plan.nothing if item.because is Because.UNTESTED]
    unjudged = [item.why.split(" was ")[0] for item in plan.nothing if item.because is Because.UNJUDGED]
    said = []
    if tested:
        said.append(say("Leave out what is not needed. ") + ". ".join(dict.fromkeys(tested)) + ".")
    if untested:
        said.append(say("Not tested, so nothing is said of it: {names}.", names=", ".join(name.lower() for name in untested)))
    if unjudged:
        said.append(say("Tested, but not judged here: {names}.", names=", ".join(name.lower() for name in unjudged)))
    return " ".join(said)


def _unmet(plan: Plan, tell: Callable[[str], str]) -> str:
    """What is wanted and not given: each main nutrient with its first reason, trace elements by name."""
    wanted = [item for item in plan.unmet if item.rate_kg_per_ha > 0]
    lines = [
        say("{name}: {why}", name=MAIN[item.what], why=small(item.why.split(". ")[0].rstrip(".") + "."))
        for item in wanted
        if item.what in MAIN
    ][:MOST_UNMET]
    trace = list(dict.fromkeys(TRACE[item.what] for item in wanted if item.what in TRACE))
    if trace:
        lines.append(say("Low, but nothing is given for it here; the plan says why: {names}.", names=joined(trace, ", ")))
    return tell(say("Not met. {lines}", lines=joined(lines))) if lines else ""


def _why(plan: Plan) -> str:
    reasons = list(dict.fromkeys(_reason(need) for need in plan.needs if need.why and need.what != "N"))
    return "Why. " + " ".join(reasons[:MOST_REASONS]) if reasons else ""


def _reason(need: Need) -> str:
    """The first sentence of a need's reason; that of lime tells only how it was reckoned, so it is told of what."""
    first = need.why.split(". ")[0].rstrip(".") + "."
    return say("The lime is reckoned {first}", first=small(first)) if need.says_how else first


def _advice(plan: Plan) -> str:
    return " ".join(item.says for item in plan.advice[:MOST_ADVICE])


def _next(plan: Plan) -> str:
    return say("The next test: about {retest:%B %Y}. {next_test}", retest=plan.retest, next_test=plan.next_test).strip()
