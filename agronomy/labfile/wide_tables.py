"""A table with a row for each sample and a column for each analyte."""

from dataclasses import replace

from agronomy.base.said import say
from agronomy.labfile.cells import BAR, read_cell
from agronomy.labfile.columns import Column, Layout, cells_at, column_of, first_rows, roles_of, sample_columns
from agronomy.labfile.days import date_column
from agronomy.labfile.sheets import Sheet
from agronomy.labfile.words import ADMIN, Heading, Lexicon, plain, unit_in, without_unit

BY_AREA = frozenset({"kg/ha", "lb/acre", "lb/ac", "kg/ha P2O5", "kg/ha K2O"})


def _row_headings(row: tuple[str, ...], lexicon: Lexicon) -> list[tuple[int, Heading]]:
    """The headings of a row that name an analyte whose amount stands below them."""
    found = []
    for place, cell in enumerate(row):
        heading = lexicon.heading(cell) if cell else None
        if heading is not None and (heading.analyte or heading.meanings) and heading.kind == "amount":
            found.append((place, heading))
    return found


def wide(sheet: Sheet, rows, lexicon: Lexicon):
    """A row a sample, a column an analyte."""
    scored = []
    for number, row in first_rows(rows):
        named = _row_headings(row, lexicon)
        if named and _numbers_below(rows, number, [place for place, _ in named], lexicon):
            scored.append((len(named) - 0.01 * number, number, named))
    scored = scored or _by_class_only(rows, lexicon)
    if not scored:
        return None
    score, number, named = max(scored, key=lambda item: item[:2])
    if len(named) == 1 and sum(bool(cell) for cell in rows[number]) < 2:
        return None
    heading_row = rows[number]
    first, units, methods, beside = _second_headings(rows, number, named, lexicon)
    above = rows[number - 1] if number else ()
    span = ""
    columns = []
    roles = roles_of(heading_row, lexicon)
    for place, heading in named:
        unit, method = heading.unit or units.get(place), heading.method or methods.get(place)
        span = next((cell for cell in reversed(above[: place + 1]) if cell), "") if above and sum(map(bool, above)) > 1 else ""
        if span and not (unit and method) and heading.analyte:
            unit, method = unit or unit_in(span), method or lexicon.method(span, heading.analyte)
        column = column_of(place, heading_row[place], heading, unit=unit, method=method)
        if place in beside:  # one name over a result and what stands beside it
            column = replace(column, analyte=None, kind="limit", about=say("what stands beside a result"))
        columns.append(column)
        roles.pop(place, None)
    columns = _without_second_results([_without_a_bar(column, rows[first:], lexicon) for column in columns])
    columns, taken = _with_neighbours(columns, heading_row, lexicon)
    sample_at = sample_columns(heading_row, rows[first:], taken, lexicon)
    date_at = date_column({place: heading_row[place] for place, kind in roles.items() if kind == "date"}, lexicon)
    depths = [place for place, kind in roles.items() if kind == "depth"]
    used = {*taken, *sample_at, *(place for place, kind in roles.items() if kind in ADMIN)}
    layout = Layout(
        sheet=sheet.name,
        kind="wide",
        medium=lexicon.medium,
        heading_row=number,
        first_row=first,
        sample_at=sample_at,
        date_at=date_at,
        date_order="dmy",
        decimal=None,
        depth_at=depths[0] if depths else None,
        depth_to_at=depths[1] if len(depths) > 1 else None,
        columns=tuple(sorted((*columns, *_further_columns(heading_row, rows[first:], used, lexicon)), key=lambda column: column.place)),
    )
    return score, layout


def _without_a_bar(column: Column, below, lexicon: Lexicon) -> Column:
    """A column whose every cell is a bar of signs or a word holds no results, whatever its heading."""
    cells = cells_at(below, column.place)
    if any(read_cell(cell, lexicon, None).typed is not None for cell in cells):
        return column
    is_bar = any(BAR.fullmatch(cell.strip()) for cell in cells)
    return replace(column, analyte=None, kind="limit", about=say("a bar that shows the rating")) if is_bar else column


def _without_second_results(columns: list[Column]) -> list[Column]:
    """Of columns of one analyte by one method, the plainest heading holds the results; what says more beside it is a range, last year's
    figure or an uncertainty, whatever its language.
    """
    made = []
    for column in columns:
        if column.unit in BY_AREA and any(
            other.analyte == column.analyte and other.unit and other.unit not in BY_AREA for other in columns
        ):
            made.append(replace(column, analyte=None, kind="limit", about=say("the same result once more, by area")))
            continue
        told = [other for other in columns if other.analyte and other.analyte == column.analyte and other.method and other.unit]
        if told and not column.method and not column.unit and _first_word(column) in map(_first_word, told):
            made.append(replace(column, analyte=None, kind="limit", about=say("what stands beside a result")))
            continue
        alike = [other for other in columns if other.analyte and (other.analyte, other.method) == (column.analyte, column.method)]
        alike = [other for other in alike if other.unit not in BY_AREA] or alike
        plainest = min(alike, key=lambda other: (len(without_unit(other.heading)), other.place), default=column)
        is_more = column is not plainest and plain(column.heading).startswith(plain(plainest.heading).split(" ")[0])
        made.append(replace(column, analyte=None, kind="limit", about=say("what stands beside a result")) if is_more else column)
    return made


def _first_word(column: Column) -> str:
    return plain(column.heading).split(" ")[0]


