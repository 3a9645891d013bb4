"""From a leaf card, a meter, sap or the eye to a dose of nitrogen while the crop stands, or to nothing with its reason.

The gates come in a fixed order, and the first that is shut ends in nothing: too late, another cause, a reading that cannot be used,
nitrogen that is coming already. Only then is there a rate: the instrument's, never above the caps nor above what the season still needs.
"""

from math import sqrt
from typing import Literal

from agronomy.base.errors import OutOfRange, UnknownName
from agronomy.base.record import record
from agronomy.base.said import Measure, large, say
from agronomy.base.working import Figure, Step
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.nutrients import Greenness
from agronomy.tables.rooms.topdress import CardRule, SapRange, TopdressWindow

Instrument = Literal["card", "meter", "sap", "dry stalk", "eye"]
Place = Literal["in time", "late", "past"]
PLACES: dict[Place, str] = {
    "in time": say("before or within the best time"),
    "late": "after it",
    "past": say("past the last stage that pays"),
}
OTHER_CAUSES = {
    "young leaves": say("the youngest leaves are the pale ones"),
    "net": say("green veins in yellow leaves"),
    "spots": say("spots, mould or eaten leaves"),
    "wet": "wet feet",
    "drought": "drought or great heat",
    "cold": "cold ground",
    "roots": "hurt or galled roots",
    "salt": "salty ground or water",
}
_LOOK = {
    "young leaves": say("Iron, sulfur or lime in the water come first: see what is wrong with it."),
    "net": say("Iron or manganese that lime locks up comes first: see pH and water."),
    "spots": say("A disease or a pest comes first."),
    "wet": say("Drain first: roots without air take nothing up."),
    "drought": say("Water first; pale in drought is rest, not hunger."),
    "cold": say("Wait for warmth: cold roots take little up."),
    "roots": say("Dig one up and look at the roots first."),
    "salt": say("Test for salt first; more feed would add to it."),
}
OVER_MG_NO3 = 4.427  # mg of nitrate in a milligram of nitrate-nitrogen: 62.005 / 14.007


@record(kw_only=True)
class Seen:
    """What was read and what is known.

    `leaves`: panels of a card, half panels allowed. `meter` and `strip`: means of a greenness meter on the crop and on a strip that had
    plenty. `value`: nitrate-nitrogen, mg/L of sap or mg/kg of dried stalks. `rule`: key of the card's rule, or stage of the sap's range.
    `remaining_kg_per_ha`: nitrogen that the season still needs, what is planned included. `due_days` and `due_kg_per_ha`: the next planned
    dressing. `last_days`: since the last dressing.
    """

    crop: Crop
    instrument: Instrument
    place: Place
    leaves: tuple[float, ...] = ()
    meter: float | None = None
    strip: float | None = None
    value: float | None = None
    rule: str = ""
    looks_pale: bool = True
    looks: frozenset[str] = frozenset()
    days_to_harvest: float | None = None
    remaining_kg_per_ha: float | None = None
    last_days: float | None = None
    due_days: float | None = None
    due_kg_per_ha: float = 0.0
    still_releasing: bool = False
    soil_nitrate_mg_per_kg: float | None = None


@record(kw_only=True)
class Topdress:
    """The answer. `act`: dress, bring forward, nothing, skip (the next planned one too) or read again.

    Nitrogen in kg/ha, with the spread of the guides; `look_again` in days.
    """

    act: Literal["dress", "bring forward", "nothing", "skip", "read again"]
    n_kg_per_ha: float
    low: float
    high: float
    reason: str
    read: str
    allows: str
    look_again: tuple[int, int]
    working: tuple[Step, ...]


