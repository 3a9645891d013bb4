"""The sentence that a plan opens with: the main thing wrong, and the first thing to do.

"Nothing is needed" is said only where the analytes that matter for the crop were tested and judged; else the plan says which were not.
"""

from agronomy.base.record import record
from agronomy.base.said import Measure, Volume, joined, large, say, say_n, small
from agronomy.dose.application import Application
from agronomy.interpret.acidity import is_from_salt
from agronomy.interpret.leaching import flush_ground
from agronomy.interpret.salinity import yield_at
from agronomy.model.answers import ACIDITY, Answer, Because, NeedKind, Nothing, Unmet
from agronomy.model.finding import Finding
from agronomy.plan.assess import Assessment
from agronomy.plan.required_tests import named, not_judged, not_tested
from agronomy.plan.water import water_too_salty
from agronomy.schedule.retest_days import years_old
from agronomy.tables import Tables

PAYS_FIRST = ("Na", "OM", "CaCO3", "S_acid", "P", "K", "Mg", "S", "Zn", "Mn", "Fe", "Cu", "B", "N")
WORST = ("very_short", "short", "building")


@record
class Headline:
    """The sentence that a plan opens with; `rests` where it says that nothing is to be done."""

    says: str
    rests: bool = False


def headline(
    found: Assessment, applications: list[Application], answers: tuple[Answer, ...], unmet: list[Unmet], tables: Tables
) -> Headline:
    """One or two sentences: what is wrong, and what to do first. Source: own-experience.

    Doses in g or kg, as the plan says them.

    >>> from agronomy.intake.example import found, plan, tables
    >>> headline(found(), list(plan().applications), (), [], tables).says.split(",")[0]
    'The ground is too acid for cabbage (pH 5.6)'
    """
    opening = _opening(found, applications, unmet, tables)
    made = _nothing(found, answers, unmet, tables) if opening is None else Headline(_and_unmet(opening, found, applications, unmet, tables))
    years = years_old(found.readings.values(), found.request.today, tables)
    if years is None or found.contradictions or found.request.plot.ground in ("bale", "container"):
        return made
    return Headline(say("The test is {years} years old: test first. Until then: {rest}", years=years, rest=small(made.says)))


def _and_unmet(opening: str, found: Assessment, applications: list[Application], unmet: list[Unmet], tables: Tables) -> str:
    """The opening, with what is very short and yet can't be given."""
    if found.contradictions:
        return opening
    wanted = {item.what for item in unmet if item.rate_kg_per_ha > 0}
    starved = [key for key in ("P", "K", "Mg") if key in found.nutrients and found.nutrients[key].class_ == "very_short"]
    told = str(opening).lower()
    missing = [key for key in starved if key in wanted and tables.analytes[key].name.lower() not in told]
    if not missing:
        return opening
    trouble = say("Very short, and nothing that may be used brings it: {names}.", names=named(missing, tables))
    if any(item.what in ACIDITY for item in applications) or found.salt.keys() & {"Na", "EC"}:
        return joined((opening, trouble))
    return joined((trouble, opening))


def _opening(found: Assessment, applications: list[Application], unmet: list[Unmet], tables: Tables) -> str | None:
    """What is wrong and what to do first; None where nothing is to be put on."""
    request = found.request
    if found.contradictions:
        item = found.contradictions[0]
        return say("{short}. First: {check}", short=item.short, check=small(item.check))
    if request.plot.ground == "bale":
        return _with_first(say("Fresh straw ties up nitrogen until it has rotted a little"), applications, "N")
    trouble = _trouble(found, applications, unmet, tables)
    if trouble:
        return trouble
    if not request.readings and applications:
        return _with_first(say("Nothing was tested here, so only small and careful doses"), applications, "P")
    short = _worst_short(found, applications)
    main = next((what for what in PAYS_FIRST if any(item.what == what for item in applications if not item.later)), None)
    if main is None:
        return None
    return _with_first(_main_thing(main, short, found, applications, tables), applications, _mends(main, short))


def _mends(main: str, short: Finding | None) -> str:
    """What the first dose of the headline is for."""
    return short.analyte.removeprefix("leaf ") if short is not None and main not in ACIDITY else main


