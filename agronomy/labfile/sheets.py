"""From a laboratory's file to sheets of cells, all as text, with the row numbers that people see in it."""

import csv
import io
import json
import re
import warnings
from datetime import date, datetime
from typing import Any

from agronomy.base.errors import RuleError
from agronomy.base.record import record
from agronomy.labfile.by_places import rows_by_place
from agronomy.labfile.decode import PICTURE, kind_of, text_of
from agronomy.labfile.effort import MOST_PAGES, drawn_on
from agronomy.labfile.html_tables import rows_of_html
from agronomy.labfile.nested import rows_of, xml_of
from agronomy.labfile.placed import placed_lines
from agronomy.labfile.prose import html_of_mail, is_mail, text_of_mail
from agronomy.labfile.side_by_side import beneath_each_other

MOST_DRAWN = 5_000_000  # read in half a minute
MOST_ROWS, MOST_COLUMNS, LONGEST_CELL = 200_000, 400, 2000
PRINTED = "the text of a PDF"  # its commas are punctuation
_RUNS = re.compile(r"\s{2,}")
_DECIMAL_COMMA = re.compile(r"(?<=\d),(?=\d)|,(?=\s)")
_QUOTED_CELL = re.compile(r'"[^"]*+"')
_COMMA_OF_CELLS = re.compile(r",(?=[^\s\d])|(?<!\d),(?=\S)")
LEAST_SHARE = 0.1  # of the lines that a delimiter must part alike
_DELIMITERS = "\t;,|"


BY_PLACE = "columns by spaces"


@record
class Sheet:
    """One table: its name, its rows of text cells (trailing empty cells cut), and how it was read.

    `kind` is the only layout that it can have, where that is known: "long" for results in blocks.
    """

    name: str
    rows: tuple[tuple[str, ...], ...]
    read_as: str
    kind: str = ""

    @property
    def is_by_place(self) -> bool:
        """Whether its columns were told by where the words of printed lines stand."""
        return self.read_as.endswith(BY_PLACE)


def sheets_of(content: bytes, name: str) -> tuple[list[Sheet], tuple[str, str] | None]:
    """Every sheet of a file that holds a cell; and the running text of a text, a mail or a PDF, with how it was read.

    Raises RuleError for a file that cannot be read.
    """
    kind, told = kind_of(content, name), None
    if kind == "xlsx":
        sheets = _workbook(content, name)
    elif kind in ("json", "xml"):
        sheets = [_nested(content, name, kind)]
    elif rows := _html_rows(content, name, kind):
        sheets = [Sheet(name, tuple(_cut([_cell(cell) for cell in row]) for row in rows), "HTML")]
    else:
        told = _running_text(content, name, kind)
        sheets = [_text(*told, name)]
    filled = [sheet for sheet in sheets if any(any(row) for row in sheet.rows)]
    if not filled:
        raise RuleError("file", name, "there is no filled cell in this file", "send the file with the results")
    return filled, told


def _cell(value: object) -> str:
    text = str(value).replace("\x00", "").strip()
    return text[:LONGEST_CELL]


def _cut(cells: list[str]) -> tuple[str, ...]:
    while cells and not cells[-1]:
        cells.pop()
    return tuple(cells[:MOST_COLUMNS])


def _too_long(count: int, name: str) -> None:
    if count > MOST_ROWS:
        raise RuleError("file", name, f"the file has more than {MOST_ROWS} rows", "part it")


def _html_rows(content: bytes, name: str, kind: str) -> list[tuple[str, ...]]:
    """The rows of the tables of an HTML page, or of a mail that is written so; none for anything else."""
    if kind == "pdf":
        return []
    if is_mail(content, name):
        html = html_of_mail(content)
    elif re.search(rb"<table[\s>]", content[:200_000], re.IGNORECASE):
        html = text_of(content, name)[0]
    else:
        return []
    rows = rows_of_html(html) if html else []
    _too_long(len(rows), name)
    return rows


def _running_text(content: bytes, name: str, kind: str) -> tuple[str, str]:
    if kind == "pdf":
        return _pdf(content, name), PRINTED
    if is_mail(content, name):
        return text_of_mail(content), "a mail"
    return text_of(content, name)


def _pdf(content: bytes, name: str) -> str:
    import pypdf  # only this kind of file needs it

    try:
        reader = pypdf.PdfReader(io.BytesIO(content))
        if reader.is_encrypted and not reader.decrypt(""):
            raise RuleError("file", name, "this PDF is locked with a password", "save it without, or type the figures in")
        pages = reader.pages[:MOST_PAGES]
        if (drawn := sum(drawn_on(page) for page in pages)) > MOST_DRAWN:
            raise RuleError("file", name, f"this PDF draws {drawn / 1e6:.0f} MB, far more than results need", "ask for a spreadsheet")
        text = "\n".join(_page(page, number, content) for number, page in enumerate(pages))
    except RuleError:
        raise
    except Exception:  # a broken PDF lets many kinds through
        raise RuleError("file", name, "this PDF is broken", "ask the laboratory for it again, or for a spreadsheet") from None
    if not text.strip():
        raise RuleError("file", name, "this PDF holds a picture of the page and no text", PICTURE)
    return text


def _page(page: Any, number: int, content: bytes) -> str:
    """The text of a page by the places of its words."""
    return "\n".join(placed_lines(content, number)) or page.extract_text(extraction_mode="layout")


