"""No archaic or private word of `tools/avoid.csv` on a page: what a template shows is searched, its tags and placeholders are not."""

import csv
import re
import sys
from pathlib import Path

HERE = Path(__file__).parent
PAGES = Path("web/templates")
KEPT = {r"\bholdings?\b"}  # the word of every address and archive; a page says the holding's own name where it knows it
_PLACES = re.compile(r"\{%.*?%\}|\{\{.*?\}\}|\{#.*?#\}", re.DOTALL)
_TAGS = re.compile(r"<[^>]*>")
_TOLD = re.compile(r'(?:aria-label|placeholder|title|alt)="([^"]*)"')


def avoided() -> list[tuple[re.Pattern, str]]:
    """The patterns to avoid and what to write instead."""
    with (HERE / "avoid.csv").open(encoding="utf-8") as file:
        rows = [row for row in csv.DictReader(file) if row["word_or_pattern"] not in KEPT]
    return [(re.compile(row["word_or_pattern"], re.IGNORECASE), row["instead"]) for row in rows]


def _words_of(found: re.Match) -> str:
    return " | ".join(["", *_TOLD.findall(found[0]), ""])


def shown(page: str) -> str:
    """A template without its tags and placeholders, but with the words of its labels; a sentence may go over several lines."""
    return re.sub(r"\s+", " ", _TAGS.sub(_words_of, _PLACES.sub(" ~ ", page)))


def main() -> int:
    patterns = avoided()
    found = [
        f"{path}: “{hit[0]}”; write: {instead}"
        for path in sorted(PAGES.rglob("*.html"))
        for pattern, instead in patterns
        for hit in pattern.finditer(shown(path.read_text(encoding="utf-8")))
    ]
    print("\n".join(found), file=sys.stderr) if found else None
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
