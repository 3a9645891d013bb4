"""A crop and what it asks of the ground."""

from dataclasses import dataclass, fields


@dataclass(frozen=True, slots=True)
class Crop:
    """One row of `data/crops.csv`.

    pH figures are in water 1:1; r0 rates are kg/ha of oxide needed at a test of zero; n_low..n_high is what a good crop
    takes up [kg N/ha]; n_per_t is kg N per tonne of yield where a yield goal is given. Months are northern.
    """

    key: str
    name: str
    group: str
    life: str
    ph_low: float
    ph_lime_to: float
    ph_high: float
    ph_acid_to: float
    ph_acidify_above: float
    nutrient_group: str
    p2o5_r0: float
    k2o_r0: float
    n_low: float
    n_high: float
    n_per_t: float | None
    chloride_sensitive: bool
    sulfur_hungry: bool
    legume: bool
    planting_month: float
    source: str
    where: str
    status: str

    @classmethod
    def from_row(cls, row: dict) -> "Crop":
        return cls(**{field.name: row[field.name] for field in fields(cls)})

    @property
    def is_perennial(self) -> bool:
        return self.life == "perennial"

    @property
    def is_acid_lover(self) -> bool:
        return self.group == "acid lovers"

    @property
    def is_grass(self) -> bool:
        return self.group == "grass"
