"""Files of people lie in the database or in a storage, and nobody sees a difference."""

import os
from datetime import timedelta

import pytest
from django.core.management import call_command
from django.urls import reverse
from django.utils import timezone

from web.records.models import LogPhoto
from web.storing import AT, MARK, unnamed


@pytest.fixture
def folder(settings, tmp_path):
    own = {"location": tmp_path / "uploads", "file_permissions_mode": 0o600}
    settings.STORAGES = settings.STORAGES | {"uploads": {"BACKEND": "django.core.files.storage.FileSystemStorage", "OPTIONS": own}}
    return tmp_path / "uploads"


def files(folder) -> list:
    return [path for path in folder.rglob("*") if path.is_file()]


def test_a_photo_lies_in_the_storage_once_and_is_shown_from_there(folder, grower, thornmere):
    older, one, two = (LogPhoto.objects.create(holding=thornmere, jpeg=content) for content in (b"", b"leaf", b"leaf"))
    assert [path.read_bytes() for path in files(folder)] == [b"leaf"]
    assert [path.stat().st_mode & 0o777 for path in files(folder)] == [0o600]
    assert grower.get(reverse("records:photo", args=[one.pk])).content == b"leaf"
    two.refresh_from_db()
    two.save()
    assert (bytes(LogPhoto.objects.get(pk=two.pk).jpeg), bytes(LogPhoto.objects.get(pk=older.pk).jpeg)) == (b"leaf", b"")
    one.delete()
    assert unnamed() == []
    address = files(folder)[0]
    address.rename(folder / "lost")
    assert bytes(LogPhoto.objects.get(pk=two.pk).jpeg) == b""  # told in the log; the page about it still opens
    (folder / "lost").rename(address)
    two.delete()
    assert len(unnamed()) == 1
    call_command("sweep_uploads")
    assert len(files(folder)) == 1  # an undo may still want it
    old = (timezone.now() - timedelta(days=40)).timestamp()
    os.utime(files(folder)[0], (old, old))
    call_command("sweep_uploads")
    assert files(folder) == []


def test_what_was_in_the_database_stays_and_no_file_passes_for_an_address(db, thornmere, settings, request):
    cunning = AT + b"../../etc/passwd"
    kept = [LogPhoto.objects.create(holding=thornmere, jpeg=content) for content in (b"before", cunning, MARK)]
    request.getfixturevalue("folder")
    assert [bytes(LogPhoto.objects.get(pk=row.pk).jpeg) for row in kept] == [b"before", cunning, MARK]
    again = LogPhoto.objects.create(holding=thornmere, jpeg=cunning)
    assert bytes(LogPhoto.objects.get(pk=again.pk).jpeg) == cunning