def _main_thing(main: str, short: Finding | None, found: Assessment, applications: list[Application], tables: Tables) -> str:
    """The main thing wrong: acidity, then what is shortest, then what the crop takes."""
    crop = found.request.crop
    if main in ACIDITY and found.acidity is not None:
        side = "too acid" if main == NeedKind.LIME else "too alkaline"
        also = say(", and {short} is {how}", short=_name(short, tables), how=_how(short)) if short is not None else ""
        acidity = found.acidity.value
        ph = say("pH {acidity:.1f} in water" if is_from_salt(found.readings["pH"]) else "pH {acidity:.1f}", acidity=acidity)
        return say("The ground is {side} for {crop} ({ph}){also}", side=side, crop=crop.name, ph=ph, also=also)
    if short is not None:
        return say("{short} is {how} for {crop}", short=_name(short, tables).capitalize(), how=_how(short), crop=crop.name)
    open_musts = _open_musts(found, tables)
    if main == "N" and open_musts:
        return say("Nitrogen is needed for {crop}; {open_musts}", crop=crop.name, open_musts=open_musts)
    excess = _but_excess(found)
    if main == "N":
        return say("Only nitrogen is needed for {crop}{excess}", crop=crop.name, excess=excess)
    if open_musts and any(item.what == "P" and found.readings.get("P") is None for item in applications):
        return say("{open_musts}, so only small and careful doses", open_musts=large(open_musts))
    return say("The ground is almost right for {crop}; it needs only what the harvest removes{excess}", crop=crop.name, excess=excess)


def _leached_first(salt: Finding, found: Assessment, tables: Tables) -> str:
    """Salt that good water can be led on to: how much of it, on this ground."""
    plot = found.request.plot
    wanted = yield_at(salt.value, found.request.crop, tables)[1]
    if plot.ground == "container" or salt.value <= wanted:
        return say(
            "Salt costs crop here ({salt:.1f} dS/m): first leach it with plenty of good water, then test again; feed in small parts.",
            salt=salt.value,
        )
    water = flush_ground(salt.value, wanted, max(plot.depth_cm, tables.salinity.leached_cm.value), "soaks", tables)
    return say(
        "Salt costs crop here ({salt:.1f} dS/m): first leach it with about {water:.0f} of good water ({litres} here), in short soaks. "
        "Then test again, and feed in small parts.",
        salt=salt.value,
        water=Measure(round(water.amount, -1), "mm"),
        litres=Volume(water.amount * plot.area_m2, False, found.request.units),
    )


def _trouble(found: Assessment, applications: list[Application], unmet: list[Unmet], tables: Tables) -> str:
    """Trouble that no bag cures, and the other way out."""
    sodium, salt, request = found.salt.get("Na"), found.salt.get("EC"), found.request
    if sodium is not None and sodium.class_ == "sodic":
        return _with_first(
            say("Sodium is the trouble, not hunger: first see that the drain runs, then gypsum, then water to leach"),
            applications,
            "Na",
            word="The dose",
        )
    if salt is not None and salt.class_ != "right" and request.plot.kind == "field" and request.plot.watering in (None, "rain"):
        return say(
            "Salt costs crop here ({salt:.1f} dS/m). Where no good water can be led on, sow what tolerates it, keep the ground covered "
            "and let rain carry it down; feed in small parts and test again.",
            salt=salt.value,
        )
    if salt is not None and salt.class_ != "right":
        return _leached_first(salt, found, tables)
    salty_water = water_too_salty(found, tables)
    if salty_water:
        return salty_water
    if any(item.what == NeedKind.HUMUS for item in applications):
        return _with_first(
            say("The ground has lost its organic matter, which no product restores: loosen it, and bring compost by the load"),
            applications,
            "OM",
        )
    acid = next((item for item in unmet if item.what == NeedKind.ACIDIFIER), None)
    if acid is not None and request.plot.ground == "container":
        return say("The water limes the pots: give rain water or acidify it, and repot in fresh acid mix. No sulfur.")
    water = found.readings.get("alkalinity")
    too_high = found.acidity is not None and found.acidity.class_ == "too_alkaline"
    if too_high and water is not None and water.value >= tables.timing.retest.alkaline_water_from_mg_per_l:
        what = say(
            "The water limes the ground at every watering (alkalinity {water:.0f} mg/L): first acidify it, or give rain water",
            water=water.value,
        )
        return _with_first(what, applications, "S_acid", word="Then")
    doses_sulfur = any(item.what == NeedKind.ACIDIFIER for item in applications)
    alkaline = found.acidity is not None and found.acidity.class_ == "too_alkaline" and acid is not None and not doses_sulfur
    if alkaline:
        return _too_limy(found, applications)
    if found.acidity is None and all(reading.how == "probe" for reading in request.readings) and request.readings:
        return say("A probe can't carry a rate: first send one soil sample to a laboratory.")
    if found.readings.get("pH") is not None and found.readings["pH"].how == "probe":
        return say("A probe is too rough to lime by: first send one soil sample to a laboratory.")
    return ""


