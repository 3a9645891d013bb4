"""A holding written down: a zip of JSON Lines, one file a table, with the original files and photos, and a list of checksums."""

import hashlib
import json
import zipfile
from collections.abc import Iterator
from datetime import date
from typing import IO

from django.db import models
from django.utils import timezone

from agronomy import __version__
from web.overview.archive.contents import FORMAT, HOLDING_LEFT_OUT, TABLES, Table
from web.people.models import Holding, User
from web.people.moment import one_moment

READ_ME = """{name}, exported from Iron Rake {version} on {day}.

holding.json            habits, units, caps and days of the holding
people.json             who was on it, in which role (for your information; nobody is made a member by putting this back)
tables/NAME.jsonl       one row to a line, as JSON; "id" is the row's number here, and other tables point to it
files/TABLE-ID-COLUMN   files as they were read in, and photos
manifest.json           the form of this archive, and of every file its length in rows and its SHA-256

Days are written as 2027-03-01, amounts in kg, areas in m2, lengths in cm, rates as each column's name says.
A person stands as an e-mail address. Restore it in an empty holding under "Holding, take out and put back".
"""


def take_out(holding: Holding, to: IO[bytes]) -> None:
    """Writes the archive of a holding, as it is at one moment."""
    sums: dict[str, dict] = {}
    with one_moment(), zipfile.ZipFile(to, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:

        def put(name: str, content: bytes, rows: int | None = None) -> None:
            archive.writestr(name, content)
            sums[name] = {"sha256": hashlib.sha256(content).hexdigest()} | ({} if rows is None else {"rows": rows})

        put("holding.json", _json(_habits(holding)))
        members = holding.memberships.select_related("user").order_by("pk")
        put("people.json", _json([{"email": row.user.email, "name": row.user.name, "role": row.role} for row in members]))
        emails = dict(User.objects.filter(pk__in=_people(holding)).values_list("pk", "email"))
        for table in TABLES:
            lines = [_line(row, table, emails) for row in table.rows(holding).iterator(chunk_size=2000)]
            put(f"tables/{table.name}.jsonl", b"".join(lines), len(lines))
            for name, content in _apart(table, holding):
                put(name, content)
        told = {"name": holding.name, "version": __version__, "day": timezone.localdate().isoformat()}
        put("README.txt", READ_ME.format(**told).encode())
        archive.writestr("manifest.json", _json(told | {"format": FORMAT, "files": sums}))


def str_of(value: object) -> str:
    """Days, moments and names as text, to the last digit."""
    return value.isoformat() if isinstance(value, date) else str(value)


def _json(value: object) -> bytes:
    return json.dumps(value, default=str_of, ensure_ascii=False, allow_nan=False, indent=1).encode()


def _habits(holding: Holding) -> dict:
    fields = [field for field in Holding._meta.concrete_fields if field.name not in HOLDING_LEFT_OUT]
    return {"name": holding.name} | {field.name: field.value_from_object(holding) for field in fields}


def _people(holding: Holding) -> set[int]:
    """Everybody whom a row of the holding points to."""
    found: set[int] = set()
    for table in TABLES:
        for field in table.fields():
            if field.related_model is User:
                found |= set(table.rows(holding).exclude(**{field.name: None}).values_list(field.attname, flat=True))
    return found


def _line(row: models.Model, table: Table, emails: dict[int, str]) -> bytes:
    told: dict = {"id": row.pk}
    for field in table.fields():
        value = field.value_from_object(row)
        if field.related_model is User:
            value = emails.get(value)
        elif field.name == "holding":
            continue
        told[field.name] = value
    return json.dumps(told, default=str_of, ensure_ascii=False, separators=(",", ":")).encode() + b"\n"


def _apart(table: Table, holding: Holding) -> Iterator[tuple[str, bytes]]:
    for column in table.apart:
        for pk, content in table.rows(holding).values_list("pk", column).iterator(chunk_size=20):
            yield f"files/{table.name}-{pk}-{column}", bytes(content)
