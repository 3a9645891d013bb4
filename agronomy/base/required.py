"""What earlier checks have made sure of, said to readers and to the type checker alike."""

from typing import TypeVar

Value = TypeVar("Value")


def required(value: Value | None) -> Value:
    """The value, where the rule before has seen to it that there is one; raises LookupError where it has not.

    >>> required(3.0)
    3.0
    """
    if value is None:
        raise LookupError("a rule looked for a value that is not known here")
    return value