def topdress(seen: Seen, tables: Tables) -> Topdress:
    """The dose, or nothing. Raises OutOfRange and UnknownName. Source: topdress-windows, and the row of the instrument.

    >>> from agronomy.intake.example import tables
    >>> pale = Seen(crop=tables.crops["maize"], instrument="meter", place="in time", meter=46.2, strip=50.6, remaining_kg_per_ha=60)
    >>> round(topdress(pale, tables).n_kg_per_ha, 1)
    34.8
    """
    window = tables.topdress.windows.get(seen.crop.key)
    shut = _too_late(seen, window) or _other_cause(seen)
    if shut:
        return _nothing(shut, seen, _said_of(seen), _allows(seen, window))
    reading = _read(seen, tables)
    allows = _allows(seen, window)
    if reading.again:
        return _nothing(reading.again, seen, reading.says, allows, act="read again", look=(1, 3))
    if reading.above:
        return _nothing(reading.above, seen, reading.says, allows, act="skip")
    if not reading.asks:
        return _nothing(reading.enough, seen, reading.says, allows, act="nothing")
    coming = _coming(seen, tables)
    if coming:
        return _nothing(coming, seen, reading.says, allows)
    return _dosed(seen, reading, window, allows, tables)


def _too_late(seen: Seen, window: TopdressWindow | None) -> str:
    if seen.place == "past":
        last = f" ({window.last_stage})" if window is not None and window.last_stage != "none" else ""
        return say("The last stage at which nitrogen still pays{last} is past.", last=last)
    if window is not None and window.cap_n_kg_per_ha == 0:
        return say(
            "{capital} is not given nitrogen as it stands{which}.",
            capital=large(seen.crop.name),
            which=f": {window.why}" if window.why else "",
        )
    near = window.days_before_harvest if window is not None else None
    if near and seen.days_to_harvest is not None and seen.days_to_harvest < near:
        return say(
            "Harvest is {days_to_harvest:.0f} days away; none is given within {near:.0f}.", days_to_harvest=seen.days_to_harvest, near=near
        )
    return ""


def _other_cause(seen: Seen) -> str:
    for key in OTHER_CAUSES:
        if key in seen.looks:
            return say("Another cause shows: {other_causes}. {look}", other_causes=OTHER_CAUSES[key], look=_LOOK[key])
    return ""


@record(kw_only=True)
class _Reading:
    """What an instrument says: whether it asks, the table's dose and cap, or why it can't be used."""

    says: str
    asks: bool = False
    again: str = ""
    above: str = ""
    enough: str = ""
    dose: float = 0.0
    low: float = 0.0
    high: float = 0.0
    cap: float | None = None
    close: bool = False
    made_for_it: bool = True
    steps: tuple[Step, ...] = ()


def _read(seen: Seen, tables: Tables) -> _Reading:
    if seen.instrument == "card":
        return _card(seen, tables)
    if seen.instrument == "meter":
        return _meter(seen, tables)
    if seen.instrument in ("sap", "dry stalk"):
        return _sap(seen, tables)
    told = say("The crop looks {which}, by eye.", which="pale" if seen.looks_pale else "dark green")
    enough = say("A dark leaf has enough. The next planned dressing can be left out.")
    return _Reading(says=told, asks=seen.looks_pale, enough=enough, made_for_it=False, cap=tables.topdress.garden_cap_n_kg_per_ha.value)


