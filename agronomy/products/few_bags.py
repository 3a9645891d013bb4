"""On a small bed one bag that comes near is better than three that hit: a compound for phosphorus and potassium together."""

from agronomy.base.said import say
from agronomy.model.answers import SPOKEN, Need, Nothing
from agronomy.products.choice import AvailableProducts, Choice
from agronomy.products.ground import Ground
from agronomy.products.nutrient_sources import choice_at, most_beside, unfit_at_any_rate
from agronomy.tables import Tables
from agronomy.tables.material import Material

MAIN = ("P", "K")


def wants_few_bags(remaining: dict[str, float], ground: Ground, shop: AvailableProducts, tables: Tables) -> bool:
    """Whether the ground [m2] is so small that bags count for more than the last gram; needs in kg/ha. Source: own-experience.

    >>> from agronomy.intake.example import ground, shop, tables
    >>> wants_few_bags({"P": 40.0, "K": 130.0}, ground(), shop(), tables)
    True
    """
    is_small = not ground.is_field and ground.fed_at_planting and 0 < shop.area_m2 <= tables.choice.few_bags_up_to_m2.value
    return is_small and shop.is_open and all(remaining.get(what, 0.0) > 0 for what in MAIN)


def compound_for(
    by_what: dict[str, Need], remaining: dict[str, float], ground: Ground, shop: AvailableProducts, tables: Tables
) -> tuple[Choice, Nothing] | None:
    """The compound that comes nearest to phosphorus and potassium [kg/ha] without overdoing anything, and what it leaves; None where none
    comes near enough. Source: own-experience.

    >>> from agronomy.intake.example import ground, needs, shop, tables
    >>> asked = {need.what: need for need in needs()}
    >>> compound_for(asked, {what: need.rate_kg_per_ha for what, need in asked.items()}, ground(), shop(), tables)[0].material.key
    'npk_15_15_15'
    """
    needed = set(remaining)
    found: list[tuple[float, Material, float]] = []
    for material in shop.materials:
        if any(material.share.get(what, 0.0) <= 0 for what in MAIN) or unfit_at_any_rate(material, needed, ground, shop, tables):
            continue
        over = tables.choice.few_bags_over.value
        room = {key: min(over * remaining[key], ground.caps.get(key, over * remaining[key])) for key in MAIN}
        if material.share.get("N"):
            room["N"] = most_beside("N", remaining.get("N", 0.0), ground, tables)
        if "N" in room:  # the rest follows while the crop grows
            at_planting = tables.choice.few_bags_n_share.value * remaining.get("N", 0.0)
            room["N"] = min(room["N"], max(tables.nutrients.room_kg_per_ha.value, at_planting))
        rate = min(most / material.share[key] for key, most in room.items())
        covered = [min(1.0, rate * material.share[what] / remaining[what]) for what in MAIN]
        if rate <= tables.choice.few_bags_most_kg_per_ha.value and min(covered) >= tables.choice.few_bags_cover.value:
            found.append((sum(covered), material, rate))
    if not found:
        return None
    _, material, rate = max(found, key=lambda item: (item[0], -shop.price_per_kg(item[1]), item[1].key))
    choice = choice_at(by_what["P"], material, rate, remaining["P"], shop)
    share = rate * material.share["K"] / remaining["K"]
    told = "what is needed" if share > 1 - tables.choice.nearly_met.value else say("about {share} % of it", share=round(share * 20) * 5)
    why = say(
        "No extra {spoken}: the {material} brings {told}, and such a small bed needs no second product.",
        spoken=SPOKEN["K"],
        material=material.name,
        told=told,
    )
    return choice, Nothing("K", why)
