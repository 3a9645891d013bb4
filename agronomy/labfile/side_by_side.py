"""Two columns of a printed page, put beneath each other: told by a word with a colon that stands twice on one line."""

import re
from collections import Counter

LONGEST_LABEL = 31  # characters of a label
NEAR = 3  # characters by which the right column may begin earlier or later from line to line


def beneath_each_other(lines: list[str]) -> list[str]:
    """The lines of a page with its right column below its left one; as they are where they tell of no second column.

    Source: definition.

    >>> beneath_each_other(["Sample: A1      Sample: A2", "Depth: 0-20     Depth: 20-40", "P  12           P  30"])
    ['Sample: A1', 'Depth: 0-20', 'P  12', 'Sample: A2', 'Depth: 20-40', 'P  30']
    """
    starts = [(number, place) for number, line in enumerate(lines) if (place := _second(line)) is not None]
    if len(starts) < 2:
        return lines
    usual, count = Counter(place for _, place in starts).most_common(1)[0]
    if sum(abs(place - usual) <= NEAR for _, place in starts) < 2 or count < 1:
        return lines
    first = starts[0][0]
    left, right, below = list(lines[:first]), [], []
    for line in lines[first:]:
        cut = min((place for _, place in starts), key=lambda place: abs(place - usual))
        own = _second(line)
        cut = own if own is not None and abs(own - usual) <= NEAR else cut
        if len(line) > cut and not _has_gap(line, cut):
            below.append(line)  # a line over the whole width
            continue
        left.append(line[:cut].rstrip())
        right.append(line[cut:].rstrip())
    while right and not right[-1]:
        right.pop()
    return [*left, *right, *below]


def _has_gap(line: str, cut: int) -> bool:
    """Whether a line can be cut there: a blank before it, or another word's beginning."""
    return line[cut - 1] == " " or line[:cut].strip() == "" or line[cut].isupper()


def _second(line: str) -> int | None:
    """Where the second of two like labels of a line begins."""
    seen: set[str] = set()
    colon = -1
    while (colon := _next_colon(line, colon + 1)) >= 0:
        label = re.split(r"\s\s+", line[max(0, colon - LONGEST_LABEL) : colon].rstrip())[-1].lstrip()
        if not label[:1].isalpha():
            continue
        if label.lower() in seen:
            return line.rindex(label, 0, colon)
        seen.add(label.lower())
    return None


def _next_colon(line: str, after: int) -> int:
    places = [place for place in (line.find(":", after), line.find("：", after)) if place >= 0]
    return min(places, default=-1)
