"""What the readings of a plot say, before any school has its word: soil, findings, salt, what the plot is given anyway."""

from dataclasses import field, replace
from datetime import date

from agronomy.base.record import record
from agronomy.base.said import joined, say
from agronomy.interpret.acidity import judge_acidity, ph_range
from agronomy.interpret.contradictions import Contradiction, contradictions
from agronomy.interpret.land_use import critical_by_land_use
from agronomy.interpret.leaf import GREENNESS, STRIP, is_leaf, judge_greenness, judge_leaf
from agronomy.interpret.media import judge_media
from agronomy.interpret.nutrients import Critical, NoRule, judge_nutrient
from agronomy.interpret.salinity import SALT, judge_salt
from agronomy.interpret.systems import OwnClass, critical_by_system, own_class
from agronomy.model.credit import Credit
from agronomy.model.finding import Finding
from agronomy.model.reading import MIX_EXTRACTS, Reading, best_readings
from agronomy.model.request import Request
from agronomy.model.soil import Soil, describe_soil
from agronomy.model.target import target_for
from agronomy.recommend.nutrients.credits import credits_for
from agronomy.recommend.nutrients.micronutrients import MICRONUTRIENTS
from agronomy.schedule.calendar import Calendar, calendar_of
from agronomy.tables import Tables

JUDGED = ("P", "K", "Mg", "Ca", "S", "OM", *MICRONUTRIENTS)  # the order of the teeth after pH, then what has none
_PLACES = {analyte: place for place, analyte in enumerate(JUDGED)}
_USED_ELSEWHERE = frozenset({"pH", "buffer pH", "CEC", "NO3-N", "NH4-N", "carbonate", "lab lime", *SALT})
WORST_FIRST = {
    "too_acid": 0,
    "too_alkaline": 0,
    "too_salty": 0,
    "sodic": 0,
    "salty": 1,
    "sodium_rising": 1,
    "excess": 1,
    "very_short": 1,
    "short": 2,
    "plenty": 3,
    "building": 3,
    "right": 4,
}


@record(kw_only=True)
class Assessment:
    """A plot judged. `figures` are the crop's pH figures; `judged` holds nutrients with the levels they were judged by, `nutrients`
    the findings alone.
    """

    request: Request
    readings: dict[str, Reading]
    soil: Soil
    figures: dict[str, float]
    acidity: Finding | None
    judged: dict[str, tuple[Finding, Critical]]
    nutrients: dict[str, Finding]
    own_classes: dict[str, OwnClass]
    salt: dict[str, Finding]
    unjudged: tuple[NoRule, ...]
    credits: tuple[Credit, ...]
    calendar: Calendar
    leaves: dict[str, Finding] = field(default_factory=dict)
    contradictions: tuple[Contradiction, ...] = ()

    @property
    def ph(self) -> float | None:
        return self.readings["pH"].value if "pH" in self.readings else None

    def findings(self) -> list[Finding]:
        """All findings, worst first."""
        found = (
            ([self.acidity] if self.acidity else [])
            + [self.judged[key][0] for key in sorted(self.judged, key=lambda key: (_PLACES.get(key, len(JUDGED)), key))]
            + list(self.salt.values())
            + list(self.leaves.values())
        )
        return sorted(found, key=lambda finding: WORST_FIRST[finding.class_])


