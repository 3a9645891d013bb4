"""Two crops on one plot, such as maize with beans: fed once, as the hungrier of both, and held to what both bear."""

from dataclasses import replace

from agronomy.base.said import say
from agronomy.tables.crop import Crop


def with_companion(crop: Crop, other: Crop) -> tuple[Crop, Crop]:
    """The crop that leads (it sets the days and the nitrogen), with figures that suit both, and the one that grows along.

    A legume that feeds itself never leads a crop that does not. Rates at a test of nought in kg of oxide/ha. Source: own-experience.

    >>> from agronomy.intake.example import tables
    >>> led, along = with_companion(tables.crops["dry_bean"], tables.crops["maize"])
    >>> led.key, led.name, along.key
    ('maize', 'maize with dry bean', 'dry_bean')
    """
    lead, along = (other, crop) if _leads(other, crop) else (crop, other)
    highest = min(lead.ph_high, along.ph_high)
    lowest = min(max(lead.ph_low, along.ph_low), highest)
    tolerances = [item for item in (lead.boron_mg_per_l, along.boron_mg_per_l) if item is not None]
    aluminium = [item for item in (lead.aluminium_pct, along.aluminium_pct) if item is not None]
    both = replace(
        lead,
        name=say("{lead} with {along}", lead=_short(lead.name), along=_short(along.name)),
        ph_low=lowest,
        ph_lime_to=min(max(lead.ph_lime_to, along.ph_lime_to), highest),
        ph_high=highest,
        ph_acid_to=max(lowest, min(lead.ph_acid_to, along.ph_acid_to)),
        ph_acidify_above=max(highest, min(lead.ph_acidify_above, along.ph_acidify_above)),
        p2o5_r0=max(lead.p2o5_r0, along.p2o5_r0),
        k2o_r0=max(lead.k2o_r0, along.k2o_r0),
        chloride_sensitive=lead.chloride_sensitive or along.chloride_sensitive,
        sulfur_hungry=lead.sulfur_hungry or along.sulfur_hungry,
        sensitive_to=tuple(dict.fromkeys((*lead.sensitive_to, *along.sensitive_to))),
        boron_mg_per_l=min(tolerances, default=None),
        aluminium_pct=min(aluminium, default=None),
    )
    return both, along


def _short(name: str) -> str:
    """A crop's name without what parts it from its kin."""
    return name.partition(" (")[0].partition(",")[0]


def _leads(one: Crop, other: Crop) -> bool:
    """Whether one crop takes more nitrogen from the ground than another."""
    return (not one.legume, one.n_high) > (not other.legume, other.n_high)
