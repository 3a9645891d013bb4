"""What came onto the ground in a year and what harvests carried off, for the field and for the farm gate."""

from collections.abc import Iterable

from agronomy.base.record import record
from agronomy.tables import Tables
from agronomy.tables.material import P_IN_P2O5, Material

LOOSE = frozenset({"bulk", "liquid"})  # manure, slurry and compost come so; meals of the same kind are bought in bags
BALANCED = ("N", "P")


@record
class Harvested:
    """What was carried off: crop (its key) and yield [t/ha]."""

    crop: str
    t_per_ha: float


@record(kw_only=True)
class NutrientBalance:
    """One nutrient of a piece of ground in a year [kg of the element]: all that was spread, the part of it that is manure and compost of
    the holding's own, and what harvests carried off.
    """

    what: str
    hectares: float
    given: float
    own: float
    carried_off: float

    @property
    def field(self) -> float:
        """What is left over in the field [kg/ha]; below zero the ground was drawn on."""
        return (self.given - self.carried_off) / self.hectares

    @property
    def gate(self) -> float:
        """What came in through the gate and did not leave by it [kg/ha]."""
        return (self.given - self.own - self.carried_off) / self.hectares


def balance_of(spread: Iterable[tuple[str, float]], harvests: Iterable[Harvested], area_m2: float, tables: Tables) -> list[NutrientBalance]:
    """The balance of nitrogen and phosphorus of a plot [area in m2] from materials with their kilos, and harvests of the year.

    All nitrogen counts, not only what is usable; what legumes take from the air does not. Source: crop-removal.

    >>> from agronomy.intake.example import tables
    >>> nitrogen = balance_of([("urea", 300.0)], [Harvested("winter_wheat", 8.0)], 10_000.0, tables)[0]
    >>> round(nitrogen.given), nitrogen.field < 0 < nitrogen.given
    (138, True)
    """
    rows = [(tables.materials[key], kg) for key, kg in spread if key in tables.materials]
    hectares, taken = area_m2 / 10_000, list(harvests)
    return [
        NutrientBalance(
            what=what,
            hectares=hectares,
            given=sum(_content(row, what) * kg for row, kg in rows),
            own=sum(_content(row, what) * kg for row, kg in rows if row.has_role("organic") and row.form in LOOSE),
            carried_off=sum(_removed(item, what, tables) for item in taken) * hectares,
        )
        for what in BALANCED
    ]


def together(balances: Iterable[NutrientBalance]) -> list[NutrientBalance]:
    """Balances of many plots as one of them all, by nutrient. Source: definition.

    >>> together([])
    []
    """
    found: dict[str, NutrientBalance] = {}
    for item in balances:
        before = found.get(item.what)
        found[item.what] = (
            item
            if before is None
            else NutrientBalance(
                what=item.what,
                hectares=before.hectares + item.hectares,
                given=before.given + item.given,
                own=before.own + item.own,
                carried_off=before.carried_off + item.carried_off,
            )
        )
    return list(found.values())


def _content(material: Material, what: str) -> float:
    return material.n / 100 if what == "N" else material.p2o5 / 100 * P_IN_P2O5


def _removed(item: Harvested, what: str, tables: Tables) -> float:
    """What a harvest takes along [kg/ha]; nothing is known of crops without a row."""
    row = tables.nutrients.removal.get(item.crop)
    if row is None:
        return 0.0
    return item.t_per_ha * (row.n_kg_per_t if what == "N" else row.p2o5_kg_per_t * P_IN_P2O5)