def assess(request: Request, tables: Tables) -> Assessment:
    """Everything that is the same for every school.

    Readings in base units (pH, mg/kg, %). Source: each finding's own.

    >>> from agronomy.intake.example import bed, tables
    >>> assess(bed(), tables).acidity.class_
    'too_acid'
    """
    readings = best_readings(list(request.readings))
    soil = soil_of(request, readings, tables)
    disputed = contradictions(readings, request, soil, tables)
    figures = ph_range(request.crop, soil, request.target_ph, tables)
    acidity = judge_acidity(readings["pH"], request.crop, figures, tables) if "pH" in readings else None
    judged, unjudged, own_classes = _nutrients(request, readings, soil, acidity, tables)
    for item in disputed:
        for key in item.about:
            if judged.pop(key, None) is not None:
                unjudged.append(NoRule(key, item.says, item.check))
    leaves, unread = _leaves(request, readings, tables)
    salty = _salt(readings, request, soil, tables)
    return Assessment(
        request=request,
        readings=readings,
        soil=soil,
        figures=figures,
        acidity=acidity,
        judged=judged,
        nutrients={key: finding for key, (finding, _) in judged.items()},
        own_classes=own_classes,
        salt={item.analyte: item for item in salty if isinstance(item, Finding)},
        unjudged=(*unjudged, *unread, *(item for item in salty if isinstance(item, NoRule))),
        credits=credits_for(
            request.gifts,
            readings,
            soil,
            uncounted=request.uncounted,
            today=request.today,
            crop_from=request.planting or request.today,
            done=request.done,
            south=request.plot.hemisphere == "south",
            nitrate=tuple(reading for reading in request.readings if reading.analyte == "NO3-N"),
            watering_mm=request.plot.watering_mm,
            harvests=request.harvests,
            tables=tables,
        ),
        calendar=calendar_of(request, tables),
        leaves=leaves,
        contradictions=disputed,
    )


def _salt(readings: dict[str, Reading], request: Request, soil: Soil, tables: Tables) -> list[Finding | NoRule]:
    """Salt of field ground by what the crop bears; of a potting mix by its own extracts."""
    in_mix = readings.get("EC")
    if soil.mix is None or in_mix is None or not any(row.method == in_mix.method for row in tables.ground.media):
        return judge_salt(readings, request.crop, soil, tables)
    found = judge_media(in_mix, request.crop, tables)
    if isinstance(found, NoRule):
        return [found]
    word = {"plenty": "salty", "excess": "too_salty"}.get(found.class_, "right")
    return [replace(found, class_=word)]


def _leaves(request: Request, readings: dict[str, Reading], tables: Tables) -> tuple[dict[str, Finding], list[NoRule]]:
    """Leaf readings judged, and those that no guide here has a range for."""
    found: dict[str, Finding] = {}
    unread: list[NoRule] = []
    for key in sorted(key for key in readings if is_leaf(key)):
        if key == GREENNESS:
            result = judge_greenness(readings[key], readings.get(STRIP), request.crop, tables)
        elif key in tables.leaf_ranges:
            result = judge_leaf(readings[key], request.crop, tables)
        else:
            continue
        if isinstance(result, NoRule):
            unread.append(result)
        else:
            found[key] = result
    return found, unread


def soil_of(request: Request, readings: dict[str, Reading], tables: Tables) -> Soil:
    """The ground, with organic matter and CEC from a reading before the plot's own description.

    Humus in %, exchange capacity in cmol/kg. Source: measured before user-value.

    >>> from agronomy.intake.example import bed, found, tables
    >>> soil_of(bed(), found().readings, tables).organic_matter_pct
    3.0
    """
    om, cec, ph = readings.get("OM"), readings.get("CEC"), readings.get("pH")
    return describe_soil(
        request.plot,
        om.value if om else request.plot.organic_matter_pct,
        cec.value if cec and cec.value > 0 else request.plot.cec_cmol_per_kg,
        ph.value if ph else None,
        tables,
    )


def _not_judged(analyte: str, request: Request, acidity: Finding | None, tables: Tables) -> NoRule:
    """That a reading is kept and not judged, and why."""
    name = tables.analytes[analyte].name
    if analyte == "Al" and acidity is not None:
        why = say("{name} decides only where the ground is too acid for the crop, and pH suits {crop}", name=name, crop=request.crop.name)
        return NoRule(analyte, why, say("test it again where pH falls"))
    return NoRule(
        analyte,
        say("{name} was tested and is kept, but there is no level here to judge it by", name=name),
        say("see an adviser if it worries you"),
    )


