"""Laboratories' files: every layout understood, every odd cell kept, every bad file refused with a way out."""

import io
import struct
import zipfile

import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook

from agronomy.base.errors import RuleError
from agronomy.labfile import Line, Remark, effort, lines_of, understand
from tests.helpers.cases import cases
from tests.helpers.pdf import pdf_of
from tests.helpers.requests import TABLES


def read_all(content: bytes, name: str = "file.csv", **more):
    understood = understand(content, name, TABLES, **more)
    items = list(lines_of(understood, TABLES))
    return understood, [item for item in items if isinstance(item, Line)], [item for item in items if isinstance(item, Remark)]


@pytest.mark.parametrize("case", cases("labfiles"))
def test_layouts(case):
    content = case["text"].lstrip("\n").encode(case.get("encoding", "utf-8"))
    understood, lines, remarks = read_all(content, "file.json" if case.get("json") else "file.csv")
    told = [
        [line.sample, line.analyte or line.heading, line.typed if line.is_reading else line.as_written, line.unit, line.method]
        for line in lines
    ]
    told = [[cell if place != 2 else _plain_number(cell) for place, cell in enumerate(row)] for row in told]
    for wanted in case["want"]:
        assert wanted in told
    if "readings" in case:
        assert len(lines) == case["readings"]
    if "remarks" in case:
        assert len(remarks) == case["remarks"]
    if "asks" in case:
        assert [question.key for question in understood.questions] == case["asks"]
    for doubt in case.get("doubts", ()):
        assert any(doubt in (line.doubt or "") for line in lines)


def _plain_number(text: str) -> str:
    try:
        return f"{float(text):g}"
    except ValueError:
        return text


def workbook() -> bytes:
    """Title rows, an empty sheet, a sheet of notes, and the results on the third."""
    book = Workbook()
    book.active.title = "Cover"
    book.active.append(["Marlow Lane Laboratory"])
    book.create_sheet("Empty")
    sheet = book.create_sheet("Results")
    for row in (
        ["Report 12"],
        [],
        ["Sample ID", "Depth", "pH", "P (Olsen) mg/kg", "K mg/kg"],
        ["Bed 1", "0-15 cm", 6.2, 18, 120],
        ["Bed 2", "0-15 cm", 5.6, "<2", 80.5],
    ):
        sheet.append(row)
    kept = io.BytesIO()
    book.save(kept)
    return kept.getvalue()


def test_workbooks_with_title_rows_and_several_sheets():
    understood, lines, _ = read_all(workbook(), "results.xlsx")
    assert understood.sheet.name == "Results"
    assert ("Bed 2", "P", "<2") in [(line.sample, line.analyte, line.typed) for line in lines]
    assert len(lines) == 6
    with pytest.raises(RuleError, match="no filled sheet"):
        read_all(workbook(), "results.xlsx", sheet="Nowhere")


def test_answers_are_taken_and_overrides_correct_one_cell():
    content = b"Sample,pH,P,K\nA,6.0,12,100\nB,56,12,2e6\n"
    understood = understand(content, "x.csv", TABLES, answers={"unit:P": "lb/acre", "method:P": "Bray P1"})
    lines = [
        line for line in lines_of(understood, TABLES, overrides={"3B": {"typed": "5.6"}, "3D": {"skip": True}}) if isinstance(line, Line)
    ]
    assert {(line.unit, line.method) for line in lines if line.analyte == "P"} == {("lb/acre", "Bray P1")}
    assert [line.typed for line in lines if line.sample == "B"] == ["5.6", "12"]


