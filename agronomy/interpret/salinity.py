"""Salt and sodium: conductivity brought to the saturated paste and read against what the crop bears, sodium as a share of the exchange
capacity.
"""

from agronomy.base.said import Measure, say
from agronomy.base.uncertainty import band
from agronomy.base.working import Figure, Step
from agronomy.interpret.nutrients import NoRule
from agronomy.model.answers import Nothing, Unmet
from agronomy.model.finding import Finding
from agronomy.model.reading import Reading
from agronomy.model.soil import Soil
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.salinity import EcFactor

SALT = ("EC", "Na", "SAR")


def judge_salt(readings: dict[str, Reading], crop: Crop, soil: Soil, tables: Tables) -> list[Finding | NoRule]:
    """Findings on salt ("EC") and sodium ("Na", in % of the exchange capacity), as far as there are readings for them.

    Source: maas-hoffman, richards-1954.

    >>> from agronomy.intake.example import bed, found, soil, tables
    >>> judge_salt(found().readings, bed().crop, soil(), tables)
    []
    """
    found: list[Finding | NoRule] = []
    salt = _judge_conductivity(readings["EC"], crop, soil, tables) if "EC" in readings else None
    if salt is not None:
        found.append(salt)
    sodium = _judge_sodium(readings, soil, salt.value if isinstance(salt, Finding) else None, tables)
    return found + ([sodium] if sodium is not None else [])


def yield_at(ec_paste: float, crop: Crop, tables: Tables) -> tuple[float, float, bool]:
    """Yield [% of the best] at a conductivity of the saturated paste [dS/m], the crop's threshold, and whether the table has the crop.

    Source: maas-hoffman.

    >>> from agronomy.intake.example import bed, tables
    >>> [round(part) for part in yield_at(4.0, bed("spring_barley").crop, tables)[:2]]
    [100, 8]
    """
    row, figures = tables.salinity.tolerance.get(crop.key), tables.salinity
    threshold = row.threshold_ds_per_m if row else figures.unlisted_threshold.value
    slope = row.slope_pct if row else figures.unlisted_slope.value
    return min(100.0, max(0.0, 100 - slope * (ec_paste - threshold))), threshold, row is not None


def leaching_share(ec_water: float, threshold: float, tables: Tables) -> float | None:
    """The share of the water [fraction] that must run through the root zone so that salt stays at what a crop bears, from the water's
    and the paste's conductivity [dS/m]; None where the water is too salty for this crop. Source: fao-29.

    >>> from agronomy.intake.example import tables
    >>> round(leaching_share(1.5, 1.7, tables), 2)
    0.21
    >>> leaching_share(3.2, 1.0, tables) is None
    True
    """
    borne = tables.salinity.leaching_times_threshold.value * threshold
    share = ec_water / (borne - ec_water) if ec_water < borne else 1.0
    return share if share <= tables.salinity.most_leaching.value else None


SODIUM_AT_ZERO, SODIUM_PER_SAR = -0.0126, 0.01475  # exchangeable sodium to the other cations, by SAR (richards-1954)


def exchangeable_sodium_from_sar(sar: float) -> float:
    """Exchangeable sodium [% of the exchange capacity] from the paste extract's SAR, 2 to 40. Source: richards-1954.

    >>> round(exchangeable_sodium_from_sar(6.9282), 2)
    8.22
    """
    x = SODIUM_AT_ZERO + SODIUM_PER_SAR * sar
    return 100 * x / (1 + x)


def gypsum_t_per_ha(cec: float, sodium_pct: float, target_pct: float, soil_mass_t_per_ha: float, tables: Tables) -> float:
    """Pure gypsum [t/ha] that brings sodium from one share of the exchange capacity [cmol/kg] to another. Source: richards-1954.

    Nothing where the share is low enough already; raises nothing.

    >>> from agronomy.tables import load_tables
    >>> round(gypsum_t_per_ha(20, 15, 5, 2000, load_tables()), 2)
    3.44
    """
    return max(0.0, cec * (sodium_pct - target_pct) / 100 * tables.salinity.gypsum_kg_per_molc.value * 1e-2 * soil_mass_t_per_ha)


