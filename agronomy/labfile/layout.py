"""How a laboratory's table is laid out: guessed from its cells, told in words, and asked about only where nothing tells."""

from collections import Counter
from dataclasses import asdict, dataclass, field, replace
from typing import Any

from agronomy.labfile.cells import decimal_sign, read_cell
from agronomy.labfile.sheets import Sheet
from agronomy.labfile.words import Heading, Lexicon, plain
from agronomy.sampling.codes import code_in

LOOK_AT_ROWS = 400
FIRST_LOOK = 60  # rows in which the heading must come
GROUPS = {"pH": ("pH",), "P": ("P",), "cations": ("K", "Ca", "Mg", "Na"), "traces": ("Zn", "Mn", "Fe", "Cu", "B", "S")}


@dataclass(frozen=True, slots=True, kw_only=True)
class Column:
    """One column (or, in a table that runs across, one row) of values."""

    place: int
    heading: str
    analyte: str | None
    oxide: bool = False
    unit: str | None = None
    method: str | None = None
    rating_at: int | None = None


@dataclass(frozen=True, slots=True)
class Question:
    """Something the file did not tell: a key for the answer, the words, and the answers to choose from (value, words)."""

    key: str
    text: str
    choices: tuple[tuple[str, str], ...]
    default: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Layout:
    """A table's layout. Rows and columns count from 0. `kind` is wide, long or across."""

    sheet: str
    kind: str
    medium: str
    heading_row: int
    first_row: int
    sample_at: tuple[int, ...]
    date_at: int | None
    date_order: str
    decimal: str | None
    columns: tuple[Column, ...] = ()
    analyte_at: int | None = None
    value_at: int | None = None
    unit_at: int | None = None
    method_at: int | None = None
    rating_at: int | None = None
    questions: tuple[Question, ...] = field(default=())

    def as_dict(self) -> dict[str, Any]:
        return asdict(self)


def guess(sheet: Sheet, lexicon: Lexicon) -> Layout | None:
    """The layout of a sheet, or None where no results were found in it."""
    rows = sheet.rows[:LOOK_AT_ROWS]
    found = [layout for layout in (_wide(sheet, rows, lexicon), _long(sheet, rows, lexicon), _across(sheet, rows, lexicon)) if layout]
    if not found:
        return None
    best = max(found, key=lambda pair: pair[0])[1]
    texts = [cell for row in sheet.rows[best.first_row : best.first_row + LOOK_AT_ROWS] for cell in row]
    best = replace(best, decimal=decimal_sign(texts))
    return replace(best, date_order=_date_order(sheet, best))


def _row_headings(row: tuple[str, ...], lexicon: Lexicon) -> list[tuple[int, Heading]]:
    return [(place, heading) for place, cell in enumerate(row) if cell and (heading := lexicon.heading(cell)).analyte]


def _wide(sheet: Sheet, rows, lexicon: Lexicon):
    """A row a sample, a column an analyte."""
    scored = []
    for number, row in enumerate(rows[:FIRST_LOOK]):
        named = _row_headings(row, lexicon)
        if len({heading.analyte for _, heading in named}) >= 1 and _numbers_below(rows, number, [place for place, _ in named], lexicon):
            scored.append((len(named) - 0.01 * number, number, named))
    if not scored:
        return None
    score, number, named = max(scored)
    if len(named) == 1 and sum(bool(cell) for cell in rows[number]) < 2:
        return None
    heading_row, first = rows[number], number + 1
    units: dict[int, str | None] = {}
    methods: dict[int, str | None] = {}
    while first < len(rows) and first < number + 4 and _is_second_heading(rows[first], named, lexicon):
        for place, _ in named:
            cell = rows[first][place] if place < len(rows[first]) else ""
            said = lexicon.heading(f"{heading_row[place]} {cell}") if cell else None
            if said and said.analyte:
                units.setdefault(place, said.unit)
                methods.setdefault(place, said.method)
        first += 1
    above = rows[number - 1] if number else ()
    columns = []
    for place, heading in named:
        unit, method = heading.unit or units.get(place), heading.method or methods.get(place)
        if place < len(above) and above[place] and not (unit and method):
            said = lexicon.heading(f"{heading_row[place]} {above[place]}")
            unit, method = unit or said.unit, method or said.method
        columns.append(
            Column(place=place, heading=heading_row[place], analyte=heading.analyte, oxide=heading.oxide, unit=unit, method=method)
        )
    columns, taken = _with_neighbours(columns, heading_row, lexicon)
    sample_at = _sample_columns(heading_row, rows[first:], taken, lexicon)
    date_at = next((place for place, cell in enumerate(heading_row) if lexicon.is_a("date", cell)), None)
    unknown = _unknown_columns(heading_row, rows[first:], {*taken, *sample_at, date_at}, lexicon)
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
        columns=tuple(sorted((*columns, *unknown), key=lambda column: column.place)),
    )
    return score, layout


