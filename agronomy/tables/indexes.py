"""Rows of some tables, found by what a plan asks for: it asks hundreds of times, and the tables are read once."""

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping
from types import MappingProxyType
from typing import Any

from agronomy.tables.rooms.choice import Choice
from agronomy.tables.rooms.growing import Growing
from agronomy.tables.rooms.nutrients import Nutrients
from agronomy.tables.rooms.products import Products


def indexes(nutrients: Nutrients, growing: Growing, choice: Choice, products: Products) -> dict[str, Mapping[str, Any]]:
    """The derived fields of Tables by name."""
    ranges = _by(nutrients.tissue, lambda row: row.analyte)
    forms = _by(choice.nitrogen_forms.values(), lambda row: row.material)
    kinds = sorted({kind for pair in products.pairs.values() for kind in (pair.first, pair.second)})
    return {
        "leaf_ranges": MappingProxyType({analyte: _by(rows, lambda row: row.crop) for analyte, rows in ranges.items()}),
        "stages_of": _by(growing.stages, lambda row: row.set),
        "forms_of": MappingProxyType({material: MappingProxyType({row.aspect: row for row in rows}) for material, rows in forms.items()}),
        "pairs_of": MappingProxyType(
            {kind: tuple(pair for pair in products.pairs.values() if kind in (pair.first, pair.second)) for kind in kinds}
        ),
    }


def _by(rows: Iterable[Any], key: Callable[[Any], str]) -> Mapping[str, tuple[Any, ...]]:
    found: dict[str, list[Any]] = defaultdict(list)
    for row in rows:
        found[key(row)].append(row)
    return MappingProxyType({name: tuple(group) for name, group in found.items()})