def _salt_steps(
    value: float,
    row: EcFactor,
    relative: float,
    is_listed: bool,
    slope: float,
    threshold: float,
    crop: Crop,
    reading: Reading,
    soil: Soil,
    tables: Tables,
) -> tuple[Step, ...]:
    return (
        Step(
            "in the saturated paste",
            "reading × factor",
            {"reading": Figure(reading.value, "dS/m"), "factor": Figure(row.factor, "times", row.source), "texture": Figure(soil.texture)},
            Figure(value, "dS/m"),
            row.source,
            row.where,
            note="" if soil.texture_known or row.texture == "*" else "the texture is not known: taken as loam",
        ),
        Step(
            "yield at this salt",
            "max(0, min(100, 100 − slope × (conductivity − threshold)))",
            {"slope": Figure(slope, "% per dS/m"), "conductivity": Figure(value, "dS/m"), "threshold": Figure(threshold, "dS/m")},
            Figure(relative, "%"),
            "maas-hoffman",
            crop.name if is_listed else tables.salinity.unlisted_threshold.where,
        ),
    )


def _salt_ends(bears: str, relative: float) -> dict[str, str]:
    return {
        "right": say(", and {bears}.", bears=bears),
        "salty": (
            say(
                "; {bears}, and would yield about {relative:.0f} % here. Wash it down with good water before you feed, not with the feed.",
                bears=bears,
                relative=relative,
            )
        ),
        "too_salty": (
            say(
                "; {bears}, and would yield no more than about {relative:.0f} % here. Look for its cause in water, manure "
                "or drainage before anything is spread.",
                bears=bears,
                relative=relative,
            )
        ),
    }


def _judge_conductivity(reading: Reading, crop: Crop, soil: Soil, tables: Tables) -> Finding | NoRule:
    row = tables.salinity.ec_factors.get((reading.method, soil.texture)) or tables.salinity.ec_factors.get((reading.method, "*"))
    if row is None:
        return NoRule(
            "EC",
            say("the report does not say how much water the soil was stirred into, and that changes conductivity tenfold"),
            say("ask the laboratory: 1:1, 1:2, 1:5 or saturated paste"),
        )
    value = reading.value * row.factor
    low, high = band(
        value,
        (reading.low * row.factor, reading.high * row.factor),
        (reading.value * row.low, reading.value * row.high),
    )
    relative, threshold, is_listed = yield_at(value, crop, tables)
    slope = tables.salinity.tolerance[crop.key].slope_pct if is_listed else tables.salinity.unlisted_slope.value
    worst = threshold + (100 - tables.salinity.far_too_salty_yield_pct.value) / slope
    class_ = "right" if value <= threshold else "salty" if value <= worst else "too_salty"
    said = say("Salt in the ground: {value:.1f} dS/m in the saturated paste", value=value)
    bears = (
        f"{crop.name} bears {threshold:g}"
        if is_listed
        else say("{crop}, not in the table, is judged as sensitive, which tolerates {threshold:g}", crop=crop.name, threshold=threshold)
    )
    ends = _salt_ends(bears, relative)
    steps = _salt_steps(value, row, relative, is_listed, slope, threshold, crop, reading, soil, tables)
    return Finding(
        analyte="EC",
        name="Salt",
        class_=class_,
        value=value,
        low=max(0.0, low),
        high=high,
        unit="dS/m",
        wanted=(0.0, threshold),
        scale=(0.0, worst),
        why=said + ends[class_],
        method=reading.method,
        qualifier=reading.qualifier,
        act=True,
        expected=None,
        working=(*reading.steps, *steps),
    )


def _sodium_share(readings: dict[str, Reading], soil: Soil, tables: Tables) -> tuple[Reading, float, float, float, Step] | NoRule | None:
    """Sodium's share of the exchange capacity [%] with its band and step, by sodium itself or by SAR."""
    figures = tables.salinity
    if "Na" in readings:
        reading = readings["Na"]
        per_cmol = tables.analytes["Na"].per_cmol
        value, low, high = (amount / per_cmol / soil.cec_cmol_per_kg * 100 for amount in (reading.value, reading.low, reading.high))
        step = Step(
            "share of the exchange capacity",
            "100 × sodium / weight of its charge / exchange capacity",
            {
                "sodium": Figure(reading.value, "mg/kg"),
                "weight of its charge": Figure(per_cmol, "mg per cmol", "definition"),
                "exchange capacity": Figure(soil.cec_cmol_per_kg, "cmol/kg"),
            },
            Figure(value, "%"),
            "definition",
            note="" if soil.cec_known else "the exchange capacity is estimated, within about 30 %",
        )
        if not soil.cec_known:
            low, high = band(value, (low, high), (value * 0.7, value * 1.3))
    elif "SAR" in readings:
        reading = readings["SAR"]
        if not figures.least_sar.value <= reading.value <= figures.most_sar.value:
            return NoRule(
                "SAR",
                say("a sodium adsorption ratio of {reading:g} is outside 2 to 40, where the equation holds", reading=reading.value),
                "have exchangeable sodium tested",
            )
        value, low, high = (exchangeable_sodium_from_sar(sar) for sar in (reading.value, reading.low, reading.high))
        ratio = {
            "SAR": Figure(reading.value),
            "at zero": Figure(SODIUM_AT_ZERO, "", "richards-1954"),
            "for each": Figure(SODIUM_PER_SAR, "", "richards-1954"),
        }
        formula = "100 × (at zero + for each × SAR) / (1 + at zero + for each × SAR)"
        step = Step("sodium from SAR", formula, ratio, Figure(value, "%"), "richards-1954")
    else:
        return None
    return reading, value, low, high, step


