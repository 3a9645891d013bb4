"""Signs on plants as small drawings: a leaf with its pattern, a plant with the leaves that show it, a bed with the places."""

from collections.abc import Iterable
from dataclasses import dataclass
from math import cos, pi, sin

from web.drawing.rake import at

BAR = 160  # width of the bar that shows how likely a cause is
LEAF = "M30 3C53 20 55 54 30 80C5 54 7 20 30 3Z"
INNER = "M30 14C46 27 47 53 30 71C13 53 14 27 30 14Z"
RIB = "M30 8V82"
VEINS = "M30 24L43 16M30 24L17 16M30 38L47 28M30 38L13 28M30 52L46 43M30 52L14 43M30 64L40 57M30 64L20 57"
NET = "M36 22L38 34M24 22L22 34M38 35L40 48M22 35L20 48M36 50L37 60M24 50L23 60M34 30L42 36M26 30L18 36M34 44L42 50M26 44L18 50"


@dataclass(frozen=True, slots=True)
class Mark:
    """A path of a drawing: its class (what colour it takes, filled or as a line) and its data."""

    kind: str
    path: str


def _dots(places: Iterable[tuple[float, float]], radius: float) -> str:
    arc = f"a{radius:g} {radius:g} 0 1 0"
    return "".join(f"M{x - radius:g} {y:g}{arc} {2 * radius:g} 0{arc} -{2 * radius:g} 0z" for x, y in places)


def _scattered(count: int) -> list[tuple[float, float]]:
    """Places all over a leaf, as seeds lie in a sunflower."""
    turn, found = pi * (3 - 5**0.5), []
    for number in range(1, count + 1):
        out = (number / count) ** 0.5
        found.append((round(30 + 17 * out * cos(number * turn), 1), round(42 + 27 * out * sin(number * turn), 1)))
    return found


def _pair(y: int, w: int) -> str:
    """Two leaves of a plant, one to each side of its stem."""
    sides = (f"M30 {y}Q{30 + side * w} {y - 14} {30 + side * 1.5 * w:g} {y - 2}Q{30 + side * w} {y + 6} 30 {y}Z" for side in (-1, 1))
    return "".join(sides)


SPOTS = [(22, 30), (38, 26), (35, 44), (20, 48), (30, 60), (42, 52)]
_PATTERNS: dict[str, tuple[Mark, ...]] = {
    "pat_even": (Mark("pale", LEAF),),
    "pat_net": (Mark("yellow", LEAF), Mark("green-line", NET)),
    "pat_herring": (Mark("yellow", LEAF), Mark("green-wide", f"{RIB}{VEINS}")),
    "pat_edge_yellow": (Mark("yellow", LEAF), Mark("green", INNER)),
    "pat_edge_burn": (Mark("brown", LEAF), Mark("green", INNER)),
    "pat_tip_burn": (Mark("green", LEAF), Mark("brown", "M30 3C38 9 43 16 46 24L14 24C17 16 22 9 30 3Z")),
    "pat_v": (Mark("green", LEAF), Mark("yellow", "M30 3C38 9 43 16 45 22L30 60L15 22C17 16 22 9 30 3Z")),
    "pat_stripe": (Mark("green", LEAF), Mark("pale-line", "M20 20V62M25 14V70M35 14V70M40 20V62")),
    "pat_base_band": (Mark("green", LEAF), Mark("cream", "M15 52C19 64 24 72 30 80C36 72 41 64 45 52Z")),
    "pat_arrow": (Mark("yellow", LEAF), Mark("green", "M30 40L44 62C40 70 35 75 30 80C25 75 20 70 16 62Z")),
    "pat_spots": (Mark("green", LEAF), Mark("brown", _dots(SPOTS, 3.4))),
    "pat_rings": (
        Mark("green", LEAF),
        Mark("brown", _dots(SPOTS[::2], 6)),
        Mark("pale", _dots(SPOTS[::2], 4)),
        Mark("brown", _dots(SPOTS[::2], 2)),
    ),
    "pat_specks": (Mark("green", LEAF), Mark("brown", _dots(_scattered(26), 1.3))),
    "pat_stipple": (Mark("green", LEAF), Mark("cream", _dots(_scattered(60), 0.8))),
    "pat_mosaic": (Mark("green", LEAF), Mark("pale", _dots([(20, 28), (38, 36), (24, 52), (36, 62)], 7))),
    "pat_vein_yellow": (Mark("green", LEAF), Mark("yellow-wide", f"{RIB}{VEINS}")),
    "pat_bleach": (Mark("green", LEAF), Mark("cream", "M18 22Q30 14 40 24Q44 36 32 38Q18 36 18 22ZM24 50Q34 46 38 56Q32 66 24 60Z")),
}
_COLOURS = {
    "col_pale": "pale",
    "col_yellow": "yellow",
    "col_cream": "cream",
    "col_purple": "purple",
    "col_red": "red",
    "col_dull_dark": "dull",
    "col_lush_dark": "lush",
    "col_bronze": "bronze",
    "col_black": "black",
}
_PAIRS = tuple(_pair(y, w) for y, w in ((66, 17), (50, 15), (34, 12), (20, 8)))  # the oldest first
_TIERS = {"age_old": (0,), "age_middle": (1, 2), "age_young": (3,), "age_all": (0, 1, 2, 3)}
_STAND = [(x, y) for y in (16, 33, 50, 67) for x in (9, 23, 37, 51)]
_WHERE = {
    "dist_one": lambda x, y: (x, y) in ((23, 33), (51, 67)),
    "dist_patch": lambda x, y: x >= 23 and 33 <= y <= 50 and x <= 37,
    "dist_row": lambda x, y: x == 37,
    "dist_whole": lambda x, y: True,
    "dist_edge": lambda x, y: x == 51,
    "dist_low": lambda x, y: y == 67,
    "dist_high": lambda x, y: y == 16,
}


def sign(key: str) -> tuple[Mark, ...]:
    """The drawing of a sign in a box of 60 by 84, or nothing where it is not one to draw. Keys are those of the table of features."""
    if key in _PATTERNS:
        return (*_PATTERNS[key], Mark("rib", RIB + VEINS), Mark("outline", LEAF))
    if key in _COLOURS:
        return (Mark(_COLOURS[key], LEAF), Mark("rib", RIB + VEINS), Mark("outline", LEAF))
    if key in _TIERS:
        struck = _TIERS[key]
        leaves = [Mark("yellow" if number in struck else "green", path) for number, path in enumerate(_PAIRS)]
        return (Mark("stem", "M30 80V12"), *leaves, *(Mark("outline", path) for path in _PAIRS))
    if key in _WHERE:
        struck_places = [place for place in _STAND if _WHERE[key](*place)]
        well = [place for place in _STAND if place not in struck_places]
        return (Mark("ground", "M2 6H58V78H2Z"), Mark("green", _dots(well, 5)), Mark("yellow", _dots(struck_places, 5)))
    return ()


def likely_bar(share: float) -> str:
    """How wide the filled part of the bar is for a share."""
    return at(BAR * share)
