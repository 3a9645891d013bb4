"""A grower's own critical level, which goes before the tables'."""

from agronomy.base.record import record


@record
class Target:
    """A grower's own critical level [base unit] of one nutrient by one method, or by any where `method` is empty."""

    analyte: str
    method: str
    level: float


def target_for(targets: tuple[Target, ...], analyte: str, method: str) -> Target | None:
    """The own level that a reading is judged by: one for its method before one for any. Source: user-target.

    Levels in mg/kg (organic matter in %).

    >>> target_for((), "P", "Mehlich 3") is None
    True
    """
    if not targets:
        return None
    fitting = [target for target in targets if target.analyte == analyte and target.method in (method, "")]
    return max(fitting, key=lambda target: target.method != "", default=None)
