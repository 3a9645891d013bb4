"""Sentences are data: a pattern with values, told in any units, days and language; what still is plain text may only grow less."""

import ast
import json
import re
from datetime import date
from pathlib import Path
from string import Formatter

import pytest

from agronomy.base.said import Measure, Reader, Said, joined, large, measured, read, say, say_n, small, written
from agronomy.intake.documents import plan_from_document, plan_to_document
from agronomy.intake.request import read_request
from agronomy.plan.letter import letter
from agronomy.plan.plan import Plan, make_plan
from agronomy.plan.telling import sentences_of, tell_plan
from agronomy.tables import load_tables

CORE = Path(__file__).parents[2] / "agronomy"
SITUATIONS = sorted((Path(__file__).parent / "situations").glob("*.json"))
METRIC = re.compile(r"(?<![\w.])\d[\d.\u202f]*[ \u202f](°C|g/L|kg N/ha|kg/ha|t/ha|kg/m²|g/m²|cm|mm|m|kg|g|L)(?![\w/²])")
MONTHS = ["January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"]
DAY_FIRST = re.compile(rf"\b\d{{1,2}} ({'|'.join(name[:3] for name in MONTHS)})")
NOT_DATA_IN_CODE, NOT_DATA_IN_PLANS = 140, 22  # may only fall
_PSEUDO = str.maketrans("aeiouyAEIOUY", "àéîöûÿÀÉÎÖÛŸ")


def pseudo(pattern: str) -> str:
    """A made-up language: every vowel has an accent, places stay."""
    parts = []
    for text, name, spec, _ in Formatter().parse(pattern):
        parts.append(text.translate(_PSEUDO).replace("{", "{{").replace("}", "}}"))
        if name is not None:
            parts.append(f"{{{name}:{spec}}}" if spec else f"{{{name}}}")
    return "".join(parts)


@pytest.fixture(scope="module")
def plans() -> list[Plan]:
    tables = load_tables()
    return [make_plan(read_request(json.loads(path.read_text(encoding="utf-8"))["request"], tables), tables) for path in SITUATIONS]


def sentences(plan: Plan) -> list[str]:
    """All that a plan says."""
    found: list[str] = []

    class Listens(Reader):
        def tell(self, sentence: str) -> str:
            found.append(sentence)
            return sentence

    tell_plan(plan, Listens("metric"))
    return found


def test_a_sentence_is_told_in_the_units_days_and_language_of_its_reader():
    said = say(
        "{what}: {low:.0f} to {high:.0f}, worked in to {15 to 20 cm} by {day:%-d %B}",
        what=large("lime"),
        low=Measure(100, "kg/ha", bare=True),
        high=Measure(200, "kg/ha"),
        day=date(2027, 3, 1),
    )
    assert said == "Lime: 100 to 200 kg/ha, worked in to 15 to 20 cm by 1 March"
    american = Reader("us", lambda day, spec: f"{day:%B} {day.day}" + (f", {day.year}" if "%Y" in spec else ""), today=date(2026, 12, 1))
    assert american.tell(said) == "Lime: 89 to 180 lb/acre, worked in to 5.9 to 7.9 in by March 1, 2027"
    assert Reader("uk").tell(measured(3, "t/ha")) == "1.2 t/acre"
    longer = joined([small(said), "as it stands", say_n("{count} plot", "{count} plots", 2, count=2)], "; ")
    assert Reader("us").tell(longer).startswith("lime: 89 to 180 lb/acre")
    loud = Reader("metric", words=pseudo, words_n=lambda one, many, count: many.upper().replace("{COUNT}", "{count}"))
    assert loud.tell(longer).endswith("as it stands; 2 PLOTS")
    assert Reader("us").tell(read(json.loads(json.dumps(written(longer))))) == Reader("us").tell(longer)


