"""How a laboratory's table is laid out: guessed from its cells, told in words, and asked about only where nothing tells."""

from collections import Counter
from dataclasses import asdict, dataclass, field, replace
from typing import Any

from agronomy.labfile.cells import decimal_sign, read_cell
from agronomy.labfile.sheets import Sheet
from agronomy.labfile.words import ADMIN, Heading, Lexicon, plain, unit_in
from agronomy.sampling.codes import code_in

LOOK_AT_ROWS = 400
FIRST_LOOK = 60  # rows in which the heading must come
QUALIFIERS = frozenset({"<", ">", "<=", ">=", "≤", "≥", "U", "J", "ND", "nd", "="})
GROUPS = {"pH": ("pH",), "P": ("P",), "cations": ("K", "Ca", "Mg", "Na"), "traces": ("Zn", "Mn", "Fe", "Cu", "B", "S")}


@dataclass(frozen=True, slots=True, kw_only=True)
class Column:
    """One column (or, in a table that runs across, one row) of values.

    `kind` is that of its heading; only an "amount" of an analyte becomes a reading. `about` says what else it is about. `usual_unit` is
    good for a question only, `meanings` are the analytes that the heading may mean.
    """

    place: int
    heading: str
    analyte: str | None
    oxide: bool = False
    unit: str | None = None
    method: str | None = None
    rating_at: int | None = None
    kind: str = "amount"
    about: str = ""
    ion: str | None = None
    usual_unit: str | None = None
    meanings: tuple[str, ...] = ()

    @property
    def is_known(self) -> bool:
        """Whether we know what it holds, be it a reading or not: nothing is asked about it."""
        return self.analyte is not None or bool(self.about) or self.kind not in ("amount", "")


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
    qualifier_at: int | None = None
    depth_at: int | None = None
    layer_cm: tuple[float, float] | None = None  # of all samples, where a line beside the table tells it
    day: str = ""  # of all samples, likewise
    method_of: dict[str, str] = field(default_factory=dict)  # of analytes in a long table, likewise
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
    """The headings of a row that name an analyte whose amount stands below them."""
    found = []
    for place, cell in enumerate(row):
        heading = lexicon.heading(cell) if cell else None
        if heading is not None and (heading.analyte or heading.meanings) and heading.kind == "amount":
            found.append((place, heading))
    return found


def column_of(place: int, heading: str, said: Heading, *, unit: str | None = None, method: str | None = None) -> Column:
    """The Column that a heading makes. Only an amount keeps its analyte: an index, a share or a piece of advice is no reading."""
    is_amount = said.kind == "amount"
    return Column(
        place=place,
        heading=heading,
        analyte=said.analyte if is_amount else None,
        oxide=said.oxide,
        unit=unit or said.unit,
        method=method or said.method,
        kind=said.kind or "",
        about=said.about or ("" if is_amount else said.analyte or said.kind),
        ion=said.ion,
        usual_unit=said.usual_unit,
        meanings=said.meanings,
    )


def _roles(heading_row: tuple[str, ...], lexicon: Lexicon) -> dict[int, str]:
    """What the columns hold that are no readings: sample, laboratory's number, date, depth, unit, method, limit."""
    return {place: kind for place, cell in enumerate(heading_row) if cell and (kind := lexicon.kind_of(cell))}


def _wide(sheet: Sheet, rows, lexicon: Lexicon):
    """A row a sample, a column an analyte."""
    scored = []
    for number, row in enumerate(rows[:FIRST_LOOK]):
        named = _row_headings(row, lexicon)
        if named and _numbers_below(rows, number, [place for place, _ in named], lexicon):
            scored.append((len(named) - 0.01 * number, number, named))
    if not scored:
        return None
    score, number, named = max(scored, key=lambda item: item[:2])
    if len(named) == 1 and sum(bool(cell) for cell in rows[number]) < 2:
        return None
    heading_row, first = rows[number], number + 1
    units: dict[int, str | None] = {}
    methods: dict[int, str | None] = {}
    while first < len(rows) and first < number + 4 and _is_second_heading(rows[first], named, lexicon):
        for place, heading in named:
            cell = rows[first][place] if place < len(rows[first]) else ""
            if cell:
                _second(place, heading, cell, lexicon, units, methods)
        first += 1
    above = rows[number - 1] if number else ()
    span = ""
    columns = []
    roles = _roles(heading_row, lexicon)
    for place, heading in named:
        unit, method = heading.unit or units.get(place), heading.method or methods.get(place)
        span = next((cell for cell in reversed(above[: place + 1]) if cell), "") if above and sum(map(bool, above)) > 1 else ""
        if span and not (unit and method) and heading.analyte:
            unit, method = unit or unit_in(span), method or lexicon.method(span, heading.analyte)
        columns.append(column_of(place, heading_row[place], heading, unit=unit, method=method))
        roles.pop(place, None)
    columns, taken = _with_neighbours(columns, heading_row, lexicon)
    sample_at = _sample_columns(heading_row, rows[first:], taken, lexicon)
    date_at = next((place for place, kind in roles.items() if kind == "date"), None)
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
        depth_at=next((place for place, kind in roles.items() if kind == "depth"), None),
        columns=tuple(sorted((*columns, *_further_columns(heading_row, rows[first:], used, lexicon)), key=lambda column: column.place)),
    )
    return score, layout


