"""Programmes: ready sequences of dated steps that scale by area, trees or pots, with the material at hand."""

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from agronomy.errors import OutOfRange, UnknownName, check_range
from agronomy.material import Material
from agronomy.schedule.climate import Climate, first_warm_day
from agronomy.tables import Tables

PER = {"m2": "square metre", "tree": "tree", "pot": "pot"}
GATES = {"soil": 5.5, "sulfur": 12.0}  # soil warmth [°C] that a step waits for, as the table of weather gates has it
CARRIED = ("N", "P", "K", "S", "Mg")


@dataclass(frozen=True, slots=True)
class ProgrammeStep:
    """A step: days after the start, what to do, a material with grams for one of what it scales by, a gate of soil warmth."""

    after: int
    do: str
    material: str = ""
    grams: float = 0.0
    gate: str = ""


@dataclass(frozen=True, slots=True)
class Programme:
    """A named sequence. `anchor` says what day its start is, `per` what amounts are for ("m2", "tree", "pot")."""

    name: str
    says: str
    anchor: str
    per: str
    steps: tuple[ProgrammeStep, ...]


@dataclass(frozen=True, slots=True)
class DatedStep:
    """A step on its day: what to do, the material and kilos on the whole, and a note where warmth or another material moved it."""

    day: date
    do: str
    material: str
    kg: float
    note: str


def programme_of(document: dict[str, Any], tables: Tables, field: str = "programme") -> Programme:
    """A Programme from its document. Raises UnknownName or OutOfRange for what cannot be."""
    if document.get("per", "m2") not in PER:
        raise UnknownName(f"{field}.per", str(document.get("per"))[:20], "amounts must be for a square metre, a tree or a pot", f"use one of {', '.join(PER)}")
    steps = []
    for place, row in enumerate(document.get("step", ()), 1):
        after = int(check_range(f"{field}.step {place}.after", row["after"], low=-400, high=800))
        material, grams = row.get("material", ""), float(row.get("grams", 0.0))
        if material and material not in tables.materials:
            raise UnknownName(f"{field}.step {place}.material", material[:40], f"“{material[:40]}” is no material we know", "choose one of the list")
        check_range(f"{field}.step {place}.grams", grams, low=0, high=100_000)
        if not str(row.get("do", "")).strip():
            raise OutOfRange(f"{field}.step {place}", None, "a step must say what to do", "write a few words")
        steps.append(ProgrammeStep(after, row["do"], material, grams, row.get("gate", "")))
    if not steps:
        raise OutOfRange(field, None, "a programme has one step or more", "add a step")
    return Programme(
        document["name"],
        document.get("says", ""),
        document.get("anchor", "start"),
        document.get("per", "m2"),
        tuple(sorted(steps, key=lambda step: step.after)),
    )


def programmes(tables: Tables) -> dict[str, Programme]:
    """All ready programmes by key."""
    return {key: programme_of(document, tables, key) for key, document in tables.programmes.items()}


def equal_grams(grams: float, wanted: Material, instead: Material) -> float:
    """Grams of another material that bring as much of the nutrient which the wanted one mainly brings. Raises OutOfRange where it brings none.

    >>> from agronomy.tables import load_tables
    >>> materials = load_tables().materials
    >>> round(equal_grams(100, materials["calcium_ammonium_nitrate"], materials["urea"]), 1)
    58.7
    """
    main = max((key for key in CARRIED if key in (wanted.share or {})), key=lambda key: wanted.share[key], default=None)
    if main is None or main not in (instead.share or {}):
        raise OutOfRange("instead", instead.name, f"{instead.name} brings none of what {wanted.name} is given for", "choose another, or leave it")
    return grams * wanted.share[main] / instead.share[main]


def dated(
    programme: Programme,
    start: date,
    count: float,
    tables: Tables,
    *,
    climate: Climate | None = None,
    instead: dict[str, str] | None = None,
    grass: bool = False,
) -> list[DatedStep]:
    """The steps on their days for so many square metres, trees or pots; `instead` names the material at hand for one of the programme's.

    A step with a gate waits for warm enough soil where the climate is known, and what comes after it keeps its distance. Raises OutOfRange.
    """
    check_range("count", count, low=0.01, high=1e8)
    moved, found = timedelta(0), []
    for step in programme.steps:
        day, note = start + timedelta(days=step.after) + moved, ""
        if step.gate in GATES and climate is not None:
            warm = first_warm_day(day, GATES[step.gate], climate, tables, grass=grass)
            if warm is not None and warm > day:
                note = f"moved {(warm - day).days} days: the soil is usually below {GATES[step.gate]:g} °C until then"
                moved += warm - day
                day = warm
        material, grams = step.material, step.grams
        other = (instead or {}).get(material)
        if material and other and other != material:
            grams = equal_grams(grams, tables.materials[material], tables.materials[other])
            note = f"{note}; {tables.materials[other].name} instead of {tables.materials[material].name}".strip("; ")
            material = other
        found.append(DatedStep(day, step.do, material, grams * count / 1000, note))
    return found
