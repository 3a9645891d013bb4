"""Which lime, which sulfur: by magnesium, strength, fineness and price per effective kilogram."""

from agronomy.base.errors import check_range
from agronomy.base.required import required
from agronomy.base.said import joined, say
from agronomy.base.working import Figure, Step
from agronomy.model.answers import Need, Unmet
from agronomy.model.finding import Finding
from agronomy.model.soil import Soil
from agronomy.products.choice import AvailableProducts, Choice
from agronomy.tables import Tables
from agronomy.tables.material import Material


def lime_rate(caco3_kg_per_ha: float, *, neutralising_value: float, reacting_share: float) -> float:
    """Liming product, as it comes from the bag, that supplies a need of pure CaCO3 [kg/ha].

    Args:
        caco3_kg_per_ha: need as pure calcium carbonate [kg/ha].
        neutralising_value: strength against pure CaCO3 [fraction], above 0, up to 1.8.
        reacting_share: part fine enough to react in a season or so [fraction], above 0, up to 1.
    Raises: OutOfRange.  Limits: says nothing of when the coarse rest dissolves.  Source: definition, lime-fineness-tri.

    >>> lime_rate(1000.0, neutralising_value=0.8, reacting_share=0.5)
    2500.0
    """
    check_range("neutralising_value", neutralising_value, low=0.01, high=1.8)
    check_range("reacting_share", reacting_share, low=0.01, high=1.0)
    return caco3_kg_per_ha / (neutralising_value * reacting_share)


def choose_lime(
    need: Need, mg: Finding | None, soil: Soil, shop: AvailableProducts, tables: Tables, *, on_field: bool = False
) -> Choice | Unmet:
    """The lime with the cheapest effective kilogram among those that suit the magnesium reading; stock first.

    Source: mg-lime-rule, definition.

    >>> from agronomy.intake.example import found, soil, needs, shop, tables
    >>> choose_lime(needs()[0], found().nutrients["Mg"], soil(), shop(), tables).material.key
    'dolomitic_limestone_ground'
    """
    limes = shop.with_role("lime")
    wanted, reason = _magnesium_says(mg, soil, tables)
    fitting = [lime for lime in limes if wanted is None or (lime.mg >= tables.nutrients.magnesian_from_pct.value) == wanted]
    if not fitting and limes and mg is not None and mg.is_plenty:
        return Unmet(
            "CaCO3",
            need.rate_kg_per_ha,
            say("Only magnesian lime is on the list, and there is plenty of magnesium already. Add a calcitic lime."),
        )
    fitting = fitting or limes
    if not fitting:
        return Unmet("CaCO3", need.rate_kg_per_ha, say("There is no lime among the materials that may be used."))
    lime = min(
        fitting,
        key=lambda lime: (
            not shop.goes_first(lime, _rate(lime, need)),
            shop.price_per_kg(lime) / lime.effective_neutralising_value,
            lime.key,
        ),
    )
    stock = _first(lime, _rate(lime, need), shop) or say("It has the lowest price for what reacts.")
    least = tables.choice.least_lime_on_a_field_kg_per_ha.value if on_field else 0.0
    return _choice(need, lime, joined((stock, reason)), shop, least)


def _first(material: Material, rate: float, shop: AvailableProducts) -> str:
    """Why it goes before cheaper ones, or nothing."""
    return "You asked for it." if shop.is_wanted(material) else say("It is in your shed.") if shop.covers(material, rate) else ""


def _rate(lime: Material, need: Need) -> float:
    return need.rate_kg_per_ha * need.share_now / lime.effective_neutralising_value