def _nutrients(
    request: Request, readings: dict[str, Reading], soil: Soil, acidity: Finding | None, tables: Tables
) -> tuple[dict[str, tuple[Finding, Critical]], list[NoRule], dict[str, OwnClass]]:
    """Findings on nutrients with their critical levels, what no rule here can judge, and what the country's own systems call each."""
    ph = readings["pH"].value if "pH" in readings else None
    judged: dict[str, tuple[Finding, Critical]] = {}
    unjudged: list[NoRule] = []
    own_classes: dict[str, OwnClass] = {}
    for analyte in sorted(readings, key=lambda key: (_PLACES.get(key, len(JUDGED)), key)):
        of_mix = soil.mix is not None and analyte not in ("pH", "EC") and readings[analyte].method in MIX_EXTRACTS
        if not of_mix and (
            analyte in _USED_ELSEWHERE
            or tables.analytes[analyte].medium == "water"
            or (analyte == "Al" and acidity and acidity.class_ == "too_acid")
        ):
            continue
        if analyte in (GREENNESS, STRIP) or (is_leaf(analyte) and analyte in tables.leaf_ranges):
            continue
        if analyte not in _PLACES and not of_mix:
            unjudged.append(_not_judged(analyte, request, acidity, tables))
            continue
        result = _judged(readings[analyte], request, soil, ph, tables)
        if isinstance(result, NoRule):
            older = _older_that_can_be_judged(readings[analyte], request, soil, ph, tables)
            if older is None:
                unjudged.append(result)
                continue
            readings[analyte], result = older
        finding, critical = result
        called = own_class(readings[analyte], request.crop, soil, request.country, tables)
        if called:
            own_classes[analyte] = called
        judged[analyte] = (replace(finding, why=joined((finding.why, called.says))) if called else finding, critical)
    return judged, unjudged, own_classes


def _judged(reading: Reading, request: Request, soil: Soil, ph: float | None, tables: Tables) -> tuple[Finding, Critical] | NoRule:
    """A reading judged by our levels, or where there are none by the edges of a national system's classes."""
    if soil.mix is not None and reading.method in MIX_EXTRACTS:
        mixed = judge_media(reading, request.crop, tables)
        return mixed if isinstance(mixed, NoRule) else (mixed, _level_of(mixed))
    own = target_for(request.targets, reading.analyte, reading.method)
    result = judge_nutrient(reading, request.crop, soil, ph, tables, own)
    stand_in = None
    if isinstance(result, NoRule):
        by_country = critical_by_system(reading, request.crop, soil, request.country, tables)
        stand_in = by_country or critical_by_land_use(reading, request.crop, soil, tables)
    if stand_in is not None:
        result = judge_nutrient(reading, request.crop, soil, ph, tables, own, stand_in)
    return result


def _level_of(finding: Finding) -> Critical:
    """The edges of a mix's finding, for those who ask for a level."""
    low, high = finding.wanted
    edges = (low / 3, low / 2, low, high, 2 * high)
    return Critical(level=low, low=low, high=high, edges=edges, step=finding.working[-1], source=finding.working[-1].source)


def _older_that_can_be_judged(
    newest: Reading, request: Request, soil: Soil, ph: float | None, tables: Tables
) -> tuple[Reading, tuple[Finding, Critical]] | None:
    """The newest reading of the same analyte for whose method there is a table, its finding saying so; None where there is none."""
    others = [
        item for item in request.readings if item.analyte == newest.analyte and not item.is_of_subsoil and item.method != newest.method
    ]
    for reading in sorted(others, key=lambda item: item.taken or date.min, reverse=True):
        result = _judged(reading, request, soil, ph, tables)
        if isinstance(result, NoRule):
            continue
        told = say(
            "{newest:.3g} {unit}{by_and_of} can’t be judged here", newest=newest.value, unit=newest.unit, by_and_of=_by_and_of(newest)
        )
        says = say("The newest reading, {told}; this is the one{by_and_of}.", told=told, by_and_of=_by_and_of(reading))
        return reading, (replace(result[0], why=joined((result[0].why, says))), result[1])
    return None


def _by_and_of(reading: Reading) -> str:
    method = say(" by a method that nobody named") if reading.method == "not stated" else say(" by {method}", method=reading.method)
    return say("{method} of {taken:%-d %B %Y}", method=method, taken=reading.taken) if reading.taken else method
