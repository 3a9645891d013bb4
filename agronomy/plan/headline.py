"""The sentence that a plan opens with: the main thing wrong, and the first thing to do.

"Nothing is needed" is said only where the analytes that matter for the crop were tested and judged; else the plan says which were not.
"""

from agronomy.dose.application import Application
from agronomy.model.answers import Answer, Nothing, Unmet
from agronomy.model.finding import Finding
from agronomy.plan.assess import Assessment
from agronomy.plan.required_tests import named, not_judged, not_tested
from agronomy.plan.water import water_too_salty
from agronomy.tables import Tables

PAYS_FIRST = ("Na", "OM", "CaCO3", "S_acid", "P", "K", "Mg", "S", "Zn", "Mn", "Fe", "Cu", "B", "N")
WORST = ("very_short", "short", "building")


def headline(found: Assessment, applications: list[Application], answers: tuple[Answer, ...], unmet: list[Unmet], tables: Tables) -> str:
    """One or two sentences: what is wrong, and what to do first. Source: own-experience.

    Doses in g or kg, as the plan says them.

    >>> from agronomy.intake.example import found, plan, tables
    >>> headline(found(), list(plan().applications), (), [], tables).split(",")[0]
    'The ground is too acid for cabbage (pH 5.6)'
    """
    request, crop = found.request, found.request.crop
    if found.contradictions:
        item = found.contradictions[0]
        return f"{item.says.split(':')[0]}. First: {item.check[0].lower()}{item.check[1:]}"
    if request.plot.ground == "bale":
        return _with_first("Fresh straw starves plants until it has rotted a little", applications, "N")
    trouble = _trouble(found, applications, unmet, tables)
    if trouble:
        return trouble
    if not request.readings and applications:
        return _with_first("Nothing was tested here, so only small and careful doses", applications, "P")
    short = _worst_short(found, applications)
    main = next((what for what in PAYS_FIRST if any(item.what == what for item in applications if not item.later)), None)
    if main is None:
        return _nothing(found, answers, unmet, tables)
    if main in ("CaCO3", "S_acid") and found.acidity is not None:
        side = "too acid" if main == "CaCO3" else "too alkaline"
        also = f", and {_name(short, tables)} is {_how(short)}" if short is not None else ""
        return _with_first(f"The ground is {side} for {crop.name} (pH {found.acidity.value:.1f}){also}", applications, main)
    if short is not None:
        what = short.analyte.removeprefix("leaf ")
        return _with_first(f"{_name(short, tables).capitalize()} is {_how(short)} for {crop.name}", applications, what)
    open_musts = _open_musts(found, tables)
    if main == "N" and open_musts:
        return _with_first(f"Nitrogen is wanted for {crop.name}; {open_musts}", applications, "N")
    if main == "N":
        return _with_first(f"Only nitrogen is wanted for {crop.name}{_but_excess(found)}", applications, "N")
    if open_musts and any(item.what == "P" and found.readings.get("P") is None for item in applications):
        return _with_first(f"{open_musts[0].upper()}{open_musts[1:]}, so only small and careful doses", applications, main)
    return _with_first(
        f"The ground is near right for {crop.name}; it only wants back what the crop takes{_but_excess(found)}", applications, main
    )


