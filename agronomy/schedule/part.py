"""One dressing's share of a choice, with its window and how it is put on."""

from agronomy.base.record import record
from agronomy.base.working import Step
from agronomy.model.seasons import Window


@record(kw_only=True)
class Part:
    """One dressing's share of a choice with its window."""

    share: float
    window: Window
    pattern: str
    note: str = ""
    later: bool = False
    extra: tuple[Step, ...] = ()
