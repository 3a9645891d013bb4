"""Pages in docs/methods/, one a method, made from the core's data and the published cases that the tests run."""

import csv
import tomllib
from pathlib import Path

from agronomy.tables import load_tables
from agronomy.tables.reading_files import SHIPPED

ROOT = Path(__file__).resolve().parent.parent
FOLDER = ROOT / "docs" / "methods"
CASES = ROOT / "tests" / "agronomy" / "cases"
MOST_ROWS = 12


def method_pages() -> dict[Path, str]:
    """Every page by its path, with the list of them."""
    methods = tomllib.loads((SHIPPED / "methods.toml").read_text(encoding="utf-8"))
    pages = {FOLDER / f"{key.replace('_', '-')}.md": _page(method) for key, method in methods.items()}
    return pages | {FOLDER / "README.md": _index(methods)}


def _index(methods: dict) -> str:
    lines = [
        "# Methods",
        "",
        "Made by `make docs` from `agronomy/tables/data/methods.toml`, the tables and the published cases that the tests run.",
        "",
    ]
    for group in dict.fromkeys(method["group"] for method in methods.values()):
        lines += [f"## {group}", ""]
        lines += [f"- [{method['title']}]({key.replace('_', '-')}.md)" for key, method in methods.items() if method["group"] == group]
        lines.append("")
    return "\n".join(lines)


def _page(method: dict) -> str:
    sources = load_tables().sources
    lines = [f"# {method['title']}", "", "Made by `make docs`; do not edit.", "", f"**Formula.** {method['formula']}.", ""]
    lines += [f"**Holds for.** {method['holds']}.", "", f"**Outside that.** {method['outside']}.", "", "**Rests on.**", ""]
    lines += [f"- {sources[key].cite} (*{sources[key].status}*)" for key in method["source"].split(";")]
    lines += ["", *_examples(method["cases"]), *_tables(method["tables"])]
    return "\n".join(lines).rstrip() + "\n"


def _examples(names: list[str]) -> list[str]:
    """The worked examples: the published cases, as the tests run them."""
    rows = []
    for name in names:
        file, _, what = name.partition("/")
        found = tomllib.loads((CASES / f"{file}.toml").read_text(encoding="utf-8"))["case"]
        rows += [case for case in found if not what or case["what"] == what]
    if not rows:
        return ["**Worked examples.** None published; its properties are tested instead.", ""]
    lines = ["**Worked examples**, run by the tests:", "", "| case | given | expected | whose |", "|---|---|---|---|"]
    lines += [f"| {case['say']} | {_given(case['given'])} | {case['expect']} | {case.get('whose', '')} |" for case in rows[:MOST_ROWS]]
    return [*lines, ""]


def _given(given: dict) -> str:
    return ", ".join(f"{name} {value}" for name, value in given.items())


def _tables(names: list[str]) -> list[str]:
    if not names:
        return []
    lines = ["**Its figures** stand in `agronomy/tables/data/`, each with its source, and on the program's page of rules:", ""]
    return [*lines, *(f"- `{name}`, {_count(name)} rows" for name in names)]


def _count(name: str) -> int:
    path = SHIPPED / name
    if path.suffix == ".toml":
        return len(tomllib.loads(path.read_text(encoding="utf-8")))
    with path.open(encoding="utf-8", newline="") as file:
        return sum(1 for _ in csv.DictReader(file))