def _card(seen: Seen, tables: Tables) -> _Reading:
    figures, count = tables.topdress, len(seen.leaves)
    if not 1 <= count <= 200:
        raise OutOfRange("leaves", count, "no leaf was read", "read ten leaves, half panels allowed")
    rule = _card_rule(seen, tables)
    mean = sum(seen.leaves) / count
    if count < figures.fewest_leaves.value:
        needed = f"{figures.fewest_leaves.value:.0f}"
        return _Reading(
            says=say("{count} leaves, on average panel {mean:.1f}.", count=count, mean=mean),
            again=say("Read {needed} leaves before anything is given.", needed=needed),
        )
    if rule is None:
        told = say("{count} leaves, on average panel {mean:.1f}; no card is made for {crop}.", count=count, mean=mean, crop=seen.crop.name)
        pale = seen.looks_pale
        enough = say("A card without a rule for the crop tells only pale from dark.")
        return _Reading(says=told, asks=pale, enough=enough, made_for_it=False, cap=figures.garden_cap_n_kg_per_ha.value)
    below = sum(leaf < rule.critical for leaf in seen.leaves)
    spread = sqrt(sum((leaf - mean) ** 2 for leaf in seen.leaves) / (count - 1))
    error = sqrt(figures.eye_panels.value**2 + spread**2 / count)
    share = below / count
    near = abs(mean - rule.critical) < figures.eye_panels.value or abs(share - rule.share_below) <= 1 / count + 1e-9
    told = say(
        "{below} of {count} leaves are below panel {critical:g}; the mean is {mean:.1f} ± {error:.1f}.",
        below=below,
        count=count,
        critical=rule.critical,
        mean=mean,
        error=error,
    )
    step = Step(
        "leaves below the critical panel",
        "below / leaves",
        {"below": Figure(float(below)), "leaves": Figure(float(count)), "asks from": Figure(rule.share_below, "fraction", rule.source)},
        Figure(share, "fraction"),
        rule.source,
        rule.where,
    )
    dose = rule.n_low_kg_per_ha if near and seen.place == "late" else rule.n_high_kg_per_ha
    return _Reading(
        says=told,
        asks=share >= rule.share_below - 1e-9,
        enough=say("Fewer than {share_below:.0f} of 10 leaves are below the critical panel.", share_below=rule.share_below * 10),
        dose=dose,
        low=rule.n_low_kg_per_ha,
        high=rule.n_high_kg_per_ha,
        cap=rule.cap_n_kg_per_ha,
        close=near,
        steps=(step,),
    )


def _card_rule(seen: Seen, tables: Tables) -> CardRule | None:
    rules = {key: row for key, row in tables.topdress.colour.items() if row.crop == seen.crop.key}
    if not rules:
        return None
    if seen.rule not in rules:
        raise UnknownName("rule", seen.rule[:40], "which card and how the crop is grown is not said", f"use one of {', '.join(rules)}")
    return rules[seen.rule]


def _meter(seen: Seen, tables: Tables) -> _Reading:
    row = next(
        (row for row in tables.nutrients.greenness if row.crop == seen.crop.key and (not seen.rule or row.window == seen.rule)), None
    )
    if seen.meter is None or seen.meter <= 0:
        raise OutOfRange("meter", seen.meter, "the meter's reading is missing", "give the mean of 30 leaves")
    if row is None:
        told = say("The meter reads {meter:g}; no rule is known for {crop}.", meter=seen.meter, crop=seen.crop.name)
        enough = say("A number of a meter means nothing across crops and kinds without a rule.")
        return _Reading(says=told, enough=enough, made_for_it=False)
    if row.basis == "units":
        low, high = row.n_low_kg_per_ha or 0.0, row.n_high_kg_per_ha or 0.0
        told = say(
            "The meter reads {meter:g}; {apply_below:g} and more is enough ({window}).",
            meter=seen.meter,
            apply_below=row.apply_below,
            window=row.window,
        )
        asks = seen.meter < row.apply_below
        return _Reading(
            says=told, asks=asks, enough=say("The reading is high enough."), dose=high, low=low, high=high, cap=row.cap_n_kg_per_ha
        )
    if seen.strip is None or seen.strip <= 0:
        again = say("Without a strip that had plenty of nitrogen the meter's number shows little. Feed one, and read both on one day.")
        return _Reading(says=say("The meter reads {meter:g}.", meter=seen.meter), again=again)
    return _by_index(seen.meter / seen.strip, seen, row, tables)


