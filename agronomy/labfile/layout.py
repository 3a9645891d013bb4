"""How a laboratory's table is laid out: guessed from its cells, told in words, and asked about only where nothing tells."""

import re
from collections import Counter
from dataclasses import replace

from agronomy.labfile.across_tables import across
from agronomy.labfile.cells import decimal_sign
from agronomy.labfile.columns import LOOK_AT_ROWS, Layout
from agronomy.labfile.long_tables import long
from agronomy.labfile.media import is_another, said_medium
from agronomy.labfile.sheets import Sheet
from agronomy.labfile.wide_tables import wide
from agronomy.labfile.words import Lexicon

NESTED = ("JSON", "XML")
MOST_OF_OTHERS = 3000  # rows of another medium before the first of the one that is read
_SLASHES = re.compile(r"(?<![\d/])(\d{1,2})/(\d{1,2})/\d{2,4}(?![\d/])")


def guess(sheet: Sheet, lexicon: Lexicon) -> Layout | None:
    """The layout of a sheet, or None where no results were found in it."""
    rows = sheet.rows[: next((number for number, row in enumerate(sheet.rows) if any(row)), 0) + LOOK_AT_ROWS]
    ways = {"wide": wide, "long": long, "across": across}
    found = [layout for name, way in ways.items() if sheet.kind in ("", name) and (layout := way(sheet, rows, lexicon))]
    if not found and (own := _of_own_medium(sheet, lexicon)) is not None:
        found = [layout for name, way in ways.items() if sheet.kind in ("", name) and (layout := way(sheet, own, lexicon))]
    if sheet.read_as in NESTED:  # the keys of a document are its headings
        found = [pair for pair in found if pair[1].heading_row == 0] or found
    if not found:
        return None
    best = max(found, key=lambda pair: pair[0])[1]
    texts = [cell for row in sheet.rows[best.first_row : best.first_row + LOOK_AT_ROWS] for cell in row]
    best = replace(best, decimal=decimal_sign(texts))
    return replace(best, date_order=_date_order(sheet, best))


def _of_own_medium(sheet: Sheet, lexicon: Lexicon) -> tuple[tuple[str, ...], ...] | None:
    """The first rows that are not said to be of another medium, the others blank; None where none says so."""
    own: list[tuple[str, ...]] = []
    filled = 0
    for row in sheet.rows[:MOST_OF_OTHERS]:
        is_other = any(is_another(said_medium(cell, lexicon), lexicon) for cell in row if cell)
        own.append(() if is_other else row)
        filled += not is_other
        if filled >= LOOK_AT_ROWS:
            break
    return tuple(own) if filled < len(own) else None


def _date_order(sheet: Sheet, layout: Layout) -> str:
    """dmy, or mdy where a second number above 12 in any day of the sheet shows that the month comes first; "?" where slashes leave it
    open.
    """
    parts: Counter[str] = Counter()
    for row in sheet.rows[: layout.first_row + LOOK_AT_ROWS]:
        for first, second in (found.groups() for cell in row if "/" in cell for found in _SLASHES.finditer(cell)):
            parts["mdy" if int(second) > 12 else "dmy" if int(first) > 12 else "?"] += 1
    if parts["mdy"] or parts["dmy"]:
        return "mdy" if parts["mdy"] > parts["dmy"] else "dmy"
    return "?" if parts["?"] else "dmy"
