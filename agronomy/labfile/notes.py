"""Head and foot lines of a laboratory's table: extractants, units, depth and day that hold for all of it. Each can be left out."""

import re
from dataclasses import replace

from agronomy.base.record import record
from agronomy.base.said import joined
from agronomy.labfile.columns import Layout
from agronomy.labfile.days import parse_date
from agronomy.labfile.layers import LAYER, layer_of
from agronomy.labfile.legends import legends_in, with_legends
from agronomy.labfile.sheets import Sheet
from agronomy.labfile.words import Lexicon, plain, unit_in, without_unit

MOST_WORDS_FOR_A_UNIT = 14
MOST_WORDS_OF_A_DEPTH = 9  # a longer line talks of something else
LONGEST_DAY = 90  # signs of a line that tells a day
FARTHEST = 40  # rows above and below the table that are looked at
_UNITS_FOR_ALL = re.compile(r"\b(results?|values?|units?|concentrations?|figures|ergebnisse|werte|resultats|valeurs|resultados|valores)\b")
_EXTRACTS = re.compile(r"\b(extract\w*|extraktion|extraccion|method\w*|methode|metodo)\b")
_BY = re.compile(r"\b(by|with|using|extract\w*|method\w*|extraktion|methode|extraction|extraccion|metodo|in)\b|[:：=]")
_LEFT_OUT = "no"


@record
class Note:
    """Something that a line beside the table says: its key for an answer, what was understood, and the line itself."""

    key: str
    says: str
    line: str
    row: int


def read_notes(layout: Layout, sheet: Sheet, lexicon: Lexicon, answers: dict[str, str]) -> tuple[Layout, tuple[Note, ...]]:
    """The layout with what the lines beside the table add, and those notes; a note that was answered "no" adds nothing."""
    notes: list[Note] = []
    legends: dict[str, str] = {}
    for row, line in _lines(layout, sheet):
        if told := legends_in(line):
            if _kept(f"note:{row + 1}:legend", joined(f"{mark}: {text}" for mark, text in told.items()), line, row, answers, notes):
                legends |= told
            continue
        layout = _methods(layout, sheet, row, line, lexicon, answers, notes)
        layout = _unit(layout, row, line, lexicon, answers, notes)
        layout = _depth(layout, row, line, answers, notes)
        layout = _day(layout, row, line, lexicon, answers, notes)
    return with_legends(layout, sheet, legends, lexicon), tuple(notes)


def _lines(layout: Layout, sheet: Sheet) -> list[tuple[int, str]]:
    """The head lines, and the last lines, that are no rows of the table."""
    head = range(max(0, layout.heading_row - FARTHEST), max(0, layout.heading_row))
    end = max((number for number, row in enumerate(sheet.rows) if any(row)), default=0) + 1  # of this table: what is below it is blank
    foot = range(max(layout.first_row, end - FARTHEST), end)
    found = []
    for number in (*head, *foot):
        cells = [cell for cell in sheet.rows[number] if cell]
        if cells and (number in head or len(cells) <= 2) and not _is_of_table(number, layout, sheet):
            found.append((number, " ".join(cells)))
    return found


def _is_of_table(number: int, layout: Layout, sheet: Sheet) -> bool:
    """Whether a short line is a result: what stands beside its name ("K (Mehlich 1)  83 mg/dm3") tells of no other."""
    if layout.kind == "across":
        return any(column.place == number for column in layout.columns)
    row, places = sheet.rows[number], (layout.analyte_at, layout.value_at)
    return (
        layout.kind == "long"
        and number >= layout.first_row
        and all(place is not None and place < len(row) and row[place] for place in places)
    )


def _kept(key: str, says: str, line: str, row: int, answers: dict[str, str], notes: list[Note]) -> bool:
    notes.append(Note(key, says, line[:200], row + 1))
    return answers.get(key) != _LEFT_OUT


def _present(layout: Layout, sheet: Sheet, lexicon: Lexicon) -> set[str]:
    """The analytes that the table holds."""
    if layout.kind != "long" or layout.analyte_at is None:
        return {column.analyte for column in layout.columns if column.analyte}
    names = {row[layout.analyte_at] for row in sheet.rows[layout.first_row : layout.first_row + 400] if layout.analyte_at < len(row)}
    return {said.analyte for name in names if (said := lexicon.heading(name)).analyte}