def _by_index(index: float, seen: Seen, row: Greenness, tables: Tables) -> _Reading:
    told = say(
        "The crop reads {meter:g}, the rich strip {strip:g}: index {index:.3f}, asked for below {apply_below:g}.",
        meter=seen.meter,
        strip=seen.strip,
        index=index,
        apply_below=row.apply_below,
    )
    per = row.n_per_hundredth
    if per is None:
        dose, low, high = row.n_high_kg_per_ha or 0.0, row.n_low_kg_per_ha or 0.0, row.n_high_kg_per_ha or 0.0
        steps: tuple[Step, ...] = ()
    else:
        short = max(0.0, 1 - index) * 100
        dose, low, high = short * per, short * (row.n_per_low or per), short * (row.n_per_high or per)
        steps = (_index_step(seen, row, per, dose),) if short > 0 else ()  # greener than the strip: nothing was reckoned
    return _Reading(
        says=told,
        asks=index < row.apply_below,
        enough=say("The index, {index:.3f}, is {apply_below:g} or more.", index=index, apply_below=row.apply_below),
        dose=dose,
        low=low,
        high=high,
        cap=row.cap_n_kg_per_ha,
        close=abs(index - row.apply_below) < tables.topdress.index_off.value,
        steps=steps,
    )


def _index_step(seen: Seen, row: Greenness, per: float, dose: float) -> Step:
    return Step(
        "nitrogen by the index",
        "(1 − crop / strip) × 100 × per hundredth",
        {"crop": Figure(seen.meter or 0.0), "strip": Figure(seen.strip or 0.0), "per hundredth": Figure(per, "kg/ha", row.source)},
        Figure(dose, "kg/ha of N"),
        row.source,
        row.where,
    )


def sap_stages(crop: str, tissue: str, tables: Tables, nutrient: str = "NO3-N") -> list[SapRange]:
    """The stages of a crop that have a range, in order. Source: each row's own.

    Ranges in mg/L of sap, or mg/kg of dried stalks.

    >>> from agronomy.intake.example import tables
    >>> sap_stages("tomato", "sap", tables)[0].stage
    'first buds'
    """
    rows = [row for row in tables.topdress.sap if (row.crop, row.tissue, row.nutrient) == (crop, tissue, nutrient)]
    return sorted(rows, key=lambda row: row.stage_order)


def _sap(seen: Seen, tables: Tables) -> _Reading:
    rows = sap_stages(seen.crop.key, seen.instrument, tables)
    if seen.value is None or seen.value < 0:
        raise OutOfRange(
            "value", seen.value, "the reading is missing", "give nitrate-nitrogen; a meter that shows nitrate reads 4.43 times more"
        )
    if not rows:
        told = say("{seen:.0f} of nitrate-nitrogen; no range is known for {crop}.", seen=seen.value, crop=seen.crop.name)
        return _Reading(says=told, enough=say("Without a range for the crop no dose follows."), made_for_it=False)
    row = next((row for row in rows if row.stage == seen.rule), None)
    if row is None:
        stages = ", ".join(item.stage for item in rows)
        raise UnknownName("rule", seen.rule[:40], "the range goes by stage, and none is chosen", f"use one of {stages}")
    told = say(
        "{seen:.0f} {unit} of nitrate-nitrogen where {low:.0f} to {high:.0f} is needed ({stage}).",
        seen=seen.value,
        unit=row.unit,
        low=row.low,
        high=row.high,
        stage=row.stage,
    )
    above = ""
    if seen.value > row.high:
        twice = seen.value > row.high * tables.topdress.skip_two_above_times.value
        above = say("It is above the range. Leave out the next {which}.", which="two dressings" if twice else "planned dressing")
    return _Reading(
        says=told,
        asks=seen.value < row.low,
        above=above,
        enough=say("It lies within the range."),
        dose=row.below_dose_kg_per_ha,
        low=row.below_dose_kg_per_ha,
        high=row.cap_kg_per_ha,
        cap=row.cap_kg_per_ha,
    )


