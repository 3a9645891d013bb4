"""What a grower tells that the ground was given: crops before, green manure, manure, water, straw; each its line or lines."""

from collections.abc import Mapping
from datetime import date
from typing import Any

from agronomy.base.required import required
from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.model.credit import Credit, CreditSource
from agronomy.recommend.nutrients.crop_history import credit_of_crop_before
from agronomy.recommend.nutrients.years import years_between
from agronomy.tables import Tables
from agronomy.tables.material import K_IN_K2O, P_IN_P2O5
from agronomy.tables.rooms.nitrogen import ManureRow

AUTUMN = (9, 10, 11, 12)  # northern months in which ammonium is spread for the next year's crop


def told_credit(
    key: str, gift: CreditSource, tested: Mapping[Any, date | None], crop_from: date, south: bool, tables: Tables
) -> list[Credit]:
    """The lines of what a grower tells, under its place in the request; `tested` is the day of the ground's tests by nutrient.

    Source: each kind's own.
    """
    return _GIVES[gift.kind](key, gift, tested, crop_from, south, tables)


def _crop_before(
    key: str, gift: CreditSource, tested: Mapping[Any, date | None], crop_from: date, south: bool, tables: Tables
) -> list[Credit]:
    return credit_of_crop_before(key, gift.what, gift.on, crop_from, is_counted=gift.counted, tables=tables, name=gift.name)


def green_manure_share(nitrogen_pct: float, tables: Tables) -> float:
    """Share of a green manure's nitrogen that the next crop gets within ten weeks. Source: gale-2006.

    Nothing below 1.4 % nitrogen in its dry matter, half at 3.4 %.

    >>> from agronomy.tables import load_tables
    >>> round(green_manure_share(3.0, load_tables()), 2)
    0.4
    """
    figures = tables.nitrogen
    share = figures.green_manure_at_zero_pct.value + figures.green_manure_per_pct.value * nitrogen_pct
    return min(figures.green_manure_most_pct.value, max(0.0, share)) / 100


def _green_manure(
    key: str, gift: CreditSource, tested: Mapping[Any, date | None], crop_from: date, south: bool, tables: Tables
) -> list[Credit]:
    share, spread = green_manure_share(required(gift.nitrogen_pct), tables), tables.nitrogen.green_manure_spread.value
    given = required(gift.t_per_ha) * 10 * required(gift.nitrogen_pct) * share
    step = Step(
        "from the green manure",
        "dry matter × 10 × nitrogen × share released",
        {
            "dry matter": Figure(required(gift.t_per_ha), "t/ha"),
            "nitrogen": Figure(required(gift.nitrogen_pct), "%"),
            "share released": Figure(share, "fraction"),
        },
        Figure(given, "kg/ha"),
        "gale-2006",
    )
    why = (
        say("Released within about ten weeks of digging in.")
        if share
        else say("It holds too little nitrogen: it gives none in the first weeks, and may hold some back.")
    )
    return [
        Credit(
            key=key,
            nutrient="N",
            name=gift.name or "green manure",
            kg_per_ha=given,
            low=given * (1 - spread),
            high=given * (1 + spread),
            counted=gift.counted,
            why=why,
            working=(step,),
        )
    ]


def _manure(key: str, gift: CreditSource, tested: Mapping[Any, date | None], crop_from: date, south: bool, tables: Tables) -> list[Credit]:
    row, figures = tables.nitrogen.manures[required(gift.what)], tables.nitrogen
    name, year = gift.name or row.name, years_between(gift.on, crop_from) if gift.on else 0
    ammonium = row.ammonium_kg_per_t if gift.ammonium_kg_per_t is None else gift.ammonium_kg_per_t
    organic = row.organic_kg_per_t if gift.organic_kg_per_t is None else gift.organic_kg_per_t
    released = row.mineralised(year)
    kept = tables.nitrogen.worked_in[gift.worked_in].kept if year == 0 else 0.0
    in_autumn = gift.on is not None and year == 0 and (gift.on.month + (6 if south else 0) - 1) % 12 + 1 in AUTUMN and gift.on < crop_from
    if in_autumn:
        kept *= figures.autumn_ammonium_kept.value
    per_t, spread = ammonium * kept + organic * released, figures.manure_spread.value
    given = required(gift.t_per_ha) * per_t
    step = Step(
        "nitrogen from manure",
        "rate × (ammonium × kept + organic × released this year)",
        {
            "rate": Figure(required(gift.t_per_ha), "t/ha"),
            "ammonium": Figure(ammonium, "kg/t"),
            "kept": Figure(kept, "fraction"),
            "organic": Figure(organic, "kg/t"),
            "released this year": Figure(released, "fraction"),
        },
        Figure(given, "kg/ha"),
        row.source,
        row.where,
        note="spread in autumn: half of the ammonium that was kept is lost over winter" if in_autumn else "",
    )
    why = (say("What it gives in its first year."), "Its second year.", "Its third year.", say("It is too long ago."))[min(year, 3)]
    lines = [
        Credit(
            key=key,
            nutrient="N",
            name=name,
            kg_per_ha=given,
            low=given * (1 - spread),
            high=given * (1 + spread),
            counted=gift.counted,
            why=why,
            working=(step,),
        )
    ]
    if year == 0:
        lines += [_from_manure(key, nutrient, gift, row, name, tested, tables) for nutrient in ("P", "K")]
    return lines


