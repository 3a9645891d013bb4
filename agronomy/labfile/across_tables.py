"""A table that runs across: a row for each analyte, a column for each sample."""

from dataclasses import replace

from agronomy.labfile.cells import RANGE, read_cell
from agronomy.labfile.columns import Column, Layout, column_of
from agronomy.labfile.days import date_column
from agronomy.labfile.sheets import Sheet
from agronomy.labfile.words import Lexicon, unit_in

MOSTLY_ONCE = 0.6  # of the rows, each of another analyte


def across(sheet: Sheet, rows, lexicon: Lexicon):
    """A row an analyte, a column a sample; also the plain list of one sample's results."""
    for name_at in (0, 1):
        named = [
            (number, said)
            for number, row in enumerate(rows)
            if len(row) > name_at + 1 and (said := lexicon.heading(row[name_at])).analyte and said.kind == "amount"
        ]
        names = {rows[number][name_at] for number, _ in named}
        if len({heading.analyte for _, heading in named}) < 2 or len(names) < MOSTLY_ONCE * len(named):
            continue  # names that come again and again are those of a row for each reading
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
        values = _of_samples(rows, lexicon, named[0][0], name_at, _without_ranges(named, rows, values))
        if not values:
            continue
        rating_at = (
            _column_where(
                named, rows, width, name_at, lambda cell: lexicon.is_a("ratings", cell) and read_cell(cell, lexicon, None).value is None
            )
            if len(values) == 1
            else None
        )
        return len(named) * 0.9, _layout(sheet, rows, lexicon, named, name_at, unit_at, method_at, rating_at, values)
    return None


def _without_ranges(named, rows, values: list[int]) -> list[int]:
    """The columns that hold no ranges ("5.5 - 6.7") from row to row: those are what is wished for."""
    kept = [place for place in values if _share(named, rows, place, lambda cell: bool(RANGE.fullmatch(cell.strip()))) < 0.5]
    return kept or values


def _of_samples(rows, lexicon: Lexicon, first: int, name_at: int, values: list[int]) -> list[int]:
    """Of the columns of values those of which a row above tells a day, a depth or a number of the laboratory, where one does of some only:
    a limit, a target or last year's figure was never sampled.
    """
    for row in rows[_names_above(rows, lexicon, first, name_at, values) + 1 : first]:
        label = next((cell for cell in row[: name_at + 1] if cell), "")
        if lexicon.kind_of(label) not in ("date", "depth", "lab_number"):
            continue
        told = [place for place in values if place < len(row) and row[place]]
        if told and len(told) < len(values):
            return told
    return values


def _layout(sheet: Sheet, rows, lexicon: Lexicon, named, name_at: int, unit_at, method_at, rating_at, values: list[int]) -> Layout:
    """The layout of rows that are analytes, with what else has numbers among them."""
    first, last = named[0][0], named[-1][0]
    heading_row = _names_above(rows, lexicon, first, name_at, values)
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
    columns += _further(rows, lexicon, range(first, last + 1), {place for place, _ in named}, name_at, values)
    return Layout(
        sheet=sheet.name,
        kind="across",
        medium=lexicon.medium,
        heading_row=heading_row,
        first_row=first,
        sample_at=tuple(values),
        depth_row=_row_of("depth", rows, lexicon, name_at, values),
        date_row=_row_of("date", rows, lexicon, name_at, values),
        date_at=None,
        date_order="dmy",
        decimal=None,
        columns=tuple(sorted(columns, key=lambda column: column.place)),
    )


def _row_of(kind: str, rows, lexicon: Lexicon, name_at: int, values: list[int]) -> int | None:
    """The row that tells each sample's depth, or the day on which it was taken."""
    told = {
        number: label
        for number, row in enumerate(rows)
        if row and sum(place < len(row) and bool(row[place]) for place in values) >= 0.5 * len(values)
        if lexicon.kind_of(label := row[0] or row[min(name_at, len(row) - 1)]) == kind
    }
    return date_column(told, lexicon) if kind == "date" else next(iter(told), None)


NOT_NAMES = ("date", "depth", "lab_number", "unit", "method", "limit", "client", "crop", "determination")


def _names_above(rows, lexicon: Lexicon, first: int, name_at: int, values: list[int]) -> int:
    """The row over the results that names the samples: one that says so, else the nearest that says nothing else of them."""
    above = [number for number in range(first - 1, -1, -1) if any(place < len(rows[number]) and rows[number][place] for place in values)]

    def said(number: int) -> str:
        label = next((cell for cell in rows[number][: name_at + 1] if cell), "")
        return lexicon.kind_of(label) if label else ""

    def names(number: int) -> bool:
        """Whether a row headed “Parameter” has names over its columns, not “Result” over and over."""
        cells = [rows[number][place] for place in values if place < len(rows[number]) and rows[number][place]]
        return any(lexicon.kind_of(cell) not in ("value", "unit") for cell in cells)

    told = [number for number in above if said(number) == "sample"]
    headed = [number for number in above if said(number) == "determination" and names(number)]
    free = [number for number in above if said(number) not in NOT_NAMES] or [number for number in above if said(number) == "determination"]
    return next(iter((*told, *headed, *free)), -1)


def _further(rows, lexicon: Lexicon, places: range, named: set[int], name_at: int, values: list[int]) -> list[Column]:
    """Rows between the analytes that hold numbers, but no amount of an analyte."""
    found = []
    for number in places:
        row = rows[number]
        if len(row) <= name_at + 1 or not row[name_at] or number in named:
            continue
        if any(place < len(row) and read_cell(row[place], lexicon, None).value is not None for place in values):
            said = lexicon.heading(row[name_at])
            plain = Column(place=number, heading=row[name_at], analyte=None, kind="")
            found.append(column_of(number, row[name_at], said) if said.kind else plain)
    return found


def _share(named, rows, place: int, test) -> float:
    cells = [rows[number][place] for number, _ in named if place < len(rows[number]) and rows[number][place]]
    return sum(map(test, cells)) / len(cells) if cells else 0.0


def _column_where(named, rows, width: int, name_at: int, test, share: float = 0.6) -> int | None:
    return next((place for place in range(name_at + 1, width) if _share(named, rows, place, test) > share), None)