def _by_class_only(rows, lexicon: Lexicon) -> list[tuple[float, int, list[tuple[int, Heading]]]]:
    """A report of indices or classes alone: it makes no reading, and is kept as the system's own words all the same."""
    found = []
    for number, row in first_rows(rows):
        headings = [(place, lexicon.heading(cell)) for place, cell in enumerate(row) if cell]
        named = [(place, heading) for place, heading in headings if heading.analyte and heading.kind in ("index", "class")]
        if len(named) > 1 and any(place < len(below) and below[place] for below in rows[number + 1 : number + 3] for place, _ in named):
            found.append((0.1 * len(named), number, named))
    return found


def _second_headings(
    rows, number: int, named, lexicon: Lexicon
) -> tuple[int, dict[int, str | None], dict[int, str | None], frozenset[int]]:
    """The first row of results, with the units and methods that rows between it and the headings tell, and the columns of which they say
    that they hold no result.
    """
    first = number + 1
    units: dict[int, str | None] = {}
    methods: dict[int, str | None] = {}
    beside: set[int] = set()
    while first < len(rows) and first < number + 4 and _is_second_heading(rows[first], named, lexicon):
        for place, heading in named:
            cell = rows[first][place] if place < len(rows[first]) else ""
            if cell and cell != rows[number][place] and lexicon.is_beside(cell):
                beside.add(place)
            elif cell:
                _second(place, heading, cell, lexicon, units, methods)
        first += 1
    return first, units, methods, frozenset(beside)


def _second(place: int, heading: Heading, cell: str, lexicon: Lexicon, units: dict, methods: dict) -> None:
    """What a row under the headings says of a column: its unit, its method, or whether it is an oxide."""
    unit = unit_in(cell)
    if unit and not (unit == "%" and "%" not in cell and "100" not in cell):  # "g/100 g" is a share too
        units.setdefault(place, unit)
    if heading.analyte and (method := lexicon.method(cell, heading.analyte)):
        methods.setdefault(place, method)


def _numbers_below(rows, number: int, places: list[int], lexicon: Lexicon) -> bool:
    below = [row[place] for row in rows[number + 1 : number + 30] for place in places if place < len(row) and row[place]]
    read = [read_cell(cell, lexicon, None) for cell in below]
    good = sum(cell.value is not None or "comma" in (cell.doubt or "") for cell in read)
    # two headings that name analytes are a table even where most of its cells are words
    return good > 0 and (len(places) > 1 or good >= 0.3 * len(read))


def _is_second_heading(row: tuple[str, ...], named, lexicon: Lexicon) -> bool:
    """A row of units or methods under the headings: filled there, and with no number."""
    cells = [(row[place], heading) for place, heading in named if place < len(row) and row[place] and not lexicon.is_beside(row[place])]
    if not cells:
        return False
    ways = {cell for cell, heading in cells if heading.analyte and lexicon.method(cell, heading.analyte)}
    if ways and not any(cell.isdecimal() for cell, _ in cells):  # "1:5 H2O" is a way, no number, be it named over one that we don't keep
        return all(cell in ways or read_cell(cell, lexicon, None).value is None for cell, heading in cells)
    return all(read_cell(cell, lexicon, None).value is None for cell, _ in cells)


def _with_neighbours(columns: list[Column], heading_row, lexicon: Lexicon):
    """Columns of ratings and of units beside those of values; a class or an index of the same analyte is its rating wherever it stands."""
    made, taken = [], {column.place for column in columns}
    for column in columns:
        place, unit_from = column.place + 1, None
        while place < len(heading_row) and place <= column.place + 2 and place not in {item.place for item in columns}:
            said = plain(heading_row[place])
            last = said.split(" ")[-1] if said else ""
            if lexicon.is_a("rating", heading_row[place]) or (
                last in lexicon.words["rating"] and plain(column.heading).split(" ")[0] in said
            ):
                column = replace(column, rating_at=place)
                taken.add(place)
            elif lexicon.is_a("unit", heading_row[place]) or (
                last in lexicon.words["unit"] and plain(column.heading).split(" ")[0] in said
            ):
                unit_from = place
                taken.add(place)
            else:
                break
            place += 1
        made.append(column if unit_from is None else replace(column, unit=column.unit or f"column:{unit_from}"))
    for place, cell in enumerate(heading_row):
        verdict = lexicon.heading(cell) if cell and place not in taken else None
        if verdict is None or verdict.kind not in ("class", "index") or not verdict.analyte:
            continue
        for number, column in enumerate(made):
            if column.analyte == verdict.analyte and column.rating_at is None:
                made[number] = replace(column, rating_at=place)
                taken.add(place)
                break
    return made, taken


def _further_columns(heading_row, below, used: set, lexicon: Lexicon) -> list[Column]:
    """Columns that make no reading: known for what they are (shares, advice, things we keep no table of), or unknown with numbers below."""
    found = []
    for place, cell in enumerate(heading_row):
        if not cell or place in used or any(lexicon.is_a(kind, cell) for kind in ("unit", "method", "rating")):
            continue
        said, values = lexicon.heading(cell), cells_at(below, place)
        if not values:
            continue
        if said.kind and said.kind not in ADMIN:
            found.append(column_of(place, cell, said))
        elif _is_measured(plain(cell)) and sum(read_cell(value, lexicon, None).value is not None for value in values) > len(values) / 2:
            found.append(Column(place=place, heading=cell, analyte=None, unit=said.unit, kind=""))
    return found


_NOT_MEASURED = (
    "no",
    "number",
    "nr",
    "nummer",
    "page",
    "depth",
    "tiefe",
    "profondeur",
    "profundidad",
    "area",
    "ha",
    "year",
    "jahr",
    "annee",
    "ano",
    "order",
    "invoice",
    "account",
    "lat",
    "lon",
    "latitude",
    "longitude",
    "easting",
    "northing",
    "zip",
    "phone",
    "row",
    "crop",
    "code",
)


def _is_measured(heading: str) -> bool:
    return bool(heading) and not any(word in _NOT_MEASURED for word in heading.split(" "))
