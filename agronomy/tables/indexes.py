"""Rows of some tables, found by what a plan asks for: it asks hundreds of times, and the tables are read once."""

import re
from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping
from types import MappingProxyType
from typing import Any

from agronomy.tables.rooms.choice import Choice
from agronomy.tables.rooms.growing import Growing
from agronomy.tables.rooms.nutrients import Nutrients
from agronomy.tables.rooms.products import Products
from agronomy.tables.rooms.readings import Readings
from agronomy.tables.rooms.systems import Systems

INDEXES = (
    *("classes_of", "response_of", "trace_response_of", "guide_rates_of", "land_use_levels_of", "leaf_ranges", "stages_of", "forms_of"),
    *("pairs_of", "reads_like", "fails_above", "methods_by_name"),
)


def indexes(
    nutrients: Nutrients, growing: Growing, choice: Choice, products: Products, readings: Readings, systems: Systems
) -> dict[str, Mapping[str, Any]]:
    """The derived fields of Tables by name."""
    ranges = _by(nutrients.tissue, lambda row: row.analyte)
    forms = _by(choice.nitrogen_forms.values(), lambda row: row.material)
    kinds = sorted({kind for pair in products.pairs.values() for kind in (pair.first, pair.second)})
    extractants = readings.extractants
    alike: Mapping[Any, str] = {(analyte, row.method): row.reads_like for row in extractants if row.reads_like for analyte in row.analytes}
    return {
        "classes_of": _by(systems.classes, lambda row: (row.system, row.analyte)),
        "land_use_levels_of": _by(systems.land_use_levels, lambda row: (row.nutrient, row.method, row.land_use)),
        "guide_rates_of": _by(systems.rates, lambda row: (row.system, row.analyte)),
        "response_of": MappingProxyType({(row.group, row.nutrient): row for row in nutrients.responses}),
        "trace_response_of": MappingProxyType({(row.crop, row.element): row.response for row in nutrients.trace_responses}),
        "reads_like": MappingProxyType(dict(alike)),
        "fails_above": MappingProxyType({(analyte, row.method): row.fails_above_ph for row in extractants for analyte in row.fails_for}),
        "methods_by_name": _names_of_methods(readings),
        "leaf_ranges": MappingProxyType({analyte: _by(rows, lambda row: row.crop) for analyte, rows in ranges.items()}),
        "stages_of": _by(growing.stages, lambda row: row.set),
        "forms_of": MappingProxyType({material: MappingProxyType({row.aspect: row for row in rows}) for material, rows in forms.items()}),
        "pairs_of": MappingProxyType(
            {kind: tuple(pair for pair in products.pairs.values() if kind in (pair.first, pair.second)) for kind in kinds}
        ),
    }


def _by(rows: Iterable[Any], key: Callable[[Any], Any]) -> Mapping[Any, tuple[Any, ...]]:
    found: dict[Any, list[Any]] = defaultdict(list)
    for row in rows:
        found[key(row)].append(row)
    return MappingProxyType({name: tuple(group) for name, group in found.items()})


def method_words(typed: str) -> str:
    """A method's name as it is looked up: its letters and figures in small, whatever stands between.

    >>> method_words(" Mehlich-III ")
    'mehlich iii'
    """
    return " ".join(re.findall(r"[a-z0-9]+", typed.lower()))


def _names_of_methods(readings: Readings) -> Mapping[Any, str]:
    """The method by analyte and name; a method's own name goes before a name that laboratories give another."""
    found: dict[tuple[str, str], str] = {}
    for names_of in (lambda row: (row.method,), lambda row: row.names):
        for row in readings.extractants:
            for analyte in row.analytes:
                for name in names_of(row):
                    found.setdefault((analyte, method_words(name)), row.method)
    return MappingProxyType(found)
