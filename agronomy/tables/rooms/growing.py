"""Crops in time: their life form, when they stand, and in how many parts their nitrogen goes on."""

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, Literal, NamedTuple

from agronomy.tables.columns import Key, Names, Parted, Within
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Fault, rising

LifeForm = Literal[
    "annual",
    "autumn_annual",
    "biennial",
    "container",
    "cut_grass",
    "grazed_grass",
    "lawn_cool",
    "lawn_warm",
    "legume_ley",
    "perennial_herbaceous",
    "woody_deciduous",
    "woody_evergreen",
]
PLACES = frozenset({"band_row", "between_rows", "drench", "drip", "flood", "inject", "leaf", "mulch", "none", "ring", "surface"})
Anchor = Literal["sow", "plant", "growth", "bud", "cut", "harvest", "month"]
MonthOf = Annotated[float | None, Within(1, 12, "month")]
_STAGE = re.compile(
    r"(?P<name>[^/@;§]+)(/(?P<bbch>[\d-]+))?@(?P<anchor>sow|plant|growth|bud|cut|harvest|month):(?P<first>-?\d+)\.\.(?P<last>-?\d+)"
)


CUT_GRASS, CUT_CLOVER = "grass_silage", "clover_ley"  # what a pasture is from which a yield is cut


class Stage(NamedTuple):
    """A stage of growth: its name, what its days count from, the first and last of them (months where they count from no day)."""

    name: str
    anchor: str
    first: int
    last: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Growth(Cited):
    """When a crop stands and grows. Months are northern; stages count days from an anchor, or name months."""

    crop: Annotated[str, Names("crops")]
    life_form: LifeForm
    grown: Literal["open", "protected", "pot"]
    stands: Literal["each_year", "stands"]
    establish: str
    plant_from_month: MonthOf
    plant_to_month: MonthOf
    plant_alt_from_month: MonthOf
    plant_alt_to_month: MonthOf
    stands_low: Annotated[float, Within(1, 1000, "days or years")]
    stands_high: Annotated[float, Within(1, 1000, "days or years")]
    stands_unit: Literal["days", "years"]
    growth_from_month: MonthOf
    growth_to_month: MonthOf
    growth_base_c: Annotated[float | None, Within(0, 25, "°C")]
    harvest_from_month: MonthOf
    harvest_to_month: MonthOf
    stages: str
    place_before: Literal["incorporate", "hole", "mix", "none"]
    place_standing: Annotated[tuple[str, ...], Parted()]
    water: Literal["rainfed", "rainfed_irrigated", "irrigated", "hand", "fertigated", "flooded"]
    tender: bool

    def faults(self) -> Iterator[Fault]:
        yield from rising(self, "stands_low", "stands_high")
        for place in set(self.place_standing) - PLACES:
            yield Fault("place_standing", f"“{place}” is no place", f"use some of {', '.join(sorted(PLACES))}")
        for part in self.stages.split(";"):
            if not _STAGE.fullmatch(part):
                yield Fault("stages", f"“{part}” is no stage", "write it as name/BBCH@anchor:from..to")

    @property
    def parsed_stages(self) -> tuple[Stage, ...]:
        found = (_STAGE.fullmatch(part) for part in self.stages.split(";"))
        return tuple(Stage(item["name"], item["anchor"], int(item["first"]), int(item["last"])) for item in found if item)

    @property
    def is_woody(self) -> bool:
        return self.life_form.startswith("woody")

    @property
    def is_sward(self) -> bool:
        return self.life_form in ("lawn_cool", "lawn_warm", "cut_grass", "grazed_grass", "legume_ley")


