"""A laboratory's file understood: its sheet and layout, what was asked and answered, and what it says in words."""

from dataclasses import field, replace

from agronomy.base.errors import RuleError
from agronomy.base.record import record
from agronomy.labfile.blocks import unblocked
from agronomy.labfile.cell_units import with_units_of_cells
from agronomy.labfile.cells import read_cell
from agronomy.labfile.columns import GROUPS, Column, Layout, Question, column_of
from agronomy.labfile.layout import guess
from agronomy.labfile.notes import Note, read_notes
from agronomy.labfile.prose import table_of
from agronomy.labfile.regions import regions
from agronomy.labfile.sheets import Sheet, sheets_of
from agronomy.labfile.words import LONGEST_HEADING, Lexicon, unit_in
from agronomy.tables import Tables

LONGEST_PROSE, MOST_ASKED_ROWS = 400_000, 2000
MOST_READINGS = 1_000_000  # looked at in about a minute, within one gigabyte
MEDIA = ("soil", "water", "leaf", "material")


@record(kw_only=True)
class Understanding:
    """What the reader made of a file. `said` tells it in words; `questions` are all that the file does not say, answered or not."""

    name: str
    sheets: tuple[Sheet, ...]
    sheet: Sheet
    layout: Layout
    lexicon: Lexicon
    said: tuple[str, ...]
    answers: dict[str, str] = field(default_factory=dict)
    notes: tuple[Note, ...] = ()
    further: tuple[tuple[Sheet, Layout], ...] = ()  # tables that stand under the first, of the same medium

    @property
    def questions(self) -> tuple[Question, ...]:
        return self.layout.questions


def understand(
    content: bytes, name: str, tables: Tables, *, answers: dict[str, str] | None = None, sheet: str | None = None
) -> Understanding:
    """Reads a file's layout. `answers` are those to earlier questions, by their keys; `sheet` picks a sheet by name.

    Raises RuleError: the file is empty, binary, too large, broken, or holds no result.
    """
    answers = answers or {}
    sheets, told = sheets_of(content, name)
    medium = answers.get("medium", "")
    medium = medium if medium in MEDIA else "soil"
    lexicon = Lexicon(tables, medium)
    wanted = sheet or answers.get("sheet")
    parts = [unblocked(part, lexicon) for item in sheets for part in regions(item, lexicon)]
    chosen, layout = _choose(parts, wanted, lexicon, name, told)
    if _readings_in(chosen, layout) > MOST_READINGS:
        raise RuleError("file", name, f"the file has more than {MOST_READINGS} results", "part it")
    layout, notes, asked = _asked_and_answered(layout, chosen, lexicon, answers)
    further = []
    for part in parts:
        other = guess(part, lexicon) if part is not chosen and part.name == chosen.name and chosen in parts else None
        if other is not None:
            other, more, open_ = _asked_and_answered(other, part, lexicon, answers)
            further.append((part, other))
            notes, asked = (*notes, *more), asked | open_
    layout = replace(layout, questions=tuple(asked.values()))
    return Understanding(
        name=name,
        sheets=tuple(sheets),
        sheet=chosen,
        layout=layout,
        lexicon=lexicon,
        said=_in_words(chosen, layout, sheets),
        answers=answers,
        notes=notes,
        further=tuple(further),
    )


def _asked_and_answered(
    layout: Layout, sheet: Sheet, lexicon: Lexicon, answers: dict[str, str]
) -> tuple[Layout, tuple[Note, ...], dict[str, Question]]:
    """A layout with what stands beside its table and with the answers so far; the notes; and all that was asked, by key.

    What was answered is still asked, so that an answer can be changed; an answer may lead to a further question.
    """
    layout, notes = read_notes(with_units_of_cells(layout, sheet, lexicon), sheet, lexicon, answers)
    unanswered = _questions(layout, sheet, lexicon)
    layout = _apply(layout, answers, lexicon)
    return layout, notes, {question.key: question for question in (*unanswered, *_questions(layout, sheet, lexicon))}


def _prose(told: tuple[str, str], name: str, lexicon: Lexicon) -> Sheet | None:
    """The pairs of name and number of a running text as a long table of its own; None where there are none."""
    text, read_as = told
    rows = table_of(text[:LONGEST_PROSE], lexicon)
    return Sheet(name, rows, f"{read_as}, line by line") if rows else None


def _readings_in(sheet: Sheet, layout: Layout) -> int:
    """About how many readings a layout finds."""
    if layout.kind == "long":
        return len(sheet.rows) - layout.first_row
    analytes = sum(column.analyte is not None for column in layout.columns)
    return analytes * (len(layout.sample_at) if layout.kind == "across" else len(sheet.rows) - layout.first_row)


