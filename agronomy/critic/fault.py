"""What the critic sees of a plan, and what it has to say."""

from collections.abc import Mapping, Sequence
from dataclasses import field
from datetime import date
from typing import Protocol

from agronomy.base.record import record


@record
class Fault:
    """Why a plan is not ready to be signed: which check found it, and the sentence with its figures."""

    id: str
    says: str


@record(kw_only=True)
class Facts:
    """What was asked: the day, planting and the end of the crop, whether it stands for years, what was read, what lies in the shed [kg] for
    nothing, and the ground: area [m2], in pots or bales.
    """

    today: date
    planting: date | None
    ends: date | None
    perennial: bool
    stands: bool
    read: frozenset[str]
    area_m2: float
    apart: bool = False  # pots and bales, whose feed goes by the litre
    free: Mapping[str, float] = field(default_factory=dict)


class Dressing(Protocol):
    """A dressing as the critic reads it: rates in kg/ha, totals in kg."""

    @property
    def material(self) -> str: ...
    @property
    def name(self) -> str: ...
    @property
    def measure(self) -> str: ...
    @property
    def what(self) -> str: ...
    @property
    def rate_kg_per_ha(self) -> float: ...
    @property
    def total_kg(self) -> float: ...
    @property
    def supplies(self) -> Mapping[str, float]: ...
    @property
    def from_(self) -> date: ...
    @property
    def to(self) -> date: ...
    @property
    def placement(self) -> str: ...
    @property
    def timing_note(self) -> str: ...
    @property
    def cost(self) -> float: ...
    @property
    def later(self) -> bool: ...


class Wanted(Protocol):
    """A need, or what is not met: an element and its rate [kg/ha]."""

    @property
    def what(self) -> str: ...
    @property
    def rate_kg_per_ha(self) -> float: ...


class Judged(Protocol):
    """A finding as the critic reads it."""

    @property
    def analyte(self) -> str: ...
    @property
    def name(self) -> str: ...
    @property
    def class_(self) -> str: ...
    @property
    def wanted(self) -> tuple[float, float]: ...
    @property
    def expected(self) -> float | None: ...


class LeftOut(Protocol):
    """What gets nothing, and why in a word."""

    @property
    def nutrient(self) -> str: ...
    @property
    def because(self) -> str: ...


class Written(Protocol):
    """A plan as the critic reads it."""

    @property
    def headline(self) -> str: ...
    @property
    def applications(self) -> Sequence[Dressing]: ...
    @property
    def needs(self) -> Sequence[Wanted]: ...
    @property
    def unmet(self) -> Sequence[Wanted]: ...
    @property
    def nothing(self) -> Sequence[LeftOut]: ...
    @property
    def findings(self) -> Sequence[Judged]: ...
    @property
    def doubts(self) -> Sequence[str]: ...
