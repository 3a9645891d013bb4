"""What is made once and then only read: a plan makes hundreds of them.

The type checker refuses to change one. Python does not: filling a class that it freezes takes more than twice as long, and that was
an eighth of a plan. Rows of tables, which all plans share and which are made once, are frozen outright.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import TypeVar, dataclass_transform, overload

Made = TypeVar("Made")


@overload
def record(made: type[Made], /) -> type[Made]: ...
@overload
def record(*, kw_only: bool = False) -> Callable[[type[Made]], type[Made]]: ...
@dataclass_transform(frozen_default=True, field_specifiers=(field,))
def record(made: type | None = None, /, *, kw_only: bool = False) -> type | Callable[[type], type]:
    """A data class with slots that compares and hashes by its fields; nobody sets a field of one once it is made.

    >>> @record
    ... class Point:
    ...     x: float
    >>> Point(1.0) == Point(1.0), hash(Point(1.0)) == hash(Point(1.0))
    (True, True)
    """
    make = dataclass(slots=True, unsafe_hash=True, kw_only=kw_only)
    return make if made is None else make(made)
