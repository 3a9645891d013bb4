"""Where a method of reckoning a lime need holds, out of one table of ranges."""

from agronomy.base.said import say
from agronomy.tables import Tables
from agronomy.tables.rooms.acidity import MethodRange


def why_not(method: str, values: dict[str, float], tables: Tables) -> str | None:
    """Why a method can't be used for some values ("pH", "buffer pH", "target", "organic matter"), or None where it can.

    Only what the table names for the method is looked at. Source: each row's own.

    >>> from agronomy.tables import load_tables
    >>> why_not("SMP", {"target": 6.85}, load_tables())
    'target 6.8 is outside 6.0 to 6.8 for SMP'
    """
    for row in tables.acidity.method_ranges:
        value = values.get(row.what)
        if row.method != method or value is None:
            continue
        is_low = row.low is not None and value < row.low
        is_high = row.high is not None and (value >= row.high if row.below_high else value > row.high)
        if is_low or is_high:
            more = f": {row.says}" if is_high and row.says else ""
            return say(
                "{what} {value:.1f} is outside {range} for {method}{more}",
                what=row.what,
                value=value,
                range=_range(row),
                method=method,
                more=more,
            )
    return None


def _range(row: MethodRange) -> str:
    if row.low is None:
        return say("what is up to {high:.1f}", high=row.high)
    return f"{row.low:.1f} to {row.high:.1f}"
