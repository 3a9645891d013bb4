"""What the ground is given beside bought fertilizer: each source its own line, which its owner can count or leave out.

Lines that come of themselves are soil organic matter, a fresh nitrate test, what the crop before leaves, and what the log's manures of
earlier years still give; the rest is told in the request.
"""

from collections.abc import Iterable
from datetime import date, timedelta

from agronomy.base.required import required
from agronomy.base.said import Measure, say
from agronomy.base.uncertainty import band
from agronomy.base.working import Figure, Step
from agronomy.model.application_record import ApplicationRecord
from agronomy.model.credit import Credit, CreditSource
from agronomy.model.harvest import Harvest
from agronomy.model.reading import Reading
from agronomy.model.soil import Soil
from agronomy.recommend.nutrients.carried import carried_by
from agronomy.recommend.nutrients.crop_history import by_history, credit_of_crop_before
from agronomy.recommend.nutrients.years import years_between
from agronomy.tables import Tables
from agronomy.tables.material import K_IN_K2O, P_IN_P2O5
from agronomy.tables.rooms.nitrogen import ManureRow

AUTOMATIC = {
    "organic_matter": "soil organic matter",
    "nitrate": "nitrate in the ground",
    "carried": say("manure and compost of earlier years"),
    "water": "nitrate in your water",
    "history": "the crop before it",
}
AUTUMN = (9, 10, 11, 12)  # northern months in which ammonium is spread for the next year's crop


def counted(credits: Iterable[Credit], nutrient: str, *, beside: tuple[str, ...] = ()) -> tuple[float, float, float]:
    """Sum of the counted credits of a nutrient [kg/ha]: value, low, high; without those whose key is in `beside`. Source: definition.

    >>> counted((), "N")
    (0, 0.0, 0.0)
    """
    lines = [credit for credit in credits if credit.counted and credit.nutrient == nutrient and credit.key not in beside]
    total = sum(credit.kg_per_ha for credit in lines)
    low, high = band(total, *((total - credit.kg_per_ha + credit.low, total - credit.kg_per_ha + credit.high) for credit in lines))
    return total, low, high


def organic_matter_nitrogen(soil: Soil, tables: Tables, organic_matter_pct: float | None = None) -> tuple[float, float, float]:
    """Nitrogen [kg/ha] that soil organic matter gives in the crop's time: value, low, high; the soil's own, or so much [%] of it.

    Source: n-organic-matter.

    >>> from agronomy.intake.example import soil, tables
    >>> [round(part) for part in organic_matter_nitrogen(soil(), tables)]
    [56, 28, 84]
    """
    figures = tables.nutrients
    share, rate, time = figures.nitrogen_in_organic_matter, figures.mineralised_a_year, figures.share_in_crop_time
    humus_pct = soil.organic_matter_pct if organic_matter_pct is None else organic_matter_pct
    stock_kg_per_ha = soil.soil_mass_t_per_ha * 1000 * humus_pct / 100 * share.value
    cap = figures.organic_matter_n_cap_kg_per_ha.value
    value, low, high = (min(cap, stock_kg_per_ha * part * time.value) for part in (rate.value, rate.low, rate.high))
    return value, low, high


