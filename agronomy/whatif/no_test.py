"""Ground that nobody tested: what colour, history, feel and growth let one suppose, what can be done without harm, and what a test would
settle.

Every word here is a supposition and says so. Nothing that takes years to undo is advised on a supposition: no lime, no sulfur.
"""

from agronomy.base import showing
from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.interpret.acidity import ph_range
from agronomy.model.answers import Need
from agronomy.model.request import Request
from agronomy.model.soil import Soil, describe_soil
from agronomy.recommend.acidity.buffer_capacity import estimated_lime_need
from agronomy.recommend.acidity.caps import lime_limit
from agronomy.recommend.nutrients.credits import credits_for
from agronomy.recommend.nutrients.nitrogen import NitrogenCase, nitrogen_need
from agronomy.recommend.schools.by_ground import cautious_phosphate, is_fed_untested, small_nitrogen
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.material import K_IN_K2O, P_IN_P2O5

QUESTIONS = ("colour", "history", "feel", "growth")
SUPPOSED = ("pH", "P", "K", "Mg", "OM", "EC")
SURE_ENOUGH = 2  # weight from which a sign is taken for more than a hint
BASIC_TEST = ("lab_ph", "buffer_ph", "nutrients", "organic_matter")


@record
class Guess:
    """A supposition about one analyte: which way it leans, how strongly (0 to 1), and why."""

    about: str
    name: str
    leans: str
    strength: float
    why: tuple[str, ...]


@record
class CautiousRate:
    """A rate that does little harm where the supposition is wrong [kg of element/ha], or none and why."""

    what: str
    name: str
    kg_per_ha: float
    why: str


@record(kw_only=True)
class WithoutTest:
    """All that can be said of untested ground, and the price of knowing."""

    guesses: tuple[Guess, ...]
    rates: tuple[CautiousRate, ...]
    lime_kg_per_ha: tuple[float, float]
    lime_kg: tuple[float, float]
    test_price: float
    test_settles: str


def questions(tables: Tables) -> dict[str, list[str]]:
    """The answers that may be ticked, by question. Source: sign-guide.

    >>> from agronomy.intake.example import tables
    >>> len(questions(tables)) > 3
    True
    """
    found: dict[str, list[str]] = {name: [] for name in QUESTIONS}
    for row in tables.readings.signs.values():
        if row.answer not in found[row.question]:
            found[row.question].append(row.answer)
    return found


def guesses(ticked: set[str], tables: Tables) -> tuple[Guess, ...]:
    """What the ticked answers lean to, each analyte by its heaviest side; signs that disagree weaken each other. Source: sign-guide.

    >>> from agronomy.intake.example import tables
    >>> [guess.about for guess in guesses(set(), tables)][:3]
    ['pH', 'P', 'K']
    """
    found = []
    for about in SUPPOSED:
        rows = [row for row in tables.readings.signs.values() if row.about == about and row.answer in ticked]
        sides: dict[str, float] = {}
        for row in rows:
            sides[row.leans] = sides.get(row.leans, 0.0) + row.weight
        name = "Salt" if about == "EC" else tables.analytes[about].name
        if not sides:
            found.append(Guess(about, name, "not known", 0.0, ()))
            continue
        leans = max(sides, key=lambda side: sides[side])
        against = sum(weight for side, weight in sides.items() if side != leans)
        left = sides[leans] - against
        why = tuple(row.says for row in rows if row.leans == leans)
        found.append(Guess(about, name, leans if left > 0 else "not known", max(0.0, left) / (left + 2) if left > 0 else 0.0, why))
    return tuple(found)


