"""How much may go on in one dressing, and how deep it reaches."""

from typing import NamedTuple

from agronomy.base.required import required
from agronomy.base.working import Figure, Step
from agronomy.model.soil import Soil
from agronomy.recommend.acidity.buffer_capacity import per_litre
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.acidity import Cap
from agronomy.tables.row import Parameter


class ApplicationLimit(NamedTuple):
    """The limits of one dressing: cap [kg/ha], depth it treats [cm], months until the next, and the table row."""

    max_kg_per_ha: float
    treated_depth_cm: float
    again_after_months: int
    row: Cap


def _in_pots(cap_g_per_l: Parameter, row: Cap, soil: Soil, tables: Tables) -> ApplicationLimit:
    """Limits for a potting mix, by the litre."""
    return ApplicationLimit(per_litre(cap_g_per_l.value, soil.depth_cm), soil.depth_cm, int(required(row.again_after_months)), row)


def lime_limit(kind: str, crop: Crop, soil: Soil, tables: Tables, *, on_lawn: bool = False) -> ApplicationLimit:
    """Limits of one dressing of lime. On undug ground lime reaches only the top, so only the top is limed. Source: lime-caps.

    >>> from agronomy.intake.example import bed, soil, tables
    >>> lime_limit("bed", bed().crop, soil(), tables) == lime_limit("bed", bed("lettuce").crop, soil(), tables)
    True
    """
    if soil.mix is not None:
        return _in_pots(tables.acidity.container_lime_cap_g_per_l, tables.acidity.caps["lime_bed_dug"], soil, tables)
    if soil.dug:
        key = "lime_field_dug" if kind == "field" else "lime_bed_dug"
    elif crop.is_grass and not on_lawn:
        key = "lime_grass_undug"
    else:
        key = "lime_field_undug" if kind == "field" else "lime_bed_undug"
    return _limits(key, soil, tables)


def sulfur_limit(soil: Soil, tables: Tables) -> ApplicationLimit:
    if soil.mix is not None:
        return _in_pots(tables.acidity.container_sulfur_cap_g_per_l, tables.acidity.caps["sulfur_dug"], soil, tables)
    key = "sulfur_undug" if not soil.dug else "sulfur_light_dug" if soil.is_light else "sulfur_dug"
    return _limits(key, soil, tables)


def most_sulfur_worth_trying(kind: str, tables: Tables) -> float:
    """The total S [kg/ha] beyond which acidifying is called impracticable. Source: sulfur-caps.

    >>> from agronomy.tables import load_tables
    >>> round(most_sulfur_worth_trying("bed", load_tables()), 2)
    3000.0
    """
    return tables.acidity.caps["sulfur_practicable_field" if kind == "field" else "sulfur_practicable_bed"].max_kg_per_ha


def _limits(key: str, soil: Soil, tables: Tables) -> ApplicationLimit:
    row = tables.acidity.caps[key]
    depth = min(soil.depth_cm, row.treated_depth_cm or soil.depth_cm)
    return ApplicationLimit(row.max_kg_per_ha, depth, int(required(row.again_after_months)), row)


def depth_step(dressing: ApplicationLimit, soil: Soil) -> tuple[Step, ...]:
    """Says that only the top is treated, where that is so.

    >>> from agronomy.intake.example import bed, soil, tables
    >>> depth_step(lime_limit("bed", bed().crop, soil(), tables), soil())
    ()
    """
    if dressing.treated_depth_cm >= soil.depth_cm:
        return ()
    step = Step(
        "depth treated",
        "the smaller of your depth and what a surface dressing reaches",
        {"your depth": Figure(soil.depth_cm, "cm"), "reach on undug ground": Figure(required(dressing.row.treated_depth_cm), "cm")},
        Figure(dressing.treated_depth_cm, "cm"),
        dressing.row.source,
        dressing.row.where,
    )
    return (step,)