def bomb() -> bytes:
    kept = io.BytesIO()
    with zipfile.ZipFile(kept, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("[Content_Types].xml", "<Types/>")
        archive.writestr("xl/worksheets/sheet1.xml", b"0" * 60_000_000)
    return kept.getvalue()


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "empty"),
        (b"\x00\x00 \n", "empty"),
        (b"\x7fELF" + b"\x01" * 100, "program"),
        (b"%PDF-1.7 ...", "PDF"),
        (struct.pack("<500I", *range(500)), "binary|no results"),
        (b"PK\x03\x04 torn", "broken"),
        (bomb(), "unpacks|packed"),
        (b"x" * 26_000_000, "MB"),
        (b"just some words\nand no table\n", "no results"),
        (b"[[[[[[[[[[" * 2000, "no results"),
        (pdf_of(["pH 6.2"] * 400_000, packed=True), "draws"),
        (b"Sample,pH,P mg/kg,K mg/kg,Mg mg/kg,Ca mg/kg,Zn mg/kg\n" + b"A,6,6,6,6,6,6\n" * 170_000, "part it|results"),
    ],
    ids=["empty", "blank", "program", "pdf", "binary", "torn zip", "zip bomb", "26 MB", "prose", "brackets", "drawn", "a million"],
)
def test_bad_files_are_refused_with_a_way_out(content, said):
    with pytest.raises(RuleError, match=said) as refused:
        read_all(content)
    assert refused.value.mend


def test_what_is_packed_small_counts_as_what_it_holds():
    assert effort(b"pH\n6.2\n") == 7
    assert effort(bomb()) > 20_000_000
    drawn = pdf_of(["pH 6.2"] * 20_000, packed=True)
    assert len(drawn) < 5000 < 400_000 < effort(drawn)
    assert effort(b"%PDF-1.7 ...") == effort(b"PK\x03\x04 torn") == 0


ANALYTES = {"P", "K", "Ca", "Mg"}


@given(
    values=st.lists(st.lists(st.floats(1, 5000).map(lambda value: round(value, 2)), min_size=4, max_size=4), min_size=1, max_size=12),
    comma=st.booleans(),
    unit=st.sampled_from(["mg/kg", "ppm", "mg/100 g", "lb/acre", "kg/ha"]),
    delimiter=st.sampled_from([";", "\t", "|"]),
    encoding=st.sampled_from(["utf-8", "utf-8-sig", "utf-16", "cp1252", "iso-8859-15"]),
    newline=st.sampled_from(["\n", "\r\n", "\r"]),
    names=st.sampled_from(
        [
            ("Phosphor", "Kalium", "Calcium", "Magnesium"),
            ("Phosphorus", "Potassium", "Calcium", "Magnesium"),
            ("Fósforo", "Potasio", "Calcio", "Magnesio"),
        ]
    ),
)
def test_numbers_and_units_come_back_whatever_the_writing(values, comma, unit, delimiter, encoding, newline, names):
    rows = [["Sample", *(f"{name} ({unit})" for name in names)]]
    rows += [
        [f"Plot {place}", *(f"{value:.2f}".replace(".", ",") if comma else f"{value:.2f}" for value in row)]
        for place, row in enumerate(values)
    ]
    content = newline.join(delimiter.join(row) for row in rows).encode(encoding)
    _, lines, _ = read_all(content, answers={"decimal": "," if comma else "."})
    assert [line.value for line in lines] == [value for row in values for value in row]
    assert {line.analyte for line in lines} == ANALYTES
    assert {line.unit for line in lines} == {unit}


@given(
    st.lists(
        st.lists(st.text(st.characters(codec="utf-8", exclude_characters="\x00\n\r"), max_size=12), min_size=3, max_size=3),
        min_size=1,
        max_size=8,
    )
)
def test_no_row_is_ever_lost(cells):
    rows = [["Sample", "pH", "P mg/kg"], ["A", "6.0", "12"], *[[cell.replace(",", " ").replace('"', " ") for cell in row] for row in cells]]
    content = "\n".join(",".join(row) for row in rows).encode()
    _, lines, remarks = read_all(content)
    told = {line.row for line in lines} | {remark.row for remark in remarks}
    filled = {number for number, row in enumerate(rows, 1) if number > 1 and any(cell.strip() for cell in row)}
    assert filled <= told
