"""What harvests have carried off since the ground was tested."""

from agronomy.base.said import Rate, joined, say
from agronomy.base.working import Figure, Step
from agronomy.interpret.balance import Remark
from agronomy.plan.assess import Assessment
from agronomy.recommend.schools.removal import removal
from agronomy.tables import Tables

OXIDES = {"P": "P₂O₅", "K": "K₂O"}


def harvest_remarks(found: Assessment, tables: Tables) -> tuple[Remark, ...]:
    """What left with the harvests since the last test of P or K [kg of oxide/ha]: that test shows none of it. Source: crop-removal.

    >>> from agronomy.intake.example import found, tables
    >>> harvest_remarks(found(), tables)
    ()
    """
    tested = [reading.taken for key, reading in found.readings.items() if key in OXIDES and reading.taken]
    since = [item for item in found.request.harvests if tested and item.on >= max(tested) and item.yield_t_per_ha is not None]
    totals, steps, names = dict.fromkeys(OXIDES, 0.0), [], []
    for item in since:
        for key in OXIDES:
            removed = removal(item.crop, key, item.yield_t_per_ha, tables)
            if removed is not None:
                totals[key] += removed.kg_per_ha
                steps.append(removed.step)
                names.append(item.crop.name)
    told = [
        say("{amount} of {oxide}", amount=Rate(kg, found.request.plot.area_m2, found.request.units), oxide=OXIDES[key])
        for key, kg in totals.items()
        if kg >= tables.nutrients.smallest_worth_spreading_kg_per_ha.value
    ]
    if not told:
        return ()
    total = Step(
        "potash carried off since the test",
        " + ".join(f"harvest {number}" for number in range(1, len(steps) // 2 + 1)),
        {f"harvest {number}": step.result for number, step in enumerate(steps[1::2], 1)},
        Figure(totals["K"], "kg K2O/ha"),
        "crop-removal",
    )
    says = say(
        "Since the test, {crops} removed {amounts}: the test shows none of it yet.",
        crops=joined(dict.fromkeys(names), " and "),
        amounts=joined(told, " and "),
    )
    return (Remark("harvested", "harvests since the test", says, (*steps, total)),)
