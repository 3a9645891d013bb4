"""Changes the core at random, one place at a time, and counts how many changes the tests notice.

    python -m tools.mutate --many 200 --seed 7

Works on a copy. A change is one figure of the code or of a table, one bound dropped, one sign, one comparison or one condition turned.
The tests of the core run until the first that fails; a change that all of them pass has survived, and is printed.
"""

import argparse
import ast
import csv
import io
import random
import re
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import NamedTuple

ROOT = Path(__file__).resolve().parents[1]
ROOMS = ("apply", "base", "dose", "ground", "instruments", "interpret", "ledger", "plan", "products", "recommend", "schedule", "watch")
TABLE_FIGURE = re.compile(r"-?\d+(\.\d+)?")
SIGNS = {ast.Add: "-", ast.Sub: "+", ast.Mult: "/", ast.Div: "*"}
TURNED = {ast.Lt: ">=", ast.LtE: ">", ast.Gt: "<=", ast.GtE: "<"}
FIRST = (
    "test_cases.py",
    "test_workings.py",
    "test_plan.py",
    "test_micronutrients.py",
    "test_desks.py",
    "test_words.py",
    "test_nitrogen.py",
)
LAST = (
    "test_tables.py",
    "test_labfile.py",
    "test_labfile_truth.py",
    "test_practice.py",
    "test_patterns.py",
    "test_units.py",
    "test_sealed.py",
)


class Change(NamedTuple):
    """One place of a file, from a character to another, and what stands there instead."""

    file: str
    start: int
    end: int
    new: str
    kind: str