def _choose(sheets: list[Sheet], wanted: str | None, lexicon: Lexicon, name: str, text: tuple[str, str] | None):
    if wanted:
        found = [sheet for sheet in sheets if sheet.name == wanted]
        if not found:
            raise RuleError(
                "sheet", wanted, "there is no filled sheet of this name", f"use one of {', '.join(sheet.name for sheet in sheets)}"
            )
        sheets = found
    guessed = [(sheet, layout) for sheet in sheets if (layout := guess(sheet, lexicon))]
    best = max((_readings_in(*pair) for pair in guessed), default=0)
    # running text holds a reading to a line at most
    prose = None if text is None or best > text[0].count("\n") + 1 else _prose(text, name, lexicon)
    if prose is not None and (layout := guess(prose, lexicon)) and len(prose.rows) > 1:
        told = sum(len(row) > 1 for row in prose.rows) - 1
        # told once each way, a table that names its samples knows more than its lines do
        is_named = any(_readings_in(*pair) >= best and _names_samples(pair[1]) for pair in guessed)
        if told > best or (told == best and not is_named):
            return prose, layout
    if not guessed:
        raise RuleError(
            "file", name, "no results were found in this file", "a table needs headings such as pH, P, K; or type the figures in"
        )
    return max(guessed, key=lambda pair: (len(pair[1].columns) or 5) * min(len(pair[0].rows), 500))


def _names_samples(layout: Layout) -> bool:
    """Whether a layout has a column or, across, a row that names its samples."""
    return bool(layout.sample_at) and layout.heading_row >= 0


def _apply(layout: Layout, answers: dict[str, str], lexicon: Lexicon) -> Layout:
    if answers.get("decimal") in (",", "."):
        layout = replace(layout, decimal=answers["decimal"])
    if answers.get("dates") in ("dmy", "mdy"):
        layout = replace(layout, date_order=answers["dates"])
    if answers.get("sample", "").isdecimal():
        first = int(answers["sample"])
        layout = replace(layout, sample_at=(first, *(place for place in layout.sample_at if place != first)))
    columns = tuple(answered(column, answers, lexicon) for column in layout.columns)
    return replace(layout, columns=columns)


def answered(column: Column, answers: dict[str, str], lexicon: Lexicon) -> Column:
    analytes = lexicon.tables.analytes
    named = answers.get(f"analyte:{column.heading}")
    if named is not None and (named == "" or named in analytes):
        column = replace(column, analyte=named or None)
    if column.analyte is None:
        return column
    unit = answers.get(f"unit:{column.heading}")
    if unit and unit in analytes[column.analyte].units:
        column = replace(column, unit=unit)
    if column.method is None and column.analyte is not None:
        group = next((group for group, members in GROUPS.items() if column.analyte in members), None)
        method = answers.get(f"method:{group}")
        if method and method in analytes[column.analyte].methods:
            column = replace(column, method=method)
    return column


def _questions(layout: Layout, sheet: Sheet, lexicon: Lexicon) -> tuple[Question, ...]:
    analytes = lexicon.tables.analytes
    asked = []
    if not layout.sample_at and layout.kind != "across":
        heading = sheet.rows[layout.heading_row]
        choices = tuple((str(place), cell) for place, cell in enumerate(heading) if cell)
        asked.append(Question("sample", "Which column names the sample?", choices, choices[0][0] if choices else ""))
    if layout.date_order == "?":
        asked.append(
            Question(
                "dates",
                "Is 03/04 the third of April, or March the fourth?",
                (("dmy", "the third of April"), ("mdy", "March the fourth")),
                "dmy",
            )
        )
    columns = (*layout.columns, *_long_columns(layout, sheet, lexicon))
    for column in columns:
        if column.analyte is None and column.is_known and not column.meanings:
            continue
        if column.analyte is None:
            asked.append(_which_analyte(column, layout.medium, lexicon))
        elif column.unit is None and len(units := analytes[column.analyte].units) > 1 and not _cells_tell(column, layout, sheet, lexicon):
            row = analytes[column.analyte]
            fitting = [unit for unit in units if not column.oxide or unit.endswith(f" {row.oxide}")] or units
            default = next((unit for unit in fitting if unit == column.usual_unit), fitting[0])
            choices = tuple((unit, unit) for unit in fitting)
            asked.append(Question(f"unit:{column.heading}", f"In which unit is “{column.heading}”?", choices, default))
    for group, members in GROUPS.items():
        open_ = [column for column in columns if column.analyte in members and column.method is None]
        if open_ and layout.medium == "soil":
            named = list(dict.fromkeys(column.analyte for column in open_ if column.analyte))
            methods = list(dict.fromkeys(method for analyte in named for method in analytes[analyte].methods))
            methods.sort(key=lambda method: method != "not stated")
            text = (
                "How was pH measured?"
                if group == "pH"
                else f"By which method {'was' if len(named) == 1 else 'were'} {', '.join(named)} measured?"
            )
            asked.append(Question(f"method:{group}", text, tuple((method, method) for method in methods), "not stated"))
    return tuple(asked)


