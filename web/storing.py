"""Files of people (photos, laboratories' files): in the database, or in a storage of Django's where the settings name one.

A row then holds only the file's address, made of its content: the same file lies there once, and an undo finds it again. Rows written
before, with the file in them, stay as they are and are read as before.
"""

import hashlib
import logging

from django.apps import apps
from django.conf import settings
from django.core.files.base import ContentFile
from django.core.files.storage import Storage, storages
from django.core.files.storage.handler import InvalidStorageError
from django.db import models
from django.db.models.functions import Cast

logger = logging.getLogger("django.uploads")
NAME = "uploads"
MARK = b"\x00iron-rake\x00"
AT, PLAIN = MARK + b"at:", MARK + b"plain:"


def uploads() -> Storage | None:
    """The storage for files of people; None where they lie in the database."""
    return storages[NAME] if NAME in settings.STORAGES else None


class StoredBytesField(models.BinaryField):
    """Bytes that lie in the row, or in the storage of the settings; code that reads them sees no difference."""

    def deconstruct(self):
        """To the database a column of bytes like any other."""
        name, _, args, kwargs = super().deconstruct()
        return name, "django.db.models.BinaryField", args, kwargs

    def get_prep_value(self, value):
        value = super().get_prep_value(value)
        if value is None:
            return None
        content, storage = bytes(value), uploads()
        if storage is None or not content:
            return PLAIN + content if content.startswith(MARK) else content  # nobody's file is taken for an address
        digest = hashlib.sha256(content).hexdigest()
        address = f"{digest[:2]}/{digest}"
        if not storage.exists(address):
            storage.save(address, ContentFile(content))
        return AT + address.encode("ascii")

    def from_db_value(self, value, *_):
        content = b"" if value is None else bytes(value)
        if content.startswith(PLAIN):
            return content[len(PLAIN) :]
        if content.startswith(AT):
            return _read(content[len(AT) :].decode("ascii"))
        return value


def _read(address: str) -> bytes:
    """A file of the storage; empty, and an error in the log, where it is gone: the page about it must still open."""
    try:
        with storages[NAME].open(address) as file:
            return file.read()
    except (OSError, InvalidStorageError) as error:
        logger.error("the upload %s cannot be read: %s", address, error)
        return b""


def unnamed() -> list[str]:
    """Addresses in the storage that no row names any more."""
    storage = uploads()
    if storage is None:
        return []
    named = set()
    for model in apps.get_models():
        for field in model._meta.concrete_fields:
            if isinstance(field, StoredBytesField):
                rows = model._base_manager.annotate(raw=Cast(field.name, models.BinaryField())).values_list("raw", flat=True)
                named |= {bytes(raw)[len(AT) :].decode("ascii") for raw in rows.iterator() if raw and bytes(raw).startswith(AT)}
    folders, _ = storage.listdir("")
    kept = (f"{folder}/{name}" for folder in folders for name in storage.listdir(folder)[1])
    return [address for address in kept if address not in named]
