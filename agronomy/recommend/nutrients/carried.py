"""Nitrogen that manures and composts of earlier years still give."""

from collections.abc import Iterable
from datetime import date

from agronomy.base.working import Figure, Step
from agronomy.model.application_record import ApplicationRecord
from agronomy.tables import Tables
from agronomy.tables.material import Material
from agronomy.tables.rooms.nitrogen import ManureRow

LATER_YEARS = (1, 2)  # whole years after it was put on: its second and third year


def manure_of(material: Material, tables: Tables) -> ManureRow | None:
    """The row of the table of manures that stands for a material; None for what is no manure. Source: n-manure.

    Its nitrogen stands in kg/t.

    >>> from agronomy.intake.example import tables
    >>> manure_of(tables.materials["urea"], tables) is None
    True
    """
    return next((row for row in tables.nitrogen.manures.values() if row.material == material.key), None)


def organic_share(material: Material, tables: Tables) -> float:
    """Organic nitrogen as a share of the material, by the table of manures where it has it, else all its nitrogen. Source: n-manure.

    A fraction of the kg.

    >>> from agronomy.intake.example import tables
    >>> organic_share(tables.materials["urea"], tables)
    0.46
    """
    row = manure_of(material, tables)
    return row.organic_kg_per_t / 1000 if row else material.n / 100


def carried_share(material: Material, year: int, tables: Tables) -> float:
    """Share of a material's organic nitrogen that comes so many whole years after it was put on (1 or 2). Source: n-manure (unsure).

    >>> from agronomy.tables import load_tables
    >>> tables = load_tables()
    >>> [carried_share(tables.materials[key], 1, tables) for key in ("cattle_manure", "garden_compost", "urea")]
    [0.12, 0.05, 0.0]
    """
    row = manure_of(material, tables) or tables.organics.carried.get(material.release_class or "")
    return row.mineralised(year) if row and year in LATER_YEARS else 0.0


def carried_nitrogen(material: Material, rate_kg_per_ha: float, year: int, tables: Tables) -> float:
    """Nitrogen [kg/ha] that a rate of material still gives so many whole years later. Source: n-manure.

    >>> from agronomy.intake.example import tables
    >>> round(carried_nitrogen(tables.materials["poultry_litter"], 5000, 1, tables), 1)
    13.5
    """
    return rate_kg_per_ha * organic_share(material, tables) * carried_share(material, year, tables)


def carried_by(done: Iterable[ApplicationRecord], crop_from: date, before: date, tables: Tables) -> tuple[float, tuple[Step, ...]]:
    """Nitrogen [kg/ha] that what was put on before a day still gives the crop from `crop_from` on, with a step for each dressing that
    gives some. Source: n-manure, n-legumes.

    >>> from agronomy.intake.example import tables
    >>> carried_by([], date(2027, 5, 1), date(2027, 3, 1), tables)
    (0.0, ())
    """
    total, steps = 0.0, []
    for item in done:
        year = (crop_from - item.on).days // 365
        given = carried_nitrogen(item.material, item.rate_kg_per_ha, year, tables) if item.on < before else 0.0
        if given > 0:
            total += given
            steps.append(
                Step(
                    f"{item.material.name} of {item.on:%-d %b %Y}",
                    "rate × organic nitrogen × released this year",
                    {
                        "rate": Figure(item.rate_kg_per_ha, "kg/ha"),
                        "organic nitrogen": Figure(organic_share(item.material, tables), "fraction"),
                        "released this year": Figure(carried_share(item.material, year, tables), "fraction"),
                    },
                    Figure(given, "kg/ha"),
                    "n-manure",
                    note=("its second year", "its third year")[year - 1],
                )
            )
    return total, tuple(steps)
