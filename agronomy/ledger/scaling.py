"""A programme fitted to a plot: each step takes its share of what the plot still needs, and what there is plenty of is left out."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.ledger.intent import Intended, brought, per_hectare
from agronomy.model.answers import SPOKEN
from agronomy.schedule.programme import DatedStep
from agronomy.tables import Tables


@record
class FittedStep:
    """A step with its kilos as the plot needs them; `says` tells what was changed, `left_out` that it was skipped."""

    step: DatedStep
    says: str = ""
    left_out: bool = False


def fitted(
    steps: Sequence[DatedStep], needs: Mapping[str, float], meant: Sequence[Intended], area_m2: float, tables: Tables
) -> list[FittedStep]:
    """The steps of a programme, each scaled by what it is mainly given for.

    Args: needs of the plot in kg/ha of the element, lime as CaCO3; `meant`: what is on the list already and comes off them; area in m2.
    Source: programme-guide, own-experience (the bounds).

    >>> from datetime import date
    >>> from agronomy.intake.example import tables
    >>> step = DatedStep(day=date(2027, 4, 1), do="feed", material="urea", kg=10.0, note="")
    >>> round(fitted([step], {"N": 23.0}, [], 1000.0, tables)[0].step.kg, 2)
    5.0
    """
    already = per_hectare(meant, area_m2, tables)
    mains = [_main(step, tables) for step in steps]
    sums: dict[str, float] = {}
    for main, amount in mains:
        sums[main] = sums.get(main, 0.0) + amount
    times = {
        main: max(0.0, needs.get(main, 0.0) - already.get(main, 0.0)) * area_m2 / 10_000 / total
        for main, total in sums.items()
        if main and total > 0
    }
    return [_fitted(step, main, times.get(main), tables) for step, (main, _) in zip(steps, mains, strict=True)]


def _main(step: DatedStep, tables: Tables) -> tuple[str, float]:
    """What a step is mainly given for, and how much of it [kg]; nothing for work without a watched nutrient."""
    material = tables.materials.get(step.material)
    given = brought(material, step.kg) if material and step.kg > 0 else {}
    main = max(given, key=lambda key: given[key], default="")
    return main, given.get(main, 0.0)


def _fitted(step: DatedStep, main: str, times: float | None, tables: Tables) -> FittedStep:
    figures = tables.choice
    if times is None:
        return FittedStep(step)
    name = SPOKEN[main]
    if times < figures.programme_least_times.value:
        return FittedStep(replace(step, kg=0.0), say("Left out: the plot needs no more {name}.", name=name), left_out=True)
    held = min(times, figures.programme_most_times.value)
    says = say("Fitted to the plot’s need of {name}.", name=name) if abs(held - 1) > 0.05 else ""
    if held < times:
        says = say("Twice the usual at most; the plot needs more {name} than this programme gives.", name=name)
    return FittedStep(replace(step, kg=step.kg * held), says)
