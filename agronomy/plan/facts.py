"""What is true of a plan, in short words that advice hangs on: the ground, the crop, what was found, what is given, what was said."""

from agronomy.dose.application import Application
from agronomy.interpret.water import is_salty, judge_water
from agronomy.model.answers import Need
from agronomy.model.finding import Finding
from agronomy.model.reading import Reading
from agronomy.plan.assess import Assessment
from agronomy.tables import Tables

# every word that `facts_of` can give beside the ones with a colon; advice may use no other
WORDS = frozenset(
    {
        "acid lover",
        "alkaline water",
        "aluminium",
        "by kit",
        "by probe",
        "calcium is no want",
        "chloride sensitive",
        "clover before",
        "compost by the load",
        "eaten",
        "field",
        "flooded",
        "flower meadow",
        "free lime",
        "garden",
        "growing",
        "hay-fed manure given",
        "leaf tested",
        "legume sown",
        "lime by the tonne",
        "limes",
        "manure in the shed",
        "nitrate tested",
        "no ph",
        "no readings",
        "organic rules",
        "peat",
        "ph by calcium chloride",
        "salty water",
        "slurry given",
        "south",
        "sown in autumn",
        "stands",
        "to be planted",
        "treated water",
        "wood ash about",
        "woody",
    }
)
KINDS = ("crop", "group", "ground", "life", "ph", "gives", "short", "right", "plenty", "excess", "wide")


def facts_of(found: Assessment, applications: list[Application], needs: list[Need], tables: Tables) -> set[str]:
    """All facts of a plan, as words of WORDS or of a kind of KINDS with its key ("crop:apple", "excess:P").

    Source: the assessment's own rules.

    >>> from agronomy.intake.example import found, tables
    >>> "short:Zn" in facts_of(found(), [], [], tables)
    True
    """
    return {
        *_ground(found, tables),
        *_crop(found, tables),
        *_readings(found, tables),
        *_given(found, tables),
        *_doses(found, applications, tables),
        *(f"wide:{need.what}" for need in needs if need.high_kg_per_ha > tables.choice.wide_band_times.value * need.low_kg_per_ha),
    }


def _ground(found: Assessment, tables: Tables) -> set[str]:
    plot, soil = found.request.plot, found.soil
    facts = {f"ground:{plot.ground}", "field" if plot.kind == "field" else "garden"}
    carbonate = found.readings.get("carbonate")
    facts |= {"free lime"} if plot.free_lime or soil.free_lime or (carbonate is not None and carbonate.value > 1) else set()
    facts |= {"peat"} if soil.organic_matter_known and soil.organic_matter_pct >= tables.choice.peat_from_om_pct.value else set()
    return facts | ({"south"} if plot.hemisphere == "south" else set())


def _crop(found: Assessment, tables: Tables) -> set[str]:
    crop, growth = found.request.crop, tables.growing.crops[found.request.crop.key]
    calendar = found.calendar
    facts = {f"crop:{crop.key}", f"group:{crop.group}", f"life:{growth.life_form}"}
    told = {
        "stands": calendar.stands,
        "growing": calendar.growing and not calendar.stands,
        "to be planted": not calendar.growing and not calendar.stands,
        "woody": growth.is_woody,
        "sown in autumn": calendar.season.sown_before_winter and growth.life_form != "annual",
        "acid lover": crop.is_acid_lover,
        "legume sown": crop.legume and not calendar.growing and not calendar.stands,
        "chloride sensitive": crop.chloride_sensitive,
        "eaten": tables.organics.eaten[crop.group].eaten,
        "flooded": crop.flooded,
        "flower meadow": crop.is_grass and crop.n_high <= 0,
        "organic rules": found.request.organic_only,
    }
    return facts | {name for name, holds in told.items() if holds}


def _readings(found: Assessment, tables: Tables) -> set[str]:
    readings = found.readings
    facts = {f"{_class(finding)}:{key}" for key, finding in found.nutrients.items()}
    if found.acidity is not None:
        facts.add(f"ph:{found.acidity.class_}")
    ph = readings.get("pH")
    treated: dict[str, Reading] = {key: readings[key] for key in ("chlorine", "chloramine") if key in readings}
    alkalinity = readings.get("alkalinity")
    calcium = found.nutrients.get("Ca")
    told = {
        "no readings": not readings,
        "no ph": ph is None,
        "by probe": ph is not None and ph.how == "probe",
        "by kit": ph is not None and ph.how == "kit",
        "ph by calcium chloride": ph is not None and ph.method.startswith("CaCl2"),
        "aluminium": "Al" in readings,
        "treated water": any(said.asks for said in judge_water(treated, tables)),
        "alkaline water": alkalinity is not None and alkalinity.value >= tables.timing.retest.alkaline_water_from_mg_per_l,
        "salty water": is_salty(readings, tables),
        "calcium is no want": calcium is not None and not calcium.is_short,
        "leaf tested": bool(found.leaves),
        "nitrate tested": "NO3-N" in readings,
    }
    return facts | {name for name, holds in told.items() if holds}


def _class(finding: Finding) -> str:
    return "short" if finding.is_short else finding.class_


def _given(found: Assessment, tables: Tables) -> set[str]:
    """What was put on lately, what stood before, what lies in the shed."""
    request = found.request
    lately = {item.material.key for item in request.done if 0 <= (request.today - item.on).days <= tables.choice.lately_days.value}
    gifts = {gift.what for gift in request.gifts if gift.what}
    shed = {key for key, line in request.shed.items() if line.in_stock_kg > 0}
    told = {
        "hay-fed manure given": any(key in tables.materials and tables.materials[key].may_carry_weed_killer for key in lately),
        "slurry given": any("slurry" in key for key in lately | gifts),
        "clover before": any("clover" in key or key == "lucerne" for key in gifts),
        "wood ash about": tables.products.standard["wood_ash"].material in lately | shed,
        "manure in the shed": any(key in tables.materials and tables.materials[key].has_role("organic") for key in shed),
    }
    return {name for name, holds in told.items() if holds}


def _doses(found: Assessment, applications: list[Application], tables: Tables) -> set[str]:
    facts = {f"gives:{item.what}" for item in applications}
    lime = sum(item.total_kg for item in applications if item.what == "CaCO3")
    if lime:
        facts.add("limes")
    if lime >= tables.choice.by_the_load_from_kg.value and found.request.plot.kind == "field":
        facts.add("lime by the tonne")
    if any(item.what == "OM" for item in applications):
        facts.add("compost by the load")
    return facts
