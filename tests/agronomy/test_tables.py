"""Tables that refuse what is wrong: any cell mangled is told with file, row, column and mend, or says here why it is harmless."""

import csv
import io
import random
import re
import shutil
import tomllib
from functools import cache
from pathlib import Path

import pytest

from agronomy.intake.request import read_request
from agronomy.labfile import lines_of, understand
from agronomy.plan.plan import make_plan
from agronomy.tables import TableError, loader, read_tables, reading_files
from agronomy.tables.columns import Within
from agronomy.tables.loader import room_classes
from agronomy.tables.reading_files import SHIPPED
from tests.helpers.requests import document, finding, reading

# Free text for people: nothing is reckoned from it, so any words load. An empty cell is refused all the same.
FREE_TEXT = {
    *(
        "about",
        "one_side",
        "other_side",
        "here",
        "because",
        "best_for",
        "best_window",
        "card",
        "how_grown",
        "last_stage",
        "not_for",
        "why",
        "text",
        "if_yes",
        "then",
        "check",
        "cite",
        "do",
        "lasts",
        "limit",
        "looks",
        "means",
        "name",
        "plural",
        "reason",
        "says",
        "establish",
        "stage",
        "part",
        "crop_type",
        "window",
        "one",
        "many",
        "leaf",
        "placement",
        "placement_lime",
        "situation",
        "sounds",
    ),
    *(
        "claim",
        "holds_where",
        "instead",
        "question",
        "look",
        "confirm",
        "tissue",
        "worse",
        "first",
        "pattern",
        "called",
        "never",
        "shared",
        "one_check",
        "if_a",
        "if_b",
    ),
    *("spoken", "text", "traits_where", "what", "where", "why", "word", "works", "answer", "code", "never_with_seed", "mesh", "scheme"),
}
# Names that are told apart only by what laboratories and people write: another word is another name.
MAY_BE_EMPTY = ("about", "why", "not_for", "never_with_seed", "says", "tissue", "never", "look", "worse")
OPEN_NAMES = {
    "names",
    "units",
    "default_unit",
    "base_unit",
    "oxide",
    "narrows",
    "applies",
    "groups",
    "method",
    "unit",
    "reads_like",
    "analyte",
    "heading",  # whatever a laboratory writes
    "spelling",
    "variant",
    "evidence",  # a kind of reading and its level, as a case names them
    "level",
    "own_class",  # as the guide words it
}


@cache
def _read_once(read, data: str, file: str, content: bytes, *more):
    return read(Path(data), file, *more)


@pytest.fixture
def copy(tmp_path, monkeypatch):
    """A folder of the tables to spoil. What has the same content is read once for all tests: only what is spoilt is read anew."""

    def by_content(read):
        def reading(data: Path, file: str, *more):
            here, shipped = data / file, SHIPPED / file
            if here.exists() and shipped.exists() and here.read_bytes() == (content := shipped.read_bytes()):
                return _read_once(read, str(SHIPPED), file, content, *more)
            return read(data, file, *more)

        return reading

    monkeypatch.setattr(loader, "read_rows", by_content(reading_files.read_rows))
    for module in (loader, reading_files):
        monkeypatch.setattr(module, "read_document", by_content(reading_files.read_document))
    return Path(shutil.copytree(SHIPPED, tmp_path / "data"))


def _write(path: Path, rows: list[dict]) -> None:
    text = io.StringIO()
    writer = csv.DictWriter(text, list(rows[0]), lineterminator="\n")
    writer.writeheader()
    writer.writerows(rows)
    path.write_text(text.getvalue(), encoding="utf-8")


def _rows(path: Path) -> list[dict]:
    with path.open(encoding="utf-8", newline="") as file:
        return list(csv.DictReader(file))


def _mangles(column: str, text: str) -> list[str]:
    """What a slip of the pen makes of a cell that must not load."""
    if re.fullmatch(r"-?\d+(\.\d+)?", text):
        slips = [f"{text}x", f"{text},5", "nan", "1e9", "-99999"]
        return slips if column not in FREE_TEXT | OPEN_NAMES else []
    if column in FREE_TEXT:
        return [""] if text and column not in MAY_BE_EMPTY else []
    return [f" {text}", f"{text[:-1]}§"] if text and column not in OPEN_NAMES else []


