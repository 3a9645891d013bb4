"""Many rows stored and taken away part by part, each a transaction of its own, so that whoever else writes gets in between."""

import time
from collections.abc import Callable

from django.apps import apps
from django.db import models, transaction

from web.overview.archive.contents import NOT_KEPT, TABLES
from web.people.models import Holding

UNSEEN = "(under way)"  # the name of a holding without people: what it has is on its way in or out
IN_A_GO, IN_A_PART = 500, 4000
ONE_BY_ONE = 500  # rows of a part, where they can't be stored many at a time
PAUSE_S = 0.15  # who waits to write in SQLite tries again each tenth of a second


class Parts:
    """Stores rows part by part, and remembers them, to take them out again."""

    def __init__(self, after_part: Callable[[int], None]):
        self.after_part = after_part
        self._stored: list[tuple[type[models.Model], list[int]]] = []

    def store(self, model: type[models.Model], rows: list[models.Model]) -> None:
        step = ONE_BY_ONE if _sets_itself(model) else IN_A_PART
        for first in range(0, len(rows), step):
            part = rows[first : first + step]
            with transaction.atomic():
                store_rows(model, part)
            self._stored.append((model, [row.pk for row in part]))
            self.after_part(len(part))
            time.sleep(PAUSE_S)

    def take_back(self) -> None:
        """Takes out what was stored, the last first."""
        for model in {model for model, _ in self._stored}:
            _let_go(model, [pk for kind, keys in self._stored if kind is model for pk in keys])
        for model, keys in reversed(self._stored):
            _delete(model, keys)
            time.sleep(PAUSE_S)


def store_rows(model: type[models.Model], rows: list[models.Model]) -> None:
    """Stores rows as they are: no day of writing is set anew."""
    if not _sets_itself(model):
        model._base_manager.bulk_create(rows, batch_size=IN_A_GO)
        return
    for row in rows:
        models.Model.save_base(row, raw=True, force_insert=True)


def _sets_itself(model: type[models.Model]) -> bool:
    """Whether a column would be set to this moment."""
    return any(getattr(column, "auto_now", False) or getattr(column, "auto_now_add", False) for column in model._meta.concrete_fields)


def hand_over(of: Holding, to: Holding) -> None:
    """Gives all rows of one holding to another."""
    for table in TABLES:
        if table.owner == "holding":
            table.model._base_manager.filter(holding=of).update(holding=to)


def empty_out(holding: Holding, *, pause_s: float | None = None) -> None:
    """Deletes a holding that nobody sees any more, with all that it has, part by part."""
    for table in reversed(TABLES):
        _let_go(table.model, list(table.rows(holding).values_list("pk", flat=True)) if points_to_itself(table.model) else [])
        while keys := list(table.rows(holding).values_list("pk", flat=True)[:IN_A_PART]):
            _delete(table.model, keys)
            time.sleep(PAUSE_S if pause_s is None else pause_s)
    holding.delete()


def points_to_itself(model: type[models.Model]) -> list[models.Field]:
    """The columns by which rows of a model name others of it, such as a zone its field."""
    return [column for column in model._meta.concrete_fields if column.related_model is model]


def _let_go(model: type[models.Model], keys: list[int]) -> None:
    """Rows that point to rows of their own table no longer do."""
    for column in points_to_itself(model):
        for first in range(0, len(keys), IN_A_PART):
            model._base_manager.filter(pk__in=keys[first : first + IN_A_PART]).update(**{column.attname: None})


def _delete(model: type[models.Model], keys: list[int]) -> None:
    """Rows whose own rows are gone already, without a word to whoever watches: the holding has nobody who could see a change."""
    with transaction.atomic():
        for other, column in _outside(model):
            other._base_manager.filter(**{f"{column}__in": keys}).delete()
        rows = model._base_manager.filter(pk__in=keys)
        rows._raw_delete(rows.db)


def _outside(model: type[models.Model]) -> list[tuple[type[models.Model], str]]:
    """Models that are in no archive and point to a model, with the column."""
    return [(kind, column.name) for kind in map(apps.get_model, NOT_KEPT) for column in kind._meta.fields if column.related_model is model]
