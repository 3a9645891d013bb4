"""Which material for a nutrient: the cheapest that brings nothing unwanted. A first choice by a plain rule.

The rule, in order. A material is left out if it brings a nutrient of which there is plenty; more of another than is still
needed; chloride where the crop or the user minds; pH in the wrong direction; or if it does not work at this pH. Of the rest the
one in the shed goes first, then the one that costs least once the other needed nutrients it brings are counted at their worth.
"""

from agronomy.base.said import joined, say
from agronomy.base.working import Figure, Step
from agronomy.model.answers import SPOKEN, Need, Unmet
from agronomy.products.choice import AvailableProducts, Choice
from agronomy.products.ground import Ground
from agronomy.products.nitrogen_forms import never_here, price_times
from agronomy.tables import Tables
from agronomy.tables.material import Material

HARMLESS = ("Ca", "S")  # what is too much of them washes on and hurts no crop


def choose_source(need: Need, remaining: dict[str, float], ground: Ground, shop: AvailableProducts, tables: Tables) -> Choice | Unmet:
    """The material for one need [kg/ha of element]; `remaining` holds what is still needed of every nutrient. Source: material-typical.

    >>> from agronomy.intake.example import needs, shop, ground, tables
    >>> choose_source(needs()[1], {"P": 39.8}, ground(), shop(), tables).material.key
    'triple_superphosphate'
    """
    nutrient = need.what
    candidates = [
        (material, remaining[nutrient] / material.share[nutrient]) for material in shop.with_role(nutrient) if nutrient in material.share
    ]
    reasons: dict[str, list[str]] = {}
    fitting = []
    for material, rate in candidates:
        reason = _unfit(material, rate, nutrient, remaining, ground, shop, tables)
        if reason is None:
            fitting.append((material, rate))
        else:
            reasons.setdefault(reason, []).append(material.name)
    if not fitting:
        return Unmet(nutrient, remaining[nutrient], _why_none(nutrient, reasons, shop))

    def price(pair) -> tuple:
        cost = _net_cost(pair[0], pair[1], nutrient, remaining, shop, tables)
        times = price_times(pair[0], ground, tables) if nutrient == "N" and cost > 0 else 1.0
        return (not shop.goes_first(pair[0], pair[1]), cost * times, pair[0].key)

    material, rate = min(fitting, key=price)
    return _choice(need, material, rate, remaining[nutrient], len(fitting), shop)


def _why_none(nutrient: str, reasons: dict[str, list[str]], shop: AvailableProducts) -> str:
    if not reasons and shop.by_equipment:
        return say("Your equipment can't lay a product with {nutrient} here: borrow or hire a spreader.", nutrient=SPOKEN[nutrient])
    if not reasons:
        return say("Nothing that may be used here gives {nutrient}.", nutrient=SPOKEN[nutrient])
    told = joined((say("{names} {reason}", names=", ".join(names), reason=reason) for reason, names in reasons.items()), "; ")
    return say("No material on the list gives {nutrient} without harm: {told}.", nutrient=nutrient, told=told)


def _unfit(
    material: Material, rate: float, nutrient: str, remaining: dict[str, float], ground: Ground, shop: AvailableProducts, tables: Tables
) -> str | None:
    """Why a material is left out, or None."""
    if reason := _harms(material, ground, shop, tables):
        return reason
    if nutrient in ground.by_drip and (material.solubility_g_per_l or 0.0) < tables.liquids.drip_dissolves_g_per_l.value:
        return say("would not dissolve for the drippers")
    trace = tables.nutrients.trace_share.value
    for other, share in material.share.items():
        if other in (nutrient, *HARMLESS) or (other == "Mg" and share < trace):
            continue
        finding = ground.findings.get(other)
        if finding is not None and finding.is_plenty:
            return say("would bring {other}, of which there is plenty", other=other)
        if other in ("N", "P", "K") and share * rate > most_beside(other, remaining.get(other, 0.0), ground, tables):
            return say("would bring more {other} than is needed", other=other)
    return _unfit_for_ph(material, ground, tables)


def unfit_at_any_rate(material: Material, needed: set[str], ground: Ground, shop: AvailableProducts, tables: Tables) -> str | None:
    """Why a material can't serve here however little is spread, or None: chloride, salt, a nutrient of which there is plenty, pH.

    Source: crop-traits, material-traits.

    >>> from agronomy.intake.example import shop, ground, tables
    >>> unfit_at_any_rate(tables.materials["urea"], {"N"}, ground(), shop(), tables) is None
    True
    """
    if reason := _harms(material, ground, shop, tables):
        return reason
    trace = tables.nutrients.trace_share.value
    for other, share in material.share.items():
        if other in HARMLESS or other in needed or (other == "Mg" and share < trace):
            continue
        finding = ground.findings.get(other)
        if finding is not None and finding.is_plenty:
            return say("would bring {other}, of which there is plenty", other=other)
    return _unfit_for_ph(material, ground, tables)


def most_beside(nutrient: str, remaining: float, ground: Ground, tables: Tables) -> float:
    """Most of N, P or K [kg/ha] that may come along with another nutrient: a little over what is still needed, never over the owner's
    cap. Source: own-experience.

    >>> from agronomy.intake.example import ground, tables
    >>> round(most_beside("N", 100.0, ground(), tables))
    115
    """
    most = max(tables.nutrients.room_kg_per_ha.value, remaining * tables.choice.window_above.value)
    if nutrient == "N":
        most = min(most, max(tables.nutrients.room_kg_per_ha.value, ground.most_n_at_start * tables.choice.window_above.value))
    return min(most, ground.caps.get(nutrient, most))


