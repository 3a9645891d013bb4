"""Tables that stand under one another in a sheet, each with headings of its own and perhaps another medium: parted before they are read."""

from dataclasses import replace
from itertools import pairwise

from agronomy.labfile.cells import read_cell
from agronomy.labfile.media import is_another, titled_medium
from agronomy.labfile.sheets import Sheet
from agronomy.labfile.words import Lexicon

MOST_HEADING_ROWS = 4  # name, method and unit, and one more
MOST_TITLE_ROWS = 8  # laboratory, title, client, days, method
LEAST_KNOWN = 0.4  # of the cells of a row of headings
LOOKED_AT = 3000  # rows in which a further table may begin


def regions(sheet: Sheet, lexicon: Lexicon) -> list[Sheet]:
    """The tables of a sheet, each in a sheet of its own whose other rows are blank, so that every cell keeps its place.

    What is of another medium than the one that is read is left out, unless nothing else stands there. Source: definition.
    """
    starts = _starts(sheet, lexicon)
    if len(starts) < 2:
        return [sheet]
    bounds = [0, *starts[1:], len(sheet.rows)]
    parts = list(pairwise(bounds))
    said = [_medium(sheet, *part, lexicon) for part in parts]
    told = [part for part, medium in zip(parts, said, strict=True) if medium and not is_another(medium, lexicon)]
    untold = [part for part, medium in zip(parts, said, strict=True) if not medium]
    return [_only(sheet, *part) for part in told or untold or parts]


def _only(sheet: Sheet, first: int, stop: int) -> Sheet:
    rows = tuple(row if first <= number < stop else () for number, row in enumerate(sheet.rows))
    return replace(sheet, rows=rows)


def _starts(sheet: Sheet, lexicon: Lexicon) -> list[int]:
    """The rows with which tables begin, their titles included."""
    found: list[int] = []
    last_heading, seen_data = -MOST_HEADING_ROWS, True
    known: set[tuple[str, ...]] = set()
    medium, has_results, is_titled = "", False, False
    for number, row in enumerate(sheet.rows[:LOOKED_AT]):
        titled = titled_medium(row, lexicon)
        if titled and titled != medium and has_results:  # a title of another medium begins anew, whatever stands below it
            found, has_results, is_titled = [*(found or [0]), number], False, True
        medium = titled or medium
        has_results = has_results or _is_result(row, lexicon)
        if is_titled and _is_heading(row, lexicon):
            known.add(row)
            last_heading, seen_data, is_titled = number, False, False
        elif _is_heading(row, lexicon):
            is_new = row not in known or _titled_above(sheet, number, last_heading, lexicon)
            if number - last_heading >= MOST_HEADING_ROWS and seen_data and is_new:
                found.append(_with_title(sheet, number, found[-1] if found else 0, lexicon))
            known.add(row)
            last_heading, seen_data = number, False
        elif sum(map(bool, row)) > 1 and any(read_cell(cell, lexicon, None).value is not None for cell in row if cell):
            seen_data = True
    return found


def _is_heading(row: tuple[str, ...], lexicon: Lexicon) -> bool:
    """Whether a row names what stands below it: several things that laboratories measure, or several roles, and no figure."""
    filled = [cell for cell in row if cell]
    if len(filled) < 2 or any(cell.endswith(":") for cell in filled):
        return False
    if any(cell[:1].isdecimal() for cell in filled) and lexicon.kind_of(filled[0]) != "determination":
        return False
    amounts = sum(lexicon.heading(cell).kind == "amount" for cell in filled)
    kinds = [kind for cell in filled if (kind := lexicon.kind_of(cell))]
    if amounts + len(kinds) < LEAST_KNOWN * len(filled):  # a row of results in block B names boron and calcium, and no more
        return False
    roles = set(kinds)
    return amounts > 1 or len(roles) > 1 or (amounts == 1 and bool(roles)) or lexicon.kind_of(filled[0]) == "determination"


def _is_result(row: tuple[str, ...], lexicon: Lexicon) -> bool:
    """Whether a row has a figure beside something that laboratories measure, or a figure among several cells."""
    filled = [cell for cell in row if cell]
    if len(filled) > 2:
        return any(read_cell(cell, lexicon, None).value is not None for cell in filled)
    name, _, value = filled[0].partition(":") if len(filled) == 1 else (filled[0].rstrip(": "), "", filled[-1]) if filled else ("", "", "")
    return any(sign.isdigit() for sign in value) and lexicon.heading(name).kind == "amount"


def _titled_above(sheet: Sheet, number: int, after: int, lexicon: Lexicon) -> bool:
    """Whether a title stands over a heading, and below the heading before it: one printed anew on each page has none."""
    return any(titled_medium(sheet.rows[place], lexicon) for place in range(max(0, after + 1, number - MOST_TITLE_ROWS), number))


def _with_title(sheet: Sheet, number: int, after: int, lexicon: Lexicon) -> int:
    """The first row of the title over a heading: up from the line that names a medium, else the lines that stand close above it."""
    between = []
    for place in range(number - 1, after, -1):
        filled = [cell for cell in sheet.rows[place] if cell]
        if len(filled) > 1 and not filled[0].endswith(":"):
            break
        between.append(place)
    titled = next((place for place in reversed(between) if titled_medium(sheet.rows[place], lexicon)), None)
    first = number if titled is None else titled
    while first - 1 in between and any(sheet.rows[first - 1]):
        first -= 1
    return first


def _medium(sheet: Sheet, first: int, stop: int, lexicon: Lexicon) -> str:
    """The medium that the title of a table says."""
    for row in sheet.rows[first:stop]:
        if _is_heading(row, lexicon):
            break
        if medium := titled_medium(row, lexicon):
            return medium
    return ""