def _numbers_below(rows, number: int, places: list[int], lexicon: Lexicon) -> bool:
    below = [row[place] for row in rows[number + 1 : number + 30] for place in places if place < len(row) and row[place]]
    read = [read_cell(cell, lexicon, None) for cell in below]
    good = sum(cell.value is not None or "comma" in (cell.doubt or "") for cell in read)
    # two headings that name analytes are a table even where most of its cells are words
    return good > 0 and (len(places) > 1 or good >= 0.3 * len(read))


def _is_second_heading(row: tuple[str, ...], named, lexicon: Lexicon) -> bool:
    """A row of units or methods under the headings: filled there, and with no number."""
    cells = [row[place] for place, _ in named if place < len(row) and row[place]]
    if not cells:
        return False
    return all(read_cell(cell, lexicon, None).value is None for cell in cells)


def _with_neighbours(columns: list[Column], heading_row, lexicon: Lexicon):
    """Columns of ratings and of units beside those of values."""
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
    return made, taken


def _sample_columns(heading_row, below, taken: set[int], lexicon: Lexicon) -> tuple[int, ...]:
    """Columns that name the sample: those with our IDs first, then the customer's own name, then the laboratory's number."""
    candidates = [place for place, cell in enumerate(heading_row) if cell and place not in taken and lexicon.is_a("sample", cell)]
    coded = [place for place in range(max((len(row) for row in below), default=0)) if place not in taken and _codes(below, place)]
    first = [place for name in lexicon.tables.labfile.words.sample_first for place in candidates if plain(heading_row[place]) == name]
    ordered = list(dict.fromkeys([*coded, *first, *candidates]))
    if ordered:
        return tuple(ordered)
    words = [
        place for place in range(min((item for item in taken), default=0)) if place not in taken and _mostly_words(below, place, lexicon)
    ]
    return tuple(words[:1])