def _judge_sodium(readings: dict[str, Reading], soil: Soil, ec_paste: float | None, tables: Tables) -> Finding | NoRule | None:
    figures = tables.salinity
    share = _sodium_share(readings, soil, tables)
    if share is None or isinstance(share, NoRule):
        return share
    reading, value, low, high, step = share
    rising, sodic = figures.sodium_rising_from_pct.value, figures.sodic_from_pct.value
    class_ = "right" if value < rising else "sodium_rising" if value < sodic else "sodic"
    kind = _kind(value >= sodic, ec_paste, figures)
    why = {
        "right": say("Sodium fills {value:.1f} % of the exchange capacity: no harm to structure.", value=value),
        "sodium_rising": (
            say(
                "Sodium fills {value:.1f} % of the exchange capacity: from {rising:g} % on some soils slake, crust and drain badly.",
                value=value,
                rising=rising,
            )
        ),
        "sodic": say(
            "Sodium fills {value:.1f} % of the exchange capacity{kind}: the ground slakes, crusts and drains badly.", value=value, kind=kind
        ),
    }[class_]
    return Finding(
        analyte="Na",
        name="Sodium",
        class_=class_,
        value=value,
        low=max(0.0, low),
        high=high,
        unit="%",
        wanted=(0.0, rising),
        scale=(0.0, sodic),
        why=why,
        method=reading.method,
        qualifier=reading.qualifier,
        act=True,
        expected=None,
        working=(*reading.steps, step),
    )


def _kind(is_sodic: bool, ec_paste: float | None, figures) -> str:
    if not is_sodic or ec_paste is None:
        return ""
    return say(", in salty ground (saline-sodic)") if ec_paste >= figures.saline_from.value else ", without much salt (sodic)"


def salt_answers(found: dict[str, Finding], soil: Soil, tables: Tables) -> list[Nothing | Unmet]:
    """What to do about salt and sodium; told, not dosed: without drainage and clean water no dressing helps. Source: richards-1954.

    Needs of gypsum in kg/ha; leaching in mm of water.

    >>> from agronomy.intake.example import found, soil, tables
    >>> salt_answers(found().salt, soil(), tables)
    []
    """
    answers: list[Nothing | Unmet] = []
    if "EC" in found:
        sodic = "Na" in found and found["Na"].class_ == "sodic"
        if found["EC"].class_ == "right" and sodic:
            pass  # its salt is borne, but the sodium still has to leave with the water
        elif found["EC"].class_ == "right":
            answers.append(Nothing("EC", say("Leaching: there is no more salt than the crop tolerates.")))
        else:
            answers.append(
                Unmet(
                    "EC",
                    0.0,
                    (
                        say(
                            "No dressing takes salt away: water that carries less of it, and somewhere for it to drain to, do. Feed "
                            "lightly, with materials of low salt, and test again after washing."
                        )
                    ),
                )
            )
    if "Na" in found and found["Na"].class_ == "sodic":
        finding, target = found["Na"], tables.salinity.gypsum_to_pct.value
        amount = gypsum_t_per_ha(soil.cec_cmol_per_kg, finding.value, target, soil.soil_mass_t_per_ha, tables)
        instead = say(" This ground holds lime, so sulfur would make gypsum in place.") if soil.free_lime else ""
        answers.append(
            Unmet(
                "Na",
                amount * 1000,
                (
                    say(
                        "About {amount:.1f} of pure gypsum would bring sodium to {target:g} %, and {150 to 300 mm} of good water "
                        "must then carry it down.{instead} Only where the ground drains: take advice first. This plan doesn't "
                        "dose it.",
                        amount=Measure(amount, "t/ha"),
                        target=target,
                        instead=instead,
                    )
                ),
            )
        )
    return answers
