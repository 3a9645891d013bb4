"""The texture triangle: clay upwards, sand to the left, silt to the right; each class as an area found from the rule itself."""

from dataclasses import dataclass

from shapely.geometry import Polygon
from shapely.ops import unary_union

from agronomy.model.soil import texture_class
from web.drawing.rake import at

SIDE, HEIGHT, LEFT, TOP, STEP = 440.0, 381.0, 46.0, 18.0, 1.25


@dataclass(frozen=True, slots=True)
class Area:
    """A texture class: its outline, and where its name stands."""

    code: str
    name: str
    path: str
    x: str
    y: str
    is_chosen: bool


@dataclass(frozen=True, slots=True)
class Triangle:
    """The drawing: areas, ticks at each fifth, and the dot of one soil."""

    width: str
    height: str
    areas: tuple[Area, ...]
    ticks: tuple[tuple[str, str, str], ...]
    dot: tuple[str, str] | None
    says: str


def place(sand: float, clay: float) -> tuple[float, float]:
    """Where a soil lies in the drawing, from its sand and clay [%]."""
    silt = 100 - sand - clay
    return LEFT + SIDE * (silt + clay / 2) / 100, TOP + HEIGHT * (1 - clay / 100)


def _cell_areas() -> dict[str, list[Polygon]]:
    """Small triangles of the grid, each with the class of its middle."""
    cells: dict[str, list[Polygon]] = {}
    count = int(100 / STEP)
    for i in range(count):  # clay
        for j in range(count - i):  # sand
            clay, sand = i * STEP, j * STEP
            up = [(sand, clay), (sand + STEP, clay), (sand, clay + STEP)]
            down = [(sand + STEP, clay), (sand + STEP, clay + STEP), (sand, clay + STEP)]
            for corners in [up, down] if i + j < count - 1 else [up]:
                s, c = sum(corner[0] for corner in corners) / 3, sum(corner[1] for corner in corners) / 3
                cells.setdefault(texture_class(s, 100 - s - c, c), []).append(Polygon([place(*corner) for corner in corners]))
    return cells


_areas: dict[str, Polygon] = {}


def _outlines() -> dict[str, Polygon]:
    if not _areas:
        for code, cells in _cell_areas().items():
            joined = unary_union(cells)
            _areas[code] = max(joined.geoms, key=lambda part: part.area) if joined.geom_type == "MultiPolygon" else joined
    return _areas


def triangle(names: dict[str, str], *, sand: float | None = None, clay: float | None = None, chosen: str = "") -> Triangle:
    """The triangle with the classes' names (by code), and a dot for one soil."""
    areas = []
    for code, outline in _outlines().items():
        corners = " L".join(f"{at(x)} {at(y)}" for x, y in outline.simplify(3.4).exterior.coords)
        middle = outline.representative_point()
        areas.append(Area(code, names[code], f"M{corners} Z", at(middle.x), at(middle.y + 4), names[code] == chosen))
    ticks = []
    for value in range(20, 100, 20):
        x, y = place(100 - value, value)
        ticks.append((at(x - 26), at(y + 4), f"{value}"))
    dot = None if sand is None or clay is None else (at(place(sand, clay)[0]), at(place(sand, clay)[1]))
    says = f"The texture triangle{f', {chosen} marked' if chosen else ''}"
    return Triangle(at(SIDE + 2 * LEFT), at(HEIGHT + TOP + 44), tuple(areas), tuple(ticks), dot, says)
