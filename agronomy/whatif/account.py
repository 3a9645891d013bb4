"""What a plan brings of each nutrient beside what was needed: what stays open and what is overdone."""

from agronomy.base.record import record
from agronomy.plan.plan import Plan
from agronomy.tables import Tables

COUNTED = ("N", "P", "K", "Mg", "S")


@record
class Line:
    """One nutrient [kg/ha]: needed, brought by this season's bags, short of the need, over it."""

    nutrient: str
    needed: float
    brought: float

    @property
    def open(self) -> float:
        return max(0.0, self.needed - self.brought)

    @property
    def over(self) -> float:
        return max(0.0, self.brought - self.needed)

    def is_over(self, tables: Tables) -> bool:
        """Whether so much more comes than is needed that it is worth telling."""
        return self.over > self._least(tables)

    def worse_than(self, other: "Line | None", tables: Tables) -> tuple[bool, bool]:
        """Whether clearly more stays open, and whether clearly more is overdone, than in another plan's line."""
        least = self._least(tables)
        return self.open > (other.open if other else 0.0) + least, self.over > (other.over if other else 0.0) + least

    def _least(self, tables: Tables) -> float:
        return max(tables.choice.told_over_kg_per_ha.value, tables.choice.told_over_share.value * self.needed)


def account(plan: Plan, tables: Tables) -> list[Line]:
    """A line for each nutrient that is needed or brought in more than traces. Parts that wait for a test are left out.

    Source: definition.
    In kg/ha.

    >>> from agronomy.intake.example import plan, tables
    >>> [line.nutrient for line in account(plan(), tables)]
    ['N', 'P', 'K', 'Mg', 'S']
    """
    needed = {need.what: need.rate_kg_per_ha for need in plan.needs}
    brought: dict[str, float] = {}
    for item in plan.applications:
        for nutrient, amount in item.supplies.items():
            if not item.later:
                brought[nutrient] = brought.get(nutrient, 0.0) + amount
    least = tables.nutrients.smallest_worth_spreading_kg_per_ha.value
    return [
        Line(key, needed.get(key, 0.0), brought.get(key, 0.0)) for key in COUNTED if needed.get(key, 0.0) or brought.get(key, 0.0) >= least
    ]