@pytest.mark.parametrize("file", sorted(path.relative_to(SHIPPED).as_posix() for path in SHIPPED.rglob("*.csv")))
def test_a_mangled_cell_is_refused_with_its_place_and_mend(file, copy):
    path, rng = copy / file, random.Random(file)  # noqa: S311 -- picks cells, guards no secret
    rows = _rows(path)
    for column in rows[0]:
        filled = [place for place, row in enumerate(rows) if _mangles(column, row[column])]
        if not filled:
            assert column in FREE_TEXT | OPEN_NAMES or all(not row[column] for row in rows), column
            continue
        place = rng.choice(filled)
        for slip in _mangles(column, rows[place][column]):
            mangled = [row | {column: slip} if at == place else row for at, row in enumerate(rows)]
            _write(path, mangled)
            with pytest.raises(TableError) as refused:
                read_tables(copy)
            # a key that changed is missed by the table that names it, which is told then
            assert file in str(refused.value) or column in (
                "key",
                "name",
                "scheme",
                "form",
                "family",
                "texture",
                "release_class",
                "group",
                "speed",
            ), refused.value
            assert refused.value.mend


@pytest.mark.parametrize(
    "file",
    sorted(path.relative_to(SHIPPED).as_posix() for path in SHIPPED.rglob("*.toml") if path.name not in ("methods.toml", "questions.toml")),
)
def test_a_mangled_figure_or_document_is_refused(file, copy):
    path = copy / file
    text = path.read_text(encoding="utf-8")
    numbers = [found for found in re.finditer(r"^(\w+) = (-?[\d.]+)\b", text, re.M) if found[1] != "week"]
    some = random.Random(file).sample(numbers, min(len(numbers), 14))  # noqa: S311 -- picks figures, guards no secret
    for found in some:
        for slip in ('"6.0x"', "1e9", "-1e9"):
            path.write_text(text[: found.start(2)] + slip + text[found.end(2) :], encoding="utf-8")
            with pytest.raises(TableError, match=re.escape(file)):
                read_tables(copy)
    for word in ("source = ", "status = "):
        if word in text:
            path.write_text(text.replace(word, "sauce = ", 1), encoding="utf-8")
            with pytest.raises(TableError):
                read_tables(copy)
    path.write_text("[" + text, encoding="utf-8")
    with pytest.raises(TableError, match=re.escape(file)):
        read_tables(copy)


SEEN = [  # each was loaded once without a word
    ("crops.csv", "carrot", {"ph_low": "8.0", "ph_lime_to": "6.5", "ph_high": "5.5"}, "rising order"),
    ("crops.csv", "carrot", {"life": "anual"}, "annual, perennial"),
    ("crops.csv", "carrot", {"nutrient_group": "E"}, "A, B, C, D"),
    ("crops.csv", "carrot", {"ph_low": "6.0x"}, "not a number"),
    ("crops.csv", "carrot", {"group": "rots"}, "not one of"),
    ("crops.csv", "carrot", {"feeding": ""}, "empty"),
    ("crops.csv", "carrot", {"source": "hearsay"}, "not in sources"),
    ("materials.csv", "cattle_manure", {"raw_manure": "maybe"}, "yes, no"),
    ("materials.csv", "pig_manure", {"raw_manure": "no"}, "raw manure"),
    ("materials.csv", "urea", {"n": "460"}, "outside 0 to 60"),
    ("materials.csv", "urea", {"n": "60", "k2o": "60"}, "add to 120"),
    ("growing/crops_in_time.csv", None, None, "has no row"),
    ("organics/eaten.csv", None, None, "has no row"),
]


@pytest.mark.parametrize(("file", "key", "change", "said"), SEEN)
def test_what_once_loaded_in_silence_is_refused(file, key, change, said, copy):
    rows = _rows(copy / file)
    changed = rows[1:] if change is None else [row | change if row["key"] == key else row for row in rows]
    _write(copy / file, changed)
    with pytest.raises(TableError, match=said):
        read_tables(copy)


def test_every_parameter_has_a_unit_and_a_range():
    for room in room_classes():
        for name, mark in room.items():
            assert not isinstance(mark, Within) or (mark.unit and mark.low < mark.high), name


