"""How the time to read a laboratory's file grows with its rows, for each container and layout."""

import io
import json
import time

import openpyxl

from agronomy.labfile import Line, lines_of, understand
from agronomy.tables import load_tables

SMALL, LARGE = 2_000, 8_000  # rows
HEADINGS = ("Sample", "Sampled", "pH", "P (mg/kg)", "K (mg/kg)", "Mg (mg/kg)")
WIDTH = 16  # of a printed column

Rows = list[tuple[str, ...]]


def _rows(count: int) -> Rows:
    made = [
        (f"Field {n}", f"2026-03-0{1 + n % 9}", f"{5.5 + n % 20 / 10:.1f}", str(10 + n % 50), str(80 + n % 100), str(50 + n % 90))
        for n in range(count)
    ]
    return [HEADINGS, *made]


def _results(rows: Rows) -> list[tuple[str, str, str, str]]:
    """Sample, name, number and unit of every result."""
    headed = [(heading.partition(" ")[0], "mg/kg" if "(" in heading else "") for heading in HEADINGS[2:]]
    return [(row[0], name, value, unit) for row in rows[1:] for (name, unit), value in zip(headed, row[2:], strict=True)]


def _workbook(rows: Rows) -> bytes:
    book, out = openpyxl.Workbook(), io.BytesIO()
    for row in rows:
        book.active.append(row)
    book.save(out)
    return out.getvalue()


def _printed(rows: Rows) -> str:
    return "\n".join("".join(cell.ljust(WIDTH) for cell in row).rstrip() for row in rows)


def _blocks(rows: Rows) -> str:
    lines = []
    for row in rows[1:]:
        lines += [f"Sample: {row[0]}", *(f"{name}: {value} {unit}" for _, name, value, unit in _results([HEADINGS, row])), ""]
    return "\n".join(lines)


CONTAINERS = {
    "CSV, a row for each sample": ("a.csv", lambda rows: "\n".join(map(",".join, rows)).encode()),
    "CSV, a row for each result": (
        "a.csv",
        lambda rows: "\n".join(map(",".join, [("Sample", "Test", "Result", "Unit"), *_results(rows)])).encode(),
    ),
    "printed columns": ("a.txt", lambda rows: _printed(rows).encode()),
    "blocks of lines": ("a.txt", lambda rows: _blocks(rows).encode()),
    "HTML": ("a.html", lambda rows: f"<table>{''.join('<tr><td>' + '<td>'.join(row) for row in rows)}</table>".encode()),
    "workbook": ("a.xlsx", _workbook),
    "JSON": ("a.json", lambda rows: json.dumps([dict(zip(HEADINGS, row, strict=True)) for row in rows[1:]]).encode()),
}


def growth() -> dict[str, tuple[float, float, int]]:
    """Seconds of processor time for few and for many samples, and the readings of the many."""
    tables, found = load_tables(), {}
    for what, (name, written) in CONTAINERS.items():
        seconds, count = [], 0
        for rows in (SMALL, LARGE):
            content = written(_rows(rows))
            start = time.process_time()
            count = sum(isinstance(line, Line) for line in lines_of(understand(content, name, tables), tables))
            seconds.append(time.process_time() - start)
        found[what] = (seconds[0], seconds[1], count)
    return found
