"""Programmes: ready sequences of dated steps that scale by area, trees or pots, with the material at hand."""

from collections.abc import Callable
from dataclasses import asdict, fields
from datetime import date, timedelta
from math import ceil
from typing import Any

from agronomy.apply.bale import SLOW
from agronomy.apply.bale_steps import bale_steps
from agronomy.base.errors import OutOfRange, UnknownName, check_range
from agronomy.base.record import record
from agronomy.base.said import Measure, say
from agronomy.model.climate import Climate, first_mild_day, first_warm_day
from agronomy.model.closed_season import ClosedSeason
from agronomy.model.labour import LabourCalendar
from agronomy.tables import Tables
from agronomy.tables.material import Material
from agronomy.tables.rooms.climate import StepGate

PER = {"m2": "square metre", "tree": "tree", "pot": "pot", "bale": "bale"}
WAYS = {"": "on the ground", "leaf": "on the leaves", "water": say("in water to the roots")}
A_WEEK = 7
CARRIED = ("N", "P", "K", "S", "Mg")


@record(kw_only=True)
class ProgrammeStep:
    """A step: days after the start, what to do, a material with grams for one of what it scales by, a gate of warmth it waits for.

    `way` is how the material goes on (WAYS), `within` how many days the step may take; `stretches` marks days that a slow feed draws out.
    """

    after: int
    do: str
    material: str = ""
    grams: float = 0.0
    gate: str = ""
    way: str = ""
    within: int = A_WEEK
    stretches: bool = False


@record
class Programme:
    """A named sequence. `anchor` says what day its start is, `per` what amounts are for (a key of PER)."""

    name: str
    says: str
    anchor: str
    per: str
    steps: tuple[ProgrammeStep, ...]


@record(kw_only=True)
class DatedStep:
    """A step on its day: what to do, the material and kilos on the whole, and a note where warmth or another material moved it."""

    day: date
    do: str
    material: str
    kg: float
    note: str
    way: str = ""
    within: int = A_WEEK


def programme_of(document: dict[str, Any], tables: Tables, field: str = "programme") -> Programme:
    """A Programme from its document. Raises UnknownName or OutOfRange for what cannot be. Source: programme-guide."""
    if document.get("per", "m2") not in PER:
        raise UnknownName(
            f"{field}.per",
            str(document.get("per"))[:20],
            f"amounts must be for a {', a '.join(PER.values())}",
            f"use one of {', '.join(PER)}",
        )
    steps = []
    rows = [*(bale_steps(document["bales"], tables) if "bales" in document else ()), *document.get("step", ())]
    for place, row in enumerate(rows, 1):
        after = int(check_range(f"{field}.step {place}.after", row["after"], low=-400, high=800))
        material, grams = row.get("material", ""), float(row.get("grams", 0.0))
        if material and material not in tables.materials:
            what = f"“{material[:40]}” is not in our list of products"
            raise UnknownName(f"{field}.step {place}.material", material[:40], what, "choose one of the list")
        check_range(f"{field}.step {place}.grams", grams, low=0, high=100_000)
        if not str(row.get("do", "")).strip():
            raise OutOfRange(f"{field}.step {place}", None, "a step must say what to do", "write a few words")
        gate, way = row.get("gate", ""), row.get("way", "")
        if gate and gate not in tables.climate.step_gates:
            raise UnknownName(f"{field}.step {place}.gate", gate[:20], "no such gate", f"use one of {', '.join(tables.climate.step_gates)}")
        if way not in WAYS:
            raise UnknownName(
                f"{field}.step {place}.way", way[:20], "no such way of giving it", "use leaf, water, or nothing for the ground"
            )
        within = int(check_range(f"{field}.step {place}.within", row.get("within", A_WEEK), low=0, high=90))
        steps.append(
            ProgrammeStep(
                after=after,
                do=row["do"],
                material=material,
                grams=grams,
                gate=gate,
                way=way,
                within=within,
                stretches=bool(row.get("stretches")),
            )
        )
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
    """All ready programmes by key. Source: programme-guide.

    >>> from agronomy.intake.example import tables
    >>> len(programmes(tables)) > 0
    True
    """
    return {key: programme_of(document.plain(), tables, key) for key, document in tables.programmes.items()}


def document_of(programme: Programme, name: str) -> dict[str, Any]:
    """A programme as a document under another name, to be adapted; `programme_of` reads it back."""
    usual = {item.name: item.default for item in fields(ProgrammeStep)}
    steps = [{key: value for key, value in asdict(step).items() if value != usual[key]} for step in programme.steps]
    return {"name": name, "says": programme.says, "anchor": programme.anchor, "per": programme.per, "step": steps}


