"""How much lime a plot takes beside the table's, as its own tests have shown."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class OwnBuffering:
    """`times` the table's lime, most likely between `low` and `high`, from so many tests."""

    times: float
    low: float
    high: float
    tests: int
