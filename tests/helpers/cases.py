"""Loads tables of cases."""

import tomllib
from pathlib import Path

import pytest

FOLDER = Path(__file__).parent.parent / "agronomy" / "cases"


def cases(name: str) -> list:
    """The cases of one file as pytest parameters, each named by its sentence."""
    rows = tomllib.loads((FOLDER / f"{name}.toml").read_text(encoding="utf-8"))["case"]
    return [pytest.param(row, id=row.get("say") or str(row["given"])) for row in rows]
