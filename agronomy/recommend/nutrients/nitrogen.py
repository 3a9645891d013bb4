"""The nitrogen budget: what the crop takes up less what the ground is given, over what the crop recovers.

A test in the standing crop, or an economic rate from the user's own trials, goes before the budget where there is one.
"""

from dataclasses import replace
from datetime import date

from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.base.said import Measure, joined, say, small
from agronomy.base.uncertainty import HALF_WIDTH_80
from agronomy.base.working import Figure, Step
from agronomy.model.answers import Answer, Because, Method, Need, Nothing
from agronomy.model.credit import Credit
from agronomy.model.reading import Reading
from agronomy.model.response import Response
from agronomy.model.soil import Soil
from agronomy.recommend.nutrients.credits import counted, organic_matter_nitrogen
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.nitrogen import MostSaved, NitrateCritical, Nitrogen


@record
class NitrogenCase:
    """What the budget looks at: credits, a nitrate test in the standing crop, a known response.

    `youth` is the share of a full crop's nitrogen that a young planting is given, `youth_says` the words for it.
    """

    credits: tuple[Credit, ...] = ()
    nitrate: Reading | None = None
    planting: date | None = None
    response: Response | None = None
    youth: float = 1.0
    youth_says: str = ""
    youth_source: str = ""


def economic_rate(response: Response) -> float:
    """Nitrogen [kg/ha] at which the last kilogram just pays for itself; nought where none does. Source: n-economic.

    >>> round(economic_rate(Response(35, 0.12, 1.12, 0.20)), 1)
    122.5
    """
    ratio = response.nitrogen_price / response.crop_price
    return max(0.0, (response.slope - ratio) / (2 * response.curvature))


def standing_crop_rate(nitrate: float, critical: float, tables: Tables) -> float:
    """Nitrogen [kg/ha] to side-dress by nitrate [mg/kg, 0 to 30 cm] in the standing crop. Source: magdoff-1984.

    Nothing at the critical level and above, and never more than the table's most; raises nothing.

    >>> from agronomy.tables import load_tables
    >>> round(standing_crop_rate(15, 25, load_tables()), 1)
    89.7
    """
    figures = tables.nitrogen
    return min(figures.standing_nitrate_cap_kg_per_ha.value, max(0.0, critical - nitrate) * figures.standing_nitrate_kg_per_ppm.value)


def nitrogen_need(crop: Crop, soil: Soil, yield_goal_t_per_ha: float | None, case: NitrogenCase, tables: Tables) -> Answer:
    """A Need of N, or Nothing with its reason.

    Source: stanford-1973 with a yield goal where a factor is known (it counts recovery already), else crop-calendars.
    Rates in kg of element per hectare.

    >>> from agronomy.intake.example import bed, soil, tables
    >>> round(nitrogen_need(bed().crop, soil(), None, NitrogenCase(), tables).rate_kg_per_ha)
    225
    """
    if crop.legume and crop.n_low == 0:
        return Nothing("N", say("No nitrogen: {crop} gets its own from the air.", crop=crop.name))
    standing = _by_standing_test(crop, case, tables)
    if standing is not None:
        return standing
    budget = _budget(crop, soil, yield_goal_t_per_ha, case, tables)
    return budget if case.response is None else _by_response(crop, case, budget, tables)


def _budget(crop: Crop, soil: Soil, goal: float | None, case: NitrogenCase, tables: Tables) -> Answer:
    season = _while_young(season_of(crop, goal, tables), case)
    if goal is None or crop.n_per_t is None:
        answer = _by_season(crop, soil, season, case, tables)
    else:
        answer = _by_yield(crop, goal, crop.n_per_t, season, case, tables)
    if not case.youth_says:
        return answer
    if isinstance(answer, Nothing):
        return replace(answer, why=say("No nitrogen: {youth} The ground gives what it takes up.", youth=small(case.youth_says)))
    return replace(answer, why=joined((case.youth_says, answer.why)))


@record
class SeasonNitrogen:
    """What a season of a crop is usually given from all that is put on [kg N/ha], by the yield hoped for."""

    usual: float
    low: float
    high: float
    scale: float
    source: str
    where: str


