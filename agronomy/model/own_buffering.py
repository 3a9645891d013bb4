"""How much lime a plot takes beside the table's, as its own tests have shown."""

from agronomy.base.record import record


@record
class OwnBuffering:
    """`times` the table's lime, most likely between `low` and `high`, from so many tests."""

    times: float
    low: float
    high: float
    tests: int
