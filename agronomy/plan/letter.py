"""A plan as a letter of a page: what to do, why, what is still open or not needed, the next test. Every figure is the plan's own."""

from collections.abc import Callable
from datetime import date
from itertools import groupby

from agronomy.base.record import record
from agronomy.base.said import Rate, Reader, SameYear, joined, large, say, say_n, small
from agronomy.dose.application import Application
from agronomy.model.answers import Because, Need
from agronomy.model.request import Request
from agronomy.plan.plan import Plan
from agronomy.plan.telling import tell_plan

MOST_JOBS, MOST_REASONS, MOST_ADVICE, MOST_UNMET, MOST_SENTENCES = 16, 5, 3, 4, 2
MOST_TRACES = 2  # told with their reason
MOST_SPELLS = 6  # of feeding through the drippers
MOST_WORDS = 316  # a page that somebody reads to its end, with its head and its farewell
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
GRAVEST = ("pH", "Na", "EC")  # the ground's own trouble goes before hunger, also where nothing can be bought against it
IN_ORDER = ("right", "building")


@record
class Section:
    """A part of a letter: its title ("Why"; "" for none) and its lines, a list where `is_list`."""

    title: str
    lines: tuple[str, ...]
    is_list: bool = False

    @property
    def text(self) -> str:
        if self.is_list:
            return f"{self.title}:\n" + "\n".join(self.lines)
        told = joined(self.lines)
        return f"{self.title}. {told}" if self.title else told


@record
class Letter:
    """A letter in its parts: what it is about, the greeting, the sections, and who writes."""

    subject: str
    greeting: str
    sections: tuple[Section, ...]
    farewell: str
    by: str = ""

    @property
    def paragraphs(self) -> tuple[str, ...]:
        return tuple(section.text for section in self.sections)

    @property
    def text(self) -> str:
        signed = f"{self.farewell},\n{self.by}" if self.by else self.farewell
        return "\n\n".join((f"{self.greeting}\n{self.subject}", *self.paragraphs, signed))


@record(kw_only=True)
class Head:
    """What a letter is about beside the plan: when the crop is planted, the day of the newest test, whether in pots."""

    planting: date | None = None
    tested: date | None = None
    today: date | None = None
    in_pots: bool = False


def letter(
    plan: Plan, *, plot: str, crop: str, to: str = "", by: str = "", reader: Reader | None = None, head: Head | None = None
) -> Letter:
    """The letter of a plan, under 350 words. `to` and `by` are names; without them it is written to the plot's owner. In the units of
    `reader`, or those that the plan was asked in.

    Source: own-experience.
    Figures as the plan says them (kg, g, days).

    >>> from agronomy.intake.example import plan
    >>> letter(plan(), plot="Long bed", crop="cabbage").subject
    'Long bed: cabbage'
    """
    tell: Callable[[str], str] = reader.tell if reader else str
    system = reader.system if reader else "metric"
    head = head or Head()
    if reader is not None:
        plan = tell_plan(plan, reader)
    for sentences in (MOST_SENTENCES, 1, 0):  # what does not fit on the page is told shorter
        sections = [
            Section("", (plan.headline,)),
            Section(say("What to do"), tuple(_jobs(plan, tell, system, in_pots=head.in_pots)), is_list=True),
            Section(say("Each week’s feed"), tuple(tell(line) for line in _dripped(plan, sentences)), is_list=True),
            Section(say("Why"), tuple(_why(plan, sentences))),
            Section(say("Still open"), tuple(tell(line) for line in _open(plan, sentences))),
            Section(say("Not needed"), tuple(_needless(plan, with_reasons=sentences > 0))),
            Section("", (tell(_next(plan)),)),
        ]
        room = MOST_WORDS - sum(len(section.text.split()) for section in sections)
        if room >= 0:
            break
    sections.insert(-1, Section("", tuple(_advice(plan, room))))
    return Letter(
        subject=tell(_subject(plot, crop, head)),
        greeting=say("Dear {to},", to=to) if to else say("Good day,"),
        sections=tuple(section for section in sections if section.lines),
        farewell=say("With kind regards"),
        by=by,
    )


def head_of(request: Request) -> Head:
    """What a letter says of a request beside its plan.

    Source: user-value.

    >>> from agronomy.intake.example import bed
    >>> head_of(bed()).in_pots
    False
    """
    days = [reading.taken for reading in request.readings if reading.taken is not None]
    in_pots = request.plot.ground == "container"
    return Head(planting=request.planting, tested=max(days, default=None), today=request.today, in_pots=in_pots)