def _codes(below, place: int) -> bool:
    cells = [row[place] for row in below[:40] if place < len(row) and row[place]]
    return bool(cells) and sum(code_in(cell) is not None for cell in cells) >= max(1, len(cells) // 2)


def _mostly_words(below, place: int, lexicon: Lexicon) -> bool:
    cells = [row[place] for row in below[:40] if place < len(row) and row[place]]
    return (
        bool(cells) and len(set(cells)) > len(cells) // 2 and not all(cell.replace(".", "").isdecimal() and "." in cell for cell in cells)
    )


def _unknown_columns(heading_row, below, known: set, lexicon: Lexicon) -> list[Column]:
    """Columns with numbers under a heading that names no analyte we know: kept, and said so."""
    unknown = []
    for place, cell in enumerate(heading_row):
        if not cell or place in known or any(lexicon.is_a(kind, cell) for kind in ("sample", "date", "unit", "method", "rating")):
            continue
        values = [row[place] for row in below[:40] if place < len(row) and row[place]]
        if (
            values
            and sum(read_cell(value, lexicon, None).value is not None for value in values) > len(values) / 2
            and _is_measured(plain(cell))
        ):
            unknown.append(Column(place=place, heading=cell, analyte=None, oxide=False, unit=lexicon.heading(cell).unit))
    return unknown


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


def _long(sheet: Sheet, rows, lexicon: Lexicon):
    """A row a reading: sample, analyte, value, perhaps unit, method and rating."""
    for number, row in enumerate(rows[:FIRST_LOOK]):
        found = {
            kind: next((place for place, cell in enumerate(row) if cell and lexicon.is_a(kind, cell)), None)
            for kind in ("analyte", "value", "unit", "method", "rating", "date")
        }
        if found["value"] is None or found["analyte"] is None:
            continue
        below = rows[number + 1 :]
        names = [row[found["analyte"]] for row in below if found["analyte"] < len(row) and row[found["analyte"]]]
        known = sum(lexicon.heading(name).analyte is not None for name in names)
        if not names or known < 0.3 * len(names):
            continue
        sample_at = _sample_columns(row, below, {place for place in found.values() if place is not None}, lexicon)
        layout = Layout(
            sheet=sheet.name,
            kind="long",
            medium=lexicon.medium,
            heading_row=number,
            first_row=number + 1,
            sample_at=sample_at,
            date_at=found["date"],
            date_order="dmy",
            decimal=None,
            analyte_at=found["analyte"],
            value_at=found["value"],
            unit_at=found["unit"],
            method_at=found["method"],
            rating_at=found["rating"],
        )
        return 20.0 + known / len(names), layout
    return None


def _across(sheet: Sheet, rows, lexicon: Lexicon):
    """A row an analyte, a column a sample; also the plain list of one sample's results."""
    for name_at in (0, 1):
        named = [
            (number, lexicon.heading(row[name_at]))
            for number, row in enumerate(rows)
            if len(row) > name_at + 1 and lexicon.heading(row[name_at]).analyte
        ]
        if len({heading.analyte for _, heading in named}) < 2:
            continue
        width = max(len(rows[number]) for number, _ in named)
        unit_at = _column_where(
            named,
            rows,
            width,
            name_at,
            lambda cell: lexicon.heading(f"x {cell}").unit is not None and read_cell(cell, lexicon, None).value is None,
        )
        values = [
            place
            for place in range(name_at + 1, width)
            if place != unit_at and _share(named, rows, place, lambda cell: read_cell(cell, lexicon, None).value is not None) > 0.5
        ]
        if not values:
            continue
        rating_at = (
            _column_where(
                named, rows, width, name_at, lambda cell: lexicon.is_a("ratings", cell) and read_cell(cell, lexicon, None).value is None
            )
            if len(values) == 1
            else None
        )
        first = named[0][0]
        heading_row = next(
            (number for number in range(first - 1, -1, -1) if any(place < len(rows[number]) and rows[number][place] for place in values)),
            None,
        )
        columns = tuple(
            Column(
                place=number,
                heading=rows[number][name_at],
                analyte=heading.analyte,
                oxide=heading.oxide,
                unit=heading.unit or (f"column:{unit_at}" if unit_at is not None else None),
                method=heading.method,
                rating_at=rating_at,
            )
            for number, heading in named
        )
        unknown = tuple(
            Column(place=number, heading=row[name_at], analyte=None)
            for number, row in enumerate(rows[first : named[-1][0] + 1], first)
            if len(row) > name_at + 1
            and row[name_at]
            and not lexicon.heading(row[name_at]).analyte
            and any(place < len(row) and read_cell(row[place], lexicon, None).value is not None for place in values)
        )
        layout = Layout(
            sheet=sheet.name,
            kind="across",
            medium=lexicon.medium,
            heading_row=-1 if heading_row is None else heading_row,
            first_row=first,
            sample_at=tuple(values),
            date_at=None,
            date_order="dmy",
            decimal=None,
            columns=tuple(sorted((*columns, *unknown), key=lambda column: column.place)),
        )
        return len(named) * 0.9, layout
    return None


def _share(named, rows, place: int, test) -> float:
    cells = [rows[number][place] for number, _ in named if place < len(rows[number]) and rows[number][place]]
    return sum(map(test, cells)) / len(cells) if cells else 0.0


def _column_where(named, rows, width: int, name_at: int, test) -> int | None:
    return next((place for place in range(name_at + 1, width) if _share(named, rows, place, test) > 0.6), None)


def _date_order(sheet: Sheet, layout: Layout) -> str:
    """dmy, or mdy where a second number above 12 shows that the month comes first; "?" where slashes leave it open."""
    if layout.date_at is None:
        return "dmy"
    parts: Counter[str] = Counter()
    for row in sheet.rows[layout.first_row : layout.first_row + LOOK_AT_ROWS]:
        text = row[layout.date_at] if layout.date_at < len(row) else ""
        pieces = text.split("/")
        if len(pieces) == 3 and all(piece.strip().isdecimal() for piece in pieces) and len(pieces[0]) <= 2:
            parts["mdy" if int(pieces[1]) > 12 else "dmy" if int(pieces[0]) > 12 else "?"] += 1
    if parts["mdy"] or parts["dmy"]:
        return "mdy" if parts["mdy"] > parts["dmy"] else "dmy"
    return "?" if parts["?"] else "dmy"
