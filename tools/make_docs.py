"""Writes what is made from code and data: the JSON Schemas and the tables of crops and materials, a page a method.

`--check` only compares.
"""

import json
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from agronomy.intake.documents import plan_schema, request_schema
from agronomy.tables import load_tables
from agronomy.tables.crop import Crop
from tools.architecture import picture
from tools.method_pages import method_pages

DOCS = Path(__file__).resolve().parent.parent / "docs"


def made() -> dict[Path, str]:
    return {
        DOCS / "schema" / "request.json": json.dumps(request_schema(), indent=2) + "\n",
        DOCS / "schema" / "plan.json": json.dumps(plan_schema(), indent=2) + "\n",
        DOCS / "tables.md": tables_page(),
        DOCS / "architecture.svg": picture(),
        **method_pages(),
    }


def tables_page() -> str:
    tables = load_tables()
    lines = [
        "# Crops, materials and extractants",
        "",
        "Made by `make docs` from `agronomy/tables/data/`. Figures marked *unsure* are estimates, and screens say so.",
        "",
        "## Crops",
        "",
    ]
    lines += [
        "| crop | key | group | lime below | lime to | wanted up to | P and K group | feeding | roots, cm | sensitive to | lime | sure? |",
        "|---|---|---|---|---|---|---|---|---|---|---|---|",
    ]
    lines += [
        (
            f"| {crop.name} | `{crop.key}` | {crop.group} | {crop.ph_low:g} | {crop.ph_lime_to:g} | {crop.ph_high:g} "
            f"| {crop.nutrient_group} "
            f"| {_traits(crop)} | {crop.status} |"
        )
        for crop in tables.crops.values()
    ]
    lines += [
        "",
        "## Materials",
        "",
        "| material | key | N-P2O5-K2O | neutralises | organic rules | chosen for you | sure? |",
        "|---|---|---|---|---|---|---|",
    ]
    lines += [
        (
            f"| {item.name} | `{item.key}` | {item.n:g}-{item.p2o5:g}-{item.k2o:g} | {item.cce:g} % | {item.rule} | "
            f"{'yes' if item.chosen_for_you else 'no'} | {item.status} |"
        )
        for item in tables.materials.values()
    ]
    lines += ["", "## Extractants", "", "| extractant | analytes | judged here | reads like | sure? |", "|---|---|---|---|---|"]
    judged = {(row.nutrient, row.method) for row in tables.nutrients.critical}
    for row in tables.readings.extractants:
        known = [key for key in row.analytes if {(key, row.reads_like or row.method), (key, "any")} & judged]
        lines.append(f"| {row.method} | {', '.join(row.analytes)} | {', '.join(known)} | {row.reads_like or ''} | {row.status} |")
    return "\n".join(lines) + "\n"


def _traits(crop: Crop) -> str:
    return f"{crop.feeding} | {crop.rooting_cm:g} | {', '.join(crop.sensitive_to)} | {crop.lime}"


def main() -> int:
    stale = []
    for path, text in made().items():
        if "--check" in sys.argv:
            stale += [path.name] if not path.exists() or path.read_text(encoding="utf-8") != text else []
        else:
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_text(text, encoding="utf-8")
    if stale:
        print(f"stale: {', '.join(stale)}; run make docs", file=sys.stderr)
    return 1 if stale else 0


if __name__ == "__main__":
    sys.exit(main())
