"""Loads every table once, and refuses what is wrong.

All facts of the trade live in `data/`; `load_tables()` is the one door to them, and the result is passed on.
"""

import hashlib
from collections.abc import Iterable, Mapping
from dataclasses import fields
from functools import lru_cache
from pathlib import Path
from types import MappingProxyType
from typing import Any, TypeVar, get_args, get_type_hints

from pydantic import BaseModel, ValidationError

from agronomy.tables.all_tables import Tables
from agronomy.tables.columns import Within
from agronomy.tables.crop import Crop, Group, NutrientGroup
from agronomy.tables.indexes import INDEXES, indexes
from agronomy.tables.links import check_documents, check_links
from agronomy.tables.material import Material
from agronomy.tables.reading_files import SHIPPED, Csv, TableError, Toml, check_names, keyed, read_document, read_figures, read_rows
from agronomy.tables.rooms.advice import AdviceDocument
from agronomy.tables.rooms.documents import KitDocument, LeafCard, ProgrammeDocument, RulePages, Sensors, Timing
from agronomy.tables.rooms.nutrients import CriticalRow
from agronomy.tables.row import Row
from agronomy.tables.source import Source
from agronomy.tables.texture import Texture

Room = TypeVar("Room")
Document = TypeVar("Document", bound=BaseModel)


@lru_cache(maxsize=1)
def load_tables() -> Tables:
    """The tables that ship, read and checked once. Raises TableError."""
    return read_tables(SHIPPED)


def read_tables(data: Path) -> Tables:
    """All tables of a folder, checked: cells, columns against each other, names of other tables. Raises TableError."""
    return _Loader(data).tables()


class _Loader:
    """Reads one folder; keeps every row with its place, so that names can be checked when all are known."""

    def __init__(self, data: Path):
        self.data = data
        self.placed: list[tuple[str, Row]] = []

    def tables(self) -> Tables:
        hints = get_type_hints(Tables)
        told: dict[str, Any] = {
            "sources": self._table("sources.csv", Source, "key"),
            "crops": self._table("crops.csv", Crop, "key"),
            "materials": self._table("materials.csv", Material, "key"),
            "textures": self._table("texture.csv", Texture, "name"),
            "advice": self._document("advice.toml", AdviceDocument),
            "timing": self._document("timing.toml", Timing),
            "sensors": self._document("sensors.toml", Sensors),
            "kits": self._documents("kits", KitDocument),
            "leaf_cards": self._documents("cards", LeafCard),
            "programmes": self._documents("programmes", ProgrammeDocument),
            "rule_pages": MappingProxyType(dict(self._document("methods.toml", RulePages).root)),
        }
        derived = {"version", "analytes", "critical_for", "kept", *INDEXES}
        for name in (field.name for field in fields(Tables) if field.name not in told and field.name not in derived):
            told[name] = self._room(hints[name])
        told["analytes"] = MappingProxyType(
            {key: row.with_methods(told["readings"].extractants) for key, row in told["readings"].analytes.items()}
        )
        told["critical_for"] = _critical_index(told["nutrients"].critical)
        told |= indexes(told["nutrients"], told["growing"], told["choice"], told["products"], told["readings"], told["systems"])
        tables = Tables(version=_digest(self.data), **told)
        keys = _keys(tables)
        for place, row in self.placed:
            check_names(place, row, keys)
        check_documents(tables, keys)
        check_links(tables)
        return tables

    def _table(self, file: str, row_class: type[Row], key: str | tuple[str, ...] | None) -> Any:
        rows = read_rows(self.data, file, row_class)
        self.placed += rows
        return tuple(row for _, row in rows) if key is None else keyed(file, rows, key)

    def _room(self, room: type[Room]) -> Room:
        """A room: its figures, each by the range and unit that its field states, and its tables."""
        hints = get_type_hints(room, include_extras=True)
        ranges: dict[str, Within] = {}
        told: dict[str, Any] = {}
        for field in fields(room):  # type: ignore[arg-type]
            kind, mark = get_args(hints[field.name])
            if isinstance(mark, Within):
                ranges[field.name] = mark
            elif isinstance(mark, Csv):
                told[field.name] = self._table(mark.file, _row_class(kind), mark.key)
            elif isinstance(mark, Toml):
                told[field.name] = self._document(mark.file, kind)
        if ranges:
            file = room.FIGURES  # type: ignore[attr-defined]
            figures = read_figures(self.data, file, ranges)
            self.placed += [(f"{file}, [{name}]", figure) for name, figure in figures.items()]
            told |= figures
        return room(**told)

    def _document(self, file: str, kind: type[Document]) -> Document:
        try:
            return kind.model_validate(read_document(self.data, file))
        except ValidationError as error:
            fault = error.errors(include_url=False)[0]
            raise TableError(
                f"{file}, {'.'.join(map(str, fault['loc']))}", fault["msg"][0].lower() + fault["msg"][1:], "mend it there"
            ) from None

    def _documents(self, folder: str, kind: type[Document]) -> Mapping[str, Document]:
        return MappingProxyType(
            {path.stem: self._document(f"{folder}/{path.name}", kind) for path in sorted((self.data / folder).glob("*.toml"))}
        )