def _coming(seen: Seen, tables: Tables) -> str:
    """Nitrogen that is coming already, so that a dressing would be doubled."""
    figures = tables.topdress
    if seen.remaining_kg_per_ha is not None and seen.remaining_kg_per_ha <= 0:
        return say("The plan needs no more nitrogen this season. Something else may be short: test the leaf and the ground.")
    if seen.last_days is not None and seen.last_days < figures.lately_days.value:
        return say("The last dressing was {last_days:.0f} days ago and has not shown yet.", last_days=seen.last_days)
    if seen.still_releasing:
        return say("A coated or organic source is still giving. Look again before you add to it.")
    full = figures.soil_nitrate_full_mg_per_kg.value
    if seen.soil_nitrate_mg_per_kg is not None and seen.soil_nitrate_mg_per_kg > full:
        return say(
            "The ground holds {soil_nitrate_mg_per:.0f} mg/kg of nitrate-nitrogen, above {full:.0f}. Look at roots, salt and cold.",
            soil_nitrate_mg_per=seen.soil_nitrate_mg_per_kg,
            full=full,
        )
    return ""


def _dosed(seen: Seen, reading: _Reading, window: TopdressWindow | None, allows: str, tables: Tables) -> Topdress:
    due = seen.due_days is not None and seen.due_days <= tables.topdress.due_days.value and seen.due_kg_per_ha > 0
    if not reading.made_for_it and not due:
        why = say("No instrument is made for this crop, so a pale leaf only brings a planned dressing forward, and none is planned soon.")
        return _nothing(why, seen, reading.says, allows)
    wanted = seen.due_kg_per_ha if due else reading.dose
    limits = {"the instrument": wanted, "its cap": reading.cap, "the crop's cap": window.cap_n_kg_per_ha if window else None}
    limits["what the season still needs"] = seen.remaining_kg_per_ha
    told = {name: limit for name, limit in limits.items() if limit is not None}
    dose = max(0.0, min(told.values()))
    least = next(name for name, limit in told.items() if limit == min(told.values()))
    step = Step(
        "the dressing",
        "the least of these",
        {name: Figure(limit, "kg/ha of N") for name, limit in told.items()},
        Figure(dose, "kg/ha of N"),
        window.source if window else "topdress-windows",
        window.where if window else "",
    )
    reason = (
        say("A dressing was planned in {due_days:.0f} days: it is brought forward, not added.", due_days=seen.due_days)
        if due
        else say("The crop needs it.")
    )
    if least not in ("the instrument",) and not due:
        reason += say(" Held to {least}.", least=least)
    return Topdress(
        act="bring forward" if due else "dress",
        n_kg_per_ha=dose,
        low=min(dose, reading.low or dose),
        high=_highest(dose, reading, told),
        reason=reason,
        read=reading.says,
        allows=allows,
        look_again=(5, 7) if reading.close else (7, 10),
        working=(*reading.steps, step),
    )


def _highest(dose: float, reading: _Reading, told: dict[str, float]) -> float:
    """The upper end of what guides give, under the same caps."""
    others = [limit for name, limit in told.items() if name != "the instrument"]
    return max(dose, min(reading.high, *others)) if reading.high and others else dose


def _nothing(why: str, seen: Seen, read: str, allows: str, *, act: str = "nothing", look: tuple[int, int] = (7, 10)) -> Topdress:
    return Topdress(act=act, n_kg_per_ha=0.0, low=0.0, high=0.0, reason=why, read=read, allows=allows, look_again=look, working=())  # type: ignore[arg-type]


def _said_of(seen: Seen) -> str:
    return say("Read with {which}.", which="the eye" if seen.instrument == "eye" else "the " + seen.instrument)


def _allows(seen: Seen, window: TopdressWindow | None) -> str:
    """What the stage and the season's account allow."""
    parts = []
    if window is not None and window.last_stage != "none":
        parts.append(
            say(
                "Nitrogen pays best at {best_window}, and until {last_stage}.", best_window=window.best_window, last_stage=window.last_stage
            )
        )
    if seen.remaining_kg_per_ha is not None:
        parts.append(say("The season still allows {left:.0f} of nitrogen.", left=Measure(max(0.0, seen.remaining_kg_per_ha), "kg/ha")))
    return " ".join(parts)