@pytest.mark.parametrize(
    "document",
    [
        ["{a}", {"a": ["Measure", "wide", "cm", False]}],
        ["{a:>1000000000}", {"a": 1}],
        ["{a.__class__}", {"a": 1}],
        ["{b}", {"a": 1}],
        [["{a}", "{a}"], {"a": 1}],
        ["{a}", {"a": ["Nothing", 1]}],
        "text",
        [1, 2],
    ],
)
def test_what_comes_from_outside_is_a_sentence_or_refused(document):
    with pytest.raises((ValueError, KeyError, TypeError, AttributeError)):
        read(document)


def test_no_plan_or_letter_says_a_metric_measure_or_a_day_of_its_own_to_another_reader(plans):
    reader = Reader("us", lambda day, _: f"#{day:%m/%d}#")
    for plan in plans:
        told = tell_plan(plan, reader)
        letters = letter(plan, plot="Long bed", crop="cabbage", reader=reader).paragraphs
        for text in (*sentences(told), *letters):
            assert not METRIC.search(text), text
            assert not DAY_FIRST.search(text), text


def test_a_plan_that_was_kept_is_told_in_other_units_as_the_one_that_was_made(plans):
    for plan in plans:
        kept = json.loads(json.dumps(plan_to_document(plan, sentences=True)))
        assert kept["said"] == json.loads(json.dumps(sentences_of(plan)))
        for units in ("us", "uk", "metric"):
            assert sentences(tell_plan(plan_from_document(kept), Reader(units))) == sentences(tell_plan(plan, Reader(units)))


def test_fewer_and_fewer_sentences_of_plans_escape_another_language(plans):
    reader = Reader("metric", words=pseudo, words_n=lambda one, many, count: pseudo(one if count == 1 else many))
    escaped = {
        text for plan in plans for text in sentences(plan) if len(text.split()) >= 3 and not text[0].isdigit() and reader.tell(text) == text
    }
    assert len(escaped) <= NOT_DATA_IN_PLANS, sorted(escaped)


def _plain_sentences(path: Path) -> int:
    """Texts of five words and more in a module that are not said: neither documentation, nor an error, nor a step of a working."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    apart = {"say", "say_n", "worded", "Step", "Field", "Fact", "add_argument", "add_parser", "ArgumentParser", "Within", "Csv"}
    count = 0

    def walk(node: ast.AST, counted: bool) -> None:
        nonlocal count
        if isinstance(node, ast.Raise) or ((isinstance(node, ast.Call) and _called(node) in apart | {"check_range"}) or _is_error(node)):
            counted = False
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant):
            return
        if isinstance(node, ast.Assign) and ast.unparse(node.targets[0]) == "formula":
            return
        if isinstance(node, ast.keyword) and node.arg == "source":
            return
        if isinstance(node, ast.JoinedStr | ast.Constant):
            text = (
                "".join(part.value for part in node.values if isinstance(part, ast.Constant))
                if isinstance(node, ast.JoinedStr)
                else node.value
            )
            count += counted and isinstance(text, str) and len(re.findall(r"[A-Za-z]{2,}", text)) >= 5
            return
        for child in ast.iter_child_nodes(node):
            walk(child, counted)

    walk(tree, True)
    return count


def _called(node: ast.Call) -> str:
    return node.func.id if isinstance(node.func, ast.Name) else getattr(node.func, "attr", "")


def _is_error(node: ast.AST) -> bool:
    return isinstance(node, ast.Call) and _called(node).endswith(("Error", "Name", "Range", "Number", "Unit"))


def test_fewer_and_fewer_sentences_of_the_core_are_plain_text():
    found = {str(path.relative_to(CORE)): number for path in CORE.rglob("*.py") if (number := _plain_sentences(path))}
    assert sum(found.values()) <= NOT_DATA_IN_CODE, found


def test_every_pattern_is_whole_and_holds_what_it_names():
    assert isinstance(say("plain"), Said)
    with pytest.raises(KeyError):
        say("{missing} is not given")