def season_of(crop: Crop, goal_t_per_ha: float | None, tables: Tables) -> SeasonNitrogen:
    """The usual nitrogen of a crop's season: the middle of its guides' range, scaled by the yield hoped for within bounds.

    A grower's own figures for a crop go before the guides. Source: crop-calendars.
    Nitrogen in kg/ha, yield in t/ha.

    >>> from agronomy.intake.example import bed, tables
    >>> season_of(bed("onion").crop, None, tables).usual
    125.0
    """
    figures, row = tables.nitrogen, tables.growing.limits[crop.key]
    table = tables.crops[crop.key]
    own = (crop.n_low, crop.n_high) != (table.n_low, table.n_high)
    low, high = (crop.n_low, crop.n_high) if own else (row.season_n_low, row.season_n_high)
    removed = tables.nutrients.removal.get(crop.key)
    scale = 1.0
    if goal_t_per_ha is not None and removed is not None:
        least, most = figures.season_yield_least.value, figures.season_yield_most.value
        scale = min(most, max(least, goal_t_per_ha / removed.usual_t_per_ha))
    source, where = ("user-value", say("your own figures for the crop")) if own else (row.source, row.where)
    return SeasonNitrogen(
        (low + high) / 2 * scale, low * min(1.0, scale), high * min(figures.season_high_most.value, max(1.0, scale)), scale, source, where
    )


def _while_young(season: SeasonNitrogen, case: NitrogenCase) -> SeasonNitrogen:
    """A season's nitrogen, in its share for a planting that does not bear in full."""
    if case.youth >= 1:
        return season
    usual, low, high = (part * case.youth for part in (season.usual, season.low, season.high))
    return replace(season, usual=usual, low=low, high=high, source=case.youth_source, where=case.youth_says)


def _lines(case: NitrogenCase) -> tuple[tuple[Step, ...], dict[str, Figure]]:
    """The steps behind the counted credits, and the credits as the inputs of a sum."""
    lines = [credit for credit in case.credits if credit.counted and credit.nutrient == "N"]
    inputs: dict[str, Figure] = {}
    for credit in lines:
        name = credit.name if credit.name not in inputs else f"{credit.name} ({credit.key})"
        inputs[name] = Figure(credit.kg_per_ha, "kg/ha")
    return tuple(step for credit in lines for step in credit.working), inputs


def _less(inputs: dict[str, Figure]) -> str:
    """The credits as the tail of a sum."""
    return "".join(f" − {name}" for name in inputs)


def _by_yield(crop: Crop, goal: float, per_t: float, season: SeasonNitrogen, case: NitrogenCase, tables: Tables) -> Answer:
    """By the yield hoped for, and never more than the guides' most for a season of such a yield."""
    given, given_low, given_high = counted(case.credits, "N")
    spread = tables.nitrogen.yield_spread.value
    wanted = min(per_t * goal, season.high + given)
    steps, inputs = _lines(case)
    step = Step(
        "nitrogen to give",
        f"min(most in a season, max(0, factor × yield{_less(inputs)}))",
        {
            "factor": Figure(per_t, "kg/t", "stanford-1973"),
            "yield": Figure(goal, "t/ha"),
            **inputs,
            "most in a season": Figure(season.high, "kg/ha", season.source.partition(";")[0]),
        },
        Figure(min(season.high, max(0.0, per_t * goal - given)), "kg/ha"),
        f"stanford-1973;{season.source}",
        f"{crop.name}, {crop.where}",
    )
    low, high = wanted * (1 - spread) - given_high, wanted * (1 + spread) - given_low
    return _need_or_nothing(crop, wanted - given, low, high, "by yield", (*steps, step), inputs, tables)