def _harms(material: Material, ground: Ground, shop: AvailableProducts, tables: Tables) -> str | None:
    """Chloride where the crop or the user minds it, and strong salts on ground that is salty already."""
    if "N" in (material.share or {}) and (reason := never_here(material, ground, tables)):
        return reason
    if material.chloride_pct > tables.nutrients.chloride_bringer_from_pct.value and (
        ground.crop.chloride_sensitive or ground.avoids_chloride or not shop.chloride
    ):
        return "would bring chloride"
    salt = material.salt_index
    in_weekly_feeds = ground.by_drip.intersection(material.share or ())
    if ground.is_salty and not in_weekly_feeds and salt is not None and salt >= tables.choice.strong_salt_from.value:
        return say("would bring more salt to ground that is salty already")
    return None


def _unfit_for_ph(material: Material, ground: Ground, tables: Tables) -> str | None:
    ph, crop, figures = ground.ph, ground.crop, tables.nutrients
    if material.loses_ammonia and (not ground.soil.dug or (ph is not None and ph.value > figures.urea_loses_above_ph.value)):
        return say("would lose ammonia on the surface or at high pH")
    if crop.is_acid_lover and (material.cce > figures.liming_cce.value or "oxidiser" in material.cautions):
        return say("wouldn't suit a crop that likes acid ground")
    if ph is None and material.ph_max is not None and (ground.soil.free_lime or material.ph_max < figures.rock_needs_ph_below.value):
        return say("dissolves on acid ground only, and the pH isn't known")
    if ph is None:
        return None
    if ground.ph_after is not None and material.ph_max is not None and ground.ph_after > material.ph_max:
        return say("would hardly dissolve above pH {ph_max:g}", ph_max=material.ph_max)
    if ph.class_ == "too_acid" and material.cce <= figures.strongly_acid_forming_cce.value:
        return say("would make acid ground more acid")
    if ph.class_ == "too_alkaline" and material.cce > figures.raises_ph_from_cce.value:
        return "would raise pH"
    return None


def _net_cost(
    material: Material, rate: float, nutrient: str, remaining: dict[str, float], shop: AvailableProducts, tables: Tables
) -> float:
    """Cost per hectare less the worth of other needed nutrients that come along."""
    worth = sum(
        min(share * rate, remaining.get(other, 0.0)) * tables.nutrients.worth_per_kg(other).value
        for other, share in material.share.items()
        if other not in (nutrient, "Ca")
    )
    return rate * shop.price_per_kg(material, rate) - worth


def choice_at(need: Need, material: Material, rate: float, still_needed: float, shop: AvailableProducts) -> Choice:
    """A material at a rate [kg/ha] that is not the need's own, for two needs at once. Source: material-typical.

    >>> from agronomy.intake.example import needs, shop, tables
    >>> choice_at(needs()[1], tables.materials["npk_15_15_15"], 700.0, 40.0, shop()).rate_kg_per_ha
    700.0
    """
    step = Step(
        "a little over the least",
        "the most that overdoes nothing",
        {
            "still needed": Figure(still_needed, "kg/ha"),
            "share a crop gets": Figure(material.share[need.what], "fraction", material.source),
        },
        Figure(rate, "kg/ha"),
        material.source,
        material.name,
    )
    return Choice(
        need=need,
        material=material,
        rate_kg_per_ha=rate,
        low_kg_per_ha=rate * need.low_kg_per_ha / need.rate_kg_per_ha,
        high_kg_per_ha=rate * need.high_kg_per_ha / need.rate_kg_per_ha,
        supplies={nutrient: part * rate for nutrient, part in material.share.items()},
        price_per_kg=shop.price_per_kg(material, rate),
        why=say("On such a small bed one product that comes near is better than two that hit."),
        working=(*need.working, step),
    )


def _choice(need: Need, material: Material, rate: float, still_needed: float, fitting: int, shop: AvailableProducts) -> Choice:
    share = material.share[need.what]
    step = Step(
        "product needed",
        f"{need.what} still needed / share a crop gets in the first year",
        {
            f"{need.what} still needed": Figure(still_needed, "kg/ha"),
            "share a crop gets in the first year": Figure(share, "fraction", material.source),
        },
        Figure(rate, "kg/ha"),
        material.source,
        material.name,
        note="" if still_needed >= need.rate_kg_per_ha - 1e-6 else "part of the need is met by another material of this plan",
    )
    scale = rate / need.rate_kg_per_ha
    supplies = {nutrient: part * rate for nutrient, part in material.share.items()}
    where = (
        "You asked for it"
        if shop.is_wanted(material)
        else say("It is in your shed")
        if shop.covers(material, rate)
        else say("It costs least of those that fit here")
        if fitting > 1
        else say("Of those on the list only this one fits here")
    )
    return Choice(
        need=need,
        material=material,
        rate_kg_per_ha=rate,
        low_kg_per_ha=need.low_kg_per_ha * scale,
        high_kg_per_ha=need.high_kg_per_ha * scale,
        supplies=supplies,
        price_per_kg=shop.price_per_kg(material, rate),
        why=where + ".",
        working=(*need.working, step),
    )
