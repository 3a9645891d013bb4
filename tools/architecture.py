"""The rooms of the house drawn from the contracts that hold them apart: docs/architecture.svg, made by `make docs`."""

import importlib
import tomllib
from html import escape
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
WIDE, HIGH, GAP, LEFT, BETWEEN = 470, 34, 6, 24, 56
A_LETTER = 5.3  # how wide one of the small letters is
INK, PAPER, CORE, WEB = "#26211c", "#fbf7ec", "#e9dcc0", "#dfe7d5"


def layers() -> tuple[list[list[str]], list[list[str]]]:
    """The core's rooms and the web's, the highest floor first; rooms of one floor do not know each other."""
    contracts = tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))["tool"]["importlinter"]["contracts"]
    of = {contract["name"]: contract for contract in contracts if contract["type"] == "layers"}
    core = next(contract for contract in of.values() if contract.get("containers") == ["agronomy"])
    web = next(contract for contract in of.values() if contract["layers"][0].startswith("web."))
    parted = [[floor.split(" | ") for floor in tower["layers"]] for tower in (core, web)]
    return [[f"agronomy.{room}" for room in floor] for floor in parted[0]], parted[1]


def _says(room: str) -> str:
    """The first sentence of what a room says of itself."""
    told = (importlib.import_module(room).__doc__ or "").strip().splitlines()
    return told[0].split(". ")[0].rstrip(".") if told else ""


def _cut(text: str, width: float) -> str:
    most = int((width - 20) / A_LETTER)
    return text if len(text) <= most else f"{text[: most - 1].rstrip(' ,;:')}…"


def _floor(floor: list[str], x: int, y: int, colour: str) -> list[str]:
    """The rooms of one floor beside each other."""
    drawn, width = [], (WIDE - GAP * (len(floor) - 1)) / len(floor)
    for place, room in enumerate(floor):
        at, name = x + place * (width + GAP), room.partition(".")[2]
        drawn.append(f'<rect x="{at:.1f}" y="{y}" width="{width:.1f}" height="{HIGH}" rx="4" fill="{colour}" stroke="{INK}"/>')
        drawn.append(f'<text x="{at + 10:.1f}" y="{y + 14}" font-weight="700">{escape(name)}</text>')
        drawn.append(f'<text x="{at + 10:.1f}" y="{y + 28}" font-size="10">{escape(_cut(_says(room), width))}</text>')
    return drawn


def picture() -> str:
    """Both towers beside each other; whoever stands higher may know whoever stands lower, and the web may know the core."""
    core, web = layers()
    shapes: list[str] = []
    columns = ((core, LEFT, CORE, "agronomy: the rules, pure"), (web, LEFT + WIDE + BETWEEN, WEB, "web: Django shows them"))
    for floors, x, colour, title in columns:
        shapes.append(f'<text x="{x}" y="34" font-size="16" font-weight="700">{escape(title)}</text>')
        for place, floor in enumerate(floors):
            shapes += _floor(floor, x, 50 + place * (HIGH + GAP), colour)
    lowest = 50 + max(len(core), len(web)) * (HIGH + GAP)
    below_the_command_line = 50 + 2 * (HIGH + GAP) + HIGH / 2
    right, left = LEFT + WIDE + BETWEEN - 6, LEFT + WIDE + 6
    shapes.append(f'<path d="M{right} {below_the_command_line} H{left} m8 -6 l-8 6 l8 6" fill="none" stroke="{INK}" stroke-width="2"/>')
    shapes.append(f'<path d="M{LEFT - 12} 60 V{lowest - 16} m-5 -8 l5 8 l5 -8" fill="none" stroke="{INK}" stroke-width="2"/>')
    width = 2 * LEFT + 2 * WIDE + BETWEEN
    told = (
        "An arrow says “may import”: downwards, never beside, and from the web to the core but for its command line. make lint holds it so."
    )
    says = f'<text x="{LEFT}" y="{lowest + 14}" font-size="11">{told}</text>'
    box = f'viewBox="0 0 {width} {lowest + 30}" font-family="sans-serif" font-size="13" fill="{INK}"'
    head = f'<svg xmlns="http://www.w3.org/2000/svg" {box}>'
    return "\n".join([head, f'<rect width="100%" height="100%" fill="{PAPER}"/>', *shapes, says, "</svg>"]) + "\n"
