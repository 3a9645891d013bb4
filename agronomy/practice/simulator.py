"""Some years of a made-up plot with one's own doses, on the forecast that plans are made with, beside the adviser's path."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from agronomy.base.errors import UnknownName, check_range
from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.intake.example import bed
from agronomy.interpret.nutrients import Critical, critical_for
from agronomy.model.reading import best_readings
from agronomy.model.request import Request
from agronomy.plan.assess import assess, soil_of
from agronomy.tables import Tables
from agronomy.tables.material import K_IN_K2O
from agronomy.whatif.forecast.acidity import AcidState, leaching_load, one_month
from agronomy.whatif.forecast.learned import table_capacity, yearly_acid
from agronomy.whatif.forecast.outlook import drift_of, outlook
from agronomy.whatif.forecast.pools import lime_pools

YEARS = 10
LIME, COMPOST = "limestone_flour", "green_waste_compost"


@record
class Story:
    """A plot to begin with: its crop, ground and tests [pH, mg/kg by Mehlich 3], and what it teaches."""

    name: str
    crop: str
    texture: str
    tests: dict[str, float]
    habit: str
    lesson: str
    free_lime: bool = False


STORIES: dict[str, Story] = {
    "overlime": Story(
        "Lime every spring",
        "beans",
        "loamy sand",
        {"pH": 6.3, "P": 40, "K": 90},
        say("{2 t/ha} of lime flour every spring"),
        say("It takes one spring to lime, and many years to undo it."),
    ),
    "sulfur_on_lime": Story(
        "Sulfur against free lime",
        "blueberry",
        "loam",
        {"pH": 7.8, "P": 25, "K": 140},
        say("{500 kg/ha} of sulfur every spring"),
        say("Nothing moves until the last of the lime is gone."),
        free_lime=True,
    ),
    "compost_p": Story(
        "Compost every year",
        "cabbage",
        "loam",
        {"pH": 6.6, "P": 30, "K": 140},
        say("{50 t/ha} of compost a year"),
        say("Fed for nitrogen, compost piles up phosphorus."),
    ),
    "hay_k": Story(
        say("Hay off and nothing back"),
        "lucerne",
        "loam",
        {"pH": 6.7, "P": 30, "K": 180},
        say("hay carried off, no potash"),
        say("What is carried off must come from somewhere."),
    ),
}


@record
class Doses:
    """What is put on in a year, for a hectare: lime flour [t], sulfur [kg], compost [t], potash [kg K2O]."""

    lime_t: float = 0.0
    sulfur_kg: float = 0.0
    compost_t: float = 0.0
    k2o_kg: float = 0.0


@record
class YearEnd:
    """What a test would read at the end of a year, what the crop makes of it in words, and what was spent so far [own money per ha]."""

    year: int
    tests: dict[str, float]
    says: str
    spent: float


def start_of(story: str, tables: Tables) -> Request:
    """The plot of a story before its first year. Raises UnknownName. Source: practice-own.

    >>> from agronomy.intake.example import tables
    >>> start_of("overlime", tables).crop.key
    'beans'
    """
    if story not in STORIES:
        raise UnknownName("story", story[:40], "that story is not known", f"use one of {', '.join(STORIES)}")
    told = STORIES[story]
    return bed(told.crop, told.tests, texture=told.texture, free_lime=told.free_lime, area="1 ha", kind="field")


def simulate(start: Request, doses: Sequence[Doses], tables: Tables) -> list[YearEnd]:
    """The years one after the other, the middle of the forecast. Raises OutOfRange for doses that cannot be.

    Source: soil-test-drift, lime-kinetics, acid-load.

    >>> from agronomy.intake.example import tables
    >>> limed = simulate(start_of("overlime", tables), [Doses(lime_t=2)] * 5, tables)
    >>> limed[-1].tests["pH"] > 7.3
    True
    """
    readings = best_readings(list(start.readings))
    soil = soil_of(start, readings, tables)
    state = AcidState(
        ph=np.array([readings["pH"].value]),
        capacity=np.array([table_capacity(soil, tables)]),
        load=np.ones(1),
        speed=np.ones(1),
        limy=soil.free_lime is True,
    )
    tests = {key: np.array([readings[key].value]) for key in ("P", "K") if key in readings}
    acid, spent, told = yearly_acid(start, tables), 0.0, []
    for year, dose in enumerate(doses[:YEARS], 1):
        _check(dose)
        compost, lime = tables.materials[COMPOST], tables.materials[LIME]
        if dose.lime_t:
            lime_pools(state, lime, dose.lime_t * 1000, soil, tables)
        if dose.sulfur_kg:
            state.add_sulfur(dose.sulfur_kg)
        for _ in range(12):
            one_month(state, acid + float(leaching_load(float(state.ph[0]), tables)), tables)
        given: dict[str, float] = {key: dose.compost_t * 1000 * (compost.share or {}).get(key, 0.0) for key in tests}
        given["K"] = given.get("K", 0.0) + dose.k2o_kg * K_IN_K2O
        for key in tests:
            moved = drift_of(key, tests[key], given[key], readings[key].method, start, soil, tables)
            tests[key] = tests[key] if moved is None else moved
        spent += _cost(dose, tables)
        now = {"pH": float(state.ph[0])} | {key: float(value[0]) for key, value in tests.items()}
        told.append(YearEnd(year, now, _felt(start, now, tables), round(spent, 2)))
    return told


def advised(start: Request, tables: Tables) -> dict[str, list[float]]:
    """What tests would read year by year if the plan were followed. Source: soil-test-drift.

    In pH and mg/kg.

    >>> from agronomy.intake.example import tables
    >>> len(advised(start_of("hay_k", tables), tables)["K"])
    10
    """
    told = outlook(start, tables, years=tuple(range(1, YEARS + 1)))
    return {key: [item.value for item in told.of(key)] for key in ("pH", "P", "K")}


def _check(dose: Doses) -> None:
    for name, value, most, unit in (
        ("lime", dose.lime_t, 20, "t/ha"),
        ("sulfur", dose.sulfur_kg, 2000, "kg/ha"),
        ("compost", dose.compost_t, 100, "t/ha"),
        ("potash", dose.k2o_kg, 600, "kg/ha"),
    ):
        check_range(name, value, low=0, high=most, unit=unit)


def _cost(dose: Doses, tables: Tables) -> float:
    materials = tables.materials
    potash, sulfur = materials["potassium_chloride"], materials["sulfur_prills"]
    return (
        dose.lime_t * 1000 * materials[LIME].list_price_per_kg
        + dose.sulfur_kg * sulfur.list_price_per_kg
        + dose.compost_t * 1000 * materials[COMPOST].list_price_per_kg
        + dose.k2o_kg / (potash.k2o / 100) * potash.list_price_per_kg
    )


def _felt(start: Request, tests: dict[str, float], tables: Tables) -> str:
    """What the crop would make of such tests, in a few words."""
    readings = tuple(replace(reading, value=tests[reading.analyte]) if reading.analyte in tests else reading for reading in start.readings)
    found = assess(replace(start, readings=readings), tables)
    words = []
    if found.acidity is not None and found.acidity.class_ in ("too_acid", "too_alkaline"):
        words.append("too acid" if found.acidity.class_ == "too_acid" else "too alkaline")
    for reading in readings:
        critical = critical_for(reading, start.crop, found.soil, tables) if reading.analyte in ("P", "K") else None
        if isinstance(critical, Critical):
            name = tables.analytes[reading.analyte].name.lower()
            if reading.value < critical.edges[1]:
                words.append(f"{name} short")
            elif reading.value >= critical.edges[4]:
                words.append(say("far too much {name}", name=name))
    return ", ".join(words) or "all right"