def equal_grams(grams: float, wanted: Material, instead: Material) -> float:
    """Grams of another material that bring as much of the nutrient which the wanted one mainly brings. Raises OutOfRange where it brings
    none. Source: definition.

    >>> from agronomy.tables import load_tables
    >>> materials = load_tables().materials
    >>> round(equal_grams(100, materials["calcium_ammonium_nitrate"], materials["urea"]), 1)
    58.7
    """
    main = max((key for key in CARRIED if key in (wanted.share or {})), key=lambda key: wanted.share[key], default=None)
    if main is None or main not in (instead.share or {}):
        raise OutOfRange(
            "instead", instead.name, f"{instead.name} brings none of what {wanted.name} is given for", "choose another, or leave it"
        )
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
    hands: LabourCalendar | None = None,
    closed: tuple[ClosedSeason, ...] = (),
) -> list[DatedStep]:
    """The steps on their days for so many square metres, trees or pots; `instead` names the material at hand for one of the programme's.

    A step with a gate waits for warmth where the climate is known, and what comes after it keeps its distance; a step in a closed season,
    or
    in whose days nobody is there, waits alone. Raises OutOfRange. Source: programme-guide.

    >>> from agronomy.intake.example import tables
    >>> len(dated(next(iter(programmes(tables).values())), date(2027, 3, 1), 20, tables)) > 0
    True
    """
    check_range("count", count, low=0.01, high=1e8)
    drawn_out = _drawn_out(programme, instead or {}, tables)
    moved, found = timedelta(0), []
    for step in programme.steps:
        day, note = start + timedelta(days=drawn_out(step)) + moved, ""
        if step.gate and climate is not None:
            gate = tables.climate.step_gates[step.gate]
            fit = _first_day(gate, day, climate, tables, grass)
            if fit is not None and fit > day:
                note = say(
                    "moved {days} days: {says} {above_c:g} until then",
                    days=(fit - day).days,
                    says=gate.says,
                    above_c=Measure(gate.above_c, "°C"),
                )
                moved += fit - day
                day = fit
        material, grams = step.material, step.grams
        other = (instead or {}).get(material)
        if material and other and other != material:
            grams = _instead(step, tables.materials[material], tables.materials[other])
            note = say(
                "{note}; {materials} instead of {after}",
                note=note,
                materials=tables.materials[other].name,
                after=tables.materials[material].name,
            ).strip("; ")
            material = other
        free, why = _first_free(day, step, material, hands or LabourCalendar(), closed)
        if free > day:
            note, day = say("{note}; {why} until then", note=note, why=why).strip("; "), free
        found.append(
            DatedStep(day=day, do=step.do, material=material, kg=grams * count / 1000, note=note, way=step.way, within=step.within)
        )
    return found


def _instead(step: ProgrammeStep, wanted: Material, other: Material) -> float:
    """Grams of another material; in a step that a slow feed draws out all its nitrogen counts, since it is given the time to come."""
    if step.stretches and wanted.n > 0 and other.n > 0:
        return step.grams * wanted.n / other.n
    return equal_grams(step.grams, wanted, other)


def _first_free(day: date, step: ProgrammeStep, material: str, hands: LabourCalendar, closed: tuple[ClosedSeason, ...]) -> tuple[date, str]:
    """The first day for a step that is in no closed season and lets somebody be there within its days, and what was in the way."""
    why = ""
    for season in closed:
        if material in season.materials and season.holds(day):
            day, why = season.first_free(day) or day, say("closed season: {season}", season=season.name)
    if not any(hands.free(day + timedelta(days=ahead)) for ahead in range(step.within + 1)):
        day, why = hands.first_free(day), "day off"
    return day, why


def _first_day(gate: StepGate, day: date, climate: Climate, tables: Tables, grass: bool) -> date | None:
    if gate.of == "air":
        return first_mild_day(day, gate.above_c, climate)
    return first_warm_day(day, gate.above_c, climate, tables, grass=grass)


def _drawn_out(programme: Programme, instead: dict[str, str], tables: Tables) -> Callable[[ProgrammeStep], int]:
    """Days after the start of each step, where a slow feed draws its days out and pushes on what follows. Source: straw-bale-guide."""
    stretching = [step for step in programme.steps if step.stretches]
    feeds = [instead.get(step.material, step.material) for step in stretching if step.material]
    if not feeds or tables.materials[feeds[0]].speed not in SLOW:
        return lambda step: step.after
    times, last = tables.bale.slow_times.value, max(step.after for step in stretching)
    more = ceil((last + 1) * times) - 1 - last

    def after(step: ProgrammeStep) -> int:
        if step.stretches:
            return ceil((step.after + 1) * times) - 1
        return step.after + (more if step.after > last else 0)

    return after