def _second(place: int, heading: Heading, cell: str, lexicon: Lexicon, units: dict, methods: dict) -> None:
    """What a row under the headings says of a column: its unit, its method, or whether it is an oxide."""
    unit = unit_in(cell)
    if unit and not (unit == "%" and "%" not in cell):
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
    cells = [row[place] for place, _ in named if place < len(row) and row[place]]
    if not cells:
        return False
    return all(read_cell(cell, lexicon, None).value is None for cell in cells)


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


def _sample_columns(heading_row, below, taken: set[int], lexicon: Lexicon) -> tuple[int, ...]:
    """Columns that name the sample: those with our IDs first, then the customer's own name, and last the laboratory's number."""
    kinds = {place: lexicon.kind_of(cell) for place, cell in enumerate(heading_row) if cell and place not in taken}
    coded = [place for place in range(max((len(row) for row in below), default=0)) if place not in taken and _codes(below, place)]
    own = [place for place, kind in kinds.items() if kind == "sample" and _filled(below, place)]
    own.sort(key=lambda place: (_only_digits(below, place), not _differs(below, place)))
    numbers = [place for place, kind in kinds.items() if kind == "lab_number" and _filled(below, place)]
    ordered = list(dict.fromkeys([*coded, *own, *numbers]))
    if ordered and (coded or own):
        return tuple(ordered)
    others = {place for place, kind in kinds.items() if kind}
    words = [
        place
        for place in range(min(taken, default=0))
        if place not in taken and place not in others and _mostly_words(below, place) and not _only_digits(below, place)
    ]
    return (*words[:1], *ordered)


def _cells(below, place: int) -> list[str]:
    return [row[place] for row in below[:40] if place < len(row) and row[place]]


def _filled(below, place: int) -> bool:
    return bool(_cells(below, place))


def _only_digits(below, place: int) -> bool:
    cells = _cells(below, place)
    return bool(cells) and all(cell.replace("-", "").replace("/", "").isdecimal() for cell in cells)


def _differs(below, place: int) -> bool:
    cells = _cells(below, place)
    return len(set(cells)) > len(cells) // 2


def _codes(below, place: int) -> bool:
    cells = [row[place] for row in below[:40] if place < len(row) and row[place]]
    return bool(cells) and sum(code_in(cell) is not None for cell in cells) >= max(1, len(cells) // 2)


def _mostly_words(below, place: int) -> bool:
    cells = [row[place] for row in below[:40] if place < len(row) and row[place]]
    return (
        bool(cells) and len(set(cells)) > len(cells) // 2 and not all(cell.replace(".", "").isdecimal() and "." in cell for cell in cells)
    )


def _further_columns(heading_row, below, used: set, lexicon: Lexicon) -> list[Column]:
    """Columns that make no reading: known for what they are (shares, advice, things we keep no table of), or unknown with numbers below."""
    found = []
    for place, cell in enumerate(heading_row):
        if not cell or place in used or any(lexicon.is_a(kind, cell) for kind in ("unit", "method", "rating")):
            continue
        said, values = lexicon.heading(cell), _cells(below, place)
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


def _long(sheet: Sheet, rows, lexicon: Lexicon):
    """A row a reading: sample, analyte, value, perhaps unit, method and rating. The columns are found by what stands in them."""
    for number, row in enumerate(rows[:FIRST_LOOK]):
        below = [line for line in rows[number + 1 :] if any(line)]
        if sum(map(bool, row)) < 2 or not below:
            continue
        kinds = _roles(row, lexicon)
        analyte_at = _column_of_names(row, below, lexicon)
        if analyte_at is None:
            continue
        value_at = _column_of_values(row, below, analyte_at, kinds, lexicon)
        if value_at is None:
            continue
        sample_at = _sample_columns(row, below, {analyte_at, value_at}, lexicon)
        names = _cells(below, analyte_at)
        if not sample_at and len(set(names)) == len(names):
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
            date_at=at("date"),
            date_order="dmy",
            decimal=None,
            analyte_at=analyte_at,
            value_at=value_at,
            unit_at=unit_at if unit_at is not None else _column_holding(below, {analyte_at, value_at, *sample_at}, _is_unit),
            method_at=at("method"),
            rating_at=next((place for place, cell in enumerate(row) if cell and lexicon.is_a("rating", cell)), None),
            qualifier_at=_column_holding(below, {analyte_at, value_at, *sample_at}, lambda cell: cell.strip() in QUALIFIERS),
            depth_at=at("depth"),
        )
        return 20.0 + len(names), layout
    return None


