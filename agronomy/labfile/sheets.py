"""From a laboratory's file to sheets of cells, all as text, with the row numbers that people see in it."""

import csv
import io
import json
import warnings
from datetime import date, datetime
from typing import Any

from agronomy.base.errors import RuleError
from agronomy.base.record import record
from agronomy.labfile.decode import PICTURE, kind_of, text_of
from agronomy.labfile.effort import MOST_PAGES, drawn_on
from agronomy.labfile.prose import is_mail, text_of_mail

MOST_DRAWN = 5_000_000  # read in half a minute
MOST_ROWS, MOST_COLUMNS, LONGEST_CELL = 200_000, 400, 2000
_DELIMITERS = "\t;,|"


@record
class Sheet:
    """One table: its name, its rows of text cells (trailing empty cells cut), and how it was read."""

    name: str
    rows: tuple[tuple[str, ...], ...]
    read_as: str


def sheets_of(content: bytes, name: str) -> tuple[list[Sheet], tuple[str, str] | None]:
    """Every sheet of a file that holds a cell; and the running text of a text, a mail or a PDF, with how it was read.

    Raises RuleError for a file that cannot be read.
    """
    kind, told = kind_of(content, name), None
    if kind == "xlsx":
        sheets = _workbook(content, name)
    elif kind == "json":
        sheets = [_json(content, name)]
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


def _running_text(content: bytes, name: str, kind: str) -> tuple[str, str]:
    if kind == "pdf":
        return _pdf(content, name), "the text of a PDF"
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
        text = "\n".join(page.extract_text(extraction_mode="layout") for page in pages)
    except RuleError:
        raise
    except Exception:  # a broken PDF lets many kinds through
        raise RuleError("file", name, "this PDF is broken", "ask the laboratory for it again, or for a spreadsheet") from None
    if not text.strip():
        raise RuleError("file", name, "this PDF holds a picture of the page and no text", PICTURE)
    return text


def _text(text: str, encoding: str, name: str) -> Sheet:
    text = text.replace("\r\n", "\n").replace("\r", "\n")
    lines = text.split("\n")
    _too_long(len(lines), name)
    delimiter = _delimiter(lines[:400])
    if delimiter is None:
        parts = (line.replace("\t", "  ").split("  ") for line in lines)
        return Sheet(name, tuple(_cut([_cell(cell) for cell in row if cell.strip()]) for row in parts), f"{encoding}, columns by spaces")
    rows: list[tuple[str, ...]] = []
    try:
        for row in csv.reader(io.StringIO(text), delimiter=delimiter):
            rows.append(_cut([_cell(cell) for cell in row]))
    except csv.Error:  # a cell without end, or one beyond the reader's limit: read it plainly, losing no line
        rows = [_cut([_cell(cell.strip('"')) for cell in line.split(delimiter)]) for line in lines]
    said = {"\t": "tab", ";": "semicolon", ",": "comma", "|": "bar"}[delimiter]
    return Sheet(name, tuple(rows), f"{encoding}, parted by {said}")


def _delimiter(lines: list[str]) -> str | None:
    """The delimiter that parts most lines into the same number of cells; None where none does."""
    filled = [line for line in lines if line.strip()]
    best, best_score = None, 0.0
    for delimiter in _DELIMITERS:
        counts = [line.count(delimiter) for line in filled]
        usual = max(set(counts), key=lambda count: (counts.count(count) * min(count, 3), count), default=0)
        score = counts.count(usual) * min(usual, 12) if usual else 0.0
        if score > best_score * 1.05:
            best, best_score = delimiter, score
    if best is None:
        return None
    spaced = sum("  " in line.strip() for line in filled)
    # a printed slip is parted by runs of spaces, and a comma here and there is punctuation
    return None if spaced > sum(best in line for line in filled) else best


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


def _json(content: bytes, name: str) -> Sheet:
    """A list of objects (or an object that holds one) as a table; nested values become columns like "results.P.value"."""
    document = json.loads(content.decode("utf-8-sig"))
    records = _records(document)
    if not records:
        raise RuleError("file", name, "there is no list of results in this JSON", 'send a list such as [{"sample": "A1", "pH": 6.2}]')
    flat = [item for record in records for item in _spread(record)]
    _too_long(len(flat), name)
    columns = list(dict.fromkeys(key for item in flat for key in item))[:MOST_COLUMNS]
    rows = [tuple(_cell(column) for column in columns)]
    rows += [_cut([_shown(item.get(column)) for column in columns]) for item in flat]
    return Sheet(name, tuple(rows), "JSON")


def _records(document: Any) -> list[dict]:
    if isinstance(document, list):
        return [item for item in document if isinstance(item, dict)]
    if isinstance(document, dict):
        lists = [value for value in document.values() if isinstance(value, list) and any(isinstance(item, dict) for item in value)]
        return [item for item in max(lists, key=len) if isinstance(item, dict)] if lists else [document]
    return []


def _spread(record: dict) -> list[dict[str, Any]]:
    """One record as flat rows: a list of objects inside it makes a row each, with the record's own values repeated."""
    plain: dict[str, Any] = {}
    lists: list[list[dict]] = []
    for key, value in record.items():
        if isinstance(value, dict):
            plain |= {f"{key} {inner}": _scalar(item) for inner, item in value.items()}
        elif isinstance(value, list) and any(isinstance(item, dict) for item in value):
            lists.append([item for item in value if isinstance(item, dict)])
        else:
            plain[str(key)] = _scalar(value)
    if not lists:
        return [plain]
    return [plain | {str(key): _scalar(value) for key, value in item.items()} for item in lists[0]]


def _scalar(value: Any) -> Any:
    if isinstance(value, int | float | str | type(None)):
        return value
    if isinstance(value, dict) and "value" in value:
        return f"{value['value']} {value.get('unit', '')}".strip()
    return json.dumps(value, ensure_ascii=False)[:200]
