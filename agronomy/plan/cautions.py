"""The usual cautions, one sentence each: by material, and by how it is put on."""

from collections.abc import Iterable

from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.dose.application import Application
from agronomy.tables import Tables
from agronomy.tables.material import Material


@record
class Caution:
    """A caution: what it is about, what it says, and the materials it comes with (none: always)."""

    about: str
    text: str
    materials: tuple[str, ...] = ()


@record(kw_only=True)
class Practice:
    """How something is put on: kilos in all, its way ("leaf", "water", or "" for the ground), how deep it is worked in, what bag it comes
    in, where.
    """

    kg: float = 0.0
    way: str = ""
    worked_in_cm: float | None = None
    bag_kg: float | None = None
    by_machine: bool = False
    on_bales: bool = False
    among_stock: bool = False


def material_cautions(materials: Iterable[Material], tables: Tables) -> list[str]:
    """The cautions that come with some materials, each once. Source: each row's own.

    >>> from agronomy.intake.example import tables
    >>> len(material_cautions([tables.materials["urea"]], tables))
    2
    """
    keys = dict.fromkeys(key for material in materials for key in material.cautions)
    return [tables.cautions.materials[key].text for key in keys]


def practice_cautions(practice: Practice, tables: Tables) -> list[str]:
    """The cautions that come with how something is put on, whatever it is. Source: each row's own.

    >>> from agronomy.intake.example import plan, tables
    >>> practice_cautions(practice_of(plan().applications[0]), tables)
    ['Before you dig deeper than a spade is wide, know where cables and pipes run; ask who keeps the plans of them.']
    """
    rows = tables.cautions.practices
    deep, heavy = required(rows["dig"].holds_from), required(rows["lift"].holds_from)
    holds = {
        "spray": practice.way == "leaf",
        "feed_water": practice.way == "water",
        "dig": practice.worked_in_cm is not None and practice.worked_in_cm >= deep,
        "lift": practice.bag_kg is not None and min(practice.bag_kg, practice.kg) >= heavy,
        "machine": practice.by_machine,
        "bale": practice.on_bales,
        "stock": practice.among_stock,
    }
    return [row.text for key, row in rows.items() if holds[key]]


def cautions_for(applications: list[Application], tables: Tables, *, by_machine: bool = False) -> list[Caution]:
    """Cautions of the materials used, each once, then those of how they are put on, then the two that hold for every sheet.

    Source: each row's own.

    >>> from agronomy.intake.example import plan, tables
    >>> [caution.about for caution in cautions_for(list(plan().applications), tables)][:1]
    ['lime']
    """
    by_key: dict[str, list[str]] = {}
    for material in dict.fromkeys(application.material for application in applications):
        for key in tables.materials[material].cautions:
            by_key.setdefault(key, []).append(material)
    said = [
        Caution(tables.cautions.materials[key].about, tables.cautions.materials[key].text, tuple(materials))
        for key, materials in by_key.items()
    ]
    done = dict.fromkeys(text for item in applications for text in practice_cautions(practice_of(item, by_machine=by_machine), tables))
    about = {row.text: row.about for row in tables.cautions.practices.values()}
    said += [Caution(about[text], text) for text in done]
    if applications:
        said += [Caution(tables.cautions.materials[key].about, tables.cautions.materials[key].text) for key in ("water_margin", "label")]
    return said


def practice_of(application: Application, *, by_machine: bool = False) -> Practice:
    """How an application is put on.

    >>> from agronomy.intake.example import plan
    >>> practice_of(plan().applications[0], by_machine=True).by_machine
    True
    """
    depth = application.depth_cm if "{depth}" in application.placement_pattern else None
    return Practice(kg=application.total_kg, worked_in_cm=depth, bag_kg=application.bag_kg, by_machine=by_machine)
