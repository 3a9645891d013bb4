"""Which plot a sample's name in a file means: by the same name, a name within it, or one that nearly agrees; and why."""

import re
import unicodedata
from collections.abc import Mapping
from difflib import SequenceMatcher

from agronomy.base.record import record

NEAR, AHEAD = 0.82, 0.08  # how alike two names must be, and by how much more than the next; working figures of our own


@record
class Match:
    """What a name stands for, and why in a few words; `sure` where nobody need look at it."""

    target: str
    why: str
    sure: bool


def plain_name(text: str) -> str:
    """A name without case, accents and punctuation, to compare by. Source: definition.

    >>> plain_name("Müller's  Bed-7")
    'muller s bed 7'
    """
    letters = unicodedata.normalize("NFKD", text.casefold())
    return re.sub(r"[^a-z0-9]+", " ", "".join(letter for letter in letters if not unicodedata.combining(letter))).strip()


def match_name(name: str, known: Mapping[str, str]) -> Match | None:
    """The match of a name among known plain names and what each stands for; None where none or several fit.

    Numbers must agree: bed 1 never is bed 11. Source: definition.

    >>> known = {"long border 7": "plot:1", "long border 8": "plot:2", "quiet bed": "plot:3"}
    >>> match_name("Lng Border 7", known)
    Match(target='plot:1', why='nearly the same name', sure=False)
    >>> match_name("Lng Border 9", known) is None
    True
    """
    told = plain_name(name)
    if not told:
        return None
    if told in known:
        return Match(known[told], "the same name", True)
    within = [target for text, target in known.items() if text and re.search(rf"\b{re.escape(text)}\b", told)]
    if len(within) == 1:
        return Match(within[0], "the name stands in it", True)
    if within:
        return None
    alike = sorted(((_alike(told, text), target) for text, target in known.items() if _numbers(text) == _numbers(told)), reverse=True)
    if alike and alike[0][0] >= NEAR and (len(alike) == 1 or alike[0][0] - alike[1][0] >= AHEAD):
        return Match(alike[0][1], "nearly the same name", False)
    return None


def _numbers(text: str) -> list[str]:
    return sorted(number.lstrip("0") or "0" for number in re.findall(r"\d+", text))


def _alike(first: str, second: str) -> float:
    """How alike two plain names are, whatever the order of their words [0 to 1]."""
    one, other = (" ".join(sorted(re.sub(r"\b0+(?=\d)", "", text).split())) for text in (first, second))
    return max(SequenceMatcher(None, first, second).ratio(), SequenceMatcher(None, one, other).ratio())
