"""Tables that are one document each: when things go on, the feel test, new ground, probes, kits, cards, programmes, words of
laboratories.
"""

from collections.abc import Mapping
from functools import cached_property
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, RootModel

from agronomy.base.said import with_measures

Month = Annotated[int, Field(ge=1, le=12)]
Share = Annotated[float, Field(ge=0, le=1)]
Text = Annotated[str, Field(min_length=1), AfterValidator(with_measures)]  # a measure in it as {15 cm}


class Strict(BaseModel):
    """A document that may hold only what is named here, and never changes."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


class Sourced(Strict):
    """A document with its source."""

    source: Text
    where: Text
    status: Literal["exact", "recalled", "unsure"]


class BeforePlanting(Sourced):
    """When something goes on before planting [days], the usual months (northern) where no planting is known, and how it is put on."""

    earliest_days_before: Annotated[int, Field(ge=0, le=800)]
    latest_days_before: Annotated[int, Field(ge=0, le=800)]
    months: tuple[Month, ...]
    placement_dug: Text
    placement_undug: Text


class Late(Sourced):
    """How far off the next season of what stands must lie for a dose to go on now, late, and within how many days."""

    from_days: Annotated[int, Field(ge=30, le=300)]
    window_days: Annotated[int, Field(ge=7, le=60)]
    just_missed_days: Annotated[int, Field(ge=0, le=120)]
    planted_days: Annotated[int, Field(ge=0, le=120)]


class LimeOfStanding(Sourced):
    """How far off the usual season of what stands must lie for lime to go on now, and how long before and after picking it keeps away."""

    wait_days: Annotated[int, Field(ge=14, le=200)]
    before_harvest_days: Annotated[int, Field(ge=0, le=120)]
    after_harvest_days: Annotated[int, Field(ge=0, le=60)]
    window_days: Annotated[int, Field(ge=7, le=90)]
    shortest_days: Annotated[int, Field(ge=7, le=30)]


class AfterPlanting(Sourced):
    """When something goes on after planting [days]; `asleep` are months in which nothing takes it up, `wakes` those in which it is given
    instead, `room_after_days` what the crop still has after it, or it comes too late.
    """

    from_days_after: Annotated[int, Field(ge=0, le=400)]
    to_days_after: Annotated[int, Field(ge=0, le=400)]
    months: tuple[Month, ...]
    asleep: tuple[Month, ...]
    wakes: tuple[Month, ...]
    apart_days: Annotated[int, Field(ge=1, le=90)]
    room_after_days: Annotated[int, Field(ge=0, le=120)]
    placement_dug: Text
    placement_undug: Text


class Places(Sourced):
    """Words for what goes onto ground that is not dug for it."""

    on_bales: Text
    in_pots: Text
    over_the_crop: Text
    between_the_plants: Text
    in_a_ring: Text
    in_a_ring_lime: Text
    along_the_row: Text
    along_the_row_lime: Text
    beside_the_seed: Text
    with_the_seedbed: Text
    by_drip: Text


class Retest(Sourced):
    """Months until the next test: after lime or sulfur, on light ground, else."""

    months_after_ph_change: Annotated[int, Field(ge=1, le=60)]
    months_after_ph_change_grass: Annotated[int, Field(ge=1, le=60)]
    days_when_disputed: Annotated[int, Field(ge=7, le=120)]
    alkaline_water_from_mg_per_l: Annotated[int, Field(ge=50, le=500)]
    months_light: Annotated[int, Field(ge=1, le=120)]
    months_other: Annotated[int, Field(ge=1, le=120)]
    months_test_first: Annotated[int, Field(ge=24, le=120)]
    days_when_old: Annotated[int, Field(ge=7, le=120)]


class Timing(Strict):
    """When each kind of dressing goes on."""

    lime: BeforePlanting
    sulfur: BeforePlanting
    base: BeforePlanting
    bulk_organic: BeforePlanting
    late: Late
    lime_of_standing: LimeOfStanding
    potassium_second: AfterPlanting
    places: Places
    retest: Retest

    @cached_property
    def _worked_in(self) -> frozenset[str]:
        return frozenset((self.base.placement_dug, self.bulk_organic.placement_dug, self.lime.placement_dug, self.places.with_the_seedbed))

    def is_worked_in(self, placement: str) -> bool:
        """Whether what is put on so goes into the ground, which no standing crop bears. Source: timing-guide."""
        return placement in self._worked_in or "worked in" in placement or "raked in" in placement


class FeelAnswer(Strict):
    """An answer of the feel test: what to say, and the question or the texture it leads to."""

    say: Text
    then: str | None = None
    texture: str | None = None


class FeelQuestion(Strict):
    """A step of the feel test."""

    do: Text
    question: Text
    answers: Annotated[tuple[FeelAnswer, ...], Field(min_length=2)]


class FeelTest(Sourced):
    """The guided feel test: each question leads on to another or to a texture."""

    right_within_one_class: Text
    first: Text
    ask: Mapping[str, FeelQuestion]


class NewGroundStep(Strict):
    """A step for land that was never cropped; weeks count from the day the work begins."""

    key: Text
    say: Text
    week: Annotated[int, Field(ge=0, le=260)]
    caution: str = ""


class NewGround(Sourced):
    """Land that was never cropped: the steps in their order."""

    step: tuple[NewGroundStep, ...]


class Quantity(Strict):
    """What a probe may measure, its range, and by how much a live one always varies."""

    name: Text
    unit: Text
    low: Annotated[float, Field(ge=-60, le=20)]
    high: Annotated[float, Field(gt=0, le=200)]
    varies: Annotated[float, Field(gt=0, le=0.1)]


class Sensors(Sourced):
    """When probes left in place are not to be believed."""

    stale_after_intervals: Annotated[float, Field(ge=1, le=50)]
    stuck_hours: Annotated[float, Field(ge=1, le=200)]
    stuck_times: Annotated[int, Field(ge=3, le=1000)]
    refused_hours: Annotated[float, Field(ge=1, le=500)]
    ahead_minutes: Annotated[float, Field(ge=0, le=120)]
    back_days: Annotated[float, Field(ge=1, le=3000)]
    quantity: Mapping[str, Quantity]


class CardLevel(Strict):
    """A panel of a leaf card."""

    level: Annotated[float, Field(ge=0, le=20)]
    fill: Annotated[str, Field(pattern="^#[0-9a-f]{6}$")]
    says: Text


class LeafCard(Sourced):
    """A leaf colour card."""

    name: Text
    crops: tuple[str, ...]
    position: Text
    threshold: Annotated[float, Field(ge=0, le=20)]
    share_below: Share
    level: Annotated[tuple[CardLevel, ...], Field(min_length=2)]


class KitStep(Strict):
    """A step of a kit's test."""

    do: Text
    shake_seconds: Annotated[int, Field(ge=0, le=3600)] = 0
    wait_seconds: Annotated[int, Field(ge=0, le=86400)] = 0


