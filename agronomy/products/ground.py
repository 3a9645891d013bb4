"""What a material must not make worse on a plot."""

from dataclasses import field
from math import inf

from agronomy.base.record import record
from agronomy.model.finding import Finding
from agronomy.model.soil import Soil
from agronomy.tables.crop import Crop


@record(kw_only=True)
class Ground:
    """The ground a material is chosen for: its pH now and after liming, its findings, the owner's caps [kg of element/ha], whether it is
    salty already.
    """

    crop: Crop
    soil: Soil
    ph: Finding | None
    ph_after: float | None
    findings: dict[str, Finding]
    caps: dict[str, float] = field(default_factory=dict)
    is_salty: bool = False
    is_field: bool = False
    by_drip: frozenset[str] = frozenset()  # nutrients that go through the drippers, so that what brings them must dissolve
    avoids_chloride: bool = False
    is_rainfed: bool = False
    situations: tuple[str, ...] = ()  # of the table of nitrogen's forms
    most_n_at_start: float = inf  # kg/ha: more at once, brought by a bag of something else, is more than roots take up
    most_lime_kg_per_ha: float = inf  # two dressings: what is beyond waits for the test after them, and brings nothing now
    fed_at_planting: bool = False  # to be planted in the growing season, so that nitrogen may go on at planting
