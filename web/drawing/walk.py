"""A sampling walk on its plot: outline, zig-zag, numbered cores, odd spots."""

from dataclasses import dataclass
from typing import Any

from agronomy.ground.shapes import measure
from web.drawing.frame import frame_on
from web.drawing.ground_map import Spot, spot
from web.drawing.rake import at


@dataclass(frozen=True, slots=True)
class Core:
    """A core to take: its number, and whether it is in the bucket."""

    number: int
    x: str
    y: str
    is_done: bool


@dataclass(frozen=True, slots=True)
class WalkDrawing:
    """All shapes of one walk."""

    width: str
    height: str
    outline: str
    line: str
    cores: tuple[Core, ...]
    spots: tuple[Spot, ...]
    scale_width: str
    scale_x: str
    scale_label: str
    says: str


def walk_drawing(
    shape: dict[str, Any], walk: dict[str, Any], *, done: list[int], spots, width: float = 520.0, height: float = 380.0, unit_m: float = 1.0
) -> WalkDrawing:
    """The drawing of a kept walk ({"line", "cores", ...}); `spots` are (x, y, radius) [m]."""
    measured = measure(shape)
    frame = frame_on(measured.bounds, width, height, margin=0.05, unit_m=unit_m)
    cores = tuple(Core(number, *frame.point(place), number in done) for number, place in enumerate(walk["cores"], 1))
    return WalkDrawing(
        width=at(width),
        height=at(height),
        outline=frame.path(measured.outline),
        line=frame.path(walk["line"], closed=False),
        cores=cores,
        spots=tuple(spot(frame, x, y, radius, "keep out") for x, y, radius in spots),
        scale_width=frame.length(frame.step * unit_m),
        scale_x=at(width - 12 - frame.step * unit_m * frame.per_metre),
        scale_label=f"{frame.step:g} {'m' if unit_m == 1 else 'ft'}",
        says=(
            f"A zig-zag of {walk['length_m'] / unit_m:.0f} {'m' if unit_m == 1 else 'ft'} with {len(cores)} cores, {len(done)} of them "
            "taken"
        ),
    )
