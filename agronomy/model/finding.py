"""What a reading means for a crop."""

from agronomy.base.record import record
from agronomy.base.working import Step

NUTRIENT_CLASSES = ("very_short", "short", "building", "right", "plenty", "excess")
SALT_CLASSES = ("right", "salty", "too_salty", "sodium_rising", "sodic")
PH_CLASSES = ("too_acid", "right", "too_alkaline")
IS_SHORT = frozenset({"very_short", "short", "building"})
IS_PLENTY = frozenset({"plenty", "excess"})


@record(kw_only=True)
class Finding:
    """A reading judged for a crop.

    value, low, high: the reading and its 80 % band in `unit`. wanted: the range this crop wants. scale: where the drawing's
    tooth begins and where the ground of "too much" begins. act is False where the reading is too near the border to act on.
    expected: where the plan should bring it, or None.
    """

    analyte: str
    name: str
    class_: str
    value: float
    low: float
    high: float
    unit: str
    wanted: tuple[float, float]
    scale: tuple[float, float]
    why: str
    method: str
    qualifier: str | None = None
    act: bool = True
    expected: float | None = None
    working: tuple[Step, ...] = ()

    @property
    def is_short(self) -> bool:
        return self.class_ in IS_SHORT

    @property
    def nearest_wanted(self) -> float:
        """The value within what is wanted that lies nearest to the reading."""
        return min(max(self.value, self.wanted[0]), self.wanted[1])

    @property
    def is_plenty(self) -> bool:
        return self.class_ in IS_PLENTY
