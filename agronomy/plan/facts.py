"""What is true of a plan, in short words that advice hangs on: the ground, the crop, what was found, what is given, what was said."""

from enum import StrEnum

from agronomy.dose.application import Application
from agronomy.interpret.water import is_salty, judge_water
from agronomy.model.answers import Need, NeedKind
from agronomy.model.finding import Finding
from agronomy.model.reading import Reading
from agronomy.plan.assess import Assessment
from agronomy.tables import Tables


class Fact(StrEnum):
    """Every word that `facts_of` can give beside the ones with a colon; advice may use no other."""

    ACID_SULFATE = "acid sulfate"
    ACID_LOVER = "acid lover"
    ALKALINE_WATER = "alkaline water"
    ALUMINIUM = "aluminium"
    BY_KIT = "by kit"
    BY_PROBE = "by probe"
    CALCIUM_IS_NO_WANT = "calcium is no want"
    CHLORIDE_SENSITIVE = "chloride sensitive"
    CLOVER_BEFORE = "clover before"
    COMPOST_BY_THE_LOAD = "compost by the load"
    EATEN = "eaten"
    FIELD = "field"
    FLOODED = "flooded"
    FLOWER_MEADOW = "flower meadow"
    FREE_LIME = "free lime"
    GARDEN = "garden"
    GROWING = "growing"
    HAY_FED_MANURE_GIVEN = "hay-fed manure given"
    LEAF_TESTED = "leaf tested"
    LEGUME_SOWN = "legume sown"
    LIME_BY_THE_TONNE = "lime by the tonne"
    LIMES = "limes"
    LITTLE_SODIUM = "little sodium"
    MANURE_IN_THE_SHED = "manure in the shed"
    NITRATE_TESTED = "nitrate tested"
    NO_PH = "no ph"
    NO_READINGS = "no readings"
    ORGANIC_RULES = "organic rules"
    PEAT = "peat"
    PH_BY_CALCIUM_CHLORIDE = "ph by calcium chloride"
    SALTY_WATER = "salty water"
    SLURRY_GIVEN = "slurry given"
    SOUTH = "south"
    SOWN_IN_AUTUMN = "sown in autumn"
    STANDS = "stands"
    TO_BE_PLANTED = "to be planted"
    TREATED_WATER = "treated water"
    WOOD_ASH_ABOUT = "wood ash about"
    WOODY = "woody"
    HUNGRY_FOR_UNTESTED_SULFUR = "hungry for untested sulfur"


KINDS = ("crop", "group", "ground", "life", "ph", "gives", "short", "right", "plenty", "excess", "wide")


