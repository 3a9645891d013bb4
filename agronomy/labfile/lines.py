"""The readings of an understood file, one after another, each with its place in the file and its doubt. No row is lost in silence."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date

from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.base.said import say
from agronomy.labfile.aligned import Alignment
from agronomy.labfile.cells import Cell, read_cell
from agronomy.labfile.columns import Column, column_of
from agronomy.labfile.days import parse_date
from agronomy.labfile.doubter import Doubter
from agronomy.labfile.layers import layer_in_name, layer_of, unit_over
from agronomy.labfile.media import is_another, said_medium, titled_medium
from agronomy.labfile.understanding import Understanding, answered, column_letters
from agronomy.labfile.words import ADMIN, Heading, unit_in
from agronomy.tables import Tables


@dataclass(slots=True, kw_only=True)
class Line:
    """One reading of a file. `analyte` is None for a thing we do not know: then `heading` and `as_written` are all there is.

    `fix` is the unit and `fix_value` the value that would mend a doubt, where there is one. Rows count from 1, columns are letters, as in a
    spreadsheet.
    """

    sample: str
    taken: date | None
    analyte: str | None
    heading: str
    as_written: str
    typed: str | None
    value: float | None
    qualifier: str | None
    unit: str
    method: str
    rating: str
    row: int
    column: str
    doubt: str | None
    fix: str | None
    fix_value: str | None
    is_reading: bool  # whether it can be reckoned with; else it is kept as written
    top_cm: float | None = None
    bottom_cm: float | None = None
    why: str = ""  # what it was understood by

    def as_document(self) -> dict:
        """The line as the command line writes it (docs/plan-format.md)."""
        return {
            "sample": self.sample,
            "analyte": self.analyte or self.heading,
            "value": self.value,
            "qualifier": self.qualifier,
            "unit": self.unit,
            "method": self.method,
            "row": self.row,
            "column": self.column,
            "doubt": self.doubt,
            "is_reading": self.is_reading,
            "as_written": self.as_written,
            "why": self.why,
            "rating": self.rating,
            "taken": self.taken.isoformat() if self.taken else None,
            "top_cm": self.top_cm,
            "bottom_cm": self.bottom_cm,
        }


@record
class Remark:
    """A row that holds no reading: letterhead, footer, or a line of text. Kept and shown."""

    row: int
    text: str


def lines_of(understood: Understanding, tables: Tables, *, overrides: dict[str, dict] | None = None) -> Iterator[Line | Remark]:
    """Every reading and every remark, in the file's order.

    `overrides` are a person's corrections by place ("12C"): {"typed", "unit", "method"} or {"skip": true}.
    """
    yield from _read(understood, tables, overrides or {})
    for sheet, layout in understood.further:
        below = replace(understood, sheet=sheet, layout=replace(layout, questions=understood.questions), further=())
        yield from (line for line in _read(below, tables, overrides or {}) if isinstance(line, Line))


def _read(understood: Understanding, tables: Tables, overrides: dict[str, dict]) -> Iterator[Line | Remark]:
    reader = _Reader(understood, tables, overrides)
    yield from reader.across() if understood.layout.kind == "across" else reader.down()


class _Reader:
    def __init__(self, understood: Understanding, tables: Tables, overrides: dict[str, dict]):
        self.understood = understood
        self.layout, self.sheet, self.lexicon = understood.layout, understood.sheet, understood.lexicon
        headings = self.sheet.rows[self.layout.heading_row] if self.sheet.rows else ()
        told_at = [place for place in (self.layout.depth_at, self.layout.depth_to_at) if place is not None]
        further = (place for place, cell in enumerate(headings) if cell and self.lexicon.kind_of(cell) == "depth")
        self.depth_places = sorted({*told_at, *further}) if told_at else []
        self.other_days = [place for place, cell in enumerate(headings) if cell and self.lexicon.is_of_sampling(cell)]
        self.tables, self.overrides, self.doubter = tables, overrides, Doubter(tables)
        self.seen: set[tuple] = set()
        self.units: dict[tuple, str] = {}
        self.open = frozenset(question.key for question in understood.questions) - understood.answers.keys()

    def down(self) -> Iterator[Line | Remark]:
        yield from self._remarks(0, self.layout.first_row, leave_out=range(self.layout.heading_row, self.layout.first_row))
        sample = ""
        other = next((kind for row in reversed(self.sheet.rows[: self.layout.first_row]) if (kind := titled_medium(row, self.lexicon))), "")
        make = self._wide_row if self.layout.kind == "wide" else self._long_row
        aligned = Alignment(self.sheet, self.layout, self.lexicon)
        for number in range(self.layout.first_row, len(self.sheet.rows)):
            row = self.sheet.rows[number]
            if not any(row):
                continue
            other = titled_medium(row, self.lexicon) or other
            if self._is_of_another(row, other):
                yield self._remark(number, row)
                continue
            named = self._sample(row)
            if sample and self._is_further_layer(row):
                named = sample
            if self._is_summary(row, named) or not aligned.holds(row):
                yield self._remark(number, row)
                continue
            made = list(make(number, row, named or sample))
            if made and any(line.typed is not None for line in made):
                # a sample is named once above its rows in some long tables
                sample = named or (sample if self.layout.kind == "long" or self.layout.depth_at is not None else "")
                yield from made
            elif made and named and self._is_result_row(row):
                yield from made
            else:
                yield self._remark(number, row)

    def _is_further_layer(self, row: tuple[str, ...]) -> bool:
        """Whether a row tells another layer of the sample above it, whose name is printed once."""
        layout = self.layout
        if layout.depth_at is None or not layout.sample_at or layout.depth_at >= len(row) or not row[layout.depth_at]:
            return False
        first = layout.sample_at[0]
        return first < len(row) and not row[first]

    def _is_of_another(self, row: tuple[str, ...], titled: str) -> bool:
        """Whether a row is of another medium than the one that is read: by a cell of its own, else by the title over its table."""
        places = (place for place in range(len(row)) if place not in self.layout.sample_at)
        own = next((kind for place in places if row[place] and (kind := said_medium(row[place], self.lexicon))), "")
        return is_another(own or titled, self.lexicon)

    def _is_summary(self, row: tuple[str, ...], named: str) -> bool:
        """Whether a row is a mean, a limit or a sum of the rows above it, or the headings once more."""
        if self.layout.heading_row >= 0 and row == self.sheet.rows[self.layout.heading_row]:
            return True
        told = named or next(iter(cell for cell in row if cell), "")
        return self.lexicon.is_a("skipped_rows", told) or self.lexicon.is_a("not_samples", told)

    def _is_result_row(self, row: tuple[str, ...]) -> bool:
        """Whether a row without a number is a sample's all the same: its values are there, but cannot be read."""
        if self.layout.kind == "long":
            return True
        return sum(bool(row[column.place]) for column in self.layout.columns if column.place < len(row)) >= 2

    def across(self) -> Iterator[Line | Remark]:
        rows, layout = self.sheet.rows, self.layout
        known = {column.place: column for column in layout.columns}
        headings = rows[layout.heading_row] if layout.heading_row >= 0 else ()
        other = ""
        for number, row in enumerate(rows):
            other = titled_medium(row, self.lexicon) or other
            if is_another(other, self.lexicon):
                if any(row):
                    yield self._remark(number, row)
            elif number in known:
                made = list(self._across_row(number, row, known[number], headings))
                yield from made
                if not made and any(row):
                    yield self._remark(number, row)
            elif any(row) and number != layout.heading_row:
                yield self._remark(number, row)

    def _across_row(self, number: int, row: tuple[str, ...], column: Column, headings: tuple[str, ...]) -> Iterator[Line]:
        for place in self.layout.sample_at:
            cell = row[place] if place < len(row) else ""
            named = headings[place] if place < len(headings) else ""
            sample = self._only_sample() if not named or self.lexicon.kind_of(named) == "value" else named
            if cell and not self._is_beside(named):
                yield from self._line(number, place, cell, column, sample, self._day_of(place), row)

    def _is_beside(self, named: str) -> bool:
        """Whether a column of a table that runs across is no sample: a range, a target, an uncertainty, a unit."""
        lexicon = self.lexicon
        said = lexicon.kind_of(named) if named else ""
        return bool(named) and (
            lexicon.is_a("not_samples", named)
            or lexicon.is_a("skipped_rows", named)
            or lexicon.is_beside(named)
            or said in ("limit", "unit", "method", "date")
        )

    @staticmethod
    def _remark(number: int, row: tuple[str, ...]) -> Remark:
        return Remark(number + 1, " · ".join(cell for cell in row if cell)[:300])

    def _only_sample(self) -> str:
        """The name of a single sample, from a line such as "Sample: Bed 7" above the results."""
        for number, row in enumerate(self.sheet.rows[: max(self.layout.first_row, 0)]):
            if number == self.layout.heading_row:
                continue
            for place, cell in enumerate(row):
                name, _, rest = cell.partition(":")
                if self.lexicon.is_a("sample", name):
                    return rest.strip() or (row[place + 1] if place + 1 < len(row) else "")
        return ""

    def _remarks(self, start: int, stop: int, leave_out: range) -> Iterator[Remark]:
        for number in range(start, stop):
            row = self.sheet.rows[number]
            if number not in leave_out and any(row):
                yield self._remark(number, row)

    def _sample(self, row: tuple[str, ...]) -> str:
        # where printed columns are told by their places, a blank name may stand in the next column: no other column names the row
        only_first = self.layout.kind == "wide" and self.sheet.is_by_place
        for place in self.layout.sample_at[:1] if only_first else self.layout.sample_at:
            if place < len(row) and row[place]:
                return row[place]
        return ""

    def _wide_row(self, number: int, row: tuple[str, ...], sample: str) -> Iterator[Line]:
        taken = self._date(row)
        for column in self.layout.columns:
            cell = row[column.place] if column.place < len(row) else ""
            if cell:
                yield from self._line(number, column.place, cell, column, sample, taken, row)

    def _long_row(self, number: int, row: tuple[str, ...], sample: str) -> Iterator[Line]:
        layout = self.layout

        def at(place: int | None) -> str:
            return row[place] if place is not None and place < len(row) else ""

        name, cell = at(layout.analyte_at), at(layout.value_at)
        if not name or not cell:
            return
        said: Heading = self.lexicon.heading(name)
        if said.kind in ADMIN:
            return
        unit = (unit_in(at(layout.unit_at)) if at(layout.unit_at) else None) or layout.unit_of.get(name)
        method = said.method or (self.lexicon.method(at(layout.method_at), said.analyte) if said.analyte else None)
        value_at = required(layout.value_at)
        column = replace(column_of(value_at, name, said, unit=unit, method=method), rating_at=layout.rating_at)
        if column.method is None and column.analyte:
            column = replace(column, method=layout.method_of.get(column.analyte))
        column = answered(column, self.understood.answers, self.lexicon)
        qualifier = at(layout.qualifier_at).strip()
        if qualifier and qualifier[0] in "<>≤≥" and cell[:1].isdigit():
            cell = f"{qualifier}{cell}"
        elif qualifier in ("U", "ND", "nd"):
            cell = f"<{cell}" if cell[:1].isdigit() else "ND"
        yield from self._line(number, value_at, cell, column, sample, self._date(row), row)

    def _line(self, number: int, place: int, text: str, column: Column, sample: str, taken: date | None, row) -> Iterator[Line]:
        letters = column_letters(place)
        override = self.overrides.get(f"{number + 1}{letters}") or {} if self.overrides else {}
        if override.get("skip"):
            return
        cell = read_cell(override.get("typed", text), self.lexicon, self.layout.decimal)
        if cell.is_empty:
            return
        analyte = column.analyte
        unit = override.get("unit") or (self._unit(column, cell, row) if analyte else column.unit or "")
        method = override.get("method") or column.method or "not stated"
        layer = self._layer(row, place, sample)
        rating = cell.rating or (row[column.rating_at] if column.rating_at is not None and column.rating_at < len(row) else "")
        doubt, fix, fix_value, readable = cell.doubt, None, None, analyte is not None and cell.typed is not None
        if analyte is None:
            doubt = _why_kept(column)
        elif f"unit:{column.heading}" in self.open and not cell.unit:
            doubt, readable, unit = "the file does not say its unit: it waits for your answer", False, ""
        elif cell.typed is not None:
            doubt, fix, fix_value, readable = self._doubt(
                analyte, cell, unit, method, sample, taken, doubt, layer, settled=bool(override.get("settled"))
            )
        yield Line(
            sample=sample,
            taken=taken,
            analyte=analyte,
            heading=column.heading,
            as_written=text,
            typed=cell.typed,
            value=cell.value,
            qualifier=cell.qualifier,
            unit=unit,
            method=method,
            rating=rating[:40],
            row=number + 1,
            column=letters,
            doubt=doubt,
            top_cm=layer[0] if layer else None,
            bottom_cm=layer[1] if layer else None,
            why=self._why(column, cell, unit, method) if analyte else "",
            fix=fix,
            fix_value=fix_value,
            is_reading=readable,
        )

    def _unit(self, column: Column, cell: Cell, row) -> str:
        """The unit of a reading: from its cell, its column, its neighbour; oxides say so in it."""
        said = cell.unit or column.unit or ""
        if said.startswith("column:"):
            place = int(said.removeprefix("column:"))
            said = unit_in(row[place]) or "" if place < len(row) else ""
        key = (required(column.analyte), column.oxide, column.ion, said)
        if key not in self.units:
            self.units[key] = self._house_unit(*key)
        return self.units[key]

    def _house_unit(self, analyte: str, oxide: bool, ion: str | None, said: str) -> str:
        row = self.tables.analytes[analyte]
        if row.base_unit == "pH":
            return ""
        said = said or row.default_unit
        if ion and f"{'mg/kg' if said == 'ppm' else said} {ion}" in row.units:
            return f"{'mg/kg' if said == 'ppm' else said} {ion}"
        if oxide and row.oxide and not said.endswith(row.oxide):
            return f"{'mg/kg' if said == 'ppm' else said} {row.oxide}"
        return said

    def _doubt(
        self, analyte: str, cell: Cell, unit: str, method: str, sample: str, taken: date | None, doubt: str | None, layer, *, settled: bool
    ):
        """The doubt in words, the unit or the value that would mend it, and whether the reading can be reckoned with."""
        key = (sample, taken, analyte, unit, method, layer)
        if not sample:
            doubt = doubt or "this row names no sample"
        elif _is_no_name(sample):
            doubt = doubt or say("“{name}” is hardly a sample’s name: look which it is", name=sample[:30])
        elif key in self.seen:
            doubt = doubt or "the sample has this reading more than once; all are kept"
        self.seen.add(key)
        found, readable = self.doubter.about(analyte, required(cell.typed), required(cell.value), unit=unit, method=method)
        if settled and readable:
            return None, None, None, True
        if found is None:
            return doubt, None, None, readable
        return (found.text if doubt is None else f"{found.text} Also: {doubt}"), found.unit, found.value, readable

    def _date(self, row: tuple[str, ...]) -> date | None:
        place = self.layout.date_at
        if place is not None:
            told = next((row[other] for other in (place, *self.other_days) if other < len(row) and row[other]), "")
            return parse_date(told, self.layout.date_order)
        return parse_date(self.layout.day, self.layout.date_order) if self.layout.day else None

    def _day_of(self, place: int) -> date | None:
        """The day of a sample in a table that runs across."""
        number = self.layout.date_row
        told = self.sheet.rows[number][place] if number is not None and place < len(self.sheet.rows[number]) else ""
        return parse_date(told or self.layout.day, self.layout.date_order) if told or self.layout.day else None

    def _layer(self, row: tuple[str, ...], value_at: int, sample: str) -> tuple[float, float] | None:
        """The layer that a reading is of: from its column or row, from the sample's name, or from a line beside the table."""
        layout, rows = self.layout, self.sheet.rows
        told, heading = "", ""
        if layout.depth_row is not None and value_at < len(rows[layout.depth_row]):
            told, heading = rows[layout.depth_row][value_at], rows[layout.depth_row][0]
        elif filled := [place for place in self.depth_places if place < len(row) and row[place]]:
            told, heading = row[filled[0]], rows[layout.heading_row][filled[0]]
            if len(filled) > 1 and _BARE.fullmatch(told) and _BARE.fullmatch(row[filled[1]]):  # top and bottom, each in a column
                told = f"{told}-{row[filled[1]]}"
        found = layer_of(told, unit_over(heading)) if told else None
        return found or layer_in_name(sample) or (layout.layer_cm if self.lexicon.medium == "soil" else None)  # of water none is told

    def _why(self, column: Column, cell: Cell, unit: str, method: str) -> str:
        """What told the analyte, the unit and the method of a reading."""
        name = self.tables.analytes[required(column.analyte)].name
        told = [f"“{column.heading}” is {name[0].lower()}{name[1:]}"]
        if unit:
            told.append(f"{unit} {'stands beside the number' if cell.unit else 'is stated' if column.unit else 'is the usual unit'}")
        if method != "not stated":
            told.append(f"by {method}")
        return "; ".join(told)


_BARE = re.compile(r"\d{1,3}(?:[.,]\d+)?")
_DAY = re.compile(r"\d{1,4}[./-]\d{1,2}[./-]\d{1,4}$")


def _is_no_name(sample: str) -> bool:
    """Whether a name is a day or a layer, which tell of a sample and are none."""
    told = sample.strip()
    return bool(_DAY.match(told)) or layer_of(told, "cm") is not None


def _why_kept(column: Column) -> str:
    """Why a column makes no reading, in words."""
    if column.meanings:
        return "it may mean several things: it waits for your answer"
    words = {
        "index": "an index is a step of a scale, never an amount; kept as the laboratory's own",
        "class": "a class is a verdict, never an amount; kept as the laboratory's own",
        "share": "a share is no amount; kept as a remark",
        "ratio": "a ratio is no amount; kept as a remark",
        "recommendation": "the laboratory's advice, and no reading; kept beside ours",
    }
    if column.kind in words:
        return words[column.kind]
    if column.about:
        return f"{column.about}: no table here reads it; kept as it is written"
    return "not an analyte we know; kept as it is written"
