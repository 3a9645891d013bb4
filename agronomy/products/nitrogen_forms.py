"""How each form of nitrogen fares on this ground, beside its price: some never, some poorly. Source: choosing_nitrogen.csv."""

from agronomy.products.ground import Ground
from agronomy.tables import Tables
from agronomy.tables.material import Material
from agronomy.tables.rooms.choice import NitrogenForm


def aspects(ground: Ground, tables: Tables) -> list[str]:
    """The situations of the table that this ground is in. Source: each row's own.

    >>> from agronomy.intake.example import ground, tables
    >>> aspects(ground(), tables)
    []
    """
    found = []
    if ground.crop.flooded:
        found.append("flooded_rice")
    if ground.crop.is_acid_lover:
        found.append("acid_lovers")
    if ground.crop.key.startswith("lawn"):
        found.append("lawn")
    if ground.ph is not None and ground.ph.value < tables.choice.nitrogen_form_acid_below_ph.value:
        found.append("ph_below_5_5")
    if ground.ph is not None and ground.ph.value > tables.choice.nitrogen_form_limy_above_ph.value:
        found.append("ph_above_7_2_rainfed" if ground.is_field and ground.is_rainfed else "ph_above_7_2")
    return found


def never_here(material: Material, ground: Ground, tables: Tables) -> str | None:
    """Why a form is never used here, or None. Source: each row's own.

    >>> from agronomy.intake.example import ground, tables
    >>> never_here(tables.materials["urea"], ground(), tables) is None
    True
    """
    return next((f"is never used here ({row.says})" for row in _rows(material, ground, tables) if row.verdict == "never"), None)


def price_times(material: Material, ground: Ground, tables: Tables) -> float:
    """What its price counts for here: more for a form that fares poorly. Source: each row's own.

    A factor on the price per kg.

    >>> from agronomy.intake.example import ground, tables
    >>> price_times(tables.materials["urea"], ground(), tables)
    1.0
    """
    verdicts = {row.verdict for row in _rows(material, ground, tables)}
    if "poor" in verdicts:
        return tables.choice.poor_form_times.value
    return tables.choice.first_form_times.value if "first" in verdicts else 1.0


def _rows(material: Material, ground: Ground, tables: Tables) -> list[NitrogenForm]:
    """What the table says of a form in the situations of this ground."""
    forms = tables.forms_of.get(material.key)
    return [forms[aspect] for aspect in aspects(ground, tables) if aspect in forms] if forms else []