def _by_season(crop: Crop, soil: Soil, season: SeasonNitrogen, case: NitrogenCase, tables: Tables) -> Answer:
    """What a season is usually given, more on ground poor in humus and less on rich, less what the ground is given beside."""
    given, given_low, given_high = counted(case.credits, "N")
    counts_humus = any(credit.key == "organic_matter" and credit.counted for credit in case.credits)
    figures = tables.nitrogen
    is_old_grass = tables.growing.crops[crop.key].life_form in ("grazed_grass", "cut_grass")
    ordinary_pct = (figures.ordinary_humus_grass_pct if is_old_grass else figures.ordinary_humus_pct).value
    if not soil.organic_matter_known:
        ordinary_pct = soil.organic_matter_pct  # nobody knows: it is taken for ordinary
    ordinary = organic_matter_nitrogen(soil, tables, ordinary_pct)[0] if counts_humus else 0.0
    humus, most = _humus_counted(case) - ordinary, _most_saved(crop, tables)
    cap = most.on_peat_kg_per_ha if soil.organic_matter_pct >= figures.peat_from_pct.value else most.humus_kg_per_ha
    over = max(0.0, humus - cap)
    tested = any(credit.counted and credit.key == "nitrate" for credit in case.credits)
    least = 0.0 if tested or crop.legume else (1 - most.credits_share) * season.usual
    usual_less = season.usual + ordinary + over - given
    need = min(season.high, max(least, usual_less))
    steps, inputs = _lines(case)
    step = Step(
        "nitrogen to give",
        f"min(most in a season, max(least in a season, usual in a season + humus not counted{_less(inputs)}))",
        {
            "least in a season": Figure(least, "kg/ha", most.source),
            "usual in a season": Figure(season.usual, "kg/ha", season.source.partition(";")[0]),
            "humus not counted": Figure(ordinary + over, "kg/ha", "n-organic-matter"),
            **inputs,
            "most in a season": Figure(season.high, "kg/ha", season.source.partition(";")[0]),
        },
        Figure(max(0.0, need), "kg/ha"),
        f"{season.source};n-organic-matter",
        season.where,
        note=f"guides run from {season.low:.0f} to {season.high:.0f} kg/ha, the middle is used; they suppose ordinary ground: "
        f"its humus is not counted, nor what is over {cap:.0f} kg/ha beyond it",
    )
    low, high = min(need, season.low + ordinary + over - given_high), max(need, season.high + ordinary + over - given_low)
    answer = _need_or_nothing(crop, need, low, min(high, max(need, season.high)), "season’s guide", (*steps, step), inputs, tables)
    if not isinstance(answer, Need) or usual_less >= least:
        return answer
    kept = say("{share:.0f} % of a season’s nitrogen goes on all the same, until nitrate is tested.", share=(1 - most.credits_share) * 100)
    return replace(answer, why=joined((answer.why, kept)))


def _humus_counted(case: NitrogenCase) -> float:
    return sum(credit.kg_per_ha for credit in case.credits if credit.key == "organic_matter" and credit.counted)


def _most_saved(crop: Crop, tables: Tables) -> MostSaved:
    uses = tables.systems.land_uses
    return tables.nitrogen.most_saved[(uses.get(crop.key) or uses[crop.group]).land_use]


def _standing_step(rate: float, row: NitrateCritical, critical: float, fed: bool, figures: Nitrogen, nitrate: float) -> Step:
    return Step(
        "by nitrate in the standing crop",
        "min(most at once, max(0, critical level − nitrate) × for each mg/kg)",
        {
            "nitrate": Figure(nitrate, "mg/kg"),
            "critical level": Figure(critical, "mg/kg", row.source),
            "for each mg/kg": Figure.of(figures.standing_nitrate_kg_per_ppm),
            "most at once": Figure.of(figures.standing_nitrate_cap_kg_per_ha),
        },
        Figure(rate, "kg/ha"),
        row.source,
        row.where,
        note="after a legume or manure a lower level is enough" if fed else "",
    )


def _by_standing_test(crop: Crop, case: NitrogenCase, tables: Tables) -> Answer | None:
    """The answer of a nitrate test taken in the standing crop; None where there is none, or no figure for the crop."""
    row, figures = tables.nitrogen.nitrate_critical.get(crop.key), tables.nitrogen
    if row is None or case.nitrate is None or case.planting is None or case.nitrate.taken is None:
        return None
    age = (case.nitrate.taken - case.planting).days
    if not figures.standing_from_day.value <= age <= figures.standing_to_day.value:
        return None
    fed = any(credit.counted and credit.key.isdecimal() and credit.kg_per_ha > 0 for credit in case.credits)
    critical = min(row.critical_ppm, figures.standing_after_legume_ppm.value) if fed else row.critical_ppm
    rate = standing_crop_rate(case.nitrate.value, critical, tables)
    step = _standing_step(rate, row, critical, fed, figures, case.nitrate.value)
    if rate < tables.nutrients.smallest_worth_spreading_kg_per_ha.value:
        return Nothing(
            "N",
            (
                say(
                    "No more nitrogen: the test in the standing crop found {nitrate:.0f} mg/kg of nitrate, and {critical:.0f} is enough.",
                    nitrate=case.nitrate.value,
                    critical=critical,
                )
            ),
            Because.STANDING_CROP,
        )
    low, high = (standing_crop_rate(value, critical, tables) for value in (case.nitrate.high, case.nitrate.low))
    why = say(
        "The test in the standing {crop} found {nitrate:.0f} mg/kg of nitrate where {critical:.0f} is enough.",
        crop=crop.name,
        nitrate=case.nitrate.value,
        critical=critical,
    )
    return Need(
        what="N",
        rate_kg_per_ha=rate,
        low_kg_per_ha=low,
        high_kg_per_ha=high,
        method=say("nitrate in the standing crop"),
        why=why,
        share_now=1.0,
        others=(),
        working=(*case.nitrate.steps, step),
    )


