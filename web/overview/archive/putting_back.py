"""An archive put back: every file checked against its sum, every row against its model, all of it or nothing."""

import hashlib
import json
import lzma
import secrets
import struct
import uuid
import zipfile
import zlib
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from itertools import islice
from typing import IO, Any, cast

from django.core.exceptions import ValidationError
from django.db import IntegrityError, models, transaction

from web.ground.models import Plot
from web.overview.archive.contents import FORMAT, HOLDING_LEFT_OUT, PARTS, TABLES, Table
from web.overview.archive.parts import IN_A_PART, UNSEEN, Parts, empty_out, hand_over, points_to_itself, store_rows
from web.people.holding_lock import hold
from web.people.models import Holding, User

MOST_BYTES, MOST_FILES, MOST_ROWS = 1_000_000_000, 50_000, 2_000_000
LARGEST_FILE = 50_000_000  # of a photo, a laboratory's file, a row
# what a zip file that is spoilt raises
BROKEN = (zipfile.BadZipFile, EOFError, NotImplementedError, RuntimeError, OSError, zlib.error, lzma.LZMAError, struct.error)
# whose keys other rows name
POINTED_AT = {column.related_model for table in TABLES for column in table.fields() if column.related_model is not None}


class ArchiveRefused(Exception):
    """An archive that is not put back: what is wrong, where, and what to do."""


@dataclass(slots=True)
class PutBack:
    """How many rows of each table were put back, and how many were here already."""

    rows: dict[str, int] = field(default_factory=dict)
    known: int = 0


def weighed(content: IO[bytes]) -> tuple[int, int]:
    """Bytes of an archive unpacked, and about how many rows it says to have; (0, 0) where it is none."""
    try:
        with zipfile.ZipFile(content) as archive:
            told = json.loads(_bounded(archive, "manifest.json"))["files"].values()
            return sum(entry.file_size for entry in archive.infolist()), sum(int(file.get("rows", 0)) for file in told)
    except (*BROKEN, ArchiveRefused, KeyError, TypeError, ValueError, AttributeError):
        return 0, 0  # to be refused in so many words


def put_back(holding: Holding, content: IO[bytes], *, part: str = "") -> PutBack:
    """Puts an archive's rows into a holding without plots; one of PARTS goes into any holding, without what is there already.

    Raises ArchiveRefused, and then nothing has changed.
    """
    with _refusing(), zipfile.ZipFile(content) as archive, transaction.atomic():
        hold(holding.pk)
        _look_at(holding, part)
        reader = _Reader(archive, holding, part)
        told = reader.read()
        if not part:
            reader.set_habits()
        return told


def put_back_by_parts(holding: Holding, content: IO[bytes], *, part: str = "", after_part: Callable[[int], None]) -> PutBack:
    """The same for a large archive: others get in between its parts, and `after_part` may raise to stop it.

    Everything goes into a holding that nobody sees and is handed over at the end, in one go. Raises ArchiveRefused; then, or where it
    is stopped, all that was stored is taken out again.
    """
    _look_at(holding, part)
    name = f"{UNSEEN} {holding.pk}"
    for left in Holding.objects.filter(name=name, memberships=None):  # of a server that was killed
        empty_out(left)
    into = holding if part else Holding.objects.create(name=name)
    parts = Parts(after_part)
    try:
        with _refusing(), zipfile.ZipFile(content) as archive:
            reader = _Reader(archive, holding, part, into=into, store=parts.store)
            told = reader.read()
            if into != holding:
                with transaction.atomic():
                    hold(holding.pk)
                    _look_at(holding, part)
                    hand_over(into, holding)
                    reader.set_habits()
            return told
    except BaseException:
        parts.take_back()
        raise
    finally:
        if into != holding:
            into.delete()


def _look_at(holding: Holding, part: str) -> None:
    if part and part not in PARTS:
        raise ArchiveRefused("There is no such part. Choose one of the list.")
    if not part and holding.plots.model.everything.filter(holding=holding).exists():
        raise ArchiveRefused("This holding has plots already. Make a new holding, and put the archive back there.")


@contextmanager
def _refusing() -> Iterator[None]:
    """What can be wrong with an archive as ArchiveRefused."""
    try:
        yield
    except BROKEN as error:
        raise ArchiveRefused("This is not a whole archive: it is cut short, damaged or of another kind. Export it once more.") from error
    except IntegrityError as error:
        raise ArchiveRefused(f"A row does not fit what is here or another row ({error}). Nothing was restored.") from error


def _bounded(archive: zipfile.ZipFile, name: str) -> bytes:
    """A file of the archive that is read whole. Raises KeyError where it is missing."""
    if archive.getinfo(name).file_size > LARGEST_FILE:
        raise ArchiveRefused(f"{name} is larger than a file of an archive can be.")
    return archive.read(name)


