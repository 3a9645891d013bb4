"""A request for one plan, in base units, every name resolved to its table row."""

from dataclasses import field
from datetime import date

from agronomy.base.record import record
from agronomy.model.application_record import ApplicationRecord
from agronomy.model.climate import Climate
from agronomy.model.closed_season import ClosedSeason
from agronomy.model.credit import CreditSource
from agronomy.model.ground_facts import GroundFacts
from agronomy.model.harvest import Harvest
from agronomy.model.labour import LabourCalendar
from agronomy.model.own_buffering import OwnBuffering
from agronomy.model.own_pool import OwnPool
from agronomy.model.reading import Reading
from agronomy.model.response import Response
from agronomy.model.stock import StockLine
from agronomy.model.target import Target
from agronomy.tables.crop import Crop
from agronomy.tables.material import Material


@record(kw_only=True)
class Plot(GroundFacts):
    """The plot in base units; `kind` is the family of its kind, bed or field, which caps and rounding go by; `ground` the kind itself."""

    name: str
    kind: str
    area_m2: float
    depth_cm: float
    texture: str | None
    clay_pct: float | None
    organic_matter_pct: float | None
    cec_cmol_per_kg: float | None
    free_lime: bool | None
    dug: bool
    hemisphere: str
    mix: str | None = None
    ground: str = "bed"
    pieces: float | None = None  # how many trees, pots or bales
    watering: str | None = None
    watering_mm: float | None = None  # given in a season
    cover: str | None = None

    @property
    def is_under_film(self) -> bool:
        return self.cover == "tunnel"

    @property
    def is_fed_by_drip(self) -> bool:
        return self.injector is not None


@record(kw_only=True)
class Request:
    """A request in base units, every name resolved to its table row."""

    today: date
    units: str
    plot: Plot
    readings: tuple[Reading, ...]
    crop: Crop
    planting: date | None
    yield_goal_t_per_ha: float | None
    target_ph: float | None
    school: str
    organic_only: bool
    chloride: bool
    only: tuple[str, ...] | None
    shed: dict[str, StockLine]
    sha256: str
    gifts: tuple[CreditSource, ...] = ()
    uncounted: frozenset[str] = frozenset()
    caps: dict[str, float] = field(default_factory=dict)
    response: Response | None = None
    targets: tuple[Target, ...] = ()
    aim: str = "rule"
    most_bags: int | None = None
    budget: float | None = None  # what may be spent on this plot, in the owner's money
    lost_times: float | None = None
    wanted: tuple[str, ...] = ()
    without: tuple[str, ...] = ()
    own_materials: dict[str, Material] = field(default_factory=dict)
    climate: Climate | None = None
    done: tuple[ApplicationRecord, ...] = ()
    hands: LabourCalendar = field(default_factory=LabourCalendar)
    closed: tuple[ClosedSeason, ...] = ()
    harvest: date | None = None
    country: str | None = None
    equipment: tuple[str, ...] = ()
    yield_got_t_per_ha: float | None = None
    harvests: tuple[Harvest, ...] = ()
    own_buffering: OwnBuffering | None = None
    crop_asked: str = ""  # the name of the crop that was asked for, where another row is nearer to what is meant
    own_pools: dict[str, OwnPool] = field(default_factory=dict)  # by "P" and "K"
    companion: Crop | None = None  # what grows along and is fed with the crop, which then is held to what both bear
    spacing_m2: float | None = None  # ground to each plant

    @property
    def plants(self) -> float | None:
        """How many trees, shrubs, pots or bales are fed, where their number or their spacing was told."""
        if self.plot.pieces is not None:
            return self.plot.pieces
        return None if self.spacing_m2 is None else self.plot.area_m2 / self.spacing_m2

    @property
    def removal_yield_t_per_ha(self) -> float | None:
        """The yield that removal is reckoned by: what is hoped for, else what the crop gave here last time."""
        return self.yield_goal_t_per_ha if self.yield_goal_t_per_ha is not None else self.yield_got_t_per_ha