def _text(text: str, encoding: str, name: str) -> Sheet:
    text = text.replace("\r\n", "\n").replace("\r", "\n")
    lines = text.split("\n")
    _too_long(len(lines), name)
    delimiter = None if encoding == PRINTED else _delimiter(lines[:400])
    if delimiter is None:
        rows_found = rows_by_place(beneath_each_other([_unquoted(line) for line in lines]))
        return Sheet(name, tuple(_cut([_cell(cell) for cell in row]) for row in rows_found), f"{encoding}, {BY_PLACE}")
    rows: list[tuple[str, ...]] = []
    try:
        for row in csv.reader(io.StringIO(text), delimiter=delimiter):
            rows.append(_cut([_cell(cell) for cell in row]))
    except csv.Error:  # a cell without end, or one beyond the reader's limit: read it plainly, losing no line
        rows = [_cut([_cell(cell.strip('"')) for cell in line.split(delimiter)]) for line in lines]
    said = {"\t": "tab", ";": "semicolon", ",": "comma", "|": "bar"}[delimiter]
    return Sheet(name, tuple(rows), f"{encoding}, parted by {said}")


def _unquoted(line: str) -> str:
    """A line of a list that was saved as one column of cells, without its quotation marks."""
    shown = line.strip()
    return shown[1:-1] if shown[:1] == shown[-1:] == '"' and shown.count('"') == 2 else line


def _delimiter(lines: list[str]) -> str | None:
    """The delimiter that parts most lines into the same number of cells; None where none does."""
    filled = [line for line in lines if line.strip()]
    if sum(line.strip().startswith('"') and line.strip().endswith('"') for line in filled) > 0.8 * len(filled):
        quoted = {sign: sum(line.count(f'"{sign}"') for line in filled) for sign in _DELIMITERS}
        return max(quoted, key=lambda sign: quoted[sign])  # cells in quotes, be it one to a line
    best, best_score, best_usual = None, 0.0, 0
    for delimiter in _DELIMITERS:
        if delimiter == "," and not any(_COMMA_OF_CELLS.search(line) for line in filled):
            continue  # decimal commas and those of sentences only
        counts = [_QUOTED_CELL.sub("", line).count(delimiter) for line in filled]
        usual = max(set(counts), key=lambda count: (counts.count(count) * min(count, 3), count), default=0)
        score = counts.count(usual) * min(usual, 12) if usual else 0.0
        if score > best_score * 1.05:
            best, best_score, best_usual = delimiter, score, usual if counts.count(usual) > max(1, LEAST_SHARE * len(filled)) else 0
    if best is None or best_usual == 0:
        return None
    spaced = sum("  " in line.strip() for line in filled)
    columns = sum(len(_RUNS.split(line.strip())) > 2 for line in filled)
    if best_usual < 2 and columns > 1:  # a comma in a sentence or two parts no table whose columns stand apart
        return None
    # a printed slip is parted by runs of spaces; a comma here and there is punctuation, and one between figures a decimal comma
    parting = [_DECIMAL_COMMA.sub("", line) if best == "," and "  " in line.strip() else line for line in filled]
    return None if spaced > sum(best in line for line in parting) else best


def _workbook(content: bytes, name: str) -> list[Sheet]:
    import openpyxl  # costs a tenth of a second, and most files are text

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # openpyxl warns of styles it leaves out
            book = openpyxl.load_workbook(io.BytesIO(content), read_only=True, data_only=True, keep_links=False)
            sheets = []
            for worksheet in book.worksheets:
                if not hasattr(worksheet, "iter_rows"):
                    continue
                if hasattr(worksheet, "reset_dimensions"):
                    worksheet.reset_dimensions()  # some programs write a wrong size into the sheet
                sheets.append(Sheet(worksheet.title, tuple(_sheet_rows(worksheet, name)), "workbook"))
            book.close()
    except RuleError:
        raise
    except Exception:  # openpyxl lets many kinds through for broken workbooks
        raise RuleError("file", name, "the workbook is broken", "save it again, or save it as CSV") from None
    return sheets


def _sheet_rows(worksheet, name: str):
    cells = 0
    for number, row in enumerate(worksheet.iter_rows(values_only=True), 1):
        _too_long(number, name)
        made = _cut([_shown(value) for value in row[:MOST_COLUMNS]])
        cells += len(made)
        if cells > 4_000_000:
            raise RuleError("file", name, "the workbook has more than 4 million cells", "save the sheet with the results as CSV")
        yield made


def _shown(value: Any) -> str:
    """A workbook's cell as its reader sees it; numbers lose what only floating point added."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:.10g}"
    if isinstance(value, datetime):
        return value.date().isoformat() if value.time() == value.time().min else value.isoformat(sep=" ", timespec="minutes")
    return value.isoformat() if isinstance(value, date) else _cell(value)


def _nested(content: bytes, name: str, kind: str) -> Sheet:
    """The rows of a JSON or XML document as a table."""
    document = json.loads(content.decode("utf-8-sig")) if kind == "json" else xml_of(text_of(content, name)[0], name)
    rows = rows_of(document)
    if not rows:
        raise RuleError(
            "file", name, f"there is no list of results in this {kind.upper()}", 'send a list such as [{"sample": "A1", "pH": 6.2}]'
        )
    _too_long(len(rows), name)
    columns = list(dict.fromkeys(key for row in rows for key in row))[:MOST_COLUMNS]
    made = [tuple(_cell(column) for column in columns), *(_cut([_shown(row.get(column)) for column in columns]) for row in rows)]
    return Sheet(name, tuple(made), kind.upper())
