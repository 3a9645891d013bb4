"""What the water of a plot means for its plan: the lime that it brings, and sodium, boron, salt and nitrate that matter."""

from collections.abc import Sequence

from agronomy.base.said import Rate, say, small
from agronomy.base.working import Figure, Step
from agronomy.interpret.balance import Remark
from agronomy.interpret.salinity import leaching_share, yield_at
from agronomy.interpret.water import judge_water, lime_brought_kg_per_ha
from agronomy.model.answers import Answer, Need, Nothing, Unmet
from agronomy.model.reading import Reading
from agronomy.plan.assess import Assessment
from agronomy.tables import Tables

TOLD = ("water Na", "water B", "water Cl")  # nitrate is a credit, alkalinity a balance of its own


def lime_a_year(readings: dict[str, Reading], watering_mm: float | None) -> float:
    """What the water limes in a year [kg CaCO3/ha]; nought where alkalinity or the amount of water is not known. Source: definition.

    >>> lime_a_year({}, 300.0)
    0.0
    """
    alkalinity = readings.get("alkalinity")
    return lime_brought_kg_per_ha(alkalinity.value, watering_mm) if alkalinity is not None and watering_mm else 0.0


def water_remarks(found: Assessment, tables: Tables) -> tuple[Remark, ...]:
    """What the plot's water asks for, the yearly lime first. Rates in kg/ha. Source: water_classes.csv, definition.

    >>> from agronomy.intake.example import found, tables
    >>> water_remarks(found(), tables)
    ()
    """
    waters = {key: reading for key, reading in found.readings.items() if tables.analytes[key].medium == "water"}
    if not waters:
        return ()
    told = [
        Remark(item.about.replace(" ", "-").lower(), "Your water", say("Your water: {text}", text=small(item.text)), item.steps)
        for item in judge_water(waters, tables)
        if item.asks and item.about in TOLD
    ]
    nitrate = waters.get("water NO3-N")
    if nitrate is not None and nitrate.value >= tables.nitrogen.water_nitrate_counts_from.value and not found.request.plot.watering_mm:
        fed = say("Your water's nitrate ({nitrate:.0f} mg/L of nitrogen) feeds the crop.", nitrate=nitrate.value)
        says = say("{fed} Say how much you water in a season, and it comes off.", fed=fed)
        told.append(Remark("water-nitrate", "Your water", says, nitrate.steps))
    return (*_lime(found, tables), *_salt(found, tables), *told)


def water_too_salty(found: Assessment, tables: Tables) -> str:
    """That the water is too salty for the crop however much of it runs through, and the ways out; nothing otherwise. Source: fao-29.

    >>> from agronomy.intake.example import found, tables
    >>> water_too_salty(found(), tables)
    ''
    """
    salt, crop = found.readings.get("water EC"), found.request.crop
    if salt is None or leaching_share(salt.value, yield_at(0.0, crop, tables)[1], tables) is not None:
        return ""
    return say(
        "The water is too salty for {crop} ({salt:.1f} dS/m): first mix it with rain water or take another, or "
        "grow what bears salt. No bag mends that.",
        crop=crop.name,
        salt=salt.value,
    )