# The recipes of CONTRIBUTING.md, each done on a copy of the tables.


def test_a_crop_is_added_by_its_row_and_its_calendar(copy):
    rows = _rows(copy / "crops.csv")
    carrot = next(row for row in rows if row["key"] == "carrot")
    _write(copy / "crops.csv", [*rows, carrot | {"key": "salsify", "name": "salsify"}])
    for file in ("crops_in_time.csv", "nitrogen_limits.csv"):
        with pytest.raises(TableError, match=f"growing/{file}.*“salsify” has no row; add one"):
            read_tables(copy)
        told = _rows(copy / "growing" / file)
        _write(copy / "growing" / file, [*told, next(row for row in told if row["crop"] == "carrot") | {"crop": "salsify"}])
    tables = read_tables(copy)
    doc = document(reading("pH", 5.2), reading("P", 8, "mg/kg", "Olsen"), reading("K", 60, "mg/kg", "ammonium acetate"), crop="salsify")
    made = make_plan(read_request(doc, tables), tables)
    assert {need.what for need in made.needs} >= {"CaCO3", "P", "K"}
    assert made.applications
    _write(copy / "crops.csv", [*rows, carrot | {"key": "salsify", "name": "salsify", "rooting_cm": ""}])
    with pytest.raises(TableError, match=r"crops.csv, line \d+, column rooting_cm: the cell is empty; fill it in"):
        read_tables(copy)


def test_a_material_is_added_by_one_row_and_keeps_its_wait(copy):
    rows = _rows(copy / "materials.csv")
    dung = next(row for row in rows if row["key"] == "horse_manure")
    _write(copy / "materials.csv", [*rows, dung | {"key": "llama_manure", "name": "llama manure, fresh"}])
    tables = read_tables(copy)
    doc = document(reading("pH", 6.6), crop="lettuce") | {"materials": ["llama_manure"]}
    used = [item.material for item in make_plan(read_request(doc, tables), tables).applications]
    assert set(used) <= {"llama_manure"}
    assert tables.materials["llama_manure"].raw_manure
    assert read_tables(SHIPPED).materials["rabbit_manure"].raw_manure


def test_an_extractant_is_added_by_its_rows(copy):
    extractants = _rows(copy / "extractants.csv")
    olsen = next(row for row in extractants if row["method"] == "Olsen")
    _write(copy / "extractants.csv", [*extractants, olsen | {"method": "Fenwick", "names": "fenwick|fenwick p"}])
    critical = _rows(copy / "critical" / "p.csv")
    _write(copy / "critical" / "p.csv", critical + [row | {"method": "Fenwick"} for row in critical if row["method"] == "Olsen"])
    drift = _rows(copy / "forecast" / "p_per_ppm.csv")
    _write(copy / "forecast" / "p_per_ppm.csv", drift + [row | {"method": "Fenwick"} for row in drift if row["method"] == "Olsen"])
    tables = read_tables(copy)
    made = make_plan(read_request(document(reading("P", 6, "mg/kg", "Fenwick"), crop="maize"), tables), tables)
    assert finding(made, "P").class_ in ("very_short", "short")
    understood = understand(b"Sample,Fenwick P (mg/kg)\nBed 1,6\n", "slip.csv", tables)
    assert [(line.analyte, line.method) for line in lines_of(understood, tables)] == [("P", "Fenwick")]
    assert "Fenwick" in tables.forecast.p_per_ppm


def test_a_kit_is_added_by_one_file(copy):
    text = (copy / "kits" / "lantern_strip.toml").read_text(encoding="utf-8")
    (copy / "kits" / "candle_strip.toml").write_text(
        text.replace("lantern_strip", "candle_strip").replace("Lantern", "Candle"), encoding="utf-8"
    )
    tables = read_tables(copy)
    assert tables.kits["candle_strip"].name == "Candle pH Strip"
    assert tomllib.loads(text)["key"] == "lantern_strip"


def test_every_table_answers_a_question_under_a_name_of_its_own():
    from agronomy.tables.catalogue import catalogue, names_of_tables, questions

    listed = [table for tables in questions().values() for table in tables]
    assert sorted(listed) == sorted({row.table for row in catalogue()})
    assert len(set(names_of_tables().values())) == len(listed)
