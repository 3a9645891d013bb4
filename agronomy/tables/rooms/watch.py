"""What a plant shows: features, causes, how they go together, a crop's own signs, and what parts look-alikes."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from agronomy.tables.columns import Key, Names, Within, Words
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Parameter


@dataclass(frozen=True, slots=True, kw_only=True)
class Feature(Cited):
    """Something that a person can see or knows; `elsewhere` is how often it shows without a given cause."""

    key: Key
    group: Literal["age", "pattern", "spread", "when", "colour", "form", "fruit", "root", "sign", "ground"]
    pick: Literal["one", "many"]
    question: str
    answer: str
    elsewhere: Annotated[float, Within(0.001, 0.95, "fraction")]
    look: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Cause(Cited):
    """Why a plant ails: how common, for whom only, the test that confirms it, what makes it worse, what to do first."""

    key: Key
    name: str
    kind: Literal["short", "excess", "stress", "disease", "harmless", "chemical", "pest", "reaction", "burn", "other"]
    only_for: Literal["legume", "brassica", "container", "broad-leaved"] | None
    prior: Annotated[float, Within(0.0005, 0.3, "fraction")]
    confirm: str
    tissue: str | None
    worse: str | None
    first: str
    pattern: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FeatureLink(Cited):
    """How often a feature shows with a cause."""

    cause: Annotated[str, Names("causes")]
    feature: Annotated[str, Names("features")]
    level: Literal["hallmark", "common", "sometimes", "rare", "against"]
    p: Annotated[float, Within(0.001, 0.99, "fraction")]


@dataclass(frozen=True, slots=True, kw_only=True)
class Evidence(Cited):
    """What a reading does to the odds of a cause."""

    cause: Annotated[str, Names("causes")]
    evidence: str
    level: str
    factor: Annotated[float, Within(0.01, 50, "times")]
    says: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class CropSign(Cited):
    """A crop's own sign of a cause: its local name, the features that make it up, what to check and never to do."""

    crop: Annotated[str, Names("crops")]
    called: str
    cause: Annotated[str, Names("causes")]
    when: Annotated[Words, Names("features")]
    factor: Annotated[float, Within(0.1, 20, "times")]
    says: str
    check: str
    never: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class LookAlike(Cited):
    """Two causes that look alike, and the one check that parts them."""

    cause_a: Annotated[str, Names("causes")]
    cause_b: Annotated[str, Names("causes")]
    shared: str
    one_check: str
    if_a: str
    if_b: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Chain(Cited):
    """A cause at the head of another: told as one answer. `sign` is the feature that speaks for the head."""

    head: Annotated[str, Names("causes")]
    tail: Annotated[str, Names("causes")]
    sign: Annotated[str, Names("features")]
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RedFlag(Cited):
    """What is said before any ranking: of these crops (any, where none is named), features all seen, or causes that could be."""

    key: Key
    crops: Annotated[Words, Names("crops")]
    when: Annotated[Words, Names("features")]
    causes: Annotated[Words, Names("causes")]
    says: str
    then: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Claim(Cited):
    """Something that is said of soils and feeds: how well it stands, where it holds, what to do instead, and what it is about."""

    key: Key
    claim: str
    verdict: Literal["well supported", "supported in some cases", "weak", "contradicted"]
    evidence: str
    holds_where: str
    instead: str
    moment: Literal["choosing", "rate", "symptom", "timing", "reading"]
    about: Words


@dataclass(frozen=True, slots=True, kw_only=True)
class BothSides(Cited):
    """A question on which practitioners disagree: both sides, and what is done here."""

    key: Key
    question: str
    one_side: str
    other_side: str
    here: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Watch:
    """The symptom key, and what is said."""

    FIGURES: ClassVar[str] = "watch/figures.toml"

    together: Annotated[Parameter, Within(0.1, 1, "fraction")]
    most_questions: Annotated[Parameter, Within(2, 30, "questions")]
    sure_share: Annotated[Parameter, Within(0.3, 1, "fraction")]
    sure_times: Annotated[Parameter, Within(1, 10, "times")]
    least_gain: Annotated[Parameter, Within(0, 0.5, "nats")]
    as_good: Annotated[Parameter, Within(0.3, 1, "fraction")]
    shown_from: Annotated[Parameter, Within(0.01, 0.5, "fraction")]
    most_shown: Annotated[Parameter, Within(1, 10, "causes")]
    covers_from: Annotated[Parameter, Within(0.05, 0.9, "fraction")]
    two_from: Annotated[Parameter, Within(0.01, 0.5, "fraction")]
    two_signs: Annotated[Parameter, Within(1, 6, "signs")]
    kept_as_cases: Annotated[Parameter, Within(1, 100, "cases")]
    prior_cases: Annotated[Parameter, Within(10, 5000, "cases")]
    much_potash: Annotated[Parameter, Within(30, 1000, "kg K2O/ha")]
    much_nitrogen: Annotated[Parameter, Within(30, 1000, "kg N/ha")]
    cold_below_c: Annotated[Parameter, Within(0, 25, "°C")]
    lime_lately_days: Annotated[Parameter, Within(30, 1000, "days")]
    trial_counts: Annotated[Parameter, Within(1, 200, "kg/ha")]
    trial_counts_lime: Annotated[Parameter, Within(10, 5000, "kg CaCO3/ha")]
    too_low: Annotated[Parameter, Within(0.02, 0.5, "fraction")]
    features: Annotated[Mapping[str, Feature], Csv("watch/features.csv", "key")]
    causes: Annotated[Mapping[str, Cause], Csv("watch/causes.csv", "key")]
    links: Annotated[Mapping[tuple[str, str], FeatureLink], Csv("watch/links.csv", ("cause", "feature"))]
    evidence: Annotated[Mapping[tuple[str, str, str], Evidence], Csv("watch/evidence.csv", ("cause", "evidence", "level"))]
    crop_signs: Annotated[tuple[CropSign, ...], Csv("watch/crop_signs.csv")]
    claims: Annotated[Mapping[str, Claim], Csv("watch/claims.csv", "key")]
    look_alikes: Annotated[tuple[LookAlike, ...], Csv("watch/look_alikes.csv")]
    chains: Annotated[tuple[Chain, ...], Csv("watch/chains.csv")]
    red_flags: Annotated[Mapping[str, RedFlag], Csv("watch/red_flags.csv", "key")]
    both_sides: Annotated[Mapping[str, BothSides], Csv("watch/both_sides.csv", "key")]
