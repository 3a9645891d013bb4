"""A reading by its country's own classes: the name that the guide gives it, beside our neutral class or in its place.

The neutral classes stay the common language. Where no critical level of ours fits a method, the guide's class edges stand in for one.
"""

from collections.abc import Sequence

from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.interpret.nutrients import Critical
from agronomy.model.finding import NUTRIENT_CLASSES
from agronomy.model.reading import Reading
from agronomy.model.soil import Soil
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.systems import System, SystemClass

USUAL = {"pbi": 100.0}  # what a system asks for beside the reading, where nobody has measured it: said with the class
WORDS_OF_SOIL = {
    "light": ("sand", "loamy sand", "sandy loam"),
    "medium": ("loam", "silt loam", "silt", "sandy clay loam"),
}


@record(kw_only=True)
class OwnClass:
    """What a system calls a reading: the system's name, its class, and our class for it."""

    key: str
    system: str
    own_class: str
    neutral: str
    says: str


def own_class(reading: Reading, crop: Crop, soil: Soil, country: str | None, tables: Tables) -> OwnClass | None:
    """The class of a reading [mg/kg] in its country's own system; None where the country has none for this method and crop.

    Source: each row's own.

    >>> from agronomy.intake.example import bed, found, soil, tables
    >>> own_class(found().readings["P"], bed().crop, soil(), "gb", tables) is None
    True
    """
    for system in tables.systems.systems:
        if country and system.country == country and (system.analyte, system.method) == (reading.analyte, reading.method):
            rows = _rows(system, crop, soil, tables)
            row = _class_of(reading.value / system.to_mg_per_kg, rows)
            if row is not None:
                supposed = say(", for a usual {by}", by=row.by.upper()) if row.by in USUAL and _told(row.by, soil) is None else ""
                says = say("By the {system} it is “{own_class}”{supposed}.", system=system.name, own_class=row.own_class, supposed=supposed)
                return OwnClass(key=system.system, system=system.name, own_class=row.own_class, neutral=row.neutral, says=says)
    return None


def critical_by_system(reading: Reading, crop: Crop, soil: Soil, country: str | None, tables: Tables) -> Critical | None:
    """A level [mg/kg] out of a system's own class edges, for a method that no critical level of ours fits: the country's own system
    before any other. None where no system reads this method for the crop. Source: each row's own.

    >>> from agronomy.intake.example import bed, found, soil, tables
    >>> round(critical_by_system(found().readings["P"], bed().crop, soil(), "cz", tables).level)
    81
    """
    fitting = [item for item in tables.systems.systems if (item.analyte, item.method) == (reading.analyte, reading.method)]
    for system in sorted(fitting, key=lambda item: item.country != country):
        rows = _rows(system, crop, soil, tables)
        edges = _edges(rows, system)
        if edges is None:
            continue
        level, source = edges[2], rows[0].source
        step = Step("critical level", "where the system's own class begins", {}, Figure(level, reading.unit), source, system.name)
        return Critical(level=level, low=edges[1], high=max(level, edges[3]), edges=edges, step=step, source=source)
    return None


def _rows(system: System, crop: Crop, soil: Soil, tables: Tables) -> list[SystemClass]:
    """The classes of a system that hold for a crop and a soil: the crop's own rows before those of its group, a soil's before any."""
    mine: Sequence[SystemClass] = tables.classes_of.get((system.system, system.analyte), ())
    for names in ((crop.key,), (crop.group,), ("*",)):
        told = [row for row in mine if any(name in row.crops for name in names)]
        if told:
            mine = told
            break
    else:
        return []
    by_soil = [row for row in mine if _is_soil(row.soil, soil)]
    mine = by_soil or [row for row in mine if row.soil == "any"]
    return [row for row in mine if row.by is None or _is_between(row, soil)]


def _is_soil(word: str, soil: Soil) -> bool:
    if word == soil.texture or soil.texture in WORDS_OF_SOIL.get(word, ()):
        return True
    return word == "heavy" and not any(soil.texture in textures for textures in WORDS_OF_SOIL.values())


def _told(by: str | None, soil: Soil) -> float | None:
    """The figure of this ground that a class goes by; None where nobody knows it."""
    figures = {"clay_pct": round(soil.clay_pct), "cec": round(soil.cec_cmol_per_kg, 1), "pbi": soil.phosphorus_buffering_index}
    return figures.get(by or "")


def _is_between(row: SystemClass, soil: Soil) -> bool:
    told = _told(row.by, soil)
    figure = USUAL.get(row.by or "", 0.0) if told is None else told
    return (row.by_from or 0.0) <= figure < (row.by_to if row.by_to is not None else float("inf"))


def _class_of(value: float, rows: list[SystemClass]) -> SystemClass | None:
    """The class that holds a value in the system's unit, rounded half up as the guide prints its bands."""
    if not rows:
        return None
    to = rows[0].round_to
    rounded = int(value / to + 0.5 + 1e-9) * to if to else value
    return next((row for row in rows if row.at_least - 1e-9 <= rounded and (row.below is None or rounded < row.below - 1e-9)), None)


def _edges(rows: list[SystemClass], system: System) -> tuple[float, float, float, float, float] | None:
    """Where our classes begin [mg/kg]: short, building, right, plenty, excess; a class that the system lacks is empty."""
    begins: dict[str, float] = {}
    for row in rows:
        begins[row.neutral] = min(begins.get(row.neutral, row.at_least), row.at_least)
    if "right" not in begins:
        return None
    edges: list[float] = []
    following = max((row.below or row.at_least * 2) for row in rows)
    for name in reversed(NUTRIENT_CLASSES[1:]):
        following = begins.get(name, following)
        edges.insert(0, following * system.to_mg_per_kg)
    return edges[0], edges[1], edges[2], edges[3], edges[4]
