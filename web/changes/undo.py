"""Undo for any change of rows: they are kept as they were, and put back if nobody has changed them since."""

import hashlib
import json
from contextlib import contextmanager
from itertools import chain

from django.apps import apps
from django.contrib import messages
from django.core import serializers
from django.core.exceptions import FieldDoesNotExist, ValidationError
from django.core.serializers.base import DeserializationError
from django.db import DatabaseError, IntegrityError, models, transaction
from django.db.models.deletion import Collector, ProtectedError
from django.urls import resolve
from django.utils import timezone

from web.changes.models import Change


class CannotUndo(Exception):
    """A change that stays as it is; `why` says so to a person."""

    why = "it can't be restored"


class ChangedSince(CannotUndo):
    """The rows are no longer as this change left them, or something else hangs on them by now."""

    why = "it has been changed again since"


class OfAnotherVersion(CannotUndo):
    """The rows were kept by another version of the program, and no longer fit."""

    why = "it was kept by another version of the program"


def _schema(*kept: list[dict]) -> str:
    """What the models of some kept rows look like now: rows fit again only while this is the same."""
    names = sorted({row["model"] for rows in kept for row in rows})
    told = [(name, sorted(field.attname for field in apps.get_model(name)._meta.concrete_fields)) for name in names]
    return hashlib.sha256(json.dumps(told).encode()).hexdigest()[:16]


def _kept(objects) -> list[dict]:
    """Rows as JSON values."""
    return json.loads(serializers.serialize("json", objects))


def _stored(keys) -> list[models.Model]:
    """The rows of some (model, pk) as the database has them now, in the same order; a query for each model, gone ones left out."""
    wanted = list(dict.fromkeys(keys))
    by_model: dict[type[models.Model], list] = {}
    for model, pk in wanted:
        by_model.setdefault(model, []).append(pk)
    found = {model: model._base_manager.in_bulk(pks) for model, pks in by_model.items()}
    return [found[model][pk] for model, pk in wanted if pk in found[model]]


class _WholeTree(Collector):
    """Collects every row that would go along, never by a shortcut that skips loading it."""

    def can_fast_delete(self, *args, **kwargs) -> bool:
        return False


def with_dependents(instance: models.Model) -> tuple[list[models.Model], list[models.Model]]:
    """A row and all rows that are deleted with it, owners first; and the rows that stay but lose their tie to it."""
    collector = _WholeTree(using=instance._state.db)
    collector.collect([instance])
    rows = list(chain.from_iterable(collector.data.values()))
    loosened = list(chain.from_iterable(chain.from_iterable(collector.field_updates.values())))
    return sorted(rows, key=lambda row: row != instance), loosened


@contextmanager
def undoable(request, label: str, *objects: models.Model):
    """Runs a block that changes `objects` as one transaction, and keeps how they were. The block may add to the yielded list."""
    touched = list(objects)
    with transaction.atomic():
        before = _kept(_stored((type(row), row.pk) for row in touched if row.pk))
        yield touched
        after = _kept(_stored((type(row), row.pk) for row in touched if row.pk))
        change = _keep(request, label, before, after)
    _say(request, label, change)


@contextmanager
def undoable_deletion(request, label: str, instance: models.Model):
    """Runs a block that deletes `instance`, and keeps it with all that goes along."""
    with transaction.atomic():
        gone, loosened = with_dependents(instance)
        before = _kept([*gone, *loosened])
        yield
        after = _as_it_is(_kept(loosened))
        change = _keep(request, label, before, after)
    _say(request, label, change)


def _keep(request, label: str, before: list[dict], after: list[dict]) -> Change:
    return Change.objects.create(
        holding=request.place.holding,
        user=request.user,
        label=label[:200],
        before=before,
        after=after,
        schema=_schema(before, after),
        page=getattr(request, "acts_as", "") or request.resolver_match.view_name,
    )


def may_undo(request, change: Change) -> bool:
    """Whether the person who asks might do today what was done then; what was kept without its page is for owners."""
    return request.place.may(resolve(change.undo_address).view_name if change.undo_address else change.page, "POST")


def _say(request, label: str, change: Change) -> None:
    if not getattr(request, "is_api", False):  # a program has no page to read it on, and needs no session
        messages.success(request, label, extra_tags=f"undo-{change.pk}")


def _key(row: dict) -> tuple:
    return row["model"], row["pk"]


def _as_it_is(rows: list[dict]) -> list[dict]:
    return _kept(_stored((apps.get_model(row["model"]), row["pk"]) for row in rows))


def undo(change: Change) -> None:
    """Puts the rows of a change back as they were. Raises CannotUndo, and then nothing has changed."""
    try:
        with transaction.atomic():
            if change.schema and change.schema != _schema(change.before, change.after):
                raise OfAnotherVersion
            _put_back(change)
    except (ProtectedError, IntegrityError) as error:
        raise ChangedSince from error
    except (DeserializationError, ValidationError, FieldDoesNotExist, LookupError, TypeError, ValueError, DatabaseError) as error:
        raise OfAnotherVersion from error


def _put_back(change: Change) -> None:
    keys_before = {_key(row) for row in change.before}
    added = [row for row in change.after if _key(row) not in keys_before]
    gone = [row for row in change.before if _key(row) not in {_key(row) for row in change.after}]
    if _as_it_is(change.after) != change.after or _as_it_is(gone):
        raise ChangedSince
    for kept in reversed(list(serializers.deserialize("json", json.dumps(added)))):  # what hangs on a row goes before it
        kept.object.delete()
    for kept in serializers.deserialize("json", json.dumps(change.before)):
        kept.save()
    change.undone_at = timezone.now()
    change.save(update_fields=["undone_at"])
