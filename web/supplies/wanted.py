"""What is meant to be put on, as rooms above tell it: each adds its source when it starts, so that the shed need not know them."""

from collections.abc import Callable, Iterable

from agronomy.products.buying import Use
from web.people.models import Holding

_sources: list[Callable[[Holding], Iterable[Use]]] = []


def source_of_uses(source: Callable[[Holding], Iterable[Use]]) -> Callable[[Holding], Iterable[Use]]:
    """Adds a source of uses; serves as a decorator."""
    _sources.append(source)
    return source


def wanted(holding: Holding) -> list[Use]:
    """All that is meant to be put on a holding's plots, whatever it came from."""
    return [use for source in _sources for use in source(holding)]