def without_test(request: Request, ticked: set[str], tables: Tables) -> WithoutTest:
    """Cautious rates for a plot and crop without a reading, by soil and crop. The request's readings are not looked at.

    Source: own-experience.
    Rates in kg/ha.

    >>> from agronomy.intake.example import bed, tables
    >>> len(without_test(bed(), set(), tables).rates) > 0
    True
    """
    soil = describe_soil(request.plot, request.plot.organic_matter_pct, request.plot.cec_cmol_per_kg, None, tables)
    supposed = {guess.about: guess for guess in guesses(ticked, tables)}
    rates = (
        _nitrogen(request, soil, tables),
        _phosphorus(request, soil, supposed["P"], tables),
        _from_crop("K", request.crop, supposed["K"], tables),
    )
    lime = _lime_between(request, soil, supposed["pH"], tables)
    price = sum(tables.readings.test_prices[key].price for key in BASIC_TEST)
    lime_kg = (lime[0] * request.plot.area_m2 / 10_000, lime[1] * request.plot.area_m2 / 10_000)
    if lime[1] > 0:
        least, most = ("none" if kg == 0 else showing.mass(kg, request.units) for kg in lime_kg)
        settles = say(
            "how much pure lime this plot wants, {least} or up to {most}, and which of these rates are wasted", least=least, most=most
        )
    else:
        settles = say("which of these rates are wasted, and whether anything is locked up")
    return WithoutTest(
        guesses=tuple(supposed.values()), rates=rates, lime_kg_per_ha=lime, lime_kg=lime_kg, test_price=price, test_settles=settles
    )


def _nitrogen(request: Request, soil: Soil, tables: Tables) -> CautiousRate:
    credits = credits_for(
        request.gifts,
        {},
        soil,
        uncounted=request.uncounted,
        today=request.today,
        crop_from=request.planting or request.today,
        south=request.plot.hemisphere == "south",
        harvests=request.harvests,
        tables=tables,
    )
    answer = nitrogen_need(request.crop, soil, request.yield_goal_t_per_ha, NitrogenCase(credits), tables)
    if isinstance(answer, Need):
        small = small_nitrogen(answer, tables)
        return CautiousRate("N", "nitrogen", small.rate_kg_per_ha, small.why)
    return CautiousRate("N", "nitrogen", 0.0, answer.why)


def _phosphorus(request: Request, soil: Soil, guess: Guess, tables: Tables) -> CautiousRate:
    """What a plan without a reading gives too, unless a sign speaks for plenty, or louder for a shortage."""
    by_sign = _from_crop("P", request.crop, guess, tables)
    if guess.leans == "plenty" or not is_fed_untested(request.crop, soil, tables):
        return by_sign
    small = cautious_phosphate(request.crop, request.yield_goal_t_per_ha, tables)
    return by_sign if by_sign.kg_per_ha > small.rate_kg_per_ha else CautiousRate("P", "phosphorus", small.rate_kg_per_ha, small.why)


def _from_crop(nutrient: str, crop: Crop, guess: Guess, tables: Tables) -> CautiousRate:
    name = tables.analytes[nutrient].name.lower()
    if guess.leans == "plenty":
        return CautiousRate(nutrient, name, 0.0, say("None: {why}.", why=guess.why[0]))
    if guess.leans != "short":
        return CautiousRate(nutrient, name, 0.0, say("None: nothing speaks for a shortage, and what isn't needed is money in the drain."))
    at_zero, share = (crop.p2o5_r0, P_IN_P2O5) if nutrient == "P" else (crop.k2o_r0, K_IN_K2O)
    part = tables.schools.untested_share.value * (1.0 if guess.strength >= SURE_ENOUGH / (SURE_ENOUGH + 2) else 0.5)
    return CautiousRate(
        nutrient,
        name,
        at_zero * share * part,
        say("{part:.0f} % of the rate for ground that has none, because {why}.", part=part * 100, why=guess.why[0]),
    )


def _lime_between(request: Request, soil: Soil, guess: Guess, tables: Tables) -> tuple[float, float]:
    """Pure CaCO3 [kg/ha] that the plot could want: at the ends of the supposed pH. Never advised, only told as what is at stake."""
    figures = ph_range(request.crop, soil, request.target_ph, tables)
    dressing = lime_limit(request.plot.kind, request.crop, soil, tables)

    def at(ph: float) -> float:
        if ph >= figures["low"]:
            return 0.0
        return estimated_lime_need(
            ph, 0.0, target_ph=figures["lime_to"], depth_cm=dressing.treated_depth_cm, soil=soil, tables=tables
        ).value

    row = tables.acidity.supposed_ph[guess.leans]
    return at(row.highest), at(row.lowest)
