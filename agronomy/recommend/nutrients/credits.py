"""What the ground is given beside bought fertilizer: each source its own line, which its owner can count or leave out.

Lines that come of themselves are soil organic matter, a fresh nitrate test, what the crop before leaves, and what the log's manures of
earlier years still give; the rest is told in the request.
"""

from collections.abc import Iterable
from datetime import date, timedelta

from agronomy.base.said import Measure, say
from agronomy.base.uncertainty import band
from agronomy.base.working import Figure, Step
from agronomy.model.application_record import ApplicationRecord
from agronomy.model.credit import Credit, CreditSource
from agronomy.model.harvest import Harvest
from agronomy.model.reading import Reading
from agronomy.model.soil import Soil
from agronomy.recommend.nutrients.carried import carried_by
from agronomy.recommend.nutrients.crop_history import by_history
from agronomy.recommend.nutrients.told_credits import told_credit, watered
from agronomy.tables import Tables

AUTOMATIC = {
    "organic_matter": "soil organic matter",
    "nitrate": "nitrate in the ground",
    "carried": say("manure and compost of earlier years"),
    "water": "nitrate in your water",
    "history": "the crop before it",
}


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
        lines.append(watered("water", AUTOMATIC["water"], nitrate_n, watering_mm, is_counted="water" not in uncounted, tables=tables))
    lines += by_history(harvests, gifts, crop_from, tables, is_counted="history" not in uncounted)
    lines += _carried(done, "carried" not in uncounted, today, crop_from, tables)
    tested = {nutrient: readings[nutrient].taken for nutrient in ("P", "K") if nutrient in readings}
    for place, gift in enumerate(gifts):
        lines += told_credit(str(place), gift, tested, crop_from, south, tables)
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
