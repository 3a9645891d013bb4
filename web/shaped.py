"""A column of JSON that knows what it may hold: whatever comes from outside is checked against it, and no page meets another shape."""

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from django.core.exceptions import ValidationError
from django.db import models
from pydantic import TypeAdapter

from agronomy.base.errors import RequestError, RuleError

Scalar = float | int | str | bool | None


class ShapedField(models.JSONField):
    """JSON of one kind: a type that pydantic can check, or a reader of the core that raises what is wrong."""

    if TYPE_CHECKING:  # what a row holds there, not the column

        def __get__(self, instance: Any, owner: Any) -> Any: ...
        def __set__(self, instance: Any, value: Any) -> None: ...

    empty_values = [None]  # an empty list where a document belongs is another shape, not nothing

    def __init__(self, *args, of: Any = None, **kwargs):
        self.of = of
        super().__init__(*args, **kwargs)

    def deconstruct(self):
        """To the database a column of JSON like any other."""
        name, _, args, kwargs = super().deconstruct()
        return name, "django.db.models.JSONField", args, kwargs

    def validate(self, value: Any, model_instance: models.Model) -> None:
        """Raises ValidationError for another shape; without a word for what stands there where nothing was said."""
        super().validate(value, model_instance)
        if value is None or (self.has_default() and value == self.get_default()):
            return
        try:
            _reader(self.of)(value)
        except (RuleError, RequestError, ValueError, TypeError, KeyError, AttributeError, IndexError, RecursionError) as error:
            raise ValidationError(f"it has not the shape that belongs here ({str(error)[:200]})") from error


def _reader(of: Any) -> Callable[[Any], object]:
    return TypeAdapter(of).validate_python if isinstance(of, type) or hasattr(of, "__origin__") or hasattr(of, "__args__") else of
