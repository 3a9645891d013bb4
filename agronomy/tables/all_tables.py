"""Every table of the core, by room: `tables.schools.build_years` is a figure, `tables.acidity.caps` a table of rows."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from agronomy.tables.crop import Crop
from agronomy.tables.material import Material
from agronomy.tables.rooms.acidity import Acidity
from agronomy.tables.rooms.advice import AdviceDocument
from agronomy.tables.rooms.balance import Balance
from agronomy.tables.rooms.bale import Bale
from agronomy.tables.rooms.cautions import Cautions
from agronomy.tables.rooms.choice import Choice, NitrogenForm
from agronomy.tables.rooms.climate import Climate
from agronomy.tables.rooms.documents import KitDocument, LeafCard, ProgrammeDocument, RulePage, Sensors, Timing
from agronomy.tables.rooms.forecast import Forecast
from agronomy.tables.rooms.ground import Ground
from agronomy.tables.rooms.growing import Growing, NitrogenStage
from agronomy.tables.rooms.labfile import Labfile
from agronomy.tables.rooms.liquids import Liquids
from agronomy.tables.rooms.losses import Losses
from agronomy.tables.rooms.meter import Meter
from agronomy.tables.rooms.nitrogen import Nitrogen
from agronomy.tables.rooms.nutrients import CriticalRow, Nutrients, ResponseShape, TissueRange
from agronomy.tables.rooms.organics import Organics
from agronomy.tables.rooms.plausibility import Plausibility
from agronomy.tables.rooms.products import Pair, Products
from agronomy.tables.rooms.readings import Analyte, Readings
from agronomy.tables.rooms.salinity import Salinity
from agronomy.tables.rooms.sampling import Sampling
from agronomy.tables.rooms.schools import Schools
from agronomy.tables.rooms.spread import Spread
from agronomy.tables.rooms.systems import GuideRate, LandUseLevel, SystemClass, Systems
from agronomy.tables.rooms.topdress import Topdressing
from agronomy.tables.rooms.watch import Watch
from agronomy.tables.source import Source
from agronomy.tables.texture import Texture


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Tables:
    """Read-only. The version is a digest of all files. Each is only equal to itself, so that what follows from it can be remembered."""

    version: str
    sources: Mapping[str, Source]
    crops: Mapping[str, Crop]
    materials: Mapping[str, Material]
    textures: Mapping[str, Texture]
    analytes: Mapping[str, Analyte]
    critical_for: Mapping[tuple[str, str, str, bool], CriticalRow]  # by nutrient, method, crop group, on light ground
    response_of: Mapping[tuple[str, str], ResponseShape]  # by crop group and nutrient
    trace_response_of: Mapping[tuple[str, str], str]  # "high", "medium" or "low", by crop and element
    leaf_ranges: Mapping[str, Mapping[str, tuple[TissueRange, ...]]]  # by analyte, then crop
    classes_of: Mapping[tuple[str, str], tuple[SystemClass, ...]]  # by system and analyte
    land_use_levels_of: Mapping[tuple[str, str, str], tuple[LandUseLevel, ...]]  # by nutrient, method and use of the land
    guide_rates_of: Mapping[tuple[str, str], tuple[GuideRate, ...]]  # by system and analyte
    stages_of: Mapping[str, tuple[NitrogenStage, ...]]  # by set of stages
    forms_of: Mapping[str, Mapping[str, NitrogenForm]]  # by material, then the situation
    pairs_of: Mapping[str, tuple[Pair, ...]]  # by either kind of a pair that does not go together
    reads_like: Mapping[tuple[str, str], str]  # by analyte and method, the method whose tables serve it too
    fails_above: Mapping[tuple[str, str], float]  # by analyte and method, the pH above which lime uses up the extractant's acid
    methods_by_name: Mapping[tuple[str, str], str]  # by analyte and a name in small letters
    acidity: Acidity
    balance: Balance
    bale: Bale
    cautions: Cautions
    choice: Choice
    climate: Climate
    forecast: Forecast
    ground: Ground
    growing: Growing
    labfile: Labfile
    liquids: Liquids
    losses: Losses
    meter: Meter
    nitrogen: Nitrogen
    nutrients: Nutrients
    organics: Organics
    plausibility: Plausibility
    products: Products
    readings: Readings
    salinity: Salinity
    sampling: Sampling
    schools: Schools
    spread: Spread
    systems: Systems
    topdress: Topdressing
    watch: Watch
    advice: AdviceDocument
    timing: Timing
    sensors: Sensors
    kits: Mapping[str, KitDocument]
    leaf_cards: Mapping[str, LeafCard]
    programmes: Mapping[str, ProgrammeDocument]
    rule_pages: Mapping[str, RulePage]
    # what follows from these tables alone, kept by those who reckon it again and again: by its name and what it hangs on
    kept: dict[tuple[Any, ...], Any] = field(init=False, repr=False, compare=False, default_factory=dict)
