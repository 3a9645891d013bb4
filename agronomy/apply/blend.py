"""An own blend: what it really holds by weight, what it does to pH, how it gives its nitrogen, what it costs, how long it keeps."""

from agronomy.base.errors import OutOfRange, check_range
from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.dose.household import say_scoops
from agronomy.products.compatibility import Clash, clashes
from agronomy.recommend.nutrients.release import released_by
from agronomy.tables import Tables
from agronomy.tables.material import Material, usable_shares

WEEKS = (2, 4, 8, 12, 16, 26)
CONTENTS = ("n", "p2o5", "k2o", "ca", "mg", "s")


@record
class BlendPart:
    """One material and its parts, by volume (scoops) or by weight."""

    material: Material
    parts: float


@record(kw_only=True)
class Blend:
    """A blend: weight shares in the order of its parts, contents [% by weight], lime effect [kg CaCO3 to 100 kg], weight of a litre [kg],
    salt index, price [a kg], nitrogen given after WEEKS [% of all its nitrogen], months it keeps, and what in it does not go together.
    """

    parts: tuple[BlendPart, ...]
    shares: tuple[float, ...]
    contents: dict[str, float]
    usable: dict[str, float]
    cce: float
    density_g_per_ml: float
    salt_index: float | None
    price_per_kg: float
    release: tuple[float, ...]
    keeps_months: int
    keeps_why: str
    clashes: tuple[Clash, ...]
    is_organic_allowed: bool


def blend(parts: list[BlendPart], by: str, prices: dict[str, float], tables: Tables, *, warmth_c: float = 15.0) -> Blend:
    """The blend of some parts, `by` "scoop" (equal volumes) or "weight". `prices` [own money per kg] go before the list's.

    Raises OutOfRange for fewer than two parts, or parts that are nought, below zero or more than 1000. Source: definition.

    >>> from agronomy.intake.example import tables
    >>> feather, kelp = tables.materials["feather_meal"], tables.materials["kelp_meal"]
    >>> round(blend([BlendPart(feather, 2), BlendPart(kelp, 1)], "weight", {}, tables).contents["n"], 1)
    8.3
    """
    if len(parts) < 2:
        raise OutOfRange("parts", len(parts), "a blend has two parts or more", "add another material")
    for part in parts:
        check_range(f"parts of {part.material.name}", part.parts, low=0.001, high=1000)
    weights = [part.parts * (part.material.density_g_per_ml if by == "scoop" else 1.0) for part in parts]
    whole = sum(weights)
    shares = tuple(weight / whole for weight in weights)
    pairs = list(zip(parts, shares, strict=True))

    def mean(of) -> float:
        return sum(of(part.material) * share for part, share in pairs)

    contents = {name: mean(lambda item, name=name: getattr(item, name)) for name in CONTENTS}
    usable = {key: mean(lambda item, key=key: usable_shares(item).get(key, 0.0) * 100) for key in ("N", "P", "K", "Ca", "Mg", "S")}
    indices = [(part.material.salt_index, share) for part, share in pairs]
    known = [(index, share) for index, share in indices if index is not None]
    months, why = _keeps([part.material for part in parts], tables)
    return Blend(
        parts=tuple(parts),
        shares=shares,
        contents=contents,
        usable=usable,
        cce=mean(lambda item: item.cce),
        density_g_per_ml=whole / sum(weight / part.material.density_g_per_ml for part, weight in zip(parts, weights, strict=True)),
        salt_index=sum(index * share for index, share in known) if known else None,
        price_per_kg=mean(lambda item: prices.get(item.key, item.list_price_per_kg)),
        release=tuple(_released(pairs, weeks, warmth_c, contents["n"], tables) for weeks in WEEKS),
        keeps_months=months,
        keeps_why=why,
        clashes=tuple(clashes([part.material for part in parts], tables)),
        is_organic_allowed=all(part.material.is_organic_allowed for part in parts),
    )


def _released(pairs: list[tuple[BlendPart, float]], weeks: float, warmth_c: float, nitrogen: float, tables: Tables) -> float:
    if nitrogen <= 0:
        return 0.0
    return 100 * sum(part.material.n * share * released_by(part.material, weeks, warmth_c, tables) for part, share in pairs) / nitrogen


def _keeps(materials: list[Material], tables: Tables) -> tuple[int, str]:
    """Months a blend keeps dry and closed, and what shortens it."""
    figures = tables.organics
    damp = [item.name for item in materials if item.hygroscopic == "high" or item.form == "liquid"]
    if damp:
        return int(figures.keep_damp_months.value), say("{damp} draws water or is damp: mix what you use at once", damp=damp[0])
    if any(item.rule == "natural" for item in materials):
        return int(figures.keep_meal_months.value), say("meals turn rancid and draw mice: dry, closed, out of reach of pets")
    return int(figures.keep_mineral_months.value), say("minerals keep as long as they stay dry")


@record
class Batch:
    """A batch to fill a bin: kilos of each part, its whole weight, what it costs, how often to scoop each part where it goes by scoops."""

    kg: tuple[float, ...]
    total_kg: float
    cost: float
    litres: tuple[float, ...]


def batch(made: Blend, bin_l: float) -> Batch:
    """A batch that fills a bin [L]. Mixing settles it a little: the bin is not quite full.

    Raises OutOfRange for a bin outside 0.2 to 20 000 L.
    """
    check_range("bin", bin_l, low=0.2, high=20_000, unit="L")
    total = bin_l * made.density_g_per_ml
    kg = tuple(total * share for share in made.shares)
    return Batch(
        kg,
        total,
        total * made.price_per_kg,
        tuple(weight / part.material.density_g_per_ml for part, weight in zip(made.parts, kg, strict=True)),
    )


def per_plant(made: Blend, nitrogen_g: float, system: str) -> tuple[float, str | None]:
    """Grams of the blend that bring a plant so much usable nitrogen [g], and the same by level measures.

    Raises OutOfRange where it has none. Source: definition.
    """
    if made.usable["N"] <= 0:
        raise OutOfRange("nitrogen", nitrogen_g, "this blend gives no nitrogen in its first year", "add a part that does")
    grams = nitrogen_g / (made.usable["N"] / 100)
    return grams, say_scoops(grams / made.density_g_per_ml, system)


def beside_bought(made: Blend, bag: Material, price_per_kg: float) -> float | None:
    """How many times the price of a bought bag the blend costs, for a kilogram of N, P2O5 and K2O together; None where either has none.

    Source: definition.
    A factor; prices per kg.
    """
    ours, theirs = (
        sum(contents[name] for name in ("n", "p2o5", "k2o"))
        for contents in (made.contents, {name: getattr(bag, name) for name in CONTENTS})
    )
    return (made.price_per_kg / ours) / (price_per_kg / theirs) if ours > 0 and theirs > 0 and price_per_kg > 0 else None
