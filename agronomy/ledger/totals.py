"""What a plot really got in a year: nutrients, lime, salt and money, beside the owner's caps."""

from collections.abc import Iterable
from datetime import date

from agronomy.base.record import record
from agronomy.recommend.nutrients.carried import LATER_YEARS, carried_nitrogen
from agronomy.tables import Tables
from agronomy.tables.material import Material

NUTRIENTS = ("N", "P", "K", "Mg", "S", "Ca")


@record
class LoggedApplication:
    """Something that was put on: plot, day, material, kilos on the plot, what a kilogram cost."""

    plot: str
    day: date
    material: str
    kg: float
    price_per_kg: float


@record(kw_only=True)
class YearTotal:
    """One plot in one year [kg/ha]: usable nutrients, all nitrogen, lime as CaCO3 (below zero: acid), salts by their index, money on the
    plot.

    `over` names the caps that were passed; `carries` is nitrogen [kg/ha] that this year's manures still give in the next year and the one
    after.
    """

    plot: str
    year: int
    kg_per_ha: dict[str, float]
    total_n: float
    lime: float
    salt: float
    money: float
    over: tuple[str, ...]
    carries: tuple[float, float]


def beside_plan(done_kg: float, planned_kg: float | None, tables: Tables) -> float | None:
    """How much more (or less) was put on than planned, as a fraction; nought where it is near enough, None where nothing was planned.

    Both in kg.

    >>> from agronomy.tables import load_tables
    >>> beside_plan(12.0, 10.0, load_tables()), beside_plan(10.1, 10.0, load_tables())
    (0.2, 0.0)
    """
    if not planned_kg:
        return None
    share = round(done_kg / planned_kg - 1, 6)
    return 0.0 if abs(share) < tables.choice.as_planned_within.value else share


def supplied(material: Material, kg: float) -> dict[str, float]:
    """Usable nutrients [kg] of some kilos of a material in its first year.

    >>> from agronomy.intake.example import tables
    >>> round(supplied(tables.materials["urea"], 100)["N"])
    46
    """
    return {key: share * kg for key, share in (material.share or {}).items()}


def totals(applied: Iterable[LoggedApplication], areas_m2: dict[str, float], caps: dict[str, float], tables: Tables) -> list[YearTotal]:
    """A total for each plot and calendar year that has applied, latest year first. `caps` [kg of element/ha] count all nitrogen, not only
    what is usable.

    Materials that the table no longer has count with their money alone.
    Areas in m2, caps and sums in kg/ha. Source: user-value.

    >>> from agronomy.intake.example import tables
    >>> totals([], {"Long bed": 20.0}, {"N": 170.0}, tables)
    []
    """
    groups: dict[tuple[int, str], list[LoggedApplication]] = {}
    for each in applied:
        groups.setdefault((each.day.year, each.plot), []).append(each)
    return [
        _total(plot, year, rows, areas_m2[plot] / 10_000, caps, tables)
        for (year, plot), rows in sorted(groups.items(), key=lambda pair: (-pair[0][0], pair[0][1]))
    ]


def _total(plot: str, year: int, applied: list[LoggedApplication], hectares: float, caps: dict[str, float], tables: Tables) -> YearTotal:
    given: dict[str, float] = {}
    total_n = lime = salt = 0.0
    carries = [0.0, 0.0]
    for each in applied:
        material = tables.materials.get(each.material)
        if material is None:
            continue
        for key, amount in supplied(material, each.kg).items():
            given[key] = given.get(key, 0.0) + amount / hectares
        total_n += material.n / 100 * each.kg / hectares
        for later in LATER_YEARS:
            carries[later - 1] += carried_nitrogen(material, each.kg / hectares, later, tables)
        lime += material.cce / 100 * each.kg / hectares
        salt += (material.salt_index or 0.0) / 100 * each.kg / hectares
    over = tuple(key for key, cap in caps.items() if (total_n if key == "N" else given.get(key, 0.0)) > cap * 1.0001)
    money = sum(each.kg * each.price_per_kg for each in applied)
    return YearTotal(
        plot=plot,
        year=year,
        kg_per_ha={key: given[key] for key in NUTRIENTS if key in given},
        total_n=total_n,
        lime=lime,
        salt=salt,
        money=money,
        over=over,
        carries=(carries[0], carries[1]),
    )