def _trouble(found: Assessment, applications: list[Application], unmet: list[Unmet], tables: Tables) -> str:
    """Trouble that no bag cures, and the other way out."""
    sodium, salt, request = found.salt.get("Na"), found.salt.get("EC"), found.request
    if sodium is not None and sodium.class_ == "sodic":
        return _with_first(
            "Sodium is the trouble, not hunger: first see that the drain runs, then gypsum, then water to leach",
            applications,
            "Na",
            word="The dose",
        )
    if salt is not None and salt.class_ != "right":
        return (
            f"Salt costs crop here ({salt.value:.1f} dS/m): first leach it with plenty of good water, then test again; feed in small parts."
        )
    salty_water = water_too_salty(found, tables)
    if salty_water:
        return salty_water
    if any(item.what == "OM" for item in applications):
        return _with_first(
            "The ground has lost its humus, which no bag mends: loosen it, and bring compost by the load", applications, "OM"
        )
    acid = next((item for item in unmet if item.what == "S_acid"), None)
    if acid is not None and request.plot.ground == "container":
        return "The water limes the pots: give rain water or acidify it, and repot in fresh acid mix. No sulfur."
    water = found.readings.get("alkalinity")
    too_high = found.acidity is not None and found.acidity.class_ == "too_alkaline"
    if too_high and water is not None and water.value >= tables.timing.retest.alkaline_water_from_mg_per_l:
        what = f"The water limes the ground at every watering (alkalinity {water.value:.0f} mg/L): first acidify it, or give rain water"
        return _with_first(what, applications, "S_acid", word="Then")
    doses_sulfur = any(item.what == "S_acid" for item in applications)
    alkaline = found.acidity is not None and found.acidity.class_ == "too_alkaline" and acid is not None and not doses_sulfur
    if alkaline and request.crop.is_acid_lover:
        instead = "a raised bed or pots of acid mix, or another plant"
        return f"This ground is too limy for {request.crop.name}, and sulfur won't change it: {instead}."
    if found.acidity is None and all(reading.how == "probe" for reading in request.readings) and request.readings:
        return "A probe can't carry a rate: first send one soil sample to a laboratory."
    if found.readings.get("pH") is not None and found.readings["pH"].how == "probe":
        return "A probe is too rough to lime by: first send one soil sample to a laboratory."
    return ""


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
    return f"{name} in the leaf" if finding.analyte.startswith("leaf ") else name


def _but_excess(found: Assessment) -> str:
    over = [finding.name.lower() for finding in found.nutrients.values() if finding.class_ == "excess" and finding.analyte in ("P", "K")]
    return f"; there is far too much {' and '.join(over)}" if over else ""


def _with_first(what: str, applications: list[Application], of: str, *, word: str = "First") -> str:
    """What is wrong, with the first thing to do: of the kind that mends it, else whatever comes first."""
    now = [item for item in applications if not item.later]
    first = next(iter(sorted((item for item in now if item.what == of), key=lambda item: item.from_)), None) or next(
        iter(sorted(now, key=lambda item: item.from_)), None
    )
    if first is None:
        return f"{what}."
    if word == "First" and any(item.from_ < first.from_ for item in now):
        word = "Above all"  # other jobs come sooner, and stand below
    return f"{what}. {word}: {first.measure} of {first.name}, from {first.from_:%-d %B}."


def _nothing(found: Assessment, answers: tuple[Answer, ...], unmet: list[Unmet], tables: Tables) -> str:
    """That nothing is needed, where all that matters was judged; else what was not tested or not judged."""
    request, crop = found.request, found.request.crop
    if crop.is_grass and crop.n_high <= 0:
        return "Nothing needs doing, and anything would do harm: poor ground keeps the flowers."
    nitrate = found.readings.get("NO3-N")
    standing = next((item for item in answers if isinstance(item, Nothing) and item.nutrient == "N" and "standing crop" in item.why), None)
    if nitrate is not None and standing is not None:
        return f"No more nitrogen now: nitrate reads {nitrate.value:.0f} mg/kg, which is enough. First: test it again in two weeks."
    told = _open_musts(found, tables)
    open_ = [item for item in unmet if item.rate_kg_per_ha > 0] or [
        item for item in unmet if item.what in ("CaCO3", "S_acid") and found.readings
    ]
    if told:
        return f"{told[0].upper()}{told[1:]}: have that done before you buy anything for {crop.name}."
    if open_:
        return f"No bag helps here: {open_[0].why[0].lower()}{open_[0].why[1:]}"
    excess = _but_excess(found)
    return (
        f"Nothing is needed for {crop.name} this season{excess}. Leave the bags in the shed." if request.readings else "Nothing was tested."
    )


def _open_musts(found: Assessment, tables: Tables) -> str:
    """What must be judged before anything may be called enough, and was not: in words, or nothing."""
    untested, unjudged, told = not_tested(found, tables), not_judged(found, tables), []
    if untested:
        told.append(f"{named(untested, tables)} {'was' if len(untested) == 1 else 'were'} not tested")
    if unjudged:
        told.append(f"{named(unjudged, tables)} {'was' if len(unjudged) == 1 else 'were'} tested, but can't be judged here")
    return "; ".join(told)