def _less_given(inputs: dict[str, Figure], best: float, given: float) -> Step:
    return Step(
        "less what the ground is given beside",
        f"max(0, economic rate{_less(inputs)})",
        {"economic rate": Figure(best, "kg/ha"), **inputs},
        Figure(max(0.0, best - given), "kg/ha"),
        "n-economic",
        note="organic matter is not taken off again: the trials stood on it",
    )


def _economic(best: float, ratio: float, response: Response) -> Step:
    return Step(
        "economic rate",
        "max(0, (slope − price ratio) / (2 × curvature))",
        {"slope": Figure(response.slope, "kg/kg"), "price ratio": Figure(ratio), "curvature": Figure(response.curvature)},
        Figure(best, "kg/ha"),
        "n-economic",
    )


def _budget_beside(budget: Answer) -> tuple[Method, ...]:
    if not isinstance(budget, Need):
        return ()
    low, high = Measure(budget.low_kg_per_ha, "kg/ha", bare=True), Measure(budget.high_kg_per_ha, "kg/ha")
    return (Method(budget.method, budget.rate_kg_per_ha, say("{low:.0f} to {high:.0f}", low=low, high=high)),)


def _by_response(crop: Crop, case: NitrogenCase, budget: Answer, tables: Tables) -> Answer:
    """The economic rate, less credits that the trials had not: all but soil organic matter. The budget stands beside it."""
    response, (given, given_low, given_high) = required(case.response), counted(case.credits, "N", beside=("organic_matter",))
    best = economic_rate(response)
    ratio = response.nitrogen_price / response.crop_price
    step = _economic(best, ratio, response)
    steps, inputs = _lines(case)
    inputs.pop("soil organic matter", None)
    rest = _less_given(inputs, best, given)
    others = _budget_beside(budget)
    spread = 0.2 * best / HALF_WIDTH_80
    found = _need_or_nothing(
        crop,
        best - given,
        best - spread - given_high,
        best + spread - given_low,
        "economic rate",
        (*steps, step, rest),
        inputs,
        tables,
        others,
    )
    if isinstance(found, Need):
        return found
    return Nothing(
        "N",
        say(
            "No nitrogen: at these prices {best:.0f} pays for {crop}, and soil and manure supply that.",
            best=Measure(best, "kg/ha"),
            crop=crop.name,
        ),
    )


def _need_or_nothing(
    crop: Crop,
    need: float,
    low: float,
    high: float,
    method: str,
    steps: tuple,
    inputs: dict[str, Figure],
    tables: Tables,
    others: tuple[Method, ...] = (),
) -> Answer:
    told = joined(
        [
            say("{name} {amount:.0f}", name=name, amount=Measure(float(figure.value), "kg/ha", bare=place < len(inputs)))
            for place, (name, figure) in enumerate(inputs.items(), 1)
        ],
        ", ",
    )
    if need < tables.nutrients.smallest_dressing_kg_n_per_ha.value:
        return Nothing("N", say("No nitrogen: soil and manure supply about what {crop} takes up ({told}).", crop=crop.name, told=told))
    less = say(", less what soil and manure supply: {told}", told=told) if told else "; nothing else is counted"
    paid = say("What pays for {crop}", crop=crop.name) if method == "economic rate" else say("What {crop} takes up", crop=crop.name)
    return Need(
        what="N",
        rate_kg_per_ha=need,
        low_kg_per_ha=min(need, max(0.0, low)),
        high_kg_per_ha=max(need, high),
        method=method,
        why=say("{paid}{less}.", paid=paid, less=less),
        share_now=1.0,
        others=others,
        working=steps,
    )