def credits_for(
    gifts: tuple[CreditSource, ...],
    readings: dict[str, Reading],
    soil: Soil,
    *,
    uncounted: frozenset[str],
    today: date,
    crop_from: date,
    south: bool,
    tables: Tables,
    done: tuple[ApplicationRecord, ...] = (),
    nitrate: tuple[Reading, ...] = (),
    watering_mm: float | None = None,
    harvests: tuple[Harvest, ...] = (),
) -> tuple[Credit, ...]:
    """All credits of a plot, the automatic ones first. `crop_from` is the day from which years since a gift are counted; `nitrate` the
    readings of nitrate in all depths; `watering_mm` what is watered in a season [mm]; `harvests` the crops that stood before.

    Source: each credit's own.
    Credits in kg/ha.

    >>> from agronomy.intake.example import soil, tables
    >>> today = date(2027, 3, 1)
    >>> credits_for((), {}, soil(), uncounted=frozenset(), today=today, crop_from=today, south=False, tables=tables)[0].key
    'organic_matter'
    """
    lines = [_organic_matter(soil, "organic_matter" not in uncounted, tables)]
    layers = nitrate_layers(nitrate)
    if layers:
        lines.append(_nitrate(layers, soil, "nitrate" not in uncounted, today, tables))
    if "water NO3-N" in readings and watering_mm and not any(gift.kind == "water" for gift in gifts):
        nitrate_n = readings["water NO3-N"].value
        lines.append(_watered("water", AUTOMATIC["water"], nitrate_n, watering_mm, is_counted="water" not in uncounted, tables=tables))
    lines += by_history(harvests, gifts, crop_from, tables, is_counted="history" not in uncounted)
    lines += _carried(done, "carried" not in uncounted, today, crop_from, tables)
    tested = {nutrient: readings[nutrient].taken for nutrient in ("P", "K") if nutrient in readings}
    for place, gift in enumerate(gifts):
        lines += _GIVES[gift.kind](str(place), gift, tested, crop_from, south, tables)
    return tuple(lines)


def _organic_matter(soil: Soil, is_counted: bool, tables: Tables) -> Credit:
    (given, low, high), figures = organic_matter_nitrogen(soil, tables), tables.nutrients
    step = Step(
        "nitrogen from organic matter",
        "min(most that counts, layer × 10 × organic matter × nitrogen in it × rotting in a year × share in the crop's time)",
        {
            "layer": Figure(soil.soil_mass_t_per_ha, "t/ha"),
            "organic matter": Figure(soil.organic_matter_pct, "%"),
            "nitrogen in it": Figure.of(figures.nitrogen_in_organic_matter),
            "rotting in a year": Figure.of(figures.mineralised_a_year),
            "share in the crop's time": Figure.of(figures.share_in_crop_time),
            "most that counts": Figure.of(figures.organic_matter_n_cap_kg_per_ha),
        },
        Figure(given, "kg/ha"),
        "n-organic-matter",
        note="" if soil.organic_matter_known else "organic matter was not tested: an ordinary figure is used",
    )
    return Credit(
        key="organic_matter",
        nutrient="N",
        name=AUTOMATIC["organic_matter"],
        kg_per_ha=given,
        low=low,
        high=high,
        counted=is_counted,
        why=say("It rots while the crop grows."),
        working=(step,),
    )


def nitrate_layers(readings: tuple[Reading, ...]) -> tuple[Reading, ...]:
    """Of the readings of nitrate [mg/kg] those of the latest day, one for each layer, the topmost first. Source: definition.

    >>> nitrate_layers(())
    ()
    """
    latest = max((reading.taken or date.min for reading in readings), default=None)
    by_layer = {(reading.top_cm or 0.0, reading.bottom_cm): reading for reading in readings if (reading.taken or date.min) == latest}
    return tuple(by_layer[key] for key in sorted(by_layer, key=lambda key: (key[0], key[1] or 0.0)))