def _subject(plot: str, crop: str, head: Head) -> str:
    planted = ""
    if head.planting:
        is_past = head.today is not None and head.planting < head.today
        planted = say(", planted {day:%-d %B %Y}" if is_past else ", planting {day:%-d %B %Y}", day=head.planting)
    tested = say(". From the test of {day:%-d %B %Y}.", day=head.tested) if head.tested else ""
    return say("{plot}: {crop}{planted}{tested}", plot=plot, crop=crop, planted=planted, tested=tested)


def _jobs(plan: Plan, tell: Callable[[str], str], system: str, *, in_pots: bool) -> list[str]:
    """What to do, in order of date; the same bag on several days in one line."""
    now = [item for item in plan.applications if not item.later]
    groups = [list(group) for _, group in groupby(sorted(now, key=lambda item: (*_same(item), item.from_)), key=_same)]
    told: list[str] = []
    before = ""
    for items in sorted(groups, key=lambda items: items[0].from_):
        first = items[0]
        way = say("in the same way") if first.placement == before and len(first.placement.split()) > 4 else first.placement
        before = first.placement
        told.append(tell(_line(items, way, system, in_pots=in_pots)))
    if not told:
        return []
    beyond = len(told) - MOST_JOBS
    more = say_n("{count} more job is in the plan.", "{count} more jobs are in the plan.", beyond) if beyond > 0 else ""
    waits = [
        tell(say("The second half waits for the next test: {measure} of {item}.", measure=item.measure, item=item.name))
        for item in plan.applications
        if item.later
    ]
    return [line for line in (*told[:MOST_JOBS], more, *waits[:1]) if line]


def _dripped(plan: Plan, sentences: int) -> list[str]:
    """What goes into the stock tanks, and how it is let in safely."""
    # tanks that may not meet are told of however short the letter: it stands in the second sentence
    told = [_sentences(spell.says, sentences + min(2, len(spell.tanks))) for spell in plan.fertigation[:MOST_SPELLS]]
    if not told:
        return []
    beyond = len(plan.fertigation) - MOST_SPELLS
    if beyond > 0:
        told.append(say_n("{count} more feed is in the plan.", "{count} more feeds are in the plan.", beyond))
    safe = say("Let it in during the middle third of a watering, behind a valve against backflow; then ten minutes of clear water.")
    return [*told, safe]


def _same(item: Application) -> tuple[str, str, str, str]:
    return item.material, item.what, item.measure, item.placement


def _line(items: list[Application], way: str, system: str, *, in_pots: bool) -> str:
    """A dose: dates, amount for the whole plot, product, rate, how."""
    first = items[0]
    if len(items) == 1:
        when = _window(first)
    else:
        days = [say("{day:%-d %B}", day=_beside(item.from_, items[-1].from_)) for item in items[:-1]]
        last = say("{day:%-d %B %Y}", day=items[-1].from_)
        when = say("{days} and {last}, each time", days=joined(days, ", "), last=last)
    rates = [part for part in ("" if in_pots else _rate(first, system), first.each) if part]
    rate = say(" ({rates})", rates=joined(rates, "; ")) if rates else ""
    strength = _strength(first) if in_pots else ""
    return say(
        "{when}: {measure} of {name}{rate}, {way}.{strength}",
        when=when,
        measure=first.measure,
        name=first.name,
        rate=rate,
        way=way,
        strength=strength,
    )


def _window(item: Application) -> str:
    """Both ends of a window, with the year."""
    if item.to <= item.from_:
        return say("{day:%-d %B %Y}", day=item.from_)
    if item.from_.year == item.to.year and item.from_.month == item.to.month:
        return say("{first} to {last:%-d %B %Y}", first=str(item.from_.day), last=item.to)
    if item.from_.year == item.to.year:
        return say("{first:%-d %B} to {last:%-d %B %Y}", first=_beside(item.from_, item.to), last=item.to)
    return say("{first:%-d %B %Y} to {last:%-d %B %Y}", first=item.from_, last=item.to)


def _beside(day: date, last: date) -> date:
    """A day as it stands before another: without its year where that is the same."""
    return SameYear(day.year, day.month, day.day) if day.year == last.year else day


def _rate(item: Application, system: str) -> str:
    """The rate by the habit of ground of that size; nothing where the plot is too small for one to help."""
    if item.rate_kg_per_ha <= 0 or item.total_kg <= 0 or item.poured:
        return ""
    area_m2 = item.total_kg / item.rate_kg_per_ha * 10_000
    return say("{rate}", rate=Rate(item.rate_kg_per_ha, area_m2, system))