def _magnesium_says(mg: Finding | None, soil: Soil, tables: Tables) -> tuple[bool | None, str]:
    """Whether the lime should bring magnesium (None: either), and why."""
    if mg is None:
        return None, say("Magnesium was not tested, so either kind would do.")
    limit = (tables.acidity.mg_lime_light_below if soil.is_light else tables.acidity.mg_lime_below).value
    if mg.value < limit:
        return True, say("Magnesium reads {mg:.0f} mg/kg, under {limit:.0f}, so the lime should bring some.", mg=mg.value, limit=limit)
    if mg.is_plenty or mg.value > tables.acidity.mg_calcitic_above.value:
        return False, say("Magnesium reads {mg:.0f} mg/kg: more is not wanted, so a calcitic lime.", mg=mg.value)
    return None, say("Magnesium reads {mg:.0f} mg/kg: either kind would do.", mg=mg.value)


def _choice(need: Need, lime: Material, why: str, shop: AvailableProducts, least: float = 0.0) -> Choice:
    value, share = lime.cce / 100, required(lime.fineness)
    caco3 = need.rate_kg_per_ha * need.share_now
    rate = max(least, lime_rate(caco3, neutralising_value=value, reacting_share=share))
    step = Step(
        "product needed",
        "max(least spread, CaCO3 / (neutralising value × reacting share))",
        {
            "CaCO3": Figure(caco3, "kg/ha"),
            "neutralising value": Figure(value, "fraction"),
            "reacting share": Figure(share, "fraction"),
            "least spread": Figure(least, "kg/ha"),
        },
        Figure(rate, "kg/ha"),
        f"lime-fineness-tri;{lime.source}",
        lime.name,
        note="the bag's own neutralising value and fineness go before these",
    )
    scale = rate / need.rate_kg_per_ha
    supplies = {"CaCO3": rate * lime.effective_neutralising_value} | _elements(lime, rate)
    return Choice(
        need=need,
        material=lime,
        rate_kg_per_ha=rate,
        low_kg_per_ha=need.low_kg_per_ha * scale,
        high_kg_per_ha=need.high_kg_per_ha * scale,
        supplies=supplies,
        price_per_kg=shop.price_per_kg(lime),
        why=why,
        working=(*need.working, step),
    )


def choose_sulfur(need: Need, shop: AvailableProducts) -> Choice | Unmet:
    """The sulfur with the lowest price per kilogram of S; stock first. Source: definition.

    Rates in kg/ha.

    >>> from agronomy.intake.example import needs, shop
    >>> from dataclasses import replace
    >>> need = replace(needs()[0], what="S_acid", rate_kg_per_ha=300)
    >>> choose_sulfur(need, shop()).material.key
    'sulfur_prills'
    """
    sulfurs = shop.with_role("acidifier")
    if not sulfurs:
        return Unmet("S_acid", need.rate_kg_per_ha, say("There is no sulfur among the materials that may be used."))
    wanted = need.rate_kg_per_ha * need.share_now
    sulfur = min(sulfurs, key=lambda item: (not shop.goes_first(item, wanted / item.s * 100), shop.price_per_kg(item) / item.s, item.key))
    purity = sulfur.s / 100
    rate = need.rate_kg_per_ha * need.share_now / purity
    step = Step(
        "product needed",
        "sulfur / purity",
        {"sulfur": Figure(need.rate_kg_per_ha * need.share_now, "kg/ha"), "purity": Figure(purity, "fraction")},
        Figure(rate, "kg/ha"),
        sulfur.source,
        sulfur.name,
    )
    scale = rate / need.rate_kg_per_ha
    why = _first(sulfur, rate, shop) or say("It has the lowest price for a kilogram of sulfur.")
    return Choice(
        need=need,
        material=sulfur,
        rate_kg_per_ha=rate,
        low_kg_per_ha=need.low_kg_per_ha * scale,
        high_kg_per_ha=need.high_kg_per_ha * scale,
        supplies={"S_acid": rate * purity},
        price_per_kg=shop.price_per_kg(sulfur),
        why=why,
        working=(*need.working, step),
    )


def _elements(material: Material, rate_kg_per_ha: float) -> dict[str, float]:
    return {nutrient: share * rate_kg_per_ha for nutrient, share in material.share.items()}
