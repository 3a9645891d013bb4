"""What holds a dressing off some days: the place, the people, the law, the harvest, and what lies on the ground already."""

from dataclasses import dataclass, field
from datetime import date

from agronomy.deed import Done
from agronomy.schedule.climate import Climate
from agronomy.schedule.hands import Hands
from agronomy.schedule.intervals import ClosedSeason
from agronomy.soil import Soil


@dataclass(frozen=True, slots=True)
class Limits:
    """All that bends windows. What is not known (no climate, no harvest) bends nothing."""

    soil: Soil
    grass: bool = False
    flooded: bool = False  # a paddy stands in water because it is meant to
    hardens: bool = False  # woody and other standing crops that must ripen before frost
    group: str = ""
    climate: Climate | None = None
    hands: Hands = field(default_factory=Hands)
    closed: tuple[ClosedSeason, ...] = ()
    harvest: date | None = None
    done: tuple[Done, ...] = ()
