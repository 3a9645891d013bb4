"""Nutrients that come from elsewhere than a bought bag: a source as it is told, and what it gives."""

from datetime import date

from agronomy.base.record import record
from agronomy.base.working import Step


@record(kw_only=True)
class CreditSource:
    """One source as the request tells it, in base units: t/ha, mg/L, mm, kg/t; None where not said."""

    kind: str
    name: str
    counted: bool
    what: str | None
    t_per_ha: float | None
    nitrogen_pct: float | None
    nitrate_n_mg_per_l: float | None
    water_mm: float | None
    on: date | None
    worked_in: str
    ammonium_kg_per_t: float | None
    organic_kg_per_t: float | None


@record(kw_only=True)
class Credit:
    """What one source gives of one nutrient to this crop [kg/ha] with its band; below zero where it ties nitrogen up.

    `key` is what a switch names: "organic_matter", "nitrate", "carried", or the source's place in the request ("0", "1").
    """

    key: str
    nutrient: str
    name: str
    kg_per_ha: float
    low: float
    high: float
    counted: bool
    why: str
    working: tuple[Step, ...]
