"""The one place where the web reaches for the core's tables and turns its errors into words beside a field."""

from contextlib import contextmanager

from django import forms

from agronomy.errors import RuleError
from agronomy.tables import Tables, load_tables


def tables() -> Tables:
    return load_tables()


def say(error: RuleError) -> str:
    """A rule's error as one sentence for a person."""
    return f"{error.problem[0].upper()}{error.problem[1:]}: {error.mend}."


@contextmanager
def rule_errors_as_form_errors():
    """A RuleError inside becomes the ValidationError of the field being cleaned."""
    try:
        yield
    except RuleError as error:
        raise forms.ValidationError(say(error)) from error


def crop_choices() -> list:
    """Crops by group, for a menu."""
    groups: dict[str, list] = {}
    for crop in tables().crops.values():
        groups.setdefault(crop.group, []).append((crop.key, crop.name))
    return [("", "choose a crop"), *((group, sorted(crops, key=lambda pair: pair[1])) for group, crops in sorted(groups.items()))]


def texture_choices() -> list:
    return [("", "I don't know yet"), *((name, name) for name in tables().textures)]