def _methods(layout: Layout, sheet: Sheet, row: int, line: str, lexicon: Lexicon, answers: dict[str, str], notes: list[Note]) -> Layout:
    """Extractants: of the analytes that a clause names, else of all that the extractant measures."""
    for clause in _clauses(line, lexicon):
        methods = lexicon.methods_in(clause)
        if not methods:
            continue
        named = {said.analyte for word in _words(clause) if (said := lexicon.heading(word)).analyte and said.kind == "amount"}
        told = _BY.search(plain(clause) + clause)
        if not named and not told:
            continue
        present = _present(layout, sheet, lexicon)
        for method, analytes in methods:
            wanted = ((named & analytes) if named else analytes) & present
            hit = [column for column in layout.columns if column.analyte in wanted and column.method is None]
            if layout.kind == "long" and (named or _EXTRACTS.search(plain(clause))):
                layout = _method_of(layout, method, wanted, row, line, answers, notes)
            if not hit:
                continue
            names = ", ".join(dict.fromkeys(column.analyte for column in hit if column.analyte))
            if _kept(f"note:{row + 1}:{method}", f"{names} by {method}", line, row, answers, notes):
                columns = tuple(replace(column, method=method) if column in hit else column for column in layout.columns)
                layout = replace(layout, columns=columns)
    return layout


def _clauses(line: str, lexicon: Lexicon) -> list[str]:
    """The parts of a line that each tell one way: up to a method and what follows it without one ("P, K by X, B by Y")."""
    found: list[str] = []
    for part in re.split(r"[.;](?:\s|$)|[；。]", line):
        clauses: list[str] = []
        open_ = ""
        for piece in re.split(r",\s", part):
            open_ = f"{open_}, {piece}" if open_ else piece
            if lexicon.methods_in(open_):
                clauses.append(open_)
                open_ = ""
        if open_ and clauses:
            clauses[-1] += f", {open_}"
        found += clauses or [open_]
    return found


def _method_of(layout: Layout, method: str, analytes: set[str], row: int, line: str, answers: dict[str, str], notes: list[Note]) -> Layout:
    """The method of some analytes in a long table, where its rows tell none."""
    told = {analyte: method for analyte in sorted(analytes) if analyte not in layout.method_of}
    if not told or not _kept(f"note:{row + 1}:{method}", f"{', '.join(told)} by {method}", line, row, answers, notes):
        return layout
    return replace(layout, method_of=layout.method_of | told)


def _words(clause: str) -> list[str]:
    words = re.split(r"[\s,/&、，;；+]+|\band\b|\bund\b|\bet\b|\by\b", clause)
    return [word.strip("():：") for word in words if word.strip("():：")] + re.findall(r"\b[A-Za-z]+ [a-z]+", clause)


def _unit(layout: Layout, row: int, line: str, lexicon: Lexicon, answers: dict[str, str], notes: list[Note]) -> Layout:
    """One unit for all results ("all results in mg/kg") or for those that a clause names, where a column has none of its own."""
    if re.search(r"\d\s*=|[x×]\s*\d", line) or lexicon.methods_in(line):
        return layout
    analytes = lexicon.tables.analytes
    for clause in re.split(r"[;；]", line):
        unit = unit_in(clause)
        left = without_unit(clause) if unit else ""
        if unit is None or any(sign.isdigit() for sign in left) or len(plain(clause).split(" ")) > MOST_WORDS_FOR_A_UNIT:
            continue
        named = {said.analyte or "" for word in _words(left) if (said := lexicon.heading(word)).analyte and said.kind == "amount"}
        if not named and unit == "%" and not _UNITS_FOR_ALL.search(plain(line)):
            continue
        wanted = named or {column.analyte for column in layout.columns if column.analyte}
        hit = [
            column
            for column in layout.columns
            if column.analyte and column.analyte in wanted and column.unit is None and unit in analytes[column.analyte].units
        ]
        if hit and _kept(f"note:{row + 1}:unit", f"{', '.join(column.heading for column in hit)} in {unit}", line, row, answers, notes):
            layout = replace(layout, columns=tuple(replace(column, unit=unit) if column in hit else column for column in layout.columns))
    return layout


def _depth(layout: Layout, row: int, line: str, answers: dict[str, str], notes: list[Note]) -> Layout:
    found = LAYER.search(line)
    if found is None or layout.depth_at is not None or layout.layer_cm is not None or len(plain(line).split(" ")) > MOST_WORDS_OF_A_DEPTH:
        return layout
    layer = layer_of(found.group(1), found.group(2))
    if layer and _kept(f"note:{row + 1}:depth", f"sampled from {layer[0]:g} to {layer[1]:g} cm", line, row, answers, notes):
        layout = replace(layout, layer_cm=layer)
    return layout


def _day(layout: Layout, row: int, line: str, lexicon: Lexicon, answers: dict[str, str], notes: list[Note]) -> Layout:
    if layout.date_at is not None or layout.date_row is not None or layout.day:
        return layout
    if len(line) > LONGEST_DAY or not lexicon.is_of_sampling(line) or (day := parse_date(line, layout.date_order)) is None:
        return layout
    if _kept(f"note:{row + 1}:day", f"sampled on {day:%Y-%m-%d}", line, row, answers, notes):
        layout = replace(layout, day=line)
    return layout
