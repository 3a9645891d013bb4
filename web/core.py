"""What every room of the web leans on: the core's tables, its errors as words beside a field, rows stored in bulk."""

from collections.abc import Iterable
from contextlib import contextmanager

from django import forms
from django.db import connection, models

from agronomy.base.errors import RuleError
from agronomy.tables import Tables, load_tables


def tables() -> Tables:
    return load_tables()


def error_text(error: RuleError) -> str:
    """A rule's error as one sentence for a person."""
    return f"{error.problem[0].upper()}{error.problem[1:]}: {error.mend}."


@contextmanager
def rule_errors_as_form_errors():
    """A RuleError inside becomes the ValidationError of the field being cleaned."""
    try:
        yield
    except RuleError as error:
        raise forms.ValidationError(error_text(error)) from error


def insert_many(model: type[models.Model], names: tuple[str, ...], rows: Iterable[tuple]) -> None:
    """Stores many new rows of one model whose keys nobody needs: values (texts, numbers, booleans, None) by the fields' attribute names.

    What bulk_create() does, in one prepared statement and without an object for each row: sixty thousand lines of a laboratory's
    file take a fraction of the time (docs/benchmarks.md). Fields that are not named get their defaults; signals are not sent.
    """
    fields = {field.attname: field for field in model._meta.concrete_fields if not field.primary_key}
    rest = [name for name in fields if name not in names]
    defaults = tuple(fields[name].get_default() for name in rest)
    columns = ", ".join(connection.ops.quote_name(fields[name].column) for name in (*names, *rest))
    marks = ", ".join(["%s"] * len(fields))
    statement = f"INSERT INTO {connection.ops.quote_name(model._meta.db_table)} ({columns}) VALUES ({marks})"  # noqa: S608 -- names from the model
    with connection.cursor() as cursor:
        cursor.executemany(statement, [row + defaults for row in rows])


def crop_choices(own: Iterable = ()) -> list:
    """Crops by group, for a menu; the holding's own (rows with pk and name) first, as "own-5"."""
    groups: dict[str, list] = {}
    for crop in tables().crops.values():
        groups.setdefault(crop.group, []).append((crop.key, crop.name))
    mine = [("your own", [(f"own-{crop.pk}", crop.name) for crop in own])] if own else []
    return [("", "choose a crop"), *mine, *((group, sorted(crops, key=lambda pair: pair[1])) for group, crops in sorted(groups.items()))]


def texture_choices() -> list:
    return [("", "I don't know yet"), *((name, name) for name in tables().textures)]
