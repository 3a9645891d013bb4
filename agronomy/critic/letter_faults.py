"""Checks of a letter beside its plan: what it leaves out, and what it says otherwise."""

import re
from collections.abc import Iterator

from agronomy.base.said import say
from agronomy.critic.fault import Facts, Fault, Written

NAMES = {"N": "nitrogen", "P": "phosph", "K": "potas", "Mg": "magnesium", "S": "sulfur", "CaCO3": "lime"}
BROKEN = ("and", "or", "the", "of", "with", "to", "than")
FRAGMENT = re.compile(rf"[,;]$|\b({'|'.join(BROKEN)})\.(\s|$)")
MOST_WORDS = 350
HEAD_OF_A_DOUBT = 25  # letters of a doubt by which it is known again
SOON = 60  # days within which a day of the next year needs no year


def letter_faults(plan: Written, facts: Facts, letter: str) -> tuple[Fault, ...]:
    """What keeps a letter from being sent; empty where nothing does. Source: own-experience.

    Areas in m2.

    >>> from agronomy.intake.example import facts, plan
    >>> [fault.id for fault in letter_faults(plan(), facts(), "Good day,")][:1]
    ['letter_misses_material']
    """
    return tuple(_faults(plan, facts, letter))


def _faults(plan: Written, facts: Facts, letter: str) -> Iterator[Fault]:
    lower, flat = letter.lower(), _flat(letter)
    now = [item for item in plan.applications if not item.later]
    many = "in the plan." in lower and "more job" in lower
    for item in now:
        if item.name.lower() not in lower and not many:
            yield Fault("letter_misses_material", say("The letter leaves out {name}.", name=item.name))
        elif not many and _flat(item.measure) not in flat:
            yield Fault("letter_misses_amount", say("The letter gives no amount of {name}.", name=item.name))
        another_year = (item.from_ - facts.today).days > SOON and item.from_.year != facts.today.year
        if another_year and str(item.from_.year) not in letter and not many:
            says = say("{name} is for {year}, and the letter gives no year.", name=item.name, year=item.from_.year)
            yield Fault("letter_without_year", says)
    for unmet in plan.unmet:
        name = NAMES.get(unmet.what)
        if name and unmet.rate_kg_per_ha > 0 and name not in lower:
            yield Fault("letter_misses_unmet", say("The letter is silent about {name}, which is not met.", name=name))
    for doubt in plan.doubts:
        if _flat(doubt)[:HEAD_OF_A_DOUBT].lower() not in flat.lower():
            yield Fault("letter_misses_doubt", say("The letter is silent about a doubt of the plan: {doubt}", doubt=doubt))
    left = re.search(r"Not needed\.[^\n]*", letter)
    for item in now:
        name = NAMES.get(item.what)
        if left and name and re.search(rf"\b{name}\w*:", left[0].lower()):
            yield Fault("letter_contradicts", say("The letter leaves out {name} and gives it.", name=name))
    if any(FRAGMENT.search(line.strip()) for line in letter.splitlines()[2:]):
        yield Fault("letter_fragment", say("A sentence of the letter is broken off."))
    if len(letter.split()) > MOST_WORDS:
        yield Fault("letter_long", say("The letter is over a page."))


def _flat(text: str) -> str:
    """A text with plain single blanks."""
    return re.sub(r"\s+", " ", text)
