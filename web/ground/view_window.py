"""Which window of the map a page asks for: its centre and width from the address, else the whole holding."""

from dataclasses import dataclass
from urllib.parse import urlencode

from web.drawing.frame import Box, Frame, around, frame_on
from web.drawing.ground_map import HEIGHT, WIDTH

FOOT_M = 0.3048
EMPTY_BOX = (0.0, 0.0, 40.0, 28.0)
NARROWEST_M, WIDEST_M = 2.0, 40_000.0


@dataclass(frozen=True, slots=True)
class Steps:
    """Addresses that move the window: nearer, farther, to each side, and the whole."""

    nearer: str
    farther: str
    west: str
    east: str
    north: str
    south: str
    whole: str


def unit_of(units: str) -> float:
    """Metres in the unit that lengths on the map are written in."""
    return FOOT_M if units == "us" else 1.0


def frame_of(request, extent: Box | None, *, width: float = WIDTH, height: float = HEIGHT) -> Frame:
    """The frame asked for as ?at=x,y&across=m; anything else shows the whole extent."""
    unit_m = unit_of(request.place.units)
    try:
        x, y = (float(value) for value in request.GET["at"].split(","))
        across = min(max(float(request.GET["across"]), NARROWEST_M), WIDEST_M)
        if abs(x) <= WIDEST_M * 2 and abs(y) <= WIDEST_M * 2:
            return around((x, y), across, width, height, unit_m=unit_m)
    except (KeyError, ValueError):
        pass
    return frame_on(extent or EMPTY_BOX, width, height, unit_m=unit_m)


def address(x: float, y: float, across: float, **more) -> str:
    return "?" + urlencode({"at": f"{x:.2f},{y:.2f}", "across": f"{across:.2f}", **more})


def steps(frame: Frame, **more) -> Steps:
    """Links around a frame; `more` are further parameters that they carry along."""
    across, x, y = frame.east - frame.west, (frame.west + frame.east) / 2, (frame.south + frame.north) / 2
    shift = across / 4
    return Steps(
        nearer=address(x, y, across / 2, **more),
        farther=address(x, y, across * 2, **more),
        west=address(x - shift, y, across, **more),
        east=address(x + shift, y, across, **more),
        north=address(x, y + shift, across, **more),
        south=address(x, y - shift, across, **more),
        whole="?" + urlencode(more),
    )
