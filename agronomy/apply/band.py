"""How much fertilizer a row bears beside or with its seed before salt and ammonia scorch it."""

from agronomy.base.errors import check_range
from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.model.soil import Soil
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.material import Material

PLACES = {
    "seed": say("in the furrow with the seed"),
    "close": say("closer than {5 cm} to the seed"),
    "band": say("{5 cm} beside and {5 cm} below the seed"),
}


@record(kw_only=True)
class BandCheck:
    """What a row bears and what this product would put there, both in grams of N and K2O to the metre; `kg_per_ha` is the most of the
    product.

    `verdict` is "never", "too much", "with care" or "safe"; `why` says it in a sentence.
    """

    limit_g_per_m: float
    found_g_per_m: float
    product_g_per_m: float
    most_kg_per_ha: float | None
    verdict: str
    why: str
    steps: tuple[Step, ...]


def seed_limit(crop: Crop, soil: Soil, tables: Tables) -> float:
    """Most N and K2O with the seed [g per metre of row]; nought for a crop that the table has not. Source: band-limits.

    >>> from agronomy.intake.example import bed, soil, tables
    >>> round(seed_limit(bed("maize").crop, soil(), tables), 2)
    0.68
    """
    row = tables.spread.seed_limits.get(crop.key)
    return _between(row.low_capacity, row.high_capacity, soil, tables) if row else 0.0


def band_limit(soil: Soil, tables: Tables) -> float:
    """Most N and K2O in a band beside and below the seed [g per metre of row]. Source: band-limits.

    >>> from agronomy.intake.example import soil, tables
    >>> round(band_limit(soil(), tables), 2)
    10.7
    """
    return _between(tables.spread.band_low_capacity.value, tables.spread.band_high_capacity.value, soil, tables)


def _between(low: float, high: float, soil: Soil, tables: Tables) -> float:
    """By exchange capacity: the low figure on light ground, the high one on heavy, in proportion between."""
    start, end = tables.spread.low_capacity_below.value, tables.spread.high_capacity_from.value
    return low + (high - low) * min(1.0, max(0.0, (soil.cec_cmol_per_kg - start) / (end - start)))


def check_band(
    material: Material,
    rate_kg_per_ha: float,
    crop: Crop,
    soil: Soil,
    tables: Tables,
    *,
    place: str,
    row_spacing_m: float,
    furrow_m: float = 0.025,
    dry: bool,
) -> BandCheck:
    """Whether a rate of product [kg/ha] is safe in the row, by place (see PLACES), row spacing and furrow width [m], and moisture.

    Raises OutOfRange for a spacing outside 0.05 to 10 m. Source: band-limits; valid for granular products, seedlings and young plants.

    >>> from agronomy.intake.example import bed, soil, tables
    >>> check_band(tables.materials["urea"], 20, bed("maize").crop, soil(), tables, place="band", row_spacing_m=0.75, dry=False).verdict
    'safe'
    """
    check_range("row spacing", row_spacing_m, low=0.05, high=10, unit="m")
    figures = tables.spread
    limit = band_limit(soil, tables) if place == "band" else seed_limit(crop, soil, tables)
    if place == "seed":
        limit *= min(figures.furrow_most.value, max(1.0, furrow_m / row_spacing_m / figures.furrow_share.value))
    if dry:
        limit *= figures.dry_share.value
    product = rate_kg_per_ha * 0.1 * row_spacing_m
    salt_share = (material.n + material.k2o) / 100
    found = product * salt_share
    most = limit / salt_share / (0.1 * row_spacing_m) if salt_share else None
    verdict, why = _verdict(material, crop, place, found, limit, tables)
    steps = (
        Step(
            "in the metre of row",
            "rate × row spacing × nitrogen and potash / 10",
            {
                "rate": Figure(rate_kg_per_ha, "kg/ha"),
                "row spacing": Figure(row_spacing_m, "m"),
                "nitrogen and potash": Figure(salt_share, "fraction"),
            },
            Figure(found, "g/m"),
            "definition",
        ),
        Step(
            "what the row tolerates",
            "limit by exchange capacity" + (", half in dry ground" if dry else ""),
            {"exchange capacity": Figure(soil.cec_cmol_per_kg, "cmol/kg"), "place": Figure(PLACES[place])},
            Figure(limit, "g/m"),
            "band-limits",
        ),
    )
    return BandCheck(
        limit_g_per_m=limit, found_g_per_m=found, product_g_per_m=product, most_kg_per_ha=most, verdict=verdict, why=why, steps=steps
    )


def _verdict(material: Material, crop: Crop, place: str, found: float, limit: float, tables: Tables) -> tuple[str, str]:
    if place != "band":
        if material.never_with_seed:
            return "never", say("Never with the seed: {never_with_seed}.", never_with_seed=material.never_with_seed)
        if material.chloride_pct > tables.nutrients.chloride_bringer_from_pct.value and crop.chloride_sensitive:
            return "never", say("Never with the seed: {crop} minds chloride.", crop=crop.name)
    if found > limit * 1.0001:
        said = (
            say("This crop tolerates none with the seed.")
            if limit == 0
            else say("More than the row tolerates: less, further away, or broadcast.")
        )
        return "too much", said
    salt = material.salt_index
    if place != "band" and salt is not None and salt > tables.spread.near_seed_salt_index.value and found > 0:
        return (
            "with care",
            (
                say(
                    "Within the limit, but its salt index is {salt:g}: a starter below {near_seed_salt_index:g} is safer near seed.",
                    salt=salt,
                    near_seed_salt_index=tables.spread.near_seed_salt_index.value,
                )
            ),
        )
    return "safe", say("Within what the row tolerates.")