@dataclass(frozen=True, slots=True, kw_only=True)
class NitrogenLimits(Cited):
    """How much nitrogen a season of a crop takes from all that is put on, the most in one dressing, and when it stops."""

    crop: Annotated[str, Names("crops")]
    uses: Key
    season_n_low: Annotated[float, Within(0, 400, "kg N/ha, or mg/L")]
    season_n_high: Annotated[float, Within(0, 600, "kg N/ha, or mg/L")]
    n_unit: Literal["kg/ha", "mg/L"]
    single_below_light: Annotated[float, Within(0, 300, "kg N/ha")]
    single_below_other: Annotated[float, Within(0, 300, "kg N/ha")]
    single_order: Annotated[float, Within(1, 8, "dressing")]
    most_once_light: Annotated[float, Within(0, 300, "kg N/ha")]
    most_once_other: Annotated[float, Within(0, 300, "kg N/ha")]
    most_at_start_light: Annotated[float, Within(0, 300, "kg N/ha")]
    most_at_start_other: Annotated[float, Within(0, 300, "kg N/ha")]
    most_autumn_light: Annotated[float, Within(0, 300, "kg N/ha")]
    most_autumn_other: Annotated[float, Within(0, 300, "kg N/ha")]
    stop_kind: Literal["month", "days_before_harvest", "bbch", "at_start", "days_after_start", "never"]
    stop_value: Annotated[float, Within(0, 400, "month, days or stage")]
    stop_day: Annotated[float | None, Within(1, 31, "day")]
    first_soil_c: Annotated[float | None, Within(0, 25, "°C")]
    fed_with: Annotated[str | None, Names("materials")]  # what goes in the can, where the guide gives a strength of the water
    says: str | None

    def faults(self) -> Iterator[Fault]:
        yield from rising(self, "season_n_low", "season_n_high")


@dataclass(frozen=True, slots=True, kw_only=True)
class NitrogenStage(Cited):
    """One dressing of a schedule: its stage, its window from an anchor, its share on light ground and elsewhere."""

    set: Annotated[str, Names("nitrogen_sets")]
    order: Annotated[float, Within(1, 9, "dressing")]
    stage: str
    anchor: Anchor
    from_day: Annotated[float, Within(-60, 365, "days, or month")]
    to_day: Annotated[float, Within(-60, 365, "days, or month")]
    every_days: Annotated[float | None, Within(1, 60, "days")]
    share_light: Annotated[float, Within(0, 1, "fraction")]
    share_other: Annotated[float, Within(0, 1, "fraction")]
    extra_kg_per_ha: Annotated[float | None, Within(0, 100, "kg N/ha")]
    says: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing(Cited):
    """Where and when what is put on goes, for a life form that stands or has a calendar of its own. Months are northern."""

    life_form: LifeForm
    base_months: Annotated[tuple[str, ...], Parted()]
    lime_months: Annotated[tuple[str, ...], Parted()]
    lime_late_months: Annotated[tuple[str, ...], Parted()]
    lime_between_cuts: bool  # else it keeps clear of what is picked
    sulfur_months: Annotated[tuple[str, ...], Parted()]
    placement: str
    placement_lime: str

    def faults(self) -> Iterator[Fault]:
        for column in ("base_months", "lime_months", "lime_late_months", "sulfur_months"):
            for month in getattr(self, column):
                if not (month.isdecimal() and 1 <= int(month) <= 12):
                    yield Fault(column, f"“{month}” is no month", "write 1 to 12")


@dataclass(frozen=True, slots=True, kw_only=True)
class FirstYears(Cited):
    """What stands for years before it bears in full: shares of a full crop's nitrogen, and rates before planting at a test of nought."""

    crop: Annotated[str, Names("crops")]
    bearing_from: Annotated[float, Within(1, 15, "year in the ground")]
    full_from: Annotated[float, Within(1, 25, "year in the ground")]
    first_year: Annotated[float, Within(0, 1, "fraction")]
    before_bearing: Annotated[float, Within(0, 1, "fraction")]
    first_crops: Annotated[float, Within(0, 1, "fraction")]
    before_p2o5: Annotated[float | None, Within(20, 300, "kg P2O5/ha")]
    before_k2o: Annotated[float | None, Within(20, 400, "kg K2O/ha")]

    def faults(self) -> Iterator[Fault]:
        yield from rising(self, "bearing_from", "full_from")
        yield from rising(self, "first_year", "before_bearing", "first_crops")


