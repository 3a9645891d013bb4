"""What treatments of a trial put on: so much a unit, what each brings, and what would be mixed up with what is asked."""

from collections.abc import Sequence

from agronomy.base.errors import check_range
from agronomy.base.record import record
from agronomy.base.said import large, say
from agronomy.tables import Tables
from agronomy.tables.material import K_IN_K2O, P_IN_P2O5, Material

MOST_KG_PER_HA = 200_000.0
NAMES = {"CaCO3": "lime", "N": "nitrogen", "P2O5": "P₂O₅", "K2O": "K₂O", "Mg": "magnesium", "S": "sulfur"}


@record(kw_only=True)
class Treatment:
    """A treatment by a real material: its rate, the amount on one unit and on all of its units [kg], and what it brings [kg/ha]."""

    name: str
    material: Material
    rate_kg_per_ha: float
    kg_a_unit: float
    kg_in_all: float
    brings: dict[str, float]


def treat(name: str, material: Material, rate_kg_per_ha: float, unit_m2: float, repeats: int) -> Treatment:
    """A treatment as it is weighed out. Raises OutOfRange. Source: definition.

    >>> from agronomy.intake.example import tables
    >>> told = treat("ash", tables.materials["wood_ash"], 2000, 4.0, 5)
    >>> round(told.kg_a_unit, 3), round(told.kg_in_all, 3), told.brings["CaCO3"] > 500
    (0.8, 4.0, True)
    """
    check_range("rate", rate_kg_per_ha, low=0, high=MOST_KG_PER_HA, unit="kg/ha")
    check_range("unit", unit_m2, low=0.001, high=1e6, unit="m2")
    share = material.share or {}
    brings = {key: rate_kg_per_ha * share.get(key, 0.0) for key in ("N", "Mg", "S")}
    brings |= {"P2O5": rate_kg_per_ha * share.get("P", 0.0) / P_IN_P2O5, "K2O": rate_kg_per_ha * share.get("K", 0.0) / K_IN_K2O}
    brings["CaCO3"] = rate_kg_per_ha * max(0.0, material.cce) / 100
    a_unit = rate_kg_per_ha * unit_m2 / 10_000
    return Treatment(
        name=name,
        material=material,
        rate_kg_per_ha=rate_kg_per_ha,
        kg_a_unit=a_unit,
        kg_in_all=a_unit * repeats,
        brings=brings,
    )


def mixed_up(treatments: Sequence[Treatment], tables: Tables) -> list[str]:
    """Where a treatment brings two things or more of which no other treatment brings one alone: the trial can't part them.

    Too little to show in a trial does not count. Source: trial-mixing.

    >>> from agronomy.intake.example import tables
    >>> ash, chalk = tables.materials["wood_ash"], tables.materials["limestone_flour"]
    >>> mixed_up([treat("ash", ash, 3000, 4, 4)], tables)[0][:16]
    'Ash brings lime,'
    >>> mixed_up([treat("chalk", chalk, 2000, 4, 4)], tables)
    []
    """
    figures = tables.watch
    told: list[str] = []
    least = {key: (figures.trial_counts_lime if key == "CaCO3" else figures.trial_counts).value for key in NAMES}
    counted = [{key: amount for key, amount in item.brings.items() if amount >= least[key]} for item in treatments]
    for item, brings in zip(treatments, counted, strict=True):
        also = sorted(brings, key=lambda key: (-brings[key], key))
        apart = any(other and set(other) < set(also) for other in counted)
        if len(also) > 1 and not apart:
            names = [NAMES[key] for key in also]
            told.append(
                say(
                    "{item} brings {names} and {last}. If it shows, nobody knows which did it. A treatment with as "
                    "much {first} alone would tell.",
                    item=large(item.name),
                    names=", ".join(names[:-1]),
                    last=names[-1],
                    first=names[0],
                )
            )
    return told
