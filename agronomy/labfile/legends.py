"""Marks behind headings ("Magnesium [c]", "P *") and what the foot of a table says of each ("[c] ammonium acetate")."""

import re
from dataclasses import replace

from agronomy.labfile.columns import Layout
from agronomy.labfile.sheets import Sheet
from agronomy.labfile.words import Lexicon

_BRACKETS = re.compile(r"[\[(]([a-z]|\d|[*†‡]{1,3})[\])]\s*+[:=]?\s*+")
_STARS = re.compile(r"^([*†‡]{1,4}|[¹²³⁴⁵⁶])\s*+[:=]?\s*+(?=\S)")
_WITHIN = re.compile(r"\[([a-z]|\d)\]")  # "P [b] (mg/kg)"
_MARK = re.compile(r"(?:[\[(]([a-z]|\d|[*†‡]{1,3})[\])]|([*†‡]{1,4}|[¹²³⁴⁵⁶]))$")


def mark_of(heading: str) -> str:
    """The mark of a heading, without its brackets; "" where it bears none. Source: definition.

    >>> mark_of("Magnesium [c]"), mark_of("P **"), mark_of("Ca")
    ('c', '**', '')
    >>> mark_of("P [b] (mg/kg)")
    'b'
    """
    within = _WITHIN.search(heading)
    found = _MARK.search(heading.rstrip())
    return within.group(1) if within else (found.group(1) or found.group(2)) if found else ""


def legends_in(line: str) -> dict[str, str]:
    """What a line explains, by its marks; one line may explain several. Source: definition.

    >>> legends_in("[a] Olsen; [b] DTPA"), legends_in("* hot water"), legends_in("Ca by DTPA")
    ({'a': 'Olsen', 'b': 'DTPA'}, {'*': 'hot water'}, {})
    """
    starred = _STARS.match(line.strip())
    if starred:
        return {starred.group(1): line.strip()[starred.end() :].strip()}
    if not _BRACKETS.match(line.strip()):
        return {}
    found = list(_BRACKETS.finditer(line))
    ends = [*(item.start() for item in found[1:]), len(line)]
    return {item.group(1): line[item.end() : end].strip(" ;,.") for item, end in zip(found, ends, strict=True)}


def with_legends(layout: Layout, sheet: Sheet, told: dict[str, str], lexicon: Lexicon) -> Layout:
    """The layout with the methods that legends tell, by the marks of its headings or of the names in its rows."""
    if not told:
        return layout

    def method(heading: str, analyte: str | None) -> str | None:
        text = told.get(mark_of(heading), "")
        return lexicon.method(text, analyte) if text and analyte else None

    columns = tuple(
        replace(column, method=by) if column.method is None and (by := method(column.heading, column.analyte)) else column
        for column in layout.columns
    )
    methods = dict(layout.method_of)
    if layout.kind == "long" and layout.analyte_at is not None:
        for row in sheet.rows[layout.first_row :]:
            name = row[layout.analyte_at] if layout.analyte_at < len(row) else ""
            analyte = lexicon.heading(name).analyte if mark_of(name) else None
            if analyte and analyte not in methods and (by := method(name, analyte)):
                methods[analyte] = by
    return replace(layout, columns=columns, method_of=methods)