def facts_of(found: Assessment, applications: list[Application], needs: list[Need], tables: Tables) -> set[str]:
    """All facts of a plan, as words of Fact or of a kind of KINDS with its key ("crop:apple", "excess:P").

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
    facts: set[str] = {f"ground:{plot.ground}", Fact.FIELD if plot.kind == Fact.FIELD else Fact.GARDEN}
    carbonate = found.readings.get("carbonate")
    facts |= {"free lime"} if plot.free_lime or soil.free_lime or (carbonate is not None and carbonate.value > 1) else set()
    facts |= {"peat"} if soil.organic_matter_known and soil.organic_matter_pct >= tables.choice.peat_from_om_pct.value else set()
    return facts | ({"south"} if plot.hemisphere == Fact.SOUTH else set())


def _crop(found: Assessment, tables: Tables) -> set[str]:
    crop, growth = found.request.crop, tables.growing.crops[found.request.crop.key]
    calendar = found.calendar
    facts = {f"crop:{crop.key}", f"group:{crop.group}", f"life:{growth.life_form}"}
    told = {
        Fact.STANDS: calendar.stands,
        Fact.GROWING: calendar.growing and not calendar.stands,
        Fact.TO_BE_PLANTED: not calendar.growing and not calendar.stands,
        Fact.WOODY: growth.is_woody,
        Fact.SOWN_IN_AUTUMN: calendar.season.sown_before_winter and growth.life_form != "annual",
        Fact.ACID_LOVER: crop.is_acid_lover,
        Fact.LEGUME_SOWN: crop.legume and not calendar.growing and not calendar.stands,
        Fact.CHLORIDE_SENSITIVE: crop.chloride_sensitive,
        Fact.EATEN: tables.organics.eaten[crop.group].eaten,
        Fact.FLOODED: crop.flooded,
        Fact.FLOWER_MEADOW: crop.is_grass and crop.n_high <= 0,
        Fact.ORGANIC_RULES: found.request.organic_only,
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
        Fact.NO_READINGS: not readings,
        Fact.NO_PH: ph is None,
        Fact.BY_PROBE: ph is not None and ph.how == "probe",
        Fact.BY_KIT: ph is not None and ph.how == "kit",
        Fact.PH_BY_CALCIUM_CHLORIDE: ph is not None and ph.method.startswith("CaCl2"),
        Fact.ALUMINIUM: "Al" in readings,
        Fact.TREATED_WATER: any(said.asks for said in judge_water(treated, tables)),
        Fact.ALKALINE_WATER: alkalinity is not None and alkalinity.value >= tables.timing.retest.alkaline_water_from_mg_per_l,
        Fact.SALTY_WATER: is_salty(readings, tables),
        Fact.CALCIUM_IS_NO_WANT: calcium is not None and not calcium.is_short,
        Fact.LEAF_TESTED: bool(found.leaves),
        Fact.NITRATE_TESTED: "NO3-N" in readings,
        Fact.LITTLE_SODIUM: (sodium := readings.get("Na")) is not None and sodium.value < tables.choice.little_sodium_below_mg_per_kg.value,
        Fact.ACID_SULFATE: _is_acid_sulfate(readings, tables),
        Fact.HUNGRY_FOR_UNTESTED_SULFUR: found.request.crop.sulfur_hungry and "S" not in found.nutrients,
    }
    return facts | {name for name, holds in told.items() if holds}


def _is_acid_sulfate(readings: dict[str, Reading], tables: Tables) -> bool:
    """Whether ground is so acid and so full of sulfate as only drained sulfides make it."""
    ph, sulfate, aluminium, figures = readings.get("pH"), readings.get("S"), readings.get("Al"), tables.choice
    if sulfate is None or sulfate.value < figures.acid_sulfate_from_mg_per_kg.value:
        return False
    if ph is None:  # exchangeable aluminium tells of the acid too
        return aluminium is not None and aluminium.value >= tables.schools.fixes_from_al_cmol_per_kg.value
    return ph.how != "probe" and ph.value < figures.acid_sulfate_below_ph.value


def _class(finding: Finding) -> str:
    return "short" if finding.is_short else finding.class_


def _given(found: Assessment, tables: Tables) -> set[str]:
    """What was put on lately, what stood before, what lies in the shed."""
    request = found.request
    lately = {item.material.key for item in request.done if 0 <= (request.today - item.on).days <= tables.choice.lately_days.value}
    gifts = {gift.what for gift in request.gifts if gift.what}
    shed = {key for key, line in request.shed.items() if line.in_stock_kg > 0}
    told = {
        Fact.HAY_FED_MANURE_GIVEN: any(key in tables.materials and tables.materials[key].may_carry_weed_killer for key in lately),
        Fact.SLURRY_GIVEN: any("slurry" in key for key in lately | gifts),
        Fact.CLOVER_BEFORE: any("clover" in key or key == "lucerne" for key in gifts),
        Fact.WOOD_ASH_ABOUT: tables.products.standard["wood_ash"].material in lately | shed,
        Fact.MANURE_IN_THE_SHED: any(key in tables.materials and tables.materials[key].has_role("organic") for key in shed),
    }
    return {name for name, holds in told.items() if holds}


def _doses(found: Assessment, applications: list[Application], tables: Tables) -> set[str]:
    facts = {f"gives:{item.what}" for item in applications}
    lime = sum(item.total_kg for item in applications if item.what == NeedKind.LIME)
    if lime:
        facts.add(Fact.LIMES)
    if lime >= tables.choice.by_the_load_from_kg.value and found.request.plot.kind == Fact.FIELD:
        facts.add(Fact.LIME_BY_THE_TONNE)
    if any(item.what == NeedKind.HUMUS for item in applications):
        facts.add(Fact.COMPOST_BY_THE_LOAD)
    return facts
