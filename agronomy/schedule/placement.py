"""How what is put on goes into or onto the ground: by the kind of ground, by whether it is dug, by what stands there."""

from agronomy.base.record import record
from agronomy.model.request import Plot
from agronomy.tables import Tables
from agronomy.tables.rooms.documents import BeforePlanting
from agronomy.tables.rooms.growing import Growth

ALONG_ROWS = frozenset({"row_block", "field", "zone"})
UNDER_TREES = frozenset({"tree", "orchard_block"})


@record
class Placement:
    """The words for one plot and crop."""

    plot: Plot
    growth: Growth
    stands: bool
    tables: Tables

    def standing(self, *, lime: bool = False) -> str:
        """Onto the surface, as what stands there bears it."""
        words, row = self.tables.timing.places, self.tables.growing.standing.get(self.growth.life_form)
        if self.plot.ground == "bale":
            return words.on_bales
        if self.plot.ground == "container":
            return words.in_pots
        if row is None:
            return words.over_the_crop if self.plot.kind == "field" else words.between_the_plants
        if self.plot.ground in ALONG_ROWS and self.growth.is_woody:
            return words.along_the_row_lime if lime else words.along_the_row
        if self.plot.ground in UNDER_TREES:
            return words.in_a_ring_lime if lime else words.in_a_ring
        return row.placement_lime if lime else row.placement

    def before(self, rule: BeforePlanting, *, lime: bool = False) -> str:
        """Before planting, or onto what stands."""
        if self.stands or self.plot.ground in ("bale", "container"):
            return self.standing(lime=lime)
        if self.plot.dug:
            if self.plot.kind == "field" and "{depth}" not in rule.placement_dug:
                return self.tables.timing.places.with_the_seedbed
            return rule.placement_dug
        return rule.placement_undug

    def with_the_seed(self) -> str:
        """A small dose beside the seed, never touching it."""
        return self.tables.timing.places.beside_the_seed

    def later(self) -> str:
        """While the crop grows: through the drippers where there is an injector."""
        return self.tables.timing.places.by_drip if self.plot.is_fed_by_drip else self.standing()