def _column_of_names(row, below, lexicon: Lexicon) -> int | None:
    """The column whose cells name analytes, or what we know of though it is no analyte."""
    best, best_share = None, 0.5
    for place, cell in enumerate(row):
        cells = _cells(below, place)
        if len(cells) < 2 or not cell or lexicon.heading(cell).analyte:
            continue
        known = sum(bool(lexicon.heading(name).kind) and lexicon.kind_of(name) not in ("sample", "lab_number") for name in cells)
        analytes = {lexicon.heading(name).analyte for name in cells} - {None}
        if analytes and known / len(cells) > best_share:
            best, best_share = place, known / len(cells)
    return best


def _column_of_values(row, below, analyte_at: int, kinds: dict[int, str], lexicon: Lexicon) -> int | None:
    """The column of results: one that says so, else the only other column of numbers; two that say nothing are not guessed between."""
    numeric = []
    for place in range(len(row)):
        cells = _cells(below, place)
        if place == analyte_at or not cells or kinds.get(place) in ("sample", "lab_number", "date", "depth", "limit", "unit", "method"):
            continue
        good = sum((read := read_cell(value, lexicon, None)).value is not None or read.is_empty or bool(read.doubt) for value in cells)
        if good > 0.5 * len(cells) and any(read_cell(value, lexicon, None).value is not None for value in cells):
            numeric.append(place)
    told = [place for place in numeric if kinds.get(place) == "value"]
    if told:
        return told[0]
    return numeric[0] if len(numeric) == 1 else None


def _column_holding(below, used: set[int], test) -> int | None:
    """A column whose filled cells nearly all pass a test."""
    for place in range(max((len(row) for row in below), default=0)):
        cells = _cells(below, place)
        if place not in used and cells and sum(map(test, cells)) >= 0.9 * len(cells):
            return place
    return None


def _is_unit(cell: str) -> bool:
    return unit_in(cell) is not None and not any(character.isdigit() for character in cell.split("/")[0])


def _across(sheet: Sheet, rows, lexicon: Lexicon):
    """A row an analyte, a column a sample; also the plain list of one sample's results."""
    for name_at in (0, 1):
        named = [
            (number, said)
            for number, row in enumerate(rows)
            if len(row) > name_at + 1 and (said := lexicon.heading(row[name_at])).analyte and said.kind == "amount"
        ]
        if len({heading.analyte for _, heading in named}) < 2:
            continue
        width = max(len(rows[number]) for number, _ in named)
        unit_at = _column_where(
            named,
            rows,
            width,
            name_at,
            lambda cell: unit_in(cell) is not None and read_cell(cell, lexicon, None).value is None,
        )
        method_at = _column_where(
            named,
            rows,
            width,
            name_at,
            lambda cell: bool(lexicon.methods_in(cell)) and (read_cell(cell, lexicon, None).value is None or ":" in cell),
            share=0.5,
        )
        values = [
            place
            for place in range(name_at + 1, width)
            if place not in (unit_at, method_at)
            and _share(named, rows, place, lambda cell: read_cell(cell, lexicon, None).value is not None) > 0.5
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
        columns = []
        for number, said in named:
            row = rows[number]
            told = row[method_at] if method_at is not None and method_at < len(row) else ""
            column = column_of(
                number,
                row[name_at],
                said,
                unit=said.unit or (f"column:{unit_at}" if unit_at is not None else None),
                method=said.method or (lexicon.method(told, said.analyte) if told and said.analyte else None),
            )
            columns.append(replace(column, rating_at=rating_at))
        further = []
        for number, row in enumerate(rows[first : named[-1][0] + 1], first):
            if len(row) <= name_at + 1 or not row[name_at] or number in {place for place, _ in named}:
                continue
            if any(place < len(row) and read_cell(row[place], lexicon, None).value is not None for place in values):
                said = lexicon.heading(row[name_at])
                further.append(
                    column_of(number, row[name_at], said)
                    if said.kind
                    else Column(place=number, heading=row[name_at], analyte=None, kind="")
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
            columns=tuple(sorted((*columns, *further), key=lambda column: column.place)),
        )
        return len(named) * 0.9, layout
    return None


def _share(named, rows, place: int, test) -> float:
    cells = [rows[number][place] for number, _ in named if place < len(rows[number]) and rows[number][place]]
    return sum(map(test, cells)) / len(cells) if cells else 0.0


def _column_where(named, rows, width: int, name_at: int, test, share: float = 0.6) -> int | None:
    return next((place for place in range(name_at + 1, width) if _share(named, rows, place, test) > share), None)


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