def _from_manure(
    key: str, nutrient: str, gift: CreditSource, row: ManureRow, name: str, tested: Mapping[Any, date | None], tables: Tables
) -> Credit:
    """Phosphorus or potassium of a manure, unless the soil test has seen it already."""
    oxide, share, content = ("P2O5", P_IN_P2O5, row.p2o5_kg_per_t) if nutrient == "P" else ("K2O", K_IN_K2O, row.k2o_kg_per_t)
    figure, spread = (
        (tables.nitrogen.manure_p_counted if nutrient == "P" else tables.nitrogen.manure_k_counted),
        tables.nitrogen.manure_spread.value,
    )
    given = required(gift.t_per_ha) * content * figure.value * share
    sampled = tested.get(nutrient)
    seen = gift.on is not None and sampled is not None and sampled > gift.on
    step = Step(
        f"{nutrient} from manure",
        f"rate × {oxide} × counted share × {nutrient} in {oxide}",
        {
            "rate": Figure(required(gift.t_per_ha), "t/ha"),
            oxide: Figure(content, "kg/t"),
            "counted share": Figure.of(figure),
            f"{nutrient} in {oxide}": Figure(share, "fraction", "definition"),
        },
        Figure(given, "kg/ha"),
        figure.source,
        figure.where,
    )
    why = say("Not counted: the soil test was taken after it and has seen it.") if seen else say("It feeds this crop as fertilizer would.")
    return Credit(
        key=key,
        nutrient=nutrient,
        name=name,
        kg_per_ha=given,
        low=given * (1 - spread),
        high=given * (1 + spread),
        counted=gift.counted and not seen,
        why=why,
        working=(step,),
    )


def water_nitrogen(nitrate_n_mg_per_l: float, water_mm: float, tables: Tables) -> float:
    """Nitrogen [kg/ha] that counts from nitrate in irrigation water. Source: n-irrigation.

    For 0 to 60 mg/L; below zero nobody can measure, and nothing is raised.

    >>> from agronomy.tables import load_tables
    >>> round(water_nitrogen(10, 200, load_tables()), 1)
    16.0
    """
    return nitrate_n_mg_per_l * water_mm * 0.01 * tables.nitrogen.water_counted.value


def _water(key: str, gift: CreditSource, tested: Mapping[Any, date | None], crop_from: date, south: bool, tables: Tables) -> list[Credit]:
    name = gift.name or "irrigation water"
    return [watered(key, name, required(gift.nitrate_n_mg_per_l), required(gift.water_mm), is_counted=gift.counted, tables=tables)]


def watered(key: str, name: str, nitrate_n_mg_per_l: float, water_mm: float, *, is_counted: bool, tables: Tables) -> Credit:
    """The line of nitrate [mg/L of nitrogen] in so much water [mm]. Source: n-irrigation.

    >>> from agronomy.intake.example import tables
    >>> round(watered("water", "our well", 10, 200, is_counted=True, tables=tables).kg_per_ha, 1)
    16.0
    """
    given = water_nitrogen(nitrate_n_mg_per_l, water_mm, tables)
    share = tables.nitrogen.water_counted
    step = Step(
        "from the water",
        "nitrate nitrogen × water × counted share / 100",
        {
            "nitrate nitrogen": Figure(nitrate_n_mg_per_l, "mg/L"),
            "water": Figure(water_mm, "mm"),
            "counted share": Figure.of(share),
        },
        Figure(given, "kg/ha"),
        share.source,
        share.where,
    )
    return Credit(
        key=key,
        nutrient="N",
        name=name,
        kg_per_ha=given,
        low=given * 0.8,
        high=given / share.value,
        counted=is_counted,
        why=say("It comes as the crop is watered, so it cannot be saved for later."),
        working=(step,),
    )


def straw_tie_up(tables: Tables) -> tuple[float, float, float]:
    """Nitrogen [kg/t dry straw] that microbes hold back while straw rots: value, low, high. Source: n-tie-up.

    It comes back later than that year, which is not counted; raises nothing.

    >>> from agronomy.tables import load_tables
    >>> [round(part, 1) for part in straw_tie_up(load_tables())]
    [16.5, 10.9, 22.1]
    """
    figures = tables.nitrogen
    kept, carbon = figures.straw_taken_up, figures.straw_carbon_pct.value * 10
    own = figures.straw_nitrogen_pct.value * 10
    value, low, high = (carbon * part / figures.straw_microbe_ratio.value - own for part in (kept.value, kept.low, kept.high))
    return value, low, high


def _straw(key: str, gift: CreditSource, tested: Mapping[Any, date | None], crop_from: date, south: bool, tables: Tables) -> list[Credit]:
    (held, low, high), figures = straw_tie_up(tables), tables.nitrogen
    step = Step(
        "held back by straw",
        "−dry straw × 10 × (carbon × kept by microbes / carbon to nitrogen of microbes − its own nitrogen)",
        {
            "dry straw": Figure(required(gift.t_per_ha), "t/ha"),
            "carbon": Figure.of(figures.straw_carbon_pct),
            "kept by microbes": Figure.of(figures.straw_taken_up),
            "carbon to nitrogen of microbes": Figure.of(figures.straw_microbe_ratio),
            "its own nitrogen": Figure.of(figures.straw_nitrogen_pct),
        },
        Figure(-required(gift.t_per_ha) * held, "kg/ha"),
        "n-tie-up",
    )
    why = say("Dug in, it holds nitrogen back in its first weeks; left on top as mulch it does not.")
    return [
        Credit(
            key=key,
            nutrient="N",
            name=gift.name or "straw dug in",
            kg_per_ha=-required(gift.t_per_ha) * held,
            low=-required(gift.t_per_ha) * high,
            high=-required(gift.t_per_ha) * low,
            counted=gift.counted,
            why=why,
            working=(step,),
        )
    ]


_GIVES = {
    "legume": _crop_before,
    "crop_before": _crop_before,
    "green_manure": _green_manure,
    "manure": _manure,
    "water": _water,
    "straw": _straw,
}
