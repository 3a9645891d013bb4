"""A table with a row for each reading; its columns are found by what stands in them."""

from agronomy.labfile.cells import read_cell
from agronomy.labfile.columns import Layout, cells_at, first_rows, roles_of, sample_columns
from agronomy.labfile.days import date_column
from agronomy.labfile.sheets import Sheet
from agronomy.labfile.words import Lexicon, plain, unit_in

QUALIFIERS = frozenset({"<", ">", "<=", ">=", "≤", "≥", "U", "J", "ND", "nd", "="})
MOSTLY, LEAST_OF_NAMES = 0.6, 0.5  # of a column's cells
MANY = 2
SIGNS = frozenset({"</>", "<>", "< >"})  # a heading that shows what its column holds


NEVER_NAMES = (
    "sample",
    "lab_number",
    "date",
    "depth",
    "crop",
    "client",
    "unit",
    "method",
    "value",
    "limit",
)  # whatever their cells look like


def long(sheet: Sheet, rows, lexicon: Lexicon):
    """A row a reading: sample, analyte, value, perhaps unit, method and rating. The columns are found by what stands in them."""
    look = [(number, row, roles_of(row, lexicon)) for number, row in first_rows(rows) if sum(map(bool, row)) > 1]
    # a row that says what two of its columns hold goes before a line of the letterhead
    for number, row, kinds in sorted(look, key=lambda item: (len(set(item[2].values())) < 2, item[0])):
        below = [line for line in rows[number + 1 :] if any(line)]
        if not below:
            continue
        analyte_at = _column_of_names(row, below, lexicon)
        if analyte_at is None:
            continue
        value_at = _column_of_values(row, below, analyte_at, kinds, lexicon)
        if value_at is None:
            continue
        sample_at = sample_columns(row, below, {analyte_at, value_at}, lexicon)
        names = cells_at(below, analyte_at)
        if len(set(names)) == len(names) and not any(_holds_names(below, place, lexicon) for place in sample_at):
            continue  # each analyte once and no sample: a list of one sample's results, or a table that runs across
        others = {place: kind for place, kind in kinds.items() if place not in (analyte_at, value_at, *sample_at)}

        def at(kind: str, others=others) -> int | None:
            return next((place for place, known_as in others.items() if known_as == kind), None)

        unit_at = at("unit")
        layout = Layout(
            sheet=sheet.name,
            kind="long",
            medium=lexicon.medium,
            heading_row=number,
            first_row=number + 1,
            sample_at=sample_at,
            date_at=date_column({place: row[place] for place, known_as in others.items() if known_as == "date"}, lexicon),
            date_order="dmy",
            decimal=None,
            analyte_at=analyte_at,
            value_at=value_at,
            unit_at=unit_at if unit_at is not None else _column_holding(below, {analyte_at, value_at, *sample_at}, _is_unit),
            method_at=at("method"),
            rating_at=next((place for place, cell in enumerate(row) if cell and lexicon.is_a("rating", cell)), None),
            qualifier_at=_qualifiers(row, below, {analyte_at, value_at, *sample_at}, lexicon),
            depth_at=at("depth"),
            depth_to_at=next(iter([place for place, known_as in others.items() if known_as == "depth"][1:]), None),
        )
        return 20.0 + len(names), layout
    return None


def _column_of_names(row, below, lexicon: Lexicon) -> int | None:
    """The column whose cells name analytes, or what we know of though it is no analyte."""
    best, most = None, (False, LEAST_OF_NAMES)
    for place, cell in enumerate(row):
        cells = cells_at(below, place)
        if len(cells) < 2 or not cell or lexicon.heading(cell).analyte or lexicon.kind_of(cell) in NEVER_NAMES:
            continue
        known = sum(bool(lexicon.heading(name).kind) and lexicon.kind_of(name) not in ("sample", "lab_number") for name in cells)
        analytes = {lexicon.heading(name).analyte for name in cells} - {None}
        if len(cells) > MANY and len(set(cells)) == 1:
            continue  # block "B" all the way down is no boron
        found = (lexicon.kind_of(cell) == "determination", known / len(cells))
        if analytes and found[1] > LEAST_OF_NAMES and found > most:
            best, most = place, found
    return best


def _column_of_values(row, below, analyte_at: int, kinds: dict[int, str], lexicon: Lexicon) -> int | None:
    """The column of results: one that says so, else the only other column of numbers; two that say nothing are not guessed between."""
    numeric = []
    for place in range(len(row)):
        cells = cells_at(below, place)
        if place == analyte_at or not cells or kinds.get(place) in ("sample", "lab_number", "date", "depth", "limit", "unit", "method"):
            continue
        good = sum((read := read_cell(value, lexicon, None)).value is not None or read.is_empty or bool(read.doubt) for value in cells)
        if good > 0.5 * len(cells) and any(read_cell(value, lexicon, None).value is not None for value in cells):
            numeric.append(place)
    told = [place for place in numeric if kinds.get(place) == "value"]
    if told:
        return told[0]
    return numeric[0] if len(numeric) == 1 else None


def _holds_names(below, place: int, lexicon: Lexicon) -> bool:
    """Whether a column beside results names samples: one of numbers that differ from row to row holds results."""
    cells = cells_at(below, place)
    read = [read_cell(cell, lexicon, None) for cell in cells]
    numbers = sum(item.value is not None or item.is_empty for item in read)
    return not cells or numbers < MOSTLY * len(cells) or len(set(cells)) < (1 - MOSTLY) * len(cells) + 1


def _qualifiers(headings, below, used: set[int], lexicon: Lexicon) -> int | None:
    """The column of signs before the numbers: by its cells, or by a heading that says so over a few of them."""
    told = next(
        (
            place
            for place, cell in enumerate(headings)
            if (plain(cell) in lexicon.words["sign_headings"] or cell.strip() in SIGNS) and place not in used
        ),
        None,
    )
    return told if told is not None else _column_holding(below, used, lambda cell: cell.strip() in QUALIFIERS)


def _column_holding(below, used: set[int], test) -> int | None:
    """A column whose filled cells nearly all pass a test."""
    for place in range(max((len(row) for row in below), default=0)):
        cells = cells_at(below, place)
        if place not in used and cells and sum(map(test, cells)) >= 0.9 * len(cells):
            return place
    return None


def _is_unit(cell: str) -> bool:
    return unit_in(cell) is not None and not any(character.isdigit() for character in cell.split("/")[0])
