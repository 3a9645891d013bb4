"""What goes over the wire: shapes of requests and answers, for the checks and for OpenAPI."""

from datetime import date
from typing import Any

from ninja import Field, Schema


class PlotOut(Schema):
    """A plot in use."""

    id: int
    name: str
    kind: str
    area_m2: float
    depth_cm: float
    texture: str
    crop: str | None = Field(None, description="key of the crop that stands or comes next")
    planted_on: date | None = None


class Line(Schema):
    """One reading as the laboratory wrote it."""

    analyte: str = Field(max_length=40, description="key, as `iron-rake schema request` lists them: pH, P, K, NO3-N …")
    value: str | float | int = Field(description='as written: 5.7, "<0.1", "trace"')
    unit: str = Field("", max_length=40)
    method: str = Field("not stated", max_length=60)
    settled: bool = Field(False, description="true where a doubt was looked into and the value is right")


class ReadingsIn(Schema):
    """A report of soil."""

    taken_on: date
    lab: str = Field("", max_length=120)
    how: str = "lab"
    note: str = Field("", max_length=2000)
    top_cm: float | None = Field(None, ge=0, le=300)
    bottom_cm: float | None = Field(None, gt=0, le=300)
    lines: list[Line] = Field(min_length=1, max_length=60)


class LineOut(Schema):
    analyte: str
    typed: str
    unit: str
    method: str
    value: float | None = Field(None, description="in the analyte's base unit")
    base_unit: str | None = None


class ReportOut(Schema):
    """A report with its lines."""

    id: int
    medium: str
    taken_on: date
    lab: str
    how: str
    lines: list[LineOut]


class JobOut(Schema):
    """Something meant for a plot."""

    id: int
    plot: int
    material: str
    name: str
    what: str
    kg: float
    from_day: date
    to_day: date
    state: str
    comes_from: str
    placement: str


class DoneIn(Schema):
    """What was really put on."""

    kg: float = Field(ge=0, le=1e6)
    done_on: date
    weather: str = Field("", max_length=160)
    note: str = Field("", max_length=300)
    lot: int | None = Field(None, description="the lot of the shed that it came from")


class EntryOut(Schema):
    """An entry of the log that stands."""

    id: int
    plot: int
    material: str
    name: str
    kg: float
    done_on: date
    note: str


class LotOut(Schema):
    """What is in the shed."""

    id: int
    material: str
    kg: float
    note: str


class PlanOut(Schema):
    """An adopted plan; `result` is the plan format, as `iron-rake schema plan` tells."""

    id: int
    plot: int
    adopted_on: date
    result: dict[str, Any] | None = None


class Made(Schema):
    """What a write made; `repeated` where the same was sent before and nothing new was made."""

    id: int
    repeated: bool


class Wrong(Schema):
    """What is wrong, where, and how to mend it."""

    errors: list[dict[str, Any]]