def _too_limy(found: Assessment, applications: list[Application]) -> str:
    """That no sulfur brings down this pH, and what else there is."""
    crop, acidity = found.request.crop, found.acidity
    if crop.is_acid_lover or acidity is None:
        instead = say("a raised bed or pots of acid mix, or another plant")
        return say("This ground is too limy for {crop}, and sulfur won't change it: {instead}.", crop=crop.name, instead=instead)
    locked = say("lime locks up iron and manganese, and sulfur won't change it")
    return _with_first(
        say("The ground is too limy for {crop} (pH {ph:.1f}): {locked}", crop=crop.name, ph=acidity.value, locked=locked),
        applications,
        "Fe",
    )


def _worst_short(found: Assessment, applications: list[Application]) -> Finding | None:
    """The nutrient that is shortest by the ground or the leaf, of those that the plan gives."""
    given = {item.what for item in applications} | {key for item in applications for key, kg in item.supplies.items() if kg >= 5}
    short = [
        finding
        for finding in (*found.leaves.values(), *found.nutrients.values())
        if finding.is_short and finding.analyte.removeprefix("leaf ") in given and finding.analyte != "Ca"
    ]
    return min(short, key=lambda finding: WORST.index(finding.class_), default=None)


def _how(finding: Finding) -> str:
    return "a little short" if finding.class_ == "building" else "short"


def _name(finding: Finding, tables: Tables) -> str:
    name = tables.analytes[finding.analyte].name.lower().removesuffix(" (sulfate)")
    return say("{name} in the leaf", name=name) if finding.analyte.startswith("leaf ") else name


def _but_excess(found: Assessment) -> str:
    over = [finding.name.lower() for finding in found.nutrients.values() if finding.class_ == "excess" and finding.analyte in ("P", "K")]
    return say("; there is far too much {names}", names=joined(over, " and ")) if over else ""


def _with_first(what: str, applications: list[Application], of: str, *, word: str = "First") -> str:
    """What is wrong, with the first thing to do: of the kind that mends it, else whatever comes first."""
    now = [item for item in applications if not item.later]
    first = next(iter(sorted((item for item in now if item.what == of), key=lambda item: item.from_)), None) or next(
        iter(sorted(now, key=lambda item: item.from_)), None
    )
    if first is None:
        return say("{what}.", what=what)
    if word == "First" and any(item.from_ < first.from_ for item in now):
        word = "Most of all"  # other jobs come sooner, and stand below
    return say(
        "{what}. {word}: {measure} of {first}, from {start:%-d %B}.",
        what=what,
        word=word,
        measure=first.measure,
        first=first.name,
        start=first.from_,
    )


def _nothing(found: Assessment, answers: tuple[Answer, ...], unmet: list[Unmet], tables: Tables) -> Headline:
    """That nothing is needed, where all that matters was judged; else what was not tested or not judged."""
    request, crop = found.request, found.request.crop
    if crop.is_grass and crop.n_high <= 0:
        return Headline(say("Nothing needs doing, and anything would do harm: poor ground keeps the flowers."), rests=True)
    nitrate = found.readings.get("NO3-N")
    stands = any(isinstance(item, Nothing) and item.because is Because.STANDING_CROP for item in answers)
    if nitrate is not None and stands:
        says = say(
            "No more nitrogen now: nitrate reads {nitrate:.0f} mg/kg, which is enough. First: test it again in two weeks.",
            nitrate=nitrate.value,
        )
        return Headline(says)
    told = _open_musts(found, tables)
    open_ = [item for item in unmet if item.rate_kg_per_ha > 0] or [item for item in unmet if item.what in ACIDITY and found.readings]
    if told:
        return Headline(say("{told}: have that done before you buy anything for {crop}.", told=large(told), crop=crop.name))
    if open_:
        return Headline(say("No product helps here: {why}", why=small(open_[0].why)))
    if not request.readings:
        return Headline(say("Nothing was tested."), rests=True)
    says = say("Nothing is needed for {crop} this season{excess}. Leave the bags in the shed.", crop=crop.name, excess=_but_excess(found))
    return Headline(says, rests=True)


def _open_musts(found: Assessment, tables: Tables) -> str:
    """What must be judged before anything may be called enough, and was not: in words, or nothing."""
    untested, unjudged, told = not_tested(found, tables), not_judged(found, tables), []
    if untested:
        told.append(say_n("{names} was not tested", "{names} were not tested", len(untested), names=named(untested, tables)))
    if unjudged:
        was, were = "{names} was tested, but can't be judged here", "{names} were tested, but can't be judged here"
        told.append(say_n(was, were, len(unjudged), names=named(unjudged, tables)))
    return joined(told, "; ") if told else ""
