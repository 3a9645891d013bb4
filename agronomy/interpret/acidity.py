"""Soil pH against what the crop wants."""

from agronomy.base.said import joined, say
from agronomy.base.working import Figure, Step
from agronomy.model.finding import Finding
from agronomy.model.reading import Reading
from agronomy.model.soil import Soil
from agronomy.tables import Tables
from agronomy.tables.crop import Crop

TOOTH_BELOW_WANTED = 2.0  # pH units drawn above the band: where the tooth of a drawing begins
TOO_MUCH_ABOVE_WANTED = 0.8


def ph_range(crop: Crop, soil: Soil, target_ph: float | None, tables: Tables) -> dict[str, float]:
    """The five pH figures that judge and steer a plot: low, lime_to, high, acid_to, acidify_above [pH in water].

    The crop's own; on organic soil (over 20 % organic matter) the lower ones of such ground; a typed target moves all.

    Source: lime-targets, crop-traits.

    >>> from agronomy.intake.example import bed, soil, tables
    >>> ph_range(bed().crop, soil(), None, tables)["lime_to"]
    6.5
    """
    if target_ph is not None:
        return {
            "low": target_ph - 0.3,
            "lime_to": target_ph,
            "high": target_ph + 0.3,
            "acid_to": target_ph,
            "acidify_above": target_ph + 0.3,
        }
    figures = {
        "low": crop.ph_low,
        "lime_to": crop.ph_lime_to,
        "high": crop.ph_high,
        "acid_to": crop.ph_acid_to,
        "acidify_above": crop.ph_acidify_above,
    }
    organic = soil.organic_matter_known and soil.organic_matter_pct > tables.acidity.organic_soil_om_pct.value
    if organic and crop.ph_low > tables.acidity.organic_soil_lime_below.value:
        figures["low"] = tables.acidity.organic_soil_lime_below.value
        figures["lime_to"] = tables.acidity.organic_soil_target_ph.value
    return figures


MOST_STAKES = 2


def _stakes(ph: float, side: str, crop: Crop, tables: Tables) -> str:
    """What is at stake at this pH: what concerns this crop before what concerns all."""
    fitting = [row for row in tables.acidity.stakes if row.side == side and row.from_ph <= ph < row.to_ph and _concerns(row.applies, crop)]
    told = sorted(fitting, key=lambda row: "*" in row.applies)[:MOST_STAKES]
    return say(" {stakes}", stakes=joined(row.says for row in told)) if told else ""


def _concerns(applies: tuple[str, ...], crop: Crop) -> bool:
    return "*" in applies or crop.group in applies or crop.key in applies


def _against_crop(ph: float, low: float, high: float, sure: float, figures: dict[str, float], class_: str, crop: Crop) -> Step:
    return Step(
        "judged against the crop",
        "low ≤ pH ≤ high",
        {
            "pH": Figure(ph, "pH"),
            "lime below": Figure(low, "pH"),
            "lime to": Figure(figures["lime_to"], "pH"),
            "wanted up to": Figure(high, "pH"),
            "margin to be sure": Figure(sure, "pH"),
        },
        Figure(class_.replace("_", " ")),
        crop.source.split(";")[0],
        f"{crop.name}, {crop.where}",
    )


IN_SALT = {"CaCl2 0.01 M": say("calcium chloride"), "KCl 1 M": say("potassium chloride")}
IN_OTHERS = {**IN_SALT, "water 1:5": say("five parts of water")}


def is_from_salt(reading: Reading) -> bool:
    """Whether the pH was imported a salt solution, and is told as in water. Source: ph-media-offsets.

    >>> from agronomy.intake.example import found
    >>> is_from_salt(found().readings["pH"])
    False
    """
    return reading.method in IN_SALT


def _told(reading: Reading) -> str:
    """A pH with what stood on the laboratory's sheet, where that was imported something else."""
    read = next((step.inputs["reading"].value for step in reading.steps if "reading" in step.inputs), None)
    if reading.method not in IN_OTHERS or not isinstance(read, float):
        return say("pH {ph:.1f}", ph=reading.value)
    taken = say("about {ph:.1f} in water" if is_from_salt(reading) else "about {ph:.1f} in one part", ph=reading.value)
    return say("pH {read:.1f} in {medium}, {taken},", read=read, medium=IN_OTHERS[reading.method], taken=taken)


def judge_acidity(reading: Reading, crop: Crop, figures: dict[str, float], tables: Tables) -> Finding:
    """A Finding on pH: too_acid, right or too_alkaline; `act` says whether it is far enough past the border to act.

    The border counts as passed with three chances in four, 0.67 standard errors; a laboratory's reading is acted on as guides do.
    Source: ph-way-of-measuring.

    >>> from agronomy.intake.example import bed, found, tables
    >>> judge_acidity(found().readings["pH"], bed().crop, found().figures, tables).class_
    'too_acid'
    """
    ph, low, high = reading.value, figures["low"], figures["high"]
    sure = tables.acidity.sure_enough_u.value * reading.u
    name, told = crop.name, _told(reading)
    if ph < low:
        class_, act = "too_acid", low - ph >= (tables.acidity.sure_by_laboratory.value if reading.how == "lab" else sure)
        why = say("{told} is more acid than {name} needs ({low:.1f} to {high:.1f}).", told=told, name=name, low=low, high=high)
        why += _stakes(ph, "acid", crop, tables) if act else say(" It is so close to the border that the reading's error could explain it.")
    elif ph > high:
        class_, act = "too_alkaline", ph - figures["acidify_above"] >= sure
        why = say(
            "{told} is higher than {name} needs ({low:.1f} to {high:.1f}).{stakes}",
            told=told,
            name=name,
            low=low,
            high=high,
            stakes=_stakes(ph, "alkaline", crop, tables),
        )
        if not act:
            why += say(" It is not far enough off to be worth acidifying.")
    else:
        class_, act = "right", False
        why = say("{told} suits {name} ({low:.1f} to {high:.1f}).", told=told, name=name, low=low, high=high)
    step = _against_crop(ph, low, high, sure, figures, class_, crop)
    return Finding(
        analyte="pH",
        name="Soil pH",
        class_=class_,
        value=ph,
        low=reading.low,
        high=reading.high,
        unit="pH",
        wanted=(low, high),
        scale=(low - TOOTH_BELOW_WANTED, high + TOO_MUCH_ABOVE_WANTED),
        why=why,
        method=reading.method,
        qualifier=reading.qualifier,
        act=act,
        expected=None,
        working=(*reading.steps, step),
    )
