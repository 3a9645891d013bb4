"""The request as a document: its shape, checked by pydantic; docs/plan-format.md says what each field means."""

from datetime import date
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field, create_model

from agronomy.intake.credit_doc import CreditDoc
from agronomy.intake.limit_docs import ClosedDoc, HandsDoc
from agronomy.intake.own import OwnCropDoc, TargetDoc
from agronomy.intake.own_material import LabelDoc
from agronomy.model.ground_facts import FACTS

Amount = float | int | str


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid")


_GroundFactsDoc = create_model(
    "GroundFactsDoc",
    __base__=_Strict,
    **{name: (float | None, Field(default=None, description=f"{fact.label} [{fact.unit}]")) for name, fact in FACTS.items()},  # type: ignore[call-overload]
)


class PlotDoc(_GroundFactsDoc):  # type: ignore[misc, valid-type]
    """The plot. Bare numbers are m2 and cm, or ft2 and in where `units` is "us". Give `area`, or the `sizes` that its kind asks for."""

    name: str = Field(max_length=200)
    kind: Literal["bed", "field", "zone", "row_block", "orchard_block", "tree", "lawn", "pasture", "container", "bale"] = "bed"
    area: Amount | None = None
    sizes: dict[str, Amount | bool] | None = None
    depth: Amount
    texture: str | None = None
    mix: str | None = None
    sand_pct: float | None = None
    silt_pct: float | None = None
    clay_pct: float | None = None
    organic_matter_pct: Amount | None = None
    cec_cmol_per_kg: Amount | None = None
    free_lime: bool | None = None
    dug: bool = True
    hemisphere: Literal["north", "south"] = "north"
    watering: Literal["rain", "hand", "sprinkler", "drip", "furrow"] | None = None
    watering_a_season: Amount | None = None
    cover: Literal["bare", "mulch", "plants", "tunnel"] | None = None


class ReadingDoc(_Strict):
    """One reading; `error` is a standard error in the analyte's base unit, `layer` the depth a lab's lb/acre speaks of.

    `top` and `bottom` are the depths between which the sample was taken; `stage` and `part` say of leaves when and what was picked.
    """

    analyte: str
    value: Amount | list[Amount]
    unit: str = ""
    method: str = ""
    how: Literal["lab", "kit", "strip", "meter", "probe", "sensor", "leaf_card", "tissue", "label"] = "lab"
    taken: date | None = None
    error: float | None = None
    layer: Amount | None = None
    top: Amount | None = None
    bottom: Amount | None = None
    stage: str = Field(default="", max_length=120)
    part: str = Field(default="", max_length=160)


class CropDoc(_Strict):
    """The crop by key; `yield_goal` as a quantity such as "8 t/ha" or "60 bu/acre", `yield_got` what it gave here last time.

    `companion` grows along on the same ground and is fed with it; `spacing` is from plant to plant and row to row, such as "4 m x 5 m".
    """

    key: str
    companion: str | None = Field(default=None, max_length=80)
    spacing: str | None = Field(default=None, max_length=60)
    planting: date | None = None
    harvest: date | None = None
    yield_goal: Amount | None = None
    yield_got: Amount | None = None
    target_ph: Amount | None = None
    own: OwnCropDoc | None = None


class ResponseDoc(_Strict):
    """Yield by nitrogen from trials, kg/ha: a + slope × N − curvature × N²; prices in one money, bare numbers per kg."""

    slope: Amount
    curvature: Amount
    nitrogen_price: Amount
    crop_price: Amount


class AllowDoc(_Strict):
    """What may be used."""

    organic_only: bool = False
    chloride: bool = True


class ShedDoc(_Strict):
    """A material's own price ("6.50 per 25 kg", "free") and stock ("50 kg"), and what its own label says."""

    material: str
    price: Amount | None = None
    in_stock: Amount | None = None
    label: LabelDoc | None = None


class DoneDoc(_Strict):
    """Something that was put on: a material by key, how much on the whole plot, and when."""

    material: str
    amount: Amount
    on: date


class HarvestDoc(_Strict):
    """A crop that stood before: by key, the day it ended, and its yield such as "6.2 t/ha" where it was weighed."""

    crop: str
    got: Amount | None = None
    on: date


class ClimateDoc(_Strict):
    """A place's climate: one of the table by `key`, or one's own twelve means, °C and mm, January first, with usual frost days (any
    year).
    """

    key: str | None = None
    name: str = Field(default="your own", max_length=80)
    warmth_c: list[float] = Field(default_factory=list, max_length=12)
    rain_mm: list[float] = Field(default_factory=list, max_length=12)
    last_frost: date | None = None
    first_frost: date | None = None


class OwnBufferingDoc(_Strict):
    """What the plot's own tests have shown of its lime, as `iron-rake learn` tells it: so many times the table's."""

    times: float = Field(ge=0.3, le=3.0)
    low: float = Field(ge=0.2, le=3.0)
    high: float = Field(ge=0.3, le=10.0)
    tests: int = Field(ge=2, le=200)


class OwnPoolDoc(_Strict):
    """What the plot's own tests of P or K have shown, as `iron-rake learn` tells it: beside the table's."""

    times: float = Field(ge=0.3, le=3.0)
    low: float = Field(ge=0.1, le=3.0)
    high: float = Field(ge=0.3, le=10.0)
    taken: float = Field(default=1.0, ge=0.3, le=3.0)
    tests: int = Field(ge=2, le=200)


class RequestDoc(_Strict):
    """A request for one plan, as it is written down."""

    today: date
    units: Literal["metric", "us", "uk"] = "metric"
    country: str | None = Field(default=None, max_length=2)
    equipment: list[str] = Field(default_factory=list, max_length=30)
    plot: PlotDoc
    readings: list[ReadingDoc] = Field(default_factory=list, max_length=200)
    crop: CropDoc
    school: Literal["sufficiency", "build_maintain", "replacement", "cation_balance", "low_input", "country_guide"] = "sufficiency"
    aim: Literal["rule", "money", "fewest", "loss"] = "rule"
    allow: AllowDoc = Field(default_factory=AllowDoc)
    most_bags: int | None = Field(default=None, ge=1, le=12)
    budget: float | None = Field(default=None, gt=0, le=1e7)
    lost_times: float | None = Field(default=None, ge=0, le=50)
    materials: list[str] | None = None
    wanted: list[str] = Field(default_factory=list, max_length=60)
    without: list[str] = Field(default_factory=list, max_length=200)
    shed: list[ShedDoc] = Field(default_factory=list, max_length=500)
    credits: list[CreditDoc] = Field(default_factory=list, max_length=60)
    uncounted: list[Literal["organic_matter", "nitrate", "carried", "water", "history"]] = Field(default_factory=list)
    caps: dict[Literal["N", "P", "K", "P2O5", "K2O"], Amount] = Field(default_factory=dict)
    response: ResponseDoc | None = None
    climate: ClimateDoc | None = None
    done: list[DoneDoc] = Field(default_factory=list, max_length=200)
    own_buffering: OwnBufferingDoc | None = None
    own_pools: dict[Literal["P", "K"], OwnPoolDoc] = Field(default_factory=dict)
    harvests: list[HarvestDoc] = Field(default_factory=list, max_length=60)
    hands: HandsDoc | None = None
    closed: list[ClosedDoc] = Field(default_factory=list, max_length=60)
    targets: list[TargetDoc] = Field(default_factory=list, max_length=100)
