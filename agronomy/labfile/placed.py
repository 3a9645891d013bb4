"""A printed page as lines of text whose words stand where they stand on the page; a second column of lines goes below the first.

A kept library gives each sign its place in the order in which it was drawn; the strings are put back together and set by their places.
"""

import io
from collections import Counter
from collections.abc import Iterator
from itertools import groupby, pairwise
from statistics import median

from agronomy.base.record import record

LEAST_LINES = 4  # with a string in the right column
NEAR = 2.0  # points
MOST_SIGNS = 200_000


@record
class Run:
    """A string as it was drawn: where it begins [points from left and bottom], what it says, and how wide a sign is [points]."""

    x: float
    y: float
    text: str
    sign: float = 5.0


def placed_lines(content: bytes, page: int) -> list[str]:
    """The lines of a page; empty where it holds no text, or could not be read so. Pages count from 0. Source: definition."""
    try:
        runs = list(_runs(content, page))
    except Exception:  # a broken page lets many kinds through; the other reader may still read it
        return []
    return beneath(runs) or set_out(runs)


def set_out(runs: list[Run]) -> list[str]:
    """Strings as lines of text, each at its place; two that stand apart keep a gap between them.

    >>> set_out([Run(40, 700, "P"), Run(100, 700, "K"), Run(40, 690, "12"), Run(100, 690, "80")])
    ['P           K', '12          80']
    """
    if not runs:
        return []
    unit = median(run.sign for run in runs)
    left = min(run.x for run in runs)
    made: list[str] = []
    below = 0.0
    for line in _lines(runs):
        if made and below - line[0].y > 1.8 * _step(_lines(runs)):
            made.append("")
        below = line[0].y
        text = ""
        for run in line:
            place = round((run.x - left) / unit)
            text = text.ljust(max(place, len(text.rstrip()) + 2) if text.strip() else place) + run.text
        made.append(text.rstrip())
    return made


def _lines(runs: list[Run]) -> list[list[Run]]:
    """Strings by the line that they stand on, from the top; those of a line from the left."""
    ordered = sorted(runs, key=lambda run: (-round(run.y), run.x))
    return [list(group) for _, group in groupby(ordered, key=lambda run: round(run.y))]


def beneath(runs: list[Run]) -> list[str] | None:
    """The lines of strings in two columns, one column after the other; None where they stand in one.

    >>> page = [run for n in range(4) for run in (Run(40, 700 - 11 * n, f"A{n}  1"), Run(200, 700 - 11 * n, f"B{n}  2"))]
    >>> beneath([Run(40, 720, "Report"), *page])
    ['Report', 'A0  1', 'A1  1', 'A2  1', 'A3  1', 'B0  2', 'B1  2', 'B2  2', 'B3  2']
    """
    lines = _lines(runs)
    seconds = Counter(round(line[1].x / NEAR) for line in lines if len(line) == 2)
    if not seconds or any(len(line) > 2 for line in lines):
        return None
    place, count = seconds.most_common(1)[0]
    if count < LEAST_LINES or count < 0.8 * seconds.total():
        return None
    made: list[str] = []
    right: list[str] = []
    below = lines[0][0].y
    for line in lines:
        apart, below = below - line[0].y, line[0].y
        if right and apart > 1.5 * _step(lines):  # the next pair of blocks begins
            made, right = [*made, *right], []
        for run in line:
            (right if abs(round(run.x / NEAR) - place) <= 1 else made).append(run.text.rstrip())
    return [*made, *right]


def _step(lines: list[list[Run]]) -> float:
    """From one line to the next, as most lines have it [points]."""
    steps = Counter(round(above[0].y - below[0].y) for above, below in pairwise(lines))
    return float(steps.most_common(1)[0][0]) if steps else 0.0


def _runs(content: bytes, page: int) -> Iterator[Run]:
    """The strings of a page in the order in which they were drawn."""
    from pdfminer.converter import PDFPageAggregator  # only printed pages need it
    from pdfminer.layout import LTChar
    from pdfminer.pdfinterp import PDFPageInterpreter, PDFResourceManager
    from pdfminer.pdfpage import PDFPage

    resources = PDFResourceManager()
    device = PDFPageAggregator(resources, laparams=None)
    interpreter = PDFPageInterpreter(resources, device)
    text, start, end, height, wide = "", 0.0, 0.0, 0.0, 5.0
    for drawn in PDFPage.get_pages(io.BytesIO(content), pagenos={page}):
        interpreter.process_page(drawn)
        for count, sign in enumerate(item for item in device.get_result() if isinstance(item, LTChar)):
            if count > MOST_SIGNS:
                return
            if not text or abs(sign.y0 - height) > NEAR or abs(sign.x0 - end) > 0.6 * max(sign.width, 1.0):
                if text.strip():
                    yield Run(start, height, text, wide)
                text, start, height, wide = "", sign.x0, sign.y0, sign.width
            text, end = text + sign.get_text(), sign.x1
    if text.strip():
        yield Run(start, height, text, wide)
