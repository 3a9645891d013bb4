"""What a plot's own tests have shown, as a request carries it."""

from collections.abc import Iterable

from agronomy.base.errors import OutOfRange
from agronomy.intake.request_doc import OwnBufferingDoc, OwnPoolDoc
from agronomy.model.own_buffering import OwnBuffering
from agronomy.model.own_pool import OwnPool


def own_buffering(doc: OwnBufferingDoc | None) -> OwnBuffering | None:
    """The plot's own buffering. Raises OutOfRange where it is outside its own band. Source: definition."""
    if doc is None:
        return None
    _inside("own_buffering.times", doc)
    return OwnBuffering(doc.times, doc.low, doc.high, doc.tests)


def own_pools(docs: Iterable[tuple[str, OwnPoolDoc]]) -> dict[str, OwnPool]:
    """How the plot's own P and K move. Raises OutOfRange where one is outside its own band. Source: definition."""
    found = {}
    for key, doc in docs:
        _inside(f"own_pools.{key}.times", doc)
        found[key] = OwnPool(doc.times, doc.low, doc.high, doc.taken, doc.tests)
    return found


def _inside(field: str, doc: OwnBufferingDoc | OwnPoolDoc) -> None:
    if not doc.low <= doc.times <= doc.high:
        raise OutOfRange(field, doc.times, "it is outside its own low and high", "take all of them from one answer")