def _salt(found: Assessment, tables: Tables) -> tuple[Remark, ...]:
    """How much more of a salty water to give, so that its salt is washed below the roots."""
    salt, crop = found.readings.get("water EC"), found.request.crop
    if salt is None:
        return ()
    _, threshold, is_listed = yield_at(0.0, crop, tables)
    share = leaching_share(salt.value, threshold, tables)
    times, most_share = tables.salinity.leaching_times_threshold, tables.salinity.most_leaching
    inputs = {
        "water": Figure(salt.value, "dS/m"),
        "threshold": Figure(threshold, "dS/m", "maas-hoffman" if is_listed else "own-experience"),
        "to paste": Figure(times.value, "times", times.source),
    }
    if share is None:
        most = times.value * threshold * most_share.value / (1 + most_share.value)
        inputs["most leaching"] = Figure(most_share.value, "fraction", most_share.source)
        formula = "to paste × threshold × most leaching / (1 + most leaching)"
        step = Step("saltiest water that can be washed through", formula, inputs, Figure(most, "dS/m"), "fao-29")
        return (Remark("water-ec", "Your water", water_too_salty(found, tables), (step,)),)
    step = Step("leaching share", "water / (to paste × threshold − water)", inputs, Figure(share, "fraction"), "fao-29")
    if share < tables.salinity.leaching_told_from.value:
        return ()
    more = f"{100 * share / (1 - share):.0f} %"
    says = say(
        "Your water carries salt ({salt:.1f} dS/m). Give {more} more than the crop drinks, so that it is washed down.",
        salt=salt.value,
        more=more,
    )
    return (Remark("water-ec", "Your water", says, (step,)),)


def _lime(found: Assessment, tables: Tables) -> tuple[Remark, ...]:
    """The yearly lime of the water, and the sulfur that would undo it."""
    request = found.request
    lime = lime_a_year(found.readings, request.plot.watering_mm)
    if lime < tables.choice.water_lime_told_from_kg_per_ha.value or request.plot.ground == "container":
        return ()
    per_lime = tables.acidity.sulfur_per_caco3
    sulfur = lime * per_lime.value
    step = Step(
        "lime in the water",
        "alkalinity × water / 100",
        {
            "alkalinity": Figure(found.readings["alkalinity"].value, "mg/L CaCO3"),
            "water": Figure(request.plot.watering_mm or 0.0, "mm"),
        },
        Figure(lime, "kg CaCO3/ha"),
        "definition",
    )
    undone = Step(
        "sulfur that undoes it",
        "lime × sulfur to lime",
        {"lime": Figure(lime, "kg CaCO3/ha"), "sulfur to lime": Figure.of(per_lime)},
        Figure(sulfur, "kg/ha"),
        per_lime.source,
    )
    rate, against = (Rate(amount, request.plot.area_m2, request.units) for amount in (lime, sulfur))
    wants_it = found.acidity is not None and found.acidity.class_ == "too_acid"
    if wants_it:
        says = say("Your water brings lime worth {rate} a year: that much less maintenance lime once pH is right.", rate=rate)
    elif request.crop.is_acid_lover or (found.acidity is not None and found.acidity.class_ == "too_alkaline"):
        says = say(
            "Your water limes the ground by {rate} a year: {against} of sulfur a year, or acidified water, holds pH.",
            rate=rate,
            against=against,
        )
    else:
        says = say("Your water limes the ground by {rate} a year. Watch pH at the next test; no lime meanwhile.", rate=rate)
    return (Remark("water-lime", "Your water", says, (step, undone)),)


def less_boron(answers: Sequence[Answer], readings: dict[str, Reading], tables: Tables) -> list[Answer]:
    """The answers without boron [kg/ha] where the water brings enough of it. Source: fao-29.

    >>> from agronomy.intake.example import tables
    >>> less_boron([], {}, tables)
    []
    """
    if not water_has_boron(readings, tables):
        return list(answers)
    why = say("No boron in the bag: your water brings it already ({boron:.1f} mg/L).", boron=readings["water B"].value)
    about = [answer for answer in answers if (answer.what if isinstance(answer, Need | Unmet) else answer.nutrient) != "B"]
    return list(answers) if len(about) == len(answers) else [*about, Nothing("B", why)]


def water_has_boron(readings: dict[str, Reading], tables: Tables) -> bool:
    """Whether the water's boron [mg/L] is more than the least class. Source: fao-29.

    >>> from agronomy.intake.example import tables
    >>> water_has_boron({}, tables)
    False
    """
    boron = readings.get("water B")
    return boron is not None and any(item.asks for item in judge_water({"water B": boron}, tables))
