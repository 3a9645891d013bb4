"""Writes down what the figures of every table are now, so that none changes by accident: `make seal` after a change that was meant."""

import csv
import hashlib
import json
import re
import sys
import tomllib
from collections.abc import Iterator
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
DATA, SEAL = ROOT / "agronomy" / "tables" / "data", ROOT / "tests" / "agronomy" / "sealed.json"
_FIGURE = re.compile(r"-?\d+(\.\d+)?")


def seals() -> dict[str, str]:
    """A digest of the figures of each table, in their order and with their places; words may change freely."""
    return {path.relative_to(DATA).as_posix(): _digest(path) for path in sorted(DATA.rglob("*.*"))}


def _digest(path: Path) -> str:
    text = path.read_text(encoding="utf-8")
    rows: Any = list(csv.reader(text.splitlines())) if path.suffix == ".csv" else tomllib.loads(text)
    return hashlib.sha256("\n".join(_figures(rows, "")).encode()).hexdigest()[:16]


def _figures(value: Any, place: str) -> Iterator[str]:
    if isinstance(value, dict):
        for key, item in value.items():
            yield from _figures(item, f"{place}/{key}")
    elif isinstance(value, list):
        for number, item in enumerate(value):
            yield from _figures(item, f"{place}/{number}")
    elif isinstance(value, int | float) or (isinstance(value, str) and _FIGURE.fullmatch(value)):
        yield f"{place}={value}"


def main() -> int:
    SEAL.write_text(json.dumps(seals(), indent=0, sort_keys=True) + "\n", encoding="utf-8")
    print(f"sealed {len(seals())} tables")
    return 0


if __name__ == "__main__":
    sys.exit(main())
