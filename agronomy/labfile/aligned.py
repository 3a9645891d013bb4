"""Whether a printed line's cells stand in its own columns: one that slid along is left as written, never read for another's."""

import re
from collections import Counter

from agronomy.labfile.cells import read_cell
from agronomy.labfile.columns import Layout
from agronomy.labfile.sheets import Sheet
from agronomy.labfile.words import Lexicon

LOOKED_AT = 200  # rows
LEAST_ROWS, MOSTLY, SLID = 3, 0.6, 2  # rows that tell what a column holds, their share, and cells out of place
_DAY = re.compile(r"\d{1,4}[./-]\d{1,2}[./-]\d{1,4}")


class Alignment:
    """What each column of a table of printed lines holds mostly: days, figures or words."""

    def __init__(self, sheet: Sheet, layout: Layout, lexicon: Lexicon):
        self.lexicon, self.kinds = lexicon, {}
        if layout.kind != "wide" or not sheet.is_by_place:
            return
        rows = [row for row in sheet.rows[layout.first_row : layout.first_row + LOOKED_AT] if sum(map(bool, row)) > 2]
        for place in range(max(map(len, rows), default=0)):
            found = Counter(self._kind(row[place]) for row in rows if place < len(row) and row[place])
            kind, count = found.most_common(1)[0] if found else ("", 0)
            if found.total() >= LEAST_ROWS and count >= MOSTLY * found.total() and place not in layout.sample_at:
                self.kinds[place] = kind

    def _kind(self, cell: str) -> str:
        if _DAY.fullmatch(cell):
            return "day"
        return "figure" if read_cell(cell, self.lexicon, None).typed is not None else "word"

    def holds(self, row: tuple[str, ...]) -> bool:
        """Whether no more than one cell of a row is of another kind than its column. Source: definition."""
        others = (self._kind(cell) != self.kinds[place] for place, cell in enumerate(row) if cell and place in self.kinds)
        return sum(others) < SLID