def room_classes() -> list[dict[str, Any]]:
    """What each room of figures states of its fields: a range with a unit, or the file of a table."""
    rooms = (
        kind for kind in get_type_hints(Tables).values() if isinstance(kind, type) and kind.__module__.startswith("agronomy.tables.rooms.")
    )
    hints = (get_type_hints(kind, include_extras=True) for kind in rooms if not issubclass(kind, BaseModel))
    return [{name: get_args(hint)[1] for name, hint in told.items() if name != "FIGURES"} for told in hints]


def _row_class(kind: Any) -> type[Row]:
    """The row class of a table's type: of `Mapping[str, Cap]` or `tuple[Cap, ...]` it is Cap."""
    return next(found for found in get_args(kind) if isinstance(found, type) and issubclass(found, Row))


def _keys(tables: Tables) -> dict[str, frozenset[str]]:
    """What the columns of one table may name in another."""
    groups = {group for material in tables.materials.values() for group in material.groups}
    return {
        "sources": frozenset(tables.sources),
        "crops": frozenset(tables.crops),
        "groups": frozenset(get_args(Group)),
        "materials": frozenset(tables.materials),
        "material_groups": frozenset(groups),
        "textures": frozenset(tables.textures),
        "analytes": frozenset(tables.analytes),
        "methods": frozenset(method for analyte in tables.analytes.values() for method in analyte.methods),
        "cautions": frozenset(tables.cautions.materials),
        "families": frozenset(tables.ground.rotation),
        "ground_kinds": frozenset(tables.ground.kinds),
        "crops_before": frozenset(tables.nitrogen.crops_before),
        "material_forms": frozenset(material.form for material in tables.materials.values()),
        "systems": frozenset(row.system for row in tables.systems.systems),
        "equipment": frozenset(tables.spread.equipment),
        "features": frozenset(tables.watch.features),
        "causes": frozenset(tables.watch.causes),
        "nitrogen_sets": frozenset(row.uses for row in tables.growing.limits.values()),
        "crops_and_groups": frozenset(tables.crops) | {crop.group for crop in tables.crops.values()},
        "nitrogen_forms": frozenset(tables.losses.forms),
        "release_classes": frozenset(tables.organics.release),
        "step_gates": frozenset(tables.climate.step_gates),
    }


def _digest(data: Path) -> str:
    digest = hashlib.sha256()
    for path in sorted(data.rglob("*.*")):
        digest.update(path.relative_to(data).as_posix().encode() + b"\0" + path.read_bytes())
    return digest.hexdigest()[:12]


def _critical_index(rows: Iterable[CriticalRow]) -> Mapping[tuple[str, str, str, bool], CriticalRow]:
    """The row for each nutrient, method, crop group and kind of ground: the group's own before "any", light ground's before the rest."""
    index: dict[tuple[str, str, str, bool], CriticalRow] = {}
    told = list(rows)
    for group in get_args(NutrientGroup):
        for is_light in (False, True):
            fitting = [row for row in told if row.group in (group, "*") and (row.texture == "any" or is_light)]
            for row in sorted(fitting, key=lambda row: (row.group != "*", row.texture != "any")):
                index[row.nutrient, row.method, group, is_light] = row
    return MappingProxyType(index)
