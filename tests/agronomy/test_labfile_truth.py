"""What is read from a laboratory's file is what stands in it: understood, asked or refused, never another number."""

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from agronomy.base.errors import RuleError
from agronomy.cli.main import main
from agronomy.labfile import Line, lines_of, understand
from tests.helpers.cases import cases
from tests.helpers.pdf import pdf_of
from tests.helpers.requests import TABLES
from tests.helpers.written import judged, write


def _read(content: bytes, name: str, **answers):
    understood = understand(content, name, TABLES, answers=answers)
    return understood, [item for item in lines_of(understood, TABLES) if isinstance(item, Line)]


@pytest.mark.parametrize("case", cases("labfiles_unseen"))
def test_files_of_many_laboratories(case):
    content = pdf_of(case["lines"]) if "lines" in case else case["text"].encode()
    understood, lines = _read(content, case["given"], medium=case.get("medium", "soil"))
    read = [(line.sample, line.analyte, line.typed, line.unit, line.method) for line in lines if line.is_reading]
    for sample, analyte, value, unit, *method in case["want"]:
        assert any(
            found[:2] == (sample, analyte)
            and (found[2] == value or _number(found[2]) == value)
            and found[3] == unit
            and (not method or found[4] == method[0])
            for found in read
        ), (sample, analyte, value, unit, method, [found for found in read if found[1] == analyte])
    for key in case.get("asks", ()):
        assert key in {question.key for question in understood.questions}


def _number(text: str) -> float | None:
    try:
        return float(text)
    except ValueError:
        return None


@given(st.integers(0, 10**9))
def test_no_number_is_misread_in_silence(seed):
    name, text, truth = write(random.Random(seed))  # noqa: S311 -- writes a file, guards no secret

    def read(text: str, name: str) -> list[Line]:
        try:
            return _read(text.encode(), name)[1]
        except RuleError:
            return []

    good, _, wrong = judged(text, name, truth, read)
    assert not wrong
    assert good >= 0 or text


@pytest.mark.parametrize(
    ("text", "kept", "why"),
    [
        ("Sample,P mg/l,P Index\nA,22,2\nB,9,0\n", {"P"}, None),
        ("Sample,pH,P Index,K Index\nA,6.1,3,2+\nB,6.4,1,0\n", {"pH"}, "an index is a step of a scale"),
        ("Sample,pH,%K,%Ca\nA,6.1,3.4,66\nB,6.4,2.9,71\n", {"pH"}, "a share is no amount"),
        ("Sample,pH,Lime Rec T/A\nA,5.6,2\nB,5.9,1\n", {"pH"}, "the laboratory's advice"),
        ("Sample,P,K\nA,22,140\nB,18,99\n", set(), "does not say its unit"),
    ],
)
def test_what_is_no_amount_becomes_no_reading(text, kept, why):
    _, lines = _read(text.encode(), "file.csv")
    assert {line.analyte for line in lines if line.is_reading} == kept
    assert why is None or any(why in (line.doubt or "") for line in lines)


def test_lines_beside_the_table_are_understood_and_can_be_left_out():
    text = "Lab;;\nDepth 0-15 cm;;\nSample;P (ppm);K (ppm)\nA;22;140\nB;18;99\nP and K by Mehlich 3.;;\n"
    understood, lines = _read(text.encode(), "file.csv")
    assert {line.method for line in lines} == {"Mehlich 3"}
    assert (lines[0].top_cm, lines[0].bottom_cm) == (0, 15)
    without, plain = _read(text.encode(), "file.csv", **{note.key: "no" for note in understood.notes})
    assert {line.method for line in plain} == {"not stated"}
    assert plain[0].bottom_cm is None
    assert [note.key for note in without.notes] == [note.key for note in understood.notes]


def test_strict_reading_asks_nothing_and_stops_where_it_would_have_to(tmp_path, capsys):
    file = tmp_path / "file.csv"
    file.write_text("Sample,pH CaCl2,P Olsen\nA,6.1,22\n", encoding="utf-8")
    assert main(["readings", str(file), "--strict"]) == 2
    assert "unit:P Olsen" in capsys.readouterr().err
    assert main(["readings", str(file), "--strict", "--answer", "unit:P Olsen=mg/kg"]) == 0
    assert '"value": 22.0' in capsys.readouterr().out


def test_a_picture_of_a_page_is_refused_with_what_to_do():
    for content, name in ((b"\x89PNG\r\n\x1a\n" + b"x" * 40, "page.png"), (pdf_of([]), "scan.pdf")):
        with pytest.raises(RuleError) as refused:
            understand(content, name, TABLES)
        assert "type the figures in" in refused.value.mend


def test_a_report_of_indices_alone_is_kept_and_makes_no_reading():
    _, kept = _read(b"Sample;P Index;K Index;Mg Index\nBed 1;3;2-;2\nBed 2;2;1;3\n", "index.csv")
    assert [(line.sample, line.as_written) for line in kept if line.column == "C"] == [("Bed 1", "2-"), ("Bed 2", "1")]
    assert not any(line.is_reading for line in kept)
