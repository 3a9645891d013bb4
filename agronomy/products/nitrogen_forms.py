"""How each form of nitrogen fares on this ground, beside its price: some never, some poorly. Source: choosing_nitrogen.csv."""

from agronomy.base.said import say
from agronomy.model.finding import Finding
from agronomy.products.ground import Ground
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.material import Material
from agronomy.tables.rooms.choice import NitrogenForm

UNDER_COVER = "fertigation_under_cover"


def situations_of(
    crop: Crop, ph: Finding | None, *, is_field: bool, is_rainfed: bool, tables: Tables, is_dripped_under_film: bool = False
) -> tuple[str, ...]:
    """The situations of the table that a ground is in. Source: each row's own.

    >>> from agronomy.intake.example import bed, tables
    >>> situations_of(bed("rice").crop, None, is_field=True, is_rainfed=False, tables=tables)
    ('flooded_rice',)
    """
    found = []
    if crop.flooded:
        found.append("flooded_rice")
    if is_dripped_under_film:
        found.append(UNDER_COVER)
    if crop.is_acid_lover:
        found.append("acid_lovers")
    uses = tables.systems.land_uses.get(crop.key)
    if uses is not None and uses.land_use == "turf":
        found.append("lawn")
    if ph is not None and ph.value < tables.choice.nitrogen_form_acid_below_ph.value:
        found.append("ph_below_5_5")
    if ph is not None and ph.value > tables.choice.nitrogen_form_limy_above_ph.value:
        found.append("ph_above_7_2_rainfed" if is_field and is_rainfed else "ph_above_7_2")
    return tuple(found)


def never_here(material: Material, ground: Ground, tables: Tables) -> str | None:
    """Why a form is never used here, or None. Source: each row's own.

    >>> from agronomy.intake.example import ground, tables
    >>> never_here(tables.materials["urea"], ground(), tables) is None
    True
    """
    return next(
        (say("is never used here ({says})", says=row.says) for row in _rows(material, ground, tables) if row.verdict == "never"), None
    )


def price_times(material: Material, ground: Ground, tables: Tables) -> float:
    """What its price counts for here: more for a form that fares poorly. Source: each row's own.

    A factor on the price per kg.

    >>> from agronomy.intake.example import ground, tables
    >>> price_times(tables.materials["urea"], ground(), tables)
    1.0
    """
    verdicts = {row.verdict for row in _rows(material, ground, tables)}
    if "poor" in verdicts:
        in_tank = UNDER_COVER in ground.situations
        return (tables.choice.poor_in_a_tank_times if in_tank else tables.choice.poor_form_times).value
    return tables.choice.first_form_times.value if "first" in verdicts else 1.0


def _rows(material: Material, ground: Ground, tables: Tables) -> list[NitrogenForm]:
    """What the table says of a form in the situations of this ground."""
    forms = tables.forms_of.get(material.key) if ground.situations else None
    return [forms[situation] for situation in ground.situations if situation in forms] if forms else []
