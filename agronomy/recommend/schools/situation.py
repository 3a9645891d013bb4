"""What every school looks at: one plot, its crop, its judged readings and what it is given anyway."""

from agronomy.base.record import record
from agronomy.interpret.nutrients import Critical
from agronomy.interpret.systems import OwnClass
from agronomy.model.answers import Answer
from agronomy.model.finding import Finding
from agronomy.model.own_pool import OwnPool
from agronomy.model.soil import Soil
from agronomy.recommend.nutrients.nitrogen import NitrogenCase
from agronomy.recommend.schools.removal import Removal, removal
from agronomy.tables import Tables
from agronomy.tables.crop import Crop


@record(kw_only=True)
class Situation:
    """The one argument of a school's `needs`. `ph` is pH in water 1:1, None where it was not read."""

    judged: dict[str, tuple[Finding, Critical]]
    crop: Crop
    soil: Soil
    yield_goal_t_per_ha: float | None
    ph: float | None
    tables: Tables
    nitrogen: NitrogenCase
    own_classes: dict[str, OwnClass]  # what the country's own system calls each reading
    base: list[Answer]  # the needs by sufficiency, which every other school starts from
    own_pools: dict[str, OwnPool]  # by "P" and "K", where the plot's own tests have shown how they move

    def removed(self, nutrient: str) -> Removal | None:
        """What the crop carries off of P or K, as removal says. Source: crop-removal."""
        return removal(self.crop, nutrient, self.yield_goal_t_per_ha, self.tables, own=self.own_pools.get(nutrient))
