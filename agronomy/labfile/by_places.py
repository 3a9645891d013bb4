"""Printed lines as rows of cells by the places of their words: a column is what stands between gaps that run down a whole table."""

import re
from bisect import bisect_right
from itertools import groupby

_HEADED = re.compile(r"\s+")
_GAP = re.compile(r"\s{2,}|\t")
_RULE = re.compile(r"\s*[-=_─━—]{5}[-=_─━—+| ]*")  # a line drawn under the headings
_FIGURE = re.compile(r"[<>≤≥]?[-+]?\d[\d.,]*+%?")
LEAST_LINES = 3


def rows_by_place(lines: list[str]) -> list[list[str]]:
    """The cells of each line; lines that belong to no table are one cell, or are cut at their own gaps. Source: definition.

    An empty cell stays empty, so that what follows it doesn't move to the left.

    >>> rows_by_place(["Field   P     K", "A1      12    80", "A2            75", "A3      9"])
    [['Field', 'P', 'K'], ['A1', '12', '80'], ['A2', '', '75'], ['A3', '9', '']]
    """
    lines = ["" if _RULE.fullmatch(line) else line.expandtabs(4).rstrip() for line in lines]
    made: list[list[str]] = []
    known: dict[str, list[str]] = {}
    over: list[tuple[int, int]] = []  # where the headings of the table before stand
    for in_table, block in [part for run in _runs(lines) for part in _without_edges(*run)]:
        rows = (_table(block) or _under_headings(block)) if in_table else [[line.strip()] for line in block]
        headed = _HEADED.sub(" ", block[0])  # a table that goes on over the page is cut as on the page before
        if in_table and headed in known and len(rows[0]) != len(known[headed]):
            rows = _as_before(block, known[headed]) or rows
        elif in_table and over and not any(map(_words_only, block)) and (beneath := _placed(block, over)):
            rows = beneath  # rows that a blank line parts from their headings
        elif in_table:
            known.setdefault(headed, rows[0])
            headings = [line for line in block if _words_only(line)]
            over = _spans(max(headings, key=lambda line: len(_pieces(line)))) if headings else []
        made += rows
    return made


