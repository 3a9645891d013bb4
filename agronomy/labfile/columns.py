"""What a table is made of: columns, questions, the layout, and which columns name the sample."""

from dataclasses import asdict, field
from typing import Any

from agronomy.base.record import record
from agronomy.labfile.words import Heading, Lexicon
from agronomy.sampling.codes import code_in

LOOK_AT_ROWS = 400
FIRST_LOOK = 60  # rows of a table in which the heading must come
GROUPS = {"pH": ("pH",), "P": ("P",), "cations": ("K", "Ca", "Mg", "Na"), "traces": ("Zn", "Mn", "Fe", "Cu", "B", "S")}


@record(kw_only=True)
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


@record
class Question:
    """Something the file did not tell: a key for the answer, the words, and the answers to choose from (value, words)."""

    key: str
    text: str
    choices: tuple[tuple[str, str], ...]
    default: str


@record(kw_only=True)
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
    depth_to_at: int | None = None  # where top and bottom stand in columns of their own
    depth_row: int | None = None  # of a table that runs across
    date_row: int | None = None
    layer_cm: tuple[float, float] | None = None  # of all samples, where a line beside the table tells it
    day: str = ""  # of all samples, likewise
    method_of: dict[str, str] = field(default_factory=dict)  # of analytes in a long table, likewise
    unit_of: dict[str, str] = field(default_factory=dict)  # of names in a long table, where some of their own results tell it
    questions: tuple[Question, ...] = field(default=())

    def as_dict(self) -> dict[str, Any]:
        return asdict(self)


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


def roles_of(heading_row: tuple[str, ...], lexicon: Lexicon) -> dict[int, str]:
    """What the columns hold that are no readings: sample, laboratory's number, date, depth, unit, method, limit."""
    return {place: kind for place, cell in enumerate(heading_row) if cell and (kind := lexicon.kind_of(cell))}


def sample_columns(heading_row, below, taken: set[int], lexicon: Lexicon) -> tuple[int, ...]:
    """Columns that name the sample: those with our IDs first, then the customer's own name, and last the laboratory's number."""
    kinds = {place: lexicon.kind_of(cell) for place, cell in enumerate(heading_row) if cell and place not in taken}
    coded = [place for place in range(max((len(row) for row in below), default=0)) if place not in taken and _codes(below, place)]
    own = [place for place, kind in kinds.items() if kind == "sample" and _filled(below, place)]
    own.sort(
        key=lambda place: (
            max(_how_bare(heading_row[place], lexicon), _letters_again(below, place)),
            _only_digits(below, place),
            not _differs(below, place),
        )
    )
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


def _how_bare(heading: str, lexicon: Lexicon) -> int:
    """How little a column's heading makes it a name: 0 for "Field", 1 for what groups samples ("Block"), 2 for numbers under "No"."""
    if lexicon.is_a("groupings", heading):
        return 1
    return 2 if lexicon.is_a("bare_numbers", heading) else 0


def first_rows(rows) -> list[tuple[int, tuple[str, ...]]]:
    """The rows in which the headings must come, with their numbers: counted from the first that is not blank."""
    first = next((number for number, row in enumerate(rows) if any(row)), 0)
    return [(number, rows[number]) for number in range(first, min(len(rows), first + FIRST_LOOK))]


def cells_at(below, place: int) -> list[str]:
    return [row[place] for row in below[:40] if place < len(row) and row[place]]


def _filled(below, place: int) -> bool:
    return bool(cells_at(below, place))


def _only_digits(below, place: int) -> bool:
    cells = cells_at(below, place)
    return bool(cells) and all(cell.replace("-", "").replace("/", "").isdecimal() for cell in cells)


def _differs(below, place: int) -> bool:
    cells = cells_at(below, place)
    return len(set(cells)) > len(cells) // 2


def _letters_again(below, place: int) -> int:
    """1 where a column holds single letters that come again, as blocks are called; else 0."""
    cells = cells_at(below, place)
    return int(len(set(cells)) < len(cells) and all(len(cell) == 1 and cell.isalpha() for cell in cells))


def _codes(below, place: int) -> bool:
    cells = [row[place] for row in below[:40] if place < len(row) and row[place]]
    return bool(cells) and sum(code_in(cell) is not None for cell in cells) >= max(1, len(cells) // 2)


def _mostly_words(below, place: int) -> bool:
    cells = [row[place] for row in below[:40] if place < len(row) and row[place]]
    return (
        bool(cells) and len(set(cells)) > len(cells) // 2 and not all(cell.replace(".", "").isdecimal() and "." in cell for cell in cells)
    )
