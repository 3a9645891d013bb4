"""Figures of the ground that somebody may know and nobody must, each declared once.

From a line here follow the field of the document with its bounds and words, the column and the form of the web, what becomes of it when a
plot is cut or merged, and the list in docs/plan-format.md. A rule that reads it is all that is wanted beside (CONTRIBUTING.md).
"""

from typing import Annotated, NamedTuple, get_type_hints

from agronomy.base.record import record


class Fact(NamedTuple):
    """A figure: its name for people, unit, bounds, and what helps to tell it.

    `form` is what the form calls it; `kind` the kind of quantity ("length") where it is typed with a unit, `typed_in` the habit by which a
    bare number is taken then; `not_for` kinds of ground that are not asked.
    """

    label: str
    unit: str
    low: float
    high: float
    help: str
    form: str
    kind: str = ""
    typed_in: str = ""
    not_for: tuple[str, ...] = ("container", "bale")


@record(kw_only=True)
class GroundFacts:
    """What may be known of the ground beside its size, texture and readings."""

    stones_pct: Annotated[
        float | None, Fact("Stones, % of the layer", "% by volume", 0, 90, "10 is one shovel in ten. Stones hold no feed.", "stones")
    ] = None
    bulk_density_g_per_cm3: Annotated[
        float | None,
        Fact("Bulk density, g/cm³", "g/cm³", 0.1, 1.8, "Only where it was measured; loam has about 1.3.", "density"),
    ] = None
    slope_pct: Annotated[
        float | None, Fact("Slope, %", "%", 0, 100, "Fall in each hundred. A gentle lawn has 3, a steep field 15.", "slope")
    ] = None
    water_distance_m: Annotated[
        float | None,
        Fact("Distance to open water", "m", 0, 1e6, "To the nearest ditch, stream, pond or well.", "water_distance", "length", "length"),
    ] = None
    mulch_cm: Annotated[
        float | None, Fact("Mulch", "cm", 0, 60, "How deep loose cover lies that stays on the ground.", "mulch", "length", "spacing")
    ] = None
    phosphorus_buffering_index: Annotated[
        float | None,
        Fact("Phosphorus buffering index", "PBI", 0, 2000, "From the laboratory’s sheet: how fast the ground holds phosphate.", "pbi"),
    ] = None
    injector: Annotated[
        float | None,
        Fact(
            "Injector: parts of water to 1 of stock",
            "parts of water",
            10,
            1000,
            "The 100 of 1:100. With it the crop is fed through the drippers.",
            "injector",
        ),
    ] = None
    stock_tank_l: Annotated[
        float | None, Fact("Stock tank", "L", 1, 20_000, "What the tank beside the injector holds.", "stock_tank", "volume", "volume")
    ] = None


def facts() -> dict[str, Fact]:
    """All figures by name, in the order in which they are asked. Source: definition.

    Bounds in each figure's own unit.

    >>> facts()["slope_pct"].high
    100
    """
    hints = get_type_hints(GroundFacts, include_extras=True)
    return {name: hint.__metadata__[0] for name, hint in hints.items()}


FACTS = facts()
