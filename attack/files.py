"""Mangles laboratories' files in every way at hand and feeds them to the reader: no traceback, no row lost. `make attack PARTS=files`.

Then it writes files from a known truth and counts what is understood, what is asked, and what is misread in silence (aim: none).
"""

import argparse
import random
import re
import sys
import time
import tomllib
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from agronomy.base.errors import RuleError
from agronomy.labfile import Line, lines_of, understand
from agronomy.tables import load_tables

CASES = Path(__file__).resolve().parent.parent / "tests" / "agronomy" / "cases" / "labfiles.toml"
SEPARATORS = re.compile(rb"[;\t|,\r\n]+")
ENCODINGS = ("utf-8", "utf-8-sig", "utf-16", "cp1252", "iso-8859-15", "cp437")
SPOILT_CELLS = (
    "",
    "ND",
    "trace",
    "<0.1",
    "> 400",
    "n/a",
    "=1+1",
    "@x",
    "1,234,567",
    "1.234,5",
    "6,2*",
    "🌱",
    "NaN",
    "inf",
    "-",
    "--",
    "0x1f",
    "1e400",
    "\t",
    '"',
    "5 - 6",
    "5…6",
    "½",
)


def mangled(text: str, rng: random.Random) -> bytes:
    """One file, spoilt by a handful of accidents."""
    lines = text.strip("\n").split("\n")
    for _ in range(rng.randint(0, 6)):
        rng.choice(ACCIDENTS)(lines, rng)
        if not lines:
            lines = [""]
    joined = rng.choice(("\n", "\r\n", "\r")).join(lines)
    content = joined.encode(rng.choice(ENCODINGS), "replace")
    if rng.random() < 0.15:
        content = _torn(content, rng)
    return content


def _spoil_cell(lines: list[str], rng: random.Random) -> None:
    place = rng.randrange(len(lines))
    sign = next((mark for mark in ";\t|," if mark in lines[place]), None)
    if sign:
        cells = lines[place].split(sign)
        cells[rng.randrange(len(cells))] = rng.choice(SPOILT_CELLS)
        lines[place] = sign.join(cells)


def _drop_line(lines: list[str], rng: random.Random) -> None:
    del lines[rng.randrange(len(lines))]


def _double_line(lines: list[str], rng: random.Random) -> None:
    place = rng.randrange(len(lines))
    lines.insert(place, lines[place])


def _add_prose(lines: list[str], rng: random.Random) -> None:
    lines.insert(rng.randint(0, len(lines)), rng.choice(("Page 2 of 3", "", ";;;", "Results as received; see the notes", "Sample", "pH")))


def _shuffle(lines: list[str], rng: random.Random) -> None:
    rng.shuffle(lines)


def _other_delimiter(lines: list[str], rng: random.Random) -> None:
    new = rng.choice(";\t|,")
    lines[:] = [line.replace(";", new) for line in lines]


def _cut_short(lines: list[str], rng: random.Random) -> None:
    place = rng.randrange(len(lines))
    lines[place] = lines[place][: rng.randint(0, len(lines[place]))]


def _strange_letters(lines: list[str], rng: random.Random) -> None:
    place = rng.randrange(len(lines))
    lines[place] += rng.choice(("\u200b", "\ufeff", "\u00a0", "ß", "漢", "\x0b", "\x1b"))


ACCIDENTS = (
    _spoil_cell,
    _spoil_cell,
    _spoil_cell,
    _drop_line,
    _double_line,
    _add_prose,
    _shuffle,
    _other_delimiter,
    _cut_short,
    _strange_letters,
)


def _torn(content: bytes, rng: random.Random) -> bytes:
    kept = bytearray(content[: rng.randint(0, len(content))])
    for _ in range(rng.randint(0, 4)):
        if kept:
            kept[rng.randrange(len(kept))] = rng.randrange(256)
    return bytes(kept)


def lost_rows(content: bytes, tables) -> set[int] | None:
    """Rows of the sheet that neither a reading nor a remark tells of; None for a file that was refused."""
    try:
        understood = understand(content, "fuzz", tables)
    except RuleError:
        return None
    layout = understood.layout
    told = set(range(layout.heading_row + 1, layout.first_row + 1)) if layout.heading_row >= 0 else set()
    told |= {item.row for item in lines_of(understood, tables)}
    return {number for number, row in enumerate(understood.sheet.rows, 1) if any(row)} - told


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--files", type=int, default=20_000)
    parser.add_argument("--written", type=int, default=2_000, help="files written from a known truth")
    parser.add_argument("--seed", type=int, default=7)
    args = parser.parse_args()
    tables, rng = load_tables(), random.Random(args.seed)  # noqa: S311 -- makes accidents, guards no secret
    texts = [case["text"] for case in tomllib.loads(CASES.read_text(encoding="utf-8"))["case"]]
    began, refused, readings, bad, cells = time.perf_counter(), 0, 0, 0, 0
    for number in range(args.files):
        content = mangled(rng.choice(texts), rng)
        cells += len(SEPARATORS.findall(content)) + 1
        try:
            lost = lost_rows(content, tables)
        except Exception as error:  # every kind is a find
            bad += 1
            print(f"file {number}: {type(error).__name__}: {error}\n{content[:300]!r}")
            continue
        refused += lost is None
        if lost:
            bad += 1
            print(f"file {number}: rows {sorted(lost)[:5]} are lost\n{content[:300]!r}")
        readings += 1
        if bad >= 10:
            break
    print(
        f"{number + 1} mangled files of {cells} cells in {time.perf_counter() - began:.0f} s: {bad} finds, "
        f"{refused} refused with a reason, "
        f"{readings - refused} read"
    )
    return 1 if bad or misread(args.written, args.seed, tables) else 0


def misread(files: int, seed: int, tables) -> int:
    """How many files written from a known truth give back another number than stands in them."""
    from tests.helpers.written import judged, write

    def read(text: str, name: str) -> list[Line]:
        try:
            return [item for item in lines_of(understand(text.encode(), name, tables), tables) if isinstance(item, Line)]
        except RuleError:
            return []

    began, good, left, bad = time.perf_counter(), 0, 0, 0
    for number in range(files):
        name, text, truth = write(random.Random(seed * 1_000_003 + number))  # noqa: S311 -- writes a file, guards no secret
        understood, open_, wrong = judged(text, name, truth, read)
        good, left, bad = good + understood, left + open_, bad + bool(wrong)
        if wrong:
            print(f"file {number}: {wrong[:2]}\n{text[:300]}")
    print(
        f"{files} files with a truth in {time.perf_counter() - began:.0f} s: {good} results understood, {left} asked or kept, "
        f"{bad} files misread in silence"
    )
    return bad


if __name__ == "__main__":
    sys.exit(main())