def _figure(text: str) -> str:
    """Another figure of the same kind: a quarter more, or one for nothing."""
    value = float(text)
    if value == 0:
        return "1"
    return str(round(value * 1.25, 6)) if "." in text else str(int(value) + max(1, int(value) // 4))


def _in_code(path: Path) -> Iterator[Change]:
    text, file = path.read_text(), str(path.relative_to(ROOT))
    starts = [0]
    for line in text.splitlines(keepends=True):
        starts.append(starts[-1] + len(line))

    def place(node: ast.AST) -> tuple[int, int]:
        lines = text.splitlines(keepends=True)
        first = len(lines[node.lineno - 1].encode()[: node.col_offset].decode())
        last = len(lines[node.end_lineno - 1].encode()[: node.end_col_offset].decode())
        return starts[node.lineno - 1] + first, starts[node.end_lineno - 1] + last

    def between(left: ast.AST, right: ast.AST, old: str, new: str, kind: str) -> Iterator[Change]:
        start, end = place(left)[1], place(right)[0]
        at = text[start:end].find(old)
        if at >= 0:
            yield Change(file, start + at, start + at + len(old), new, kind)

    for node in _outside_annotations(ast.parse(text)):
        match node:
            case ast.Constant(value=bool()):
                pass
            case ast.Constant(value=int() | float()):
                start, end = place(node)
                if re.fullmatch(r"\d+(\.\d+)?", text[start:end]):
                    yield Change(file, start, end, _figure(text[start:end]), "figure")
            case ast.Call(func=ast.Name(id="min" | "max"), args=[first, second], keywords=[]):
                for kept in (first, second):
                    if not isinstance(kept, ast.Constant | ast.Starred):
                        yield Change(file, *place(node), f"({ast.unparse(kept)})", "bound dropped")
            case ast.BinOp(left=left, op=op, right=right) if type(op) in SIGNS and not _is_text(node):
                old = {ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/"}[type(op)]
                yield from between(left, right, old, SIGNS[type(op)], "sign")
            case ast.Compare(left=left, ops=[op], comparators=[right]) if type(op) in TURNED:
                old = {ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">="}[type(op)]
                yield from between(left, right, old, TURNED[type(op)], "comparison")
            case ast.BoolOp(op=op, values=[first, second]):
                old, new = ("and", "or") if isinstance(op, ast.And) else ("or", "and")
                yield from between(first, second, old, new, "condition")
            case ast.UnaryOp(op=ast.Not(), operand=operand):
                yield Change(file, *place(node), f"({ast.unparse(operand)})", "condition")


def _outside_annotations(tree: ast.Module) -> Iterator[ast.AST]:
    """All nodes but those of types and of texts with places: their figures say how something is written, not what it is."""
    todo: list[ast.AST] = [tree]
    while todo:
        node = todo.pop()
        yield node
        for name, value in ast.iter_fields(node):
            if name not in ("annotation", "returns", "format_spec", "decorator_list"):
                todo += [item for item in (value if isinstance(value, list) else [value]) if isinstance(item, ast.AST)]


def _is_text(node: ast.BinOp) -> bool:
    return any(
        isinstance(part, ast.JoinedStr | ast.List | ast.Tuple) or isinstance(getattr(part, "value", None), str) for part in ast.walk(node)
    )


def _in_table(path: Path) -> Iterator[Change]:
    """The figures of a table's cells."""
    file, at = str(path.relative_to(ROOT)), 0
    for number, line in enumerate(path.read_text().splitlines(keepends=True)):
        if number and not line.startswith("#"):
            for cell in next(csv.reader(io.StringIO(line)), []):
                found = line.find(cell) if TABLE_FIGURE.fullmatch(cell) else -1
                if found >= 0:
                    yield Change(file, at + found, at + found + len(cell), _figure(cell), "table")
        at += len(line)


def drawn(many: int, seed: int) -> list[Change]:
    """So many changes: two of three of the code, evenly over its rooms, the rest of the tables, evenly over their files."""
    chance = random.Random(seed)  # noqa: S311 -- draws a change, guards no secret
    rooms = {room: [change for path in sorted((ROOT / "agronomy" / room).rglob("*.py")) for change in _in_code(path)] for room in ROOMS}
    tables = [list(_in_table(path)) for path in sorted((ROOT / "agronomy" / "tables").rglob("*.csv"))]
    found = [chance.choice(rooms[chance.choice(ROOMS)]) for _ in range(many * 2 // 3)]
    return found + [chance.choice(chance.choice([table for table in tables if table])) for _ in range(many - len(found))]


def notices(copy: Path, change: Change) -> bool:
    """Whether a test fails with the change made."""
    path = copy / change.file
    before = path.read_text()
    path.write_text(before[: change.start] + change.new + before[change.end :])
    try:
        return any(_fails(copy, files) for files in _in_order(change.file))
    finally:
        path.write_text(before)


def _in_order(file: str) -> Iterator[list[str]]:
    """The tests, those first that are likeliest to notice: the module's own examples, what imports it, whole plans, the rest."""
    named = {path.name: path.read_text(encoding="utf-8") for path in sorted((ROOT / "tests" / "agronomy").glob("test_*.py"))}
    module = file.removesuffix(".py").replace("/", ".")
    near = [name for name, text in named.items() if f"from {module} import" in text and name not in LAST]
    yield ([file] if file.endswith(".py") else []) + [f"tests/agronomy/{name}" for name in near]
    for group in (FIRST, [name for name in named if name not in (*FIRST, *LAST)], LAST):
        yield [f"tests/agronomy/{name}" for name in group if name in named and name not in near]


def _fails(copy: Path, files: Sequence[str]) -> bool:
    run = [sys.executable, "-m", "pytest", "-q", "-x", "-p", "no:cacheprovider", "--hypothesis-seed=1", "--doctest-modules"]
    return bool(files) and subprocess.run([*run, *files], cwd=copy, capture_output=True).returncode not in (0, 5)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--many", type=int, default=200)
    parser.add_argument("--seed", type=int, default=1)
    asked = parser.parse_args()
    noticed: Counter[str] = Counter()
    made: Counter[str] = Counter()
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / "copy"
        shutil.copytree(ROOT, copy, ignore=shutil.ignore_patterns(".git", ".venv", "var", "node_modules", "__pycache__"))
        for change in drawn(asked.many, asked.seed):
            made[change.kind] += 1
            text = (copy / change.file).read_text()
            seen = notices(copy, change)
            noticed[change.kind] += seen
            line = text.count("\n", 0, change.start) + 1
            where = f"{change.file}:{line}: {change.kind}: {text[change.start : change.end]} -> {change.new}"
            print(f"{'noticed' if seen else 'survived'}: {where}", flush=True)
    for kind, count in made.items():
        print(f"{kind:<15} {noticed[kind]:>4} of {count:>4} noticed")
    print(f"{'all':<15} {noticed.total():>4} of {made.total():>4} noticed: {noticed.total() / made.total():.0%}")


if __name__ == "__main__":
    main()
