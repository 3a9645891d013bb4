"""Results in blocks, a sample to each ("Sample: A1", its day and depth, then a row for each result), made into one long table.

What a block says of its sample is written behind its rows, so that every cell keeps its row and column.
"""

from dataclasses import replace

from agronomy.base.record import record
from agronomy.labfile.cells import read_cell
from agronomy.labfile.sheets import Sheet
from agronomy.labfile.words import Lexicon

SAID = {"sample": "Sample", "depth": "Depth", "date": "Date sampled", "lab_number": "Lab no"}
NEVER_FIRST = ("crop", "client", "sample", "lab_number", "date", "depth")  # such a word begins a line about the sample
MOST_IN_A_MARK = 8  # cells of a line that names a sample: name, day, depth and crop, each with its word


@record
class _Block:
    """A sample: the row that names it, the row after its last, and what is said of it by kind."""

    first: int
    stop: int
    said: dict[str, str]


def unblocked(sheet: Sheet, lexicon: Lexicon) -> Sheet:
    """The sheet with its blocks as one long table; as it is where no two blocks stand in it. Source: definition."""
    indent = min((next((place for place, cell in enumerate(row) if cell), 0) for row in sheet.rows if any(row)), default=0)
    if indent:  # a table that begins further right
        made = unblocked(replace(sheet, rows=tuple(row[indent:] for row in sheet.rows)), lexicon)
        return replace(made, rows=tuple((*[""] * indent, *row) if row else () for row in made.rows))
    blocks = _blocks(sheet, lexicon)
    if not blocks or (len(blocks) == 1 and not _is_list(sheet, blocks[0], lexicon)):
        return sheet
    kinds = [kind for kind in SAID if any(kind in block.said for block in blocks)]
    width = max(2, *(len(row) for row in sheet.rows))
    rows = [list(row) for row in sheet.rows]
    heading = _heading_row(sheet, blocks, lexicon)
    headings = [sheet.rows[number] for number in (heading,) if number is not None]
    for block in blocks:
        for number in range(block.first, block.stop):
            row = _split(sheet.rows[number], lexicon)
            if row in headings:
                rows[number] = [*row]
            elif _is_result(row, lexicon):
                filled = [row[0].rstrip(": "), *row[1:]]
                rows[number] = [*filled, *[""] * (width - len(filled)), *(block.said.get(kind, "") for kind in kinds)]
    named = [SAID[kind] for kind in kinds]
    if heading is None:
        heading = blocks[0].first
        rows[heading] = ["Test", "Result", *[""] * (width - 2), *named]
    else:
        headed = [*sheet.rows[heading], *[""] * (width - len(sheet.rows[heading])), *named]
        rows = [list(headed) if tuple(other) == sheet.rows[heading] else other for other in rows]
    return replace(sheet, rows=tuple(tuple(row) for row in rows), kind="long")


def _is_list(sheet: Sheet, block: _Block, lexicon: Lexicon) -> bool:
    """Whether the only block is a list of one sample's results: most of its lines begin with something that laboratories measure."""
    rows = [_split(row, lexicon) for row in sheet.rows[block.first : block.stop]]
    names = [row[0].rstrip(": ") for row in rows if _is_result(row, lexicon)]
    return sum(lexicon.heading(name).kind == "amount" for name in names) > 0.6 * len(names)


def _blocks(sheet: Sheet, lexicon: Lexicon) -> list[_Block]:
    marks = [number for number, row in enumerate(sheet.rows) if _named(row, lexicon)]
    if not marks:
        return []
    found = []
    for number, stop in zip(marks, [*marks[1:], len(sheet.rows)], strict=True):
        said: dict[str, str] = {}
        results = 0
        for place in range(number, stop):
            row = sheet.rows[place]
            pairs = _pairs(row, lexicon)
            if pairs and not results:
                said = pairs | said
            results += _is_result(_split(row, lexicon), lexicon)
        if results > 1:
            found.append(_Block(number, stop, said))
    return found


def _named(row: tuple[str, ...], lexicon: Lexicon) -> str:
    """The name of the sample that a line begins a block with; nothing where it does not."""
    return _pairs(row, lexicon).get("sample", "")


def _pairs(row: tuple[str, ...], lexicon: Lexicon) -> dict[str, str]:
    """What a line says of a sample by its words: "Sample: A1", or a cell with the word and the next with the name."""
    filled = [cell for cell in row if cell]
    if not filled or len(filled) > MOST_IN_A_MARK:
        return {}
    found: dict[str, str] = {}
    place = 0
    while place < len(filled):
        word, colon, rest = filled[place].replace("：", ":").partition(":")
        if not colon and len(filled) != 2:  # a cell without a colon names nothing but the one beside it
            place += 1
            continue
        kind = lexicon.kind_of(word.strip())
        if kind == "date" and lexicon.is_of_report(word) and not lexicon.is_of_sampling(word):
            kind = ""
        following = filled[place + 1] if place + 1 < len(filled) else ""
        if kind in SAID and colon and rest.strip():
            found.setdefault(kind, rest.strip())
        elif kind in SAID and following and (_is_label(colon, following) or (len(filled) == 2 and not _says_more(following, lexicon))):
            found.setdefault(kind, following)
            place += 1
        place += 1
    return found


def _is_label(colon: str, following: str) -> bool:
    """Whether a word with a colon names what follows, be that a name such as "N field"."""
    return bool(colon) and ":" not in following


def _split(row: tuple[str, ...], lexicon: Lexicon) -> tuple[str, ...]:
    """A line whose name and value stand in one cell ("Ca: 4484 mg/kg"), in two."""
    filled = [cell for cell in row if cell]
    if len(filled) != 1 or row[0] != filled[0]:
        return row
    name, colon, value = filled[0].rpartition(":")
    return (name, value.strip()) if colon and lexicon.heading(name).kind == "amount" and value.strip() else row


def _says_more(cell: str, lexicon: Lexicon) -> bool:
    """Whether a cell is itself a heading: then it is no name."""
    said = lexicon.heading(cell)
    return bool(lexicon.kind_of(cell)) or (said.kind == "amount" and bool(said.analyte) and not any(sign.isdigit() for sign in cell))


def _is_result(row: tuple[str, ...], lexicon: Lexicon) -> bool:
    """Whether a line of a block is a result: something that has a name, and a number or a word beside it."""
    filled = [cell for cell in row if cell]
    if len(filled) < 2 or row[0] != filled[0]:
        return False
    name = filled[0].rstrip(": ")
    if lexicon.kind_of(name) in NEVER_FIRST:
        return False
    said = lexicon.heading(name)
    read = [read_cell(cell, lexicon, None) for cell in filled[1:3]]
    is_number = any(item.value is not None for item in read) or any(
        cell[:1].isdigit() for cell in filled[1:3]
    )  # "2,313" may be two numbers
    return is_number or bool(said.analyte and any(item.is_empty for item in read))


def _heading_row(sheet: Sheet, blocks: list[_Block], lexicon: Lexicon) -> int | None:
    """The row of headings over the results of the first block, where there is one."""
    block = blocks[0]
    for number in range(block.first + 1, block.stop):
        row = sheet.rows[number]
        if _is_result(row, lexicon):
            return None
        filled = [cell for cell in row if cell]
        words = sum(read_cell(cell, lexicon, None).value is None for cell in filled)
        again = all(row in sheet.rows[other.first : other.stop] for other in blocks)
        if len(filled) > 1 and words >= 2 and again and ":" not in "".join(filled) and lexicon.kind_of(filled[0]) not in NEVER_FIRST:
            return number
    return None
