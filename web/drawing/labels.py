"""Sheets of labels in millimetres: where each label lies, and the code to scan as squares."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import segno

from agronomy.tables.rooms.sampling import LabelSheet
from web.drawing.rake import at
from web.query_params import whole

CODE_MM, CODE_LETTER = 7.0, 0.58  # height of a label's first line, and how wide a letter is beside it


@dataclass(frozen=True, slots=True)
class LabelText:
    """What stands on one label."""

    code: str
    lines: tuple[str, ...]
    address: str


@dataclass(frozen=True, slots=True)
class Label:
    """A label as drawn: its place and size [mm], its words, and its code as path data in a box of `modules` squares."""

    x: str
    y: str
    width: str
    height: str
    code: str
    lines: tuple[tuple[str, str], ...]
    text_x: str
    code_y: str
    code_size: str
    qr_path: str
    qr_modules: int
    qr_x: str
    qr_y: str
    qr_side: str


@dataclass(frozen=True, slots=True)
class Page:
    """One sheet [mm]."""

    width: str
    height: str
    labels: tuple[Label, ...]


@lru_cache(maxsize=256)  # the same sheet is looked at, printed and printed again
def qr_path(text: str) -> tuple[str, int]:
    """Path data of a QR code's dark runs, one unit a module, and how many modules it is wide (its quiet border included)."""
    code = segno.make(text, micro=False, error="m")
    border = 2
    runs = []
    for row, line in enumerate(code.matrix):
        start = None
        for column, dark in enumerate([*line, 0]):
            if dark and start is None:
                start = column
            elif not dark and start is not None:
                runs.append(f"M{start + border} {row + border}h{column - start}v1h-{column - start}z")
                start = None
    return "".join(runs), int(code.symbol_size(border=border)[0])


def label_pages(texts: list[LabelText], sheet: LabelSheet, *, first: int = 1) -> tuple[Page, ...]:
    """Sheets filled from the `first` free label on (1 is the top left), row by row; `sheet` is a row of label_sheets.csv."""
    columns, rows = int(sheet.columns), int(sheet.rows)
    on_a_page = columns * rows
    first = min(max(first, 1), on_a_page)
    slots: list[LabelText | None] = [None] * (first - 1) + list(texts)
    pages = []
    for start in range(0, len(slots), on_a_page):
        labels = tuple(_label(text, place, columns, sheet) for place, text in enumerate(slots[start : start + on_a_page]) if text)
        pages.append(Page(at(sheet.page_width_mm), at(sheet.page_height_mm), labels))
    return tuple(pages)


def _label(text: LabelText, place: int, columns: int, sheet: LabelSheet) -> Label:
    row, column = divmod(place, columns)
    x, y = sheet.left_mm + column * sheet.step_x_mm, sheet.top_mm + row * sheet.step_y_mm
    width, height = sheet.label_width_mm, sheet.label_height_mm
    side = min(height - 4, width * 0.4)
    path, modules = qr_path(text.address)
    text_x, letter = x + side + 4, 3.1
    room = int((width - side - 6) / (letter * 0.52))
    most = max(1, int((height - 12) / 4.2))
    lines = tuple(
        (f"{line[: room - 1]}…" if len(line) > room else line, at(y + 13.5 + 4.2 * number)) for number, line in enumerate(text.lines[:most])
    )
    return Label(
        at(x),
        at(y),
        at(width),
        at(height),
        text.code,
        lines,
        at(text_x),
        at(y + 8.5),
        at(min(CODE_MM, (width - side - 6) / (max(1, len(text.code)) * CODE_LETTER))),
        path,
        modules,
        at(x + 2),
        at(y + (height - side) / 2),
        at(side),
    )


def sheet_asked(asked: Mapping[str, str], units: str, texts: list[LabelText], sheets: Mapping[str, LabelSheet]) -> dict[str, Any]:
    """The pages of the sheet that was asked for, from the first free label on, as the template of labels wants them."""
    usual = "letter_30" if units == "us" else "a4_21"
    chosen = asked.get("sheet", usual)
    chosen = chosen if chosen in sheets else usual
    first = whole(asked.get("first"), low=1, high=1000, usual=1)
    return {
        "pages": label_pages(texts, sheets[chosen], first=first),
        "sheets": sheets.values(),
        "chosen": chosen,
        "first": first,
        "is_plain": chosen.startswith("plain"),
    }
