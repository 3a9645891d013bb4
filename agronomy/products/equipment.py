"""What the holding spreads with: which forms of material it takes, and the least and most it lays in one pass."""

from dataclasses import replace
from typing import Protocol

from agronomy.base.said import Rate, joined, say
from agronomy.base.working import Figure, Step
from agronomy.model.answers import SPOKEN, Nothing
from agronomy.model.request import Request
from agronomy.products.choice import AvailableProducts, Choice
from agronomy.tables import Tables
from agronomy.tables.rooms.spread import Equipment

FED = ("N", "P", "K", "Mg", "S")


class Stretch(Protocol):
    """Ground as the choice of equipment sees it: "bed" or "field", the kind of ground, its size."""

    @property
    def kind(self) -> str: ...
    @property
    def ground(self) -> str: ...
    @property
    def area_m2(self) -> float: ...


def equipment_on(plot: Stretch, told: tuple[str, ...], tables: Tables) -> tuple[Equipment, ...]:
    """What may be used on a plot: what the holding says it has for such ground, else what is usual there;
    a small field is taken to be spread by hand. Source: spread-guide.

    >>> from agronomy.intake.example import bed, tables
    >>> [tool.key for tool in equipment_on(bed().plot, (), tables)]
    ['by_hand']
    """
    rows = tables.spread.equipment
    own = [rows[key] for key in told if rows[key].takes and rows[key].place in ("any", plot.kind)]
    if own:
        return tuple(own)
    usual = tuple(row for row in rows.values() if plot.ground in row.usual_on and row.takes)
    is_small = plot.area_m2 <= tables.spread.by_hand_up_to_m2.value
    return (*usual, rows["by_hand"]) if is_small and rows["by_hand"] not in usual else usual


def laid_evenly(choices: list[Choice], request: Request, shop: AvailableProducts, tables: Tables) -> tuple[list[Choice], list[Nothing]]:
    """The choices that the equipment can lay, and those of so few kg/ha that it can't; a rate not far below is raised to what it lays.
    Source: spread-guide.

    A load settles itself, and what the owner asked for stays. Lime and sulfur have a least of their own.

    >>> from agronomy.intake.example import bed, shop, tables
    >>> laid_evenly([], bed(), shop(), tables)
    ([], [])
    """
    tools = [tool for tool in equipment_on(request.plot, request.equipment, tables) if "granules" in tool.takes]
    least = min(tools, key=lambda tool: tool.least_kg_per_ha, default=None)
    if least is None or request.plot.kind != "field":
        return choices, []
    kept: list[Choice] = []
    saved: list[Nothing] = []
    for choice in choices:
        is_little = choice.material.form == "granules" and choice.rate_kg_per_ha < least.least_kg_per_ha
        if not is_little or choice.need.what not in FED or shop.is_wanted(choice.material):
            kept.append(choice)
        elif choice.rate_kg_per_ha * tables.spread.raised_times.value >= least.least_kg_per_ha:
            kept.append(_raised(choice, least, tables))
        else:
            saved.append(Nothing(choice.need.what, _too_little(choice, least, request)))
    return kept, saved


def _raised(choice: Choice, least: Equipment, tables: Tables) -> Choice:
    """A little more than is wanted, so that it can be laid evenly."""
    times = least.least_kg_per_ha / choice.rate_kg_per_ha
    step = Step(
        "least in one pass",
        "the larger of rate and least",
        {"rate": Figure(choice.rate_kg_per_ha, "kg/ha"), "least": Figure(least.least_kg_per_ha, "kg/ha", least.source)},
        Figure(least.least_kg_per_ha, "kg/ha"),
        tables.spread.raised_times.source,
        least.name,
    )
    return replace(
        choice,
        rate_kg_per_ha=least.least_kg_per_ha,
        low_kg_per_ha=max(choice.low_kg_per_ha, least.least_kg_per_ha),
        high_kg_per_ha=choice.high_kg_per_ha * times,
        supplies={nutrient: amount * times for nutrient, amount in choice.supplies.items()},
        why=joined((choice.why, say("A little more than is needed, or it can't be spread evenly: the rest helps next year."))),
        working=(*choice.working, step),
    )


def _too_little(choice: Choice, least: Equipment, request: Request) -> str:
    """Why so little is not spread on its own."""
    name = SPOKEN[choice.need.what]
    rate = Rate(choice.rate_kg_per_ha, request.plot.area_m2, request.units)
    most = Rate(least.least_kg_per_ha, request.plot.area_m2, request.units)
    return say(
        "No separate {name}: {rate} of {material} is far less than a {least} can spread evenly ({most}).",
        name=name,
        rate=rate,
        material=choice.material.name,
        least=least.name,
        most=most,
    )