@dataclass(frozen=True, slots=True, kw_only=True)
class Bushel(Cited):
    """What a bushel of a crop weighs."""

    crop: Annotated[str, Names("crops")]
    lb_per_bushel: Annotated[float, Within(10, 100, "lb")]


@dataclass(frozen=True, slots=True, kw_only=True)
class KnownAs(Cited):
    """A word in the name of a grower's own crop that tells which crop's calendar it keeps."""

    word: str
    crop: Annotated[str, Names("crops")]


@dataclass(frozen=True, slots=True, kw_only=True)
class CropName(Cited):
    """Another name that people type for a crop."""

    word: str
    crop: Annotated[str, Names("crops")]


@dataclass(frozen=True, slots=True, kw_only=True)
class CropKin(Cited):
    """A plant that has no row here, or a kind of plant, and the crops that are fed most like it, the nearest first."""

    word: str
    crops: Annotated[tuple[str, ...], Parted(), Names("crops")]


@dataclass(frozen=True, slots=True, kw_only=True)
class CommonCrop(Cited):
    """A crop that stands on top of a list, for a kind of ground."""

    on: Literal["garden", "field", "container"]
    crop: Annotated[str, Names("crops")]


@dataclass(frozen=True, slots=True, kw_only=True)
class MustJudge(Cited):
    """The analytes that must be judged for crops (by key or group) before a plan may say that nothing is needed."""

    crop_type: str
    crops: Annotated[tuple[str, ...], Parted(), Names("crops_and_groups")]
    must: Annotated[tuple[str, ...], Parted(), Names("analytes")]


@dataclass(frozen=True, slots=True, kw_only=True)
class Growing:
    """Crops in time."""

    crops: Annotated[Mapping[str, Growth], Csv("growing/crops_in_time.csv", "crop")]
    limits: Annotated[Mapping[str, NitrogenLimits], Csv("growing/nitrogen_limits.csv", "crop")]
    stages: Annotated[tuple[NitrogenStage, ...], Csv("growing/nitrogen_stages.csv")]
    bushels: Annotated[Mapping[str, Bushel], Csv("growing/bushels.csv", "crop")]
    first_years: Annotated[Mapping[str, FirstYears], Csv("growing/first_years.csv", "crop")]
    standing: Annotated[Mapping[str, Standing], Csv("growing/standing.csv", "life_form")]
    must_judge: Annotated[tuple[MustJudge, ...], Csv("growing/must_judge.csv")]
    known_as: Annotated[tuple[KnownAs, ...], Csv("growing/known_as.csv")]
    crop_names: Annotated[Mapping[str, CropName], Csv("growing/crop_names.csv", "word")]
    crop_kin: Annotated[Mapping[str, CropKin], Csv("growing/crop_kin.csv", "word")]
    common_crops: Annotated[tuple[CommonCrop, ...], Csv("growing/common_crops.csv")]

    def known_crop(self, key: str, name: str, *, is_cut: bool, has_clover: bool) -> str:
        """The crop that is really meant: the one a grower's own name speaks of; a sward from which a yield is cut is not grazed."""
        told = name.lower()
        named = next((row.crop for row in self.known_as if row.word in told), None)
        if named is not None:
            return named
        if is_cut and self.crops[key].life_form == "grazed_grass":
            return CUT_CLOVER if has_clover else CUT_GRASS
        return key

    def must_be_judged(self, key: str, group: str) -> tuple[str, ...]:
        """The analytes that matter for a crop: by its own row before its group's."""
        rows = [row for row in self.must_judge if key in row.crops] or [row for row in self.must_judge if group in row.crops]
        return rows[0].must if rows else ("pH", "P", "K")
