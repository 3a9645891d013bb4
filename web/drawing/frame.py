"""A window on the holding's metre grid as a drawing: metres to units of an SVG, grid lines, scale bar."""

from collections.abc import Iterable
from dataclasses import dataclass
from math import floor, log10

from web.drawing.rake import at

Place = tuple[float, float]
Box = tuple[float, float, float, float]  # west, south, east, north


@dataclass(frozen=True, slots=True)
class GridLine:
    """A line of the grid, and the metres written at it."""

    position: str
    label: str


@dataclass(frozen=True, slots=True)
class Frame:
    """So many units for a metre, with north up."""

    west: float
    north: float
    per_metre: float
    width: float
    height: float
    unit_m: float = 1.0  # metres in the unit that the grid is labelled in

    def x(self, east: float) -> float:
        return (east - self.west) * self.per_metre

    def y(self, north: float) -> float:
        return (self.north - north) * self.per_metre

    def length(self, metres: float) -> str:
        return at(metres * self.per_metre)

    def point(self, place: Place) -> tuple[str, str]:
        return at(self.x(place[0])), at(self.y(place[1]))

    def path(self, places: Iterable[Place], *, closed: bool = True) -> str:
        """Path data through some places.

        >>> frame_on((0, 0, 10, 10), 100, 100, margin=0).path([(0, 0), (10, 0), (10, 10)])
        'M0 100 L100 100 L100 0 Z'
        """
        corners = " L".join(f"{at(self.x(x))} {at(self.y(y))}" for x, y in places)
        return f"M{corners}{' Z' if closed else ''}"

    @property
    def east(self) -> float:
        return self.west + self.width / self.per_metre

    @property
    def south(self) -> float:
        return self.north - self.height / self.per_metre

    @property
    def box(self) -> Box:
        return self.west, self.south, self.east, self.north

    @property
    def step(self) -> float:
        """Units of length between two lines of the grid: 1, 2 or 5 times a power of ten, some sixty units of drawing or more apart."""
        wanted = 60 / self.per_metre / self.unit_m
        power = 10 ** floor(log10(wanted))
        return next(nice * power for nice in (1, 2, 5, 10) if nice * power >= wanted)

    def columns(self) -> tuple[GridLine, ...]:
        return tuple(GridLine(at(self.x(value * self.unit_m)), f"{value:g}") for value in self._marks(self.west, self.east))

    def rows(self) -> tuple[GridLine, ...]:
        return tuple(GridLine(at(self.y(value * self.unit_m)), f"{value:g}") for value in self._marks(self.south, self.north))

    def _marks(self, low: float, high: float) -> list[float]:
        step = self.step * self.unit_m
        first = floor(low / step) + 1
        return [round(number * self.step, 6) for number in range(first, floor(high / step) + 1)]


def frame_on(box: Box, width: float, height: float, *, margin: float = 0.06, unit_m: float = 1.0) -> Frame:
    """The Frame that shows a box whole, in the middle, with a margin around it."""
    west, south, east, north = box
    wide, high = max(east - west, 0.5) * (1 + 2 * margin), max(north - south, 0.5) * (1 + 2 * margin)
    per_metre = min(width / wide, height / high)
    middle_x, middle_y = (west + east) / 2, (south + north) / 2
    return Frame(middle_x - width / per_metre / 2, middle_y + height / per_metre / 2, per_metre, width, height, unit_m)


def around(centre: Place, across_m: float, width: float, height: float, *, unit_m: float = 1.0) -> Frame:
    """The Frame of so many metres across, around a place."""
    per_metre = width / across_m
    return Frame(centre[0] - across_m / 2, centre[1] + height / per_metre / 2, per_metre, width, height, unit_m)