class KitColour(Strict):
    """A colour of a kit's card and the span it stands for."""

    fill: Annotated[str, Field(pattern="^#[0-9a-f]{6}$")]
    low: Annotated[float, Field(ge=0)]
    high: Annotated[float, Field(ge=0)]
    say: Text


class KitTest(Strict):
    """One test of a kit."""

    key: Text
    name: Text
    analyte: Text
    unit: str = ""
    method: str = ""
    between: bool = True
    steps: Annotated[tuple[KitStep, ...], Field(min_length=1)]
    colours: Annotated[tuple[KitColour, ...], Field(min_length=2)]


class KitDocument(Sourced):
    """A colour kit."""

    key: Text
    name: Text
    about: str = ""
    how: Literal["kit", "strip"] = "kit"
    test: Annotated[tuple[KitTest, ...], Field(min_length=1)]


class ProgrammeBales(Strict):
    """Materials that start straw bales."""

    feed: Text
    phosphate: Text
    potash: Text


class ProgrammeStep(Strict):
    """A step of a programme."""

    after: Annotated[int, Field(ge=-400, le=800)]
    do: Text
    material: str = ""
    grams: Annotated[float, Field(ge=0, le=100_000)] = 0
    gate: str = ""
    way: Literal["", "leaf", "water"] = ""
    within: Annotated[int, Field(ge=0, le=90)] = 7
    stretches: bool = False


class ProgrammeDocument(Sourced):
    """A ready sequence of dated steps."""

    name: Text
    says: Text
    anchor: Text
    per: Literal["m2", "tree", "pot", "bale"]
    bales: ProgrammeBales | None = None
    step: tuple[ProgrammeStep, ...] = ()

    def plain(self) -> dict[str, Any]:
        """The document as the programmes' reader takes it."""
        return self.model_dump(exclude_defaults=True)


class RulePage(Sourced):
    """How one figure is worked out: the formula, where it holds, what happens outside, its tables, and the cases that show it."""

    title: Text
    group: Text
    formula: Text
    holds: Text
    outside: Text
    tables: tuple[str, ...]
    cases: tuple[str, ...]


class RulePages(RootModel[Mapping[str, RulePage]]):
    """All of them by key."""

    model_config = ConfigDict(frozen=True)


class LabParts(Strict):
    """Words that make a kind of heading together, in any order: one of each group."""

    kind: str
    groups: tuple[tuple[str, ...], ...]


class LabCodePage(Strict):
    """Words, in ASCII letters, of the languages whose old files are mostly written in one code page."""

    page: str
    words: tuple[str, ...]


class LabWords(Strict):
    """Words of laboratories' files, in small letters."""

    sample: tuple[str, ...]
    sample_first: tuple[str, ...]
    date: tuple[str, ...]
    analyte: tuple[str, ...]
    value: tuple[str, ...]
    unit: tuple[str, ...]
    method: tuple[str, ...]
    rating: tuple[str, ...]
    nothing: tuple[str, ...]
    not_detected: tuple[str, ...]
    trace: tuple[str, ...]
    ratings: tuple[str, ...]
    fillers: tuple[str, ...]
    unspaced_fillers: tuple[str, ...]
    irrigation_stems: tuple[str, ...]
    sign_headings: tuple[str, ...]  # of a column that holds "<" and ">" apart from the numbers
    months: tuple[str, ...]
    sampling_day: tuple[str, ...]
    report_day: tuple[str, ...]
    bare_methods: tuple[str, ...]
    skipped_rows: tuple[str, ...]
    not_samples: tuple[str, ...]
    bare_numbers: tuple[str, ...]  # headings of numbers; a name beside them goes first
    groupings: tuple[str, ...]  # headings of what groups samples: their names go before it
    name_words: tuple[str, ...]
    medium_soil: tuple[str, ...]
    medium_water: tuple[str, ...]
    medium_leaf: tuple[str, ...]
    medium_material: tuple[str, ...]
    parts: tuple[LabParts, ...]
    code_pages: tuple[LabCodePage, ...]