def _cells_tell(column: Column, layout: Layout, sheet: Sheet, lexicon: Lexicon) -> bool:
    """Whether each result of a column has its unit beside it."""
    if layout.kind == "across":
        row = sheet.rows[column.place]
        cells = [row[place] for place in layout.sample_at if place < len(row) and row[place]]
    elif layout.kind == "wide":
        below = sheet.rows[layout.first_row : layout.first_row + MOST_ASKED_ROWS]
        cells = [row[column.place] for row in below if column.place < len(row) and row[column.place]]
    else:
        return False
    read = [item for cell in cells if (item := read_cell(cell, lexicon, layout.decimal)).value is not None]
    return bool(read) and all(item.unit for item in read)


def _long_columns(layout: Layout, sheet: Sheet, lexicon: Lexicon) -> list[Column]:
    """The things that a long table names, each once, as columns to ask about."""
    if layout.kind != "long" or layout.analyte_at is None:
        return []
    found: dict[str, Column] = {}
    for row in sheet.rows[layout.first_row : layout.first_row + MOST_ASKED_ROWS]:
        name = row[layout.analyte_at] if layout.analyte_at < len(row) else ""
        told = row[layout.unit_at] if layout.unit_at is not None and layout.unit_at < len(row) else ""
        value = row[layout.value_at] if layout.value_at is not None and layout.value_at < len(row) else ""
        if not name or not value or len(name) > LONGEST_HEADING:
            continue
        unit = unit_in(told) or unit_in(value) or layout.unit_of.get(name)
        if name not in found:
            said = lexicon.heading(name)
            by = row[layout.method_at] if layout.method_at is not None and layout.method_at < len(row) else ""
            method = said.method or (lexicon.method(by, said.analyte) or layout.method_of.get(said.analyte) if said.analyte else None)
            found[name] = column_of(layout.value_at or 0, name, said, unit=unit, method=method)
        elif (
            unit is None
            and found[name].unit
            and not lexicon.heading(name).unit
            and read_cell(value, lexicon, layout.decimal).value is not None
        ):
            found[name] = replace(found[name], unit=None)  # one of its results has none: it is asked for
    return list(found.values())


def _which_analyte(column: Column, medium: str, lexicon: Lexicon) -> Question:
    known = tuple(
        (key, row.name) for key, row in lexicon.tables.analytes.items() if row.medium == medium and key in (column.meanings or (key,))
    )
    return Question(f"analyte:{column.heading}", f"What is “{column.heading}”?", (("", "none of these: keep it as written"), *known), "")


def column_letters(place: int) -> str:
    """A column's letters as spreadsheets show them.

    >>> column_letters(0), column_letters(27)
    ('A', 'AB')
    """
    letters = ""
    place += 1
    while place:
        place, rest = divmod(place - 1, 26)
        letters = chr(65 + rest) + letters
    return letters


def _left_aside(sheet: Sheet, layout: Layout) -> list[str]:
    """Headings of columns that hold something, but neither readings nor what goes with them."""
    if layout.kind == "across" or layout.heading_row < 0:
        return []
    ratings = {column.rating_at for column in layout.columns}
    units = {int(column.unit.removeprefix("column:")) for column in layout.columns if column.unit and column.unit.startswith("column:")}
    used = {column.place for column in layout.columns} | ratings | units | set(layout.sample_at)
    used |= {layout.date_at, layout.analyte_at, layout.value_at, layout.unit_at, layout.method_at, layout.rating_at}
    return [heading for place, heading in enumerate(sheet.rows[layout.heading_row]) if heading and place not in used]


_KINDS = {
    "wide": "a row for each sample and a column for each analyte",
    "long": "a row for each reading",
    "across": "a row for each analyte and a column for each sample",
}


def _in_words(sheet: Sheet, layout: Layout, sheets: list[Sheet]) -> tuple[str, ...]:
    said = [f"The table has {_KINDS[layout.kind]}."]
    if len(sheets) > 1:
        said.append(f"It stands on the sheet “{sheet.name}”, one of {len(sheets)}.")
    if layout.heading_row > 0:
        said.append(
            f"Its headings stand in row {layout.heading_row + 1}; the {layout.heading_row} row{'s' if layout.heading_row > 1 else ''} "
            f"above {'are' if layout.heading_row > 1 else 'is'} the letterhead."
        )
    if layout.sample_at and layout.kind != "across":
        place = layout.sample_at[0]
        heading = sheet.rows[layout.heading_row]
        name = heading[place] if layout.heading_row >= 0 and place < len(heading) else ""
        said.append(f"Samples are named in column {column_letters(place)}{f', “{name}”' if name else ''}.")
    if layout.decimal:
        said.append(f"Decimals are written with a {'comma' if layout.decimal == ',' else 'point'}.")
    if aside := _left_aside(sheet, layout):
        said.append(
            "No reading, and left in the file: "
            f"{', '.join(f'“{heading}”' for heading in aside[:12])}{' and others' if len(aside) > 12 else ''}."
        )
    said.append(f"Read as {sheet.read_as}.")
    return tuple(said)