def _without_edges(in_table: bool, block: list[str]) -> list[tuple[bool, list[str]]]:
    """A run of lines without those at its edges that hold far fewer pieces, such as a page's foot."""
    if not in_table or len(block) < LEAST_LINES:
        return [(in_table, block)]
    counts = [len(_pieces(line)) for line in block]
    least = 0.5 * sorted(counts)[len(counts) // 2]
    first = next(number for number, count in enumerate(counts) if count >= least)
    last = len(counts) - next(number for number, count in enumerate(reversed(counts)) if count >= least)
    parts = [(True, block[:first]), (True, block[first:last]), (True, block[last:])]
    return [part for part in parts if part[1]]


def _as_before(block: list[str], headings: list[str]) -> list[list[str]] | None:
    """The lines cut under headings that are known already; None where a line holds a piece that stands under none of them alone."""
    spans, after = [], 0
    for heading in headings:
        start = block[0].find(heading, after) if heading else after
        if start < 0:
            return None
        spans.append((start, start + len(heading)))
        after = start + len(heading)
    return _placed(block, spans)


def _placed(block: list[str], headings: list[tuple[int, int]]) -> list[list[str]] | None:
    """The lines with each piece under the heading it stands under; None where one stands under none alone."""
    rows = []
    for line in block:
        places = [_under(span, headings) for span in _spans(line)]
        if None in places or len(set(places)) < len(places):
            return None
        filled = dict(zip(places, _pieces(line), strict=True))
        rows.append([filled.get(place, "") for place in range(len(headings))])
    return rows


def _under_headings(block: list[str]) -> list[list[str]]:
    """The lines cut at their own gaps; one of fewer pieces than the headings over it keeps each piece under the heading it stands under."""
    rows = [_pieces(line) for line in block]
    widest = max(range(len(block)), key=lambda number: len(rows[number]))
    spans = _spans(block[widest])
    for number, line in enumerate(block):
        if number <= widest or len(rows[number]) >= len(spans) or len(spans) < LEAST_LINES:
            continue
        if (placed := _placed([line], spans)) is not None:
            rows[number] = placed[0]
        elif 2 * len(rows[number]) > len(spans):  # its figures can't be told apart by place: none is read for another
            rows[number] = [line.strip()]
    return rows


def _spans(line: str) -> list[tuple[int, int]]:
    """Where each piece of a line begins and ends."""
    return [found.span() for found in re.finditer(r"\S+(?: \S+)*", line)]


def _under(span: tuple[int, int], headings: list[tuple[int, int]]) -> int | None:
    """The heading that a piece stands under: the one it shares most with, else the one in whose column it lies, else none."""
    shared = [min(span[1], end) - max(span[0], start) for start, end in headings]
    best = max(range(len(headings)), key=lambda place: shared[place])
    if shared[best] > 0:
        return best
    starts = [start for start, _ in headings]
    within = bisect_right(starts, span[0]) - 1  # a short heading over figures set to the right
    return within if within >= 0 and (within + 1 == len(starts) or span[1] < starts[within + 1]) else None


def _runs(lines: list[str]) -> list[tuple[bool, list[str]]]:
    """Lines of a table and lines between, in turn; a blank line within a table that goes on as it was does not end it."""
    runs = [(in_table, list(group)) for in_table, group in groupby(lines, key=lambda line: len(_pieces(line)) > 1)]
    made: list[tuple[bool, list[str]]] = []
    for in_table, block in runs:
        goes_on = len(made) > 1 and in_table and made[-2][0] and not any(line.strip() for line in made[-1][1]) and len(made[-1][1]) == 1
        if goes_on and _alike(made[-2][1], block):
            between = made.pop()
            made[-1] = (True, [*made[-1][1], *between[1], *block])
        else:
            made.append((in_table, block))
    return made


def _alike(above: list[str], below: list[str]) -> bool:
    """Whether two runs of lines share their columns: cut together they make no fewer than the upper one alone."""
    together, alone = _table([*above, *below]), _table(above)
    parts_headings = all(map(_words_only, above)) != all(map(_words_only, below))
    goes_on = not any(map(_words_only, below)) and len(_pieces(below[0])) >= LEAST_LINES
    if together is None or not (parts_headings or goes_on):
        return False
    return len(together[0]) >= (len(alone[0]) if alone is not None else max(len(_pieces(line)) for line in above))


def _words_only(line: str) -> bool:
    """Whether a line has no figure of its own, a line of headings: those of “NO3-N”, “1:5” and “Field 3” are parts of a name."""
    return not any(_FIGURE.fullmatch(piece.split(" ")[0]) for piece in _pieces(line))


def _pieces(line: str) -> list[str]:
    return [piece for piece in _GAP.split(line.strip()) if piece]


def _table(block: list[str]) -> list[list[str]] | None:
    """The lines cut where every one of them is blank; None where that finds fewer columns than the lines themselves tell."""
    if len(block) < LEAST_LINES:
        return None
    width = max(map(len, block))
    filled = [False] * (width + 1)
    for line in block:
        for place, sign in enumerate(line):
            # one space within a cell is no gap: a blank counts as filled where both its neighbours are
            if sign != " " or (0 < place < len(line) - 1 and line[place - 1] != " " and line[place + 1] != " "):
                filled[place] = True
    spans, start = [], None
    for place, is_filled in enumerate(filled):
        if is_filled and start is None:
            start = place
        elif not is_filled and start is not None:
            spans.append((start, place))
            start = None
    told = sorted(len(_pieces(line)) for line in block)
    if len(spans) < told[len(told) // 2]:
        return None
    return [[line[begin:end].strip() for begin, end in spans] for line in block]