def _nitrate(layers: tuple[Reading, ...], soil: Soil, is_counted: bool, today: date, tables: Tables) -> Credit:
    """Nitrate of all sampled layers, each by its own depth; a sample without one is of the layer that is treated."""
    figures, taken = tables.nitrogen, layers[0].taken
    share = figures.nitrate_counted
    stale = taken is None or (today - taken).days > figures.nitrate_days.value
    value, low, high, steps = 0.0, 0.0, 0.0, []
    for reading in layers:
        depth = reading.bottom_cm - (reading.top_cm or 0.0) if reading.bottom_cm else soil.depth_cm
        layer = soil.bulk_density_g_per_cm3 * depth * 0.1
        given = reading.value * layer * share.value
        value, low, high = value + given, low + reading.low * layer * share.low, high + reading.high * layer * share.high
        where = (
            say(", {value:g} to {bottom:g}", value=Measure(reading.top_cm or 0, "cm", bare=True), bottom=Measure(reading.bottom_cm, "cm"))
            if reading.bottom_cm
            else ""
        )
        steps.append(
            Step(
                f"nitrate in the layer{where}",
                "test × bulk density × depth × counted share / 10",
                {
                    "test": Figure(reading.value, "mg/kg"),
                    "bulk density": Figure(soil.bulk_density_g_per_cm3, "g/cm3"),
                    "depth": Figure(depth, "cm"),
                    "counted share": Figure.of(share),
                },
                Figure(given, "kg/ha"),
                share.source,
                share.where,
            )
        )
    if taken is None:
        why = say("Not counted: nobody said when it was sampled, and nitrate moves with every rain.")
    elif stale:
        why = say("Not counted: the test is too old, nitrate moves with every rain.")
    else:
        why = say("Rain before the crop is up washes some of it down.")
    return Credit(
        key="nitrate",
        nutrient="N",
        name=AUTOMATIC["nitrate"],
        kg_per_ha=value,
        low=low,
        high=high,
        counted=is_counted and not stale,
        why=why,
        working=tuple(steps),
    )


def _carried(done: tuple[ApplicationRecord, ...], is_counted: bool, today: date, crop_from: date, tables: Tables) -> list[Credit]:
    """What the log's manures of earlier years still give; this season's come off the need itself."""
    given, steps = carried_by(done, crop_from, today - timedelta(days=tables.choice.done_season_days.value), tables)
    if not steps:
        return []
    spread = tables.nitrogen.manure_spread.value
    why = say("By your log: what rots in its second and third year. Leave it out where you told of the same manure yourself.")
    return [
        Credit(
            key="carried",
            nutrient="N",
            name=AUTOMATIC["carried"],
            kg_per_ha=given,
            low=given * (1 - spread),
            high=given * (1 + spread),
            counted=is_counted,
            why=why,
            working=steps,
        )
    ]


def _crop_before(key: str, gift: CreditSource, tested: dict, crop_from: date, south: bool, tables: Tables) -> list[Credit]:
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


def _green_manure(key: str, gift: CreditSource, tested: dict, crop_from: date, south: bool, tables: Tables) -> list[Credit]:
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


def _manure(key: str, gift: CreditSource, tested: dict, crop_from: date, south: bool, tables: Tables) -> list[Credit]:
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


def _from_manure(key: str, nutrient: str, gift: CreditSource, row: ManureRow, name: str, tested: dict, tables: Tables) -> Credit:
    """Phosphorus or potassium of a manure, unless the soil test has seen it already."""
    oxide, share, content = ("P2O5", P_IN_P2O5, row.p2o5_kg_per_t) if nutrient == "P" else ("K2O", K_IN_K2O, row.k2o_kg_per_t)
    figure, spread = (
        (tables.nitrogen.manure_p_counted if nutrient == "P" else tables.nitrogen.manure_k_counted),
        tables.nitrogen.manure_spread.value,
    )
    given = required(gift.t_per_ha) * content * figure.value * share
    seen = gift.on is not None and tested.get(nutrient) is not None and tested[nutrient] > gift.on
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


def _water(key: str, gift: CreditSource, tested: dict, crop_from: date, south: bool, tables: Tables) -> list[Credit]:
    name = gift.name or "irrigation water"
    return [_watered(key, name, required(gift.nitrate_n_mg_per_l), required(gift.water_mm), is_counted=gift.counted, tables=tables)]


def _watered(key: str, name: str, nitrate_n_mg_per_l: float, water_mm: float, *, is_counted: bool, tables: Tables) -> Credit:
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


def _straw(key: str, gift: CreditSource, tested: dict, crop_from: date, south: bool, tables: Tables) -> list[Credit]:
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
