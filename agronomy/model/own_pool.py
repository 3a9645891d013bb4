"""How a plot's tests of phosphorus or potassium move, and what its harvests take, beside the tables': as its own tests have shown."""

from agronomy.base.record import record


@record
class OwnPool:
    """For one step of the test it takes `times` the table's fertilizer, likely `low` to `high`; harvests take `taken` times the table's."""

    times: float
    low: float
    high: float
    taken: float
    tests: int
