"""Starting straw bales: days of feed and water, for any source of nitrogen, and what microbes in the straw would take in all."""

from math import ceil

from agronomy.base.errors import OutOfRange, check_range
from agronomy.base.record import record
from agronomy.tables import Tables
from agronomy.tables.material import Material
from agronomy.tables.rooms.bale import BaleDay as BaleDayRow

SLOW = frozenset({"weeks", "months", "seasons"})


@record(kw_only=True)
class BaleDay:
    """One day for one bale: nitrogen [g], the product that brings it [g], phosphate and potash [g], and what to do."""

    day: int
    nitrogen_g: float
    product_g: float
    p2o5_g: float
    k2o_g: float
    do: str


@record(kw_only=True)
class BaleStart:
    """The days of a start, what all bales take of the product [kg], what the straw could take in all [g N a bale, with its range]."""

    days: tuple[BaleDay, ...]
    product_kg: float
    given_g: float
    demand_g: float
    demand_low_g: float
    demand_high_g: float


def straw_demand_kg_per_t(carbon_pct: float, nitrogen_pct: float, kept: float, ratio: float) -> float:
    """Nitrogen [kg/t dry] that microbes take to rot straw: carbon kept over their carbon to nitrogen, less what the straw has. Source:
    n-tie-up.

    >>> round(straw_demand_kg_per_t(45, 0.6, 0.4, 8), 2), round(straw_demand_kg_per_t(45, 0.6, 0.3, 8), 2)
    (16.5, 10.88)
    """
    return carbon_pct * 10 * kept / ratio - nitrogen_pct * 10


def start_bales(material: Material, bales: int, tables: Tables, *, hay: bool = False, bale_kg: float | None = None) -> BaleStart:
    """The start of some bales with a source of nitrogen. Slow sources get more days. Source: straw-bale-guide (unsure).

    Raises OutOfRange for a material with less than 2 % nitrogen, no bales, or a bale outside 5 to 60 kg.

    >>> from agronomy.intake.example import tables
    >>> start_bales(tables.materials["urea"], 10, tables).product_kg
    3.4565217391304346
    """
    figures = tables.bale
    if material.n < 2:
        raise OutOfRange(
            "material",
            material.name,
            f"{material.name} holds {material.n:g} % nitrogen, too little to start a bale",
            "choose one with 2 % or more",
        )
    check_range("bales", bales, low=1, high=5000)
    weight = check_range("bale_kg", bale_kg if bale_kg is not None else figures.bale_kg.value, low=5, high=60, unit="kg")
    share = figures.hay_share.value if hay else 1.0
    stretch = figures.slow_times.value if material.speed in SLOW else 1.0
    days = tuple(_day(row, material, share * weight / figures.bale_kg.value, stretch) for row in tables.bale.days)
    given = sum(day.nitrogen_g for day in days)
    low, usual, high = (
        1000 * max(0.0, straw_demand_kg_per_t(figures.carbon_pct.value, figures.straw_n_pct.value, kept, ratio)) * weight / 1000 * share
        for kept, ratio in (
            (figures.kept_by_microbes.low, figures.microbe_ratio.high),
            (figures.kept_by_microbes.value, figures.microbe_ratio.value),
            (figures.kept_by_microbes.high, figures.microbe_ratio.low),
        )
    )
    return BaleStart(
        days=days,
        product_kg=sum(day.product_g for day in days) * bales / 1000,
        given_g=given,
        demand_g=usual,
        demand_low_g=low,
        demand_high_g=high,
    )


def _day(row: BaleDayRow, material: Material, share: float, stretch: float) -> BaleDay:
    nitrogen = row.nitrogen_g * share
    return BaleDay(
        day=ceil(row.day * stretch),
        nitrogen_g=nitrogen,
        product_g=nitrogen / (material.n / 100),
        p2o5_g=row.p2o5_g,
        k2o_g=row.k2o_g,
        do=row.do,
    )
