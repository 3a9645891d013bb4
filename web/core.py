"""What every room of the web leans on: the core's tables, its errors as words beside a field, rows stored in bulk."""

from collections.abc import Iterable
from contextlib import contextmanager

from django import forms
from django.db import connection, models

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


def insert_many(model: type[models.Model], objects: Iterable[models.Model]) -> None:
    """Stores many new rows of one model whose keys nobody needs, without signals.

    As bulk_create() does, but in one prepared statement: sixty thousand lines of a laboratory's file take half a second and
    not six (docs/benchmarks.md). Values go through the fields as ever.
    """
    fields = [field for field in model._meta.concrete_fields if not field.primary_key]
    columns = ", ".join(connection.ops.quote_name(field.column) for field in fields)
    marks = ", ".join(["%s"] * len(fields))
    statement = f"INSERT INTO {connection.ops.quote_name(model._meta.db_table)} ({columns}) VALUES ({marks})"  # noqa: S608 -- names from the model
    ready = [(field.attname, field.get_db_prep_save) for field in fields]
    with connection.cursor() as cursor:
        cursor.executemany(statement, [[prepare(getattr(item, name), connection) for name, prepare in ready] for item in objects])


def crop_choices() -> list:
    """Crops by group, for a menu."""
    groups: dict[str, list] = {}
    for crop in tables().crops.values():
        groups.setdefault(crop.group, []).append((crop.key, crop.name))
    return [("", "choose a crop"), *((group, sorted(crops, key=lambda pair: pair[1])) for group, crops in sorted(groups.items()))]


def texture_choices() -> list:
    return [("", "I don't know yet"), *((name, name) for name in tables().textures)]
