"""A crop and what it asks of the ground."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Literal

from agronomy.tables.columns import Key, Names, Parted, Within
from agronomy.tables.row import Cited, Fault, rising

Group = Literal[
    "acid lovers",
    "arable",
    "bulbs",
    "containers",
    "cover crops",
    "cut flowers",
    "fibre and oil",
    "grass",
    "herbs",
    "ornamental shrubs",
    "peas and beans",
    "roots",
    "soft fruit",
    "trees",
    "vegetables",
]
NutrientGroup = Literal["A", "B", "C", "D"]
Feeding = Literal["hungry", "medium", "light", "leave alone"]
LimeHabit = Literal["likes lime", "bears some lime", "dislikes lime", "hates lime"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Crop(Cited):
    """One row of `data/crops.csv`.

    pH figures are in water 1:1; r0 rates are kg/ha of oxide needed at a test of zero; n_low..n_high is what a good crop
    takes up [kg N/ha]; n_per_t is kg N per tonne of yield where a yield goal is given. Months are northern. What begins
    with `traits_` is the source of the habits: feeding, roots, what it is sensitive to, water and frost.
    """

    key: Key
    name: str
    group: Group
    life: Literal["annual", "perennial"]
    ph_low: Annotated[float, Within(3.5, 8, "pH")]
    ph_lime_to: Annotated[float, Within(4, 8, "pH")]
    ph_high: Annotated[float, Within(4.5, 8.8, "pH")]
    ph_acid_to: Annotated[float, Within(4, 8.5, "pH")]
    ph_acidify_above: Annotated[float, Within(4.5, 9.5, "pH")]
    nutrient_group: NutrientGroup
    p2o5_r0: Annotated[float, Within(0, 400, "kg P2O5/ha")]
    k2o_r0: Annotated[float, Within(0, 600, "kg K2O/ha")]
    n_low: Annotated[float, Within(0, 400, "kg N/ha")]
    n_high: Annotated[float, Within(0, 500, "kg N/ha")]
    n_per_t: Annotated[float | None, Within(0.5, 80, "kg N/t")]
    chloride_sensitive: bool
    sulfur_hungry: bool
    legume: bool
    planting_month: Annotated[float, Within(1, 12, "month")]
    family: Annotated[str | None, Names("families")]
    feeding: Feeding
    rooting_cm: Annotated[float, Within(8, 300, "cm")]
    sensitive_to: Annotated[tuple[str, ...], Parted(), Names("analytes")]
    lime: LimeHabit
    boron_mg_per_l: Annotated[float | None, Within(0.2, 15, "mg/L")]
    aluminium_pct: Annotated[float | None, Within(1, 80, "%")]
    moisture_pct: Annotated[float | None, Within(3, 98, "%")]
    flooded: bool
    tender: bool
    traits_source: Annotated[str, Names("sources")]
    traits_where: str
    traits_status: Literal["exact", "recalled", "unsure"]

    def faults(self) -> Iterator[Fault]:
        yield from rising(self, "ph_low", "ph_lime_to", "ph_high", "ph_acidify_above")
        yield from rising(self, "ph_low", "ph_acid_to", "ph_high")
        yield from rising(self, "n_low", "n_high")
        if self.planting_month != int(self.planting_month):
            yield Fault("planting_month", f"{self.planting_month:g} is no month", "write 1 to 12")

    @property
    def is_perennial(self) -> bool:
        return self.life == "perennial"

    @property
    def is_acid_lover(self) -> bool:
        return self.group == "acid lovers"

    @property
    def is_grass(self) -> bool:
        return self.group == "grass"