def _strength(item: Application) -> str:
    """How strong a pot's feed is, as the plan has it."""
    return say(" {note}", note=_sentences(item.timing_note, 1)) if item.timing_note else ""


def _sentences(text: str, count: int) -> str:
    """The first sentences of a text, whole."""
    parts = text.split(". ")
    cut = ". ".join(parts[:count]).rstrip()
    return cut if cut.endswith((".", "!", "?")) or not cut else cut + "."


def _why(plan: Plan, sentences: int) -> list[str]:
    """The reasons in order of what matters: the ground's own trouble, then each need."""
    found = {finding.analyte: finding for finding in plan.findings}
    reasons = [_sentences(found[key].why, 1) for key in GRAVEST if key in found and found[key].class_ not in IN_ORDER and found[key].why]
    for need in plan.needs:  # a need whose first sentence was told with its finding says the rest
        if need.why and need.what != "N":
            first, told = _sentences(need.why, 1), _reason(need, sentences)
            reasons.append(told.removeprefix(first).strip() if first in reasons else told)
    return list(dict.fromkeys(reason for reason in reasons if reason))[: MOST_REASONS if sentences else 3]


def _reason(need: Need, sentences: int) -> str:
    """The reason of a need in whole sentences; that of lime tells only how it was reckoned, so it is told of what."""
    first = _sentences(need.why, 1 if need.says_how else max(1, sentences))
    return say("The lime is worked out {first}", first=small(first)) if need.says_how else first


def _open(plan: Plan, sentences: int) -> list[str]:
    """What is wanted and not given, what is unsure, and what nobody tested."""
    wanted = [item for item in plan.unmet if item.rate_kg_per_ha > 0]
    lines = [
        say("{name}: {why}", name=MAIN[item.what], why=small(_sentences(item.why, max(1, sentences))))
        for item in wanted
        if item.what in MAIN
    ]
    traces = [_sentences(item.why, 2) for item in wanted if item.what in TRACE][:MOST_TRACES]
    return [*list(dict.fromkeys(lines))[:MOST_UNMET], *traces, *plan.doubts, *_untested(plan)]


def _untested(plan: Plan) -> list[str]:
    """What was not tested, and what was tested and can't be judged: two answers."""
    names: dict[Because, list[str]] = {Because.UNTESTED: [], Because.UNJUDGED: []}
    for item in plan.nothing:
        if item.because in names:
            names[item.because].append(item.why.split(" was ")[0].lower().removesuffix(" (sulfate)"))
    untested, unjudged = (joined(dict.fromkeys(names[because]), ", ") for because in (Because.UNTESTED, Because.UNJUDGED))
    said: list[str] = []
    if untested:
        said.append(say("Not tested, so we cannot say whether you need any: {names}.", names=untested))
    if unjudged:
        said.append(say("Tested, but not judged here: {names}.", names=unjudged))
    return said


def _needless(plan: Plan, *, with_reasons: bool) -> list[str]:
    """What is not needed, each with the reason that a grower would ask for."""
    given = {"S"} if any(item.what == "S_acid" for item in plan.applications) else set()  # sulfur is not left out where it sours
    told = []
    for item in plan.nothing:
        if item.because in (Because.UNTESTED, Because.UNJUDGED) or item.nutrient in given:
            continue
        head, colon, reason = _sentences(item.why, 1).partition(": ")
        name = MAIN.get(item.nutrient) or TRACE.get(item.nutrient)
        if name and not with_reasons:
            told.append(say("{name}.", name=large(name)))
        elif colon and name:
            told.append(say("{name}: {reason}.", name=large(name), reason=small(reason.rstrip("."))))
        else:
            told.append(say("{head}.", head=large(head.rstrip("."))))
    return list(dict.fromkeys(told))


def _advice(plan: Plan, room: int) -> list[str]:
    """What to watch for, as far as the page has room for it; what stands under “still open” is not told again."""
    told: list[str] = []
    for item in plan.advice:
        words = len(item.says.split())
        if len(told) == MOST_ADVICE or words > room:
            continue
        room -= words
        told.append(item.says)
    return told


def _next(plan: Plan) -> str:
    """When to test next and what; what a doubt has said already is not said again."""
    told = "" if any(plan.next_test in doubt for doubt in plan.doubts) else plan.next_test
    return say("The next test: about {retest:%B %Y}. {next_test}", retest=plan.retest, next_test=told).strip()
