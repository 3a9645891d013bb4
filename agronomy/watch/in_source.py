"""A dose of nitrogen in a material: what acts in three weeks, and what it brings in all."""

from agronomy.base.errors import OutOfRange
from agronomy.base.record import record
from agronomy.base.said import large, say
from agronomy.tables import Tables
from agronomy.tables.material import Material


@record(kw_only=True)
class NamedSource:
    """A dose in a material [kg/ha of product]; `n_kg_per_ha` is what acts within three weeks, `all_n_kg_per_ha` all that it brings.

    `says` tells why it is less than asked, or refuses (then nothing is laid).
    """

    material: Material
    kg_per_ha: float
    n_kg_per_ha: float
    all_n_kg_per_ha: float
    says: str = ""

    def kg_on(self, area_m2: float) -> float:
        """The product for so much ground [kg]."""
        return self.kg_per_ha * area_m2 / 10_000


def in_source(n_kg_per_ha: float, material: Material, remaining_kg_per_ha: float | None, tables: Tables) -> NamedSource:
    """The product that acts as so much nitrogen in three weeks; never more nitrogen in all than the season still needs.

    Raises OutOfRange for a material without nitrogen. Source: the row of topdress/sources.csv, else the material's own speed.

    >>> from agronomy.intake.example import tables
    >>> round(in_source(30, tables.materials["blood_meal"], 60, tables).kg_per_ha)
    490
    """
    if material.n <= 0:
        raise OutOfRange("material", material.name, f"{material.name} brings no nitrogen", "choose one that does")
    figures, row = tables.topdress, tables.topdress.sources.get(material.key)
    share = row.share_3_weeks if row else (1.0 if material.speed == "soon" else 0.0)
    if share < figures.least_share.value:
        return NamedSource(
            material=material,
            kg_per_ha=0.0,
            n_kg_per_ha=0.0,
            all_n_kg_per_ha=0.0,
            says=say("{capital} acts too slowly now.", capital=large(material.name)),
        )
    counted = 1.0 if share >= figures.counted_below_share.value else share
    all_n = n_kg_per_ha / counted
    says = ""
    if remaining_kg_per_ha is not None and all_n > remaining_kg_per_ha + 1e-9:
        all_n, says = max(0.0, remaining_kg_per_ha), say("Cut, because the rest of its nitrogen comes later and the season needs no more.")
    return NamedSource(
        material=material, kg_per_ha=all_n / (material.n / 100), n_kg_per_ha=all_n * counted, all_n_kg_per_ha=all_n, says=says
    )