class _Reader:
    """Reads one archive into one holding; its rows hang on `into` until they are handed over."""

    def __init__(
        self,
        archive: zipfile.ZipFile,
        holding: Holding,
        part: str,
        *,
        into: Holding | None = None,
        store: Callable[[type[models.Model], list], None] = store_rows,
    ):
        self.archive, self.holding, self.part = archive, holding, part
        self.into, self.store = into or holding, store
        self.told = PutBack()
        self.names: dict[type[models.Model], dict[int, str]] = {}
        self.keys: dict[type[models.Model], dict[int, int]] = {}
        self.people = dict(User.objects.filter(memberships__holding=holding).values_list("email", "pk"))
        self.sums = self._manifest()

    def read(self) -> PutBack:
        for table in TABLES:
            if self.part in ("", table.part):
                self._table(table)
        return self.told

    def _manifest(self) -> dict[str, dict]:
        entries = self.archive.infolist()
        if len(entries) > MOST_FILES or sum(entry.file_size for entry in entries) > MOST_BYTES:
            raise ArchiveRefused("The archive is larger than a holding can be.")
        try:
            told = json.loads(_bounded(self.archive, "manifest.json"))
            number, sums = told["format"], dict(told["files"])
        except (KeyError, TypeError, ValueError) as error:
            raise ArchiveRefused("There is no manifest.json in it that can be read: this is not an archive of a holding.") from error
        if number != FORMAT:
            raise ArchiveRefused(f"The archive is of form {number}, and this program reads form {FORMAT}. Use a newer program.")
        for entry in entries:
            if entry.filename != "manifest.json" and entry.filename not in sums:
                raise ArchiveRefused(f"{entry.filename} is not in the archive's own list.")
        return sums

    def _file(self, name: str) -> bytes:
        try:
            content, wanted = _bounded(self.archive, name), self.sums[name]["sha256"]
        except (KeyError, TypeError) as error:
            raise ArchiveRefused(f"{name} is missing in the archive.") from error
        if hashlib.sha256(content).hexdigest() != wanted:
            raise ArchiveRefused(f"{name} was changed since it was exported: its checksum does not match.")
        return content

    def _lines(self, name: str) -> Iterator[dict]:
        """The rows of a file, once its sum was found to be right."""
        self._looked_through(name)
        with self.archive.open(name) as rows:
            for number, line in enumerate(iter(lambda: rows.readline(LARGEST_FILE), b""), 1):
                try:
                    row = json.loads(line, parse_constant=_no_number)
                    row["id"] + 0
                    _storable(row)
                except (ValueError, KeyError, TypeError, RecursionError) as error:
                    raise ArchiveRefused(f"{name}, line {number}: this is not a row.") from error
                if number > MOST_ROWS:
                    raise ArchiveRefused(f"{name} has more rows than a holding can have.")
                yield row

    def _looked_through(self, name: str) -> None:
        """Refuses a large file whose sum is another, without having it in memory."""
        try:
            with self.archive.open(name) as content:
                found, wanted = hashlib.file_digest(cast(Any, content), "sha256").hexdigest(), self.sums[name]["sha256"]
        except (KeyError, TypeError) as error:
            raise ArchiveRefused(f"{name} is missing in the archive.") from error
        if found != wanted:
            raise ArchiveRefused(f"{name} was changed since it was exported: its checksum does not match.")

    def _table(self, table: Table) -> None:
        name, count = f"tables/{table.name}.jsonl", 0
        self.keys[table.model] = {}
        if name not in self.sums:  # a table that the program did not have when the archive was made
            return
        lines, pointing = self._lines(name), []
        while part := list(islice(lines, IN_A_PART)):
            rows = [self._row(table, line, f"{name}, line {number}") for number, line in enumerate(part, count + 1)]
            known = [self._known(row) if self.part else None for row in rows]
            new = [(line, row) for line, row, same in zip(part, rows, known, strict=True) if same is None]
            self.store(table.model, [row for _, row in new])
            count += len(rows)
            self.told.rows[table.name] = self.told.rows.get(table.name, 0) + len(new)
            self.told.known += len(rows) - len(new)
            if table.model in POINTED_AT:
                self.keys[table.model] |= {
                    line["id"]: row.pk if same is None else same for line, row, same in zip(part, rows, known, strict=True)
                }
            if points_to_itself(table.model):
                pointing += new
        self._point_to_itself(table, [line for line, _ in pointing], [row for _, row in pointing])

    def _known(self, row: models.Model) -> int | None:
        """The key of the same row, where it is here already: a part put back twice is put back once."""
        same = {column.attname: getattr(row, column.attname) for column in row._meta.concrete_fields if _tells(column, type(row))}
        return type(row)._base_manager.filter(**same).values_list("pk", flat=True).first()

    def _here(self, column: models.ForeignKey, key: int) -> int | None:
        """What a row points to and the part leaves out: found here by its name, or left empty where it may be."""
        model = column.related_model
        table = next(item for item in TABLES if item.model is model)
        if model not in self.names:
            lines = self._lines(f"tables/{table.name}.jsonl") if f"tables/{table.name}.jsonl" in self.sums else []
            self.names[model] = {line["id"]: line.get("name", "") for line in lines}
        name = self.names[model].get(key, "")
        found = table.rows(self.holding).filter(name=name).last() if name else None
        if found is None and (model is Plot or not column.null):
            raise ArchiveRefused(f"There is no {model._meta.verbose_name} called “{name}” here. Put the plots back first.")
        return found.pk if found else None

    def _row(self, table: Table, line: dict, where: str) -> models.Model:
        row = table.model()
        for column in table.fields():
            if column.name == "holding":
                row.holding = self.into
            elif column.name in line:
                try:
                    setattr(row, column.attname, self._value(column, line[column.name]))
                except (ValidationError, ValueError, TypeError, AttributeError, OverflowError) as error:
                    raise ArchiveRefused(f"{where}: {column.name} is {str(line[column.name])[:60]}, which can't be.") from error
        for column in table.apart:
            setattr(row, column, self._file(f"files/{table.name}-{line['id']}-{column}"))
        for column in table.secret:
            setattr(row, column, secrets.token_hex(32))
        self._checked(row, where)
        return row

    def _value(self, column: models.Field, value: Any) -> Any:
        """A column's value: keys and people of here for those of there, and types as the model has them."""
        if column.related_model is User:
            return self.people.get(value)
        if column.related_model is not None:
            if value is None or column.related_model is column.model:
                return None
            if self.part and column.related_model not in self.keys:
                return self._here(column, value)
            if value not in self.keys.get(column.related_model, {}):
                raise ValueError(value)
            return self.keys[column.related_model][value]
        if isinstance(column, models.UUIDField) and value is not None:
            known = column.model._base_manager.filter(**{column.name: value}).exists()
            return (None if column.null else uuid.uuid4()) if known else column.to_python(value)
        if column.name == "matching":
            return {name: self._target(target) for name, target in value.items()}
        if isinstance(column, models.JSONField) and column.has_default() and type(value) is not type(column.get_default()):
            raise TypeError(value)
        return column.to_python(value)

    def _target(self, target: Any) -> Any:
        """What a laboratory's sample was matched with, by its key here."""
        kind, _, key = str(target).partition(":")
        by_name = {table.model._meta.model_name: table.model for table in TABLES}
        model = by_name.get({"water": "watersource"}.get(kind, kind))
        here = self.keys.get(model, {}).get(int(key)) if model and key.isdigit() else None
        return f"{kind}:{here}" if here else target

    @staticmethod
    def _checked(row: models.Model, where: str) -> None:
        """Lengths, choices, bounds and shapes as the model has them; keys and empty columns are the database's."""
        pointing = [
            column.name
            for column in row._meta.concrete_fields
            if column.is_relation or isinstance(column, models.BinaryField) or getattr(row, column.attname) in column.empty_values
        ]
        try:
            row.clean_fields(exclude=pointing)
        except ValidationError as error:
            told = "; ".join(f"{name}: {' '.join(texts)}" for name, texts in error.message_dict.items())
            raise ArchiveRefused(f"{where}: {told}") from error

    def _point_to_itself(self, table: Table, lines: list[dict], rows: list[models.Model]) -> None:
        """Second pass for rows that point to rows of their own table, such as a zone to its field."""
        keys = self.keys[table.model]
        for column in table.fields():
            if column.related_model is table.model:
                for line, row in zip(lines, rows, strict=True):
                    if line.get(column.name) is not None:
                        if line[column.name] not in keys:
                            raise ArchiveRefused(f"tables/{table.name}.jsonl: {column.name} points to a row that is not there.")
                        table.model._base_manager.filter(pk=row.pk).update(**{column.attname: keys[line[column.name]]})

    def set_habits(self) -> None:
        """Sets the holding's habits as they were."""
        try:
            told = json.loads(self._file("holding.json"), parse_constant=_no_number)
            _storable(told)
            for column in Holding._meta.concrete_fields:
                if column.name in told and column.name not in HOLDING_LEFT_OUT:
                    setattr(self.holding, column.attname, column.to_python(told[column.name]))
        except (ValueError, TypeError, AttributeError, RecursionError, ValidationError) as error:
            raise ArchiveRefused("holding.json can't be read.") from error
        self._checked(self.holding, "holding.json")
        self.holding.save()


def _tells(column: models.Field, model: type[models.Model]) -> bool:
    """Whether a column tells a row from others: not its key, nor who wrote it, nor what is made anew or can't be compared."""
    made_anew = isinstance(column, models.JSONField | models.BinaryField | models.UUIDField) or column.related_model in (User, model)
    return not column.primary_key and not made_anew


def _storable(value: Any) -> None:
    """Raises ValueError for a text that no database takes: a zero byte in it, or half of a pair of UTF-16."""
    if isinstance(value, str):
        value.encode()
        if "\x00" in value:
            raise ValueError(value)
    elif isinstance(value, dict):
        for name, part in value.items():
            _storable(name)
            _storable(part)
    elif isinstance(value, list):
        for part in value:
            _storable(part)


def _no_number(text: str):
    raise ValueError(text)
