"""What the ground itself does to a need: acid ground rich in aluminium holds phosphate fast; untested ground gets a cautious dressing."""

from dataclasses import replace

from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.model.answers import Answer, Need, Nothing, about
from agronomy.model.reading import Reading
from agronomy.model.soil import Soil
from agronomy.recommend.schools.situation import Situation
from agronomy.recommend.schools.sufficiency import OXIDE_SHARE
from agronomy.tables import Tables
from agronomy.tables.crop import Crop

UNTESTED = "cautious, without a test"


def held_fast(answers: list[Answer], readings: dict[str, Reading], situation: Situation) -> list[Answer]:
    """Phosphorus raised where exchangeable aluminium says that the ground fixes it. Source: own-experience.

    Rates in kg of element per hectare.

    >>> from agronomy.intake.example import situation
    >>> held_fast([], {}, situation())
    []
    """
    figures, aluminium = situation.tables.schools, readings.get("Al")
    if aluminium is None or aluminium.value < figures.fixes_from_al_cmol_per_kg.value:
        return answers
    return [_raised(answer, situation) if isinstance(answer, Need) and answer.what == "P" else answer for answer in answers]


def _raised(need: Need, situation: Situation) -> Need:
    times = situation.tables.schools.fixing_times
    rate = need.rate_kg_per_ha * times.value
    step = Step(
        "on ground that holds phosphate fast",
        "need × more on fixing ground",
        {"need": Figure(need.rate_kg_per_ha, "kg/ha"), "more on fixing ground": Figure.of(times)},
        Figure(rate, "kg/ha"),
        times.source,
        times.where,
    )
    return replace(
        need,
        rate_kg_per_ha=rate,
        low_kg_per_ha=need.low_kg_per_ha * times.value,
        high_kg_per_ha=need.high_kg_per_ha * times.value,
        why=say("{why} Aluminium in this acid ground holds phosphate fast, so it takes more.", why=need.why),
        working=(*need.working, step),
    )


def without_a_test(answers: list[Answer], readings: dict[str, Reading], situation: Situation, *, on_field: bool = False) -> list[Answer]:
    """A cautious phosphate dressing where nothing at all was tested (on a field: no nutrient) and the crop is sown each year: a share of
    the rate, by yield.

    Source: own-experience.
    Rates in kg of element per hectare.

    >>> from agronomy.intake.example import found, situation
    >>> without_a_test([], found().readings, situation())
    []
    """
    if not readings and situation.soil.mix is None:
        tables = situation.tables
        answers = [small_nitrogen(answer, tables) if isinstance(answer, Need) and answer.what == "N" else answer for answer in answers]
    is_tested = bool(situation.judged.keys() - {"OM"}) if on_field else bool(readings)
    if is_tested or not is_fed_untested(situation.crop, situation.soil, situation.tables):
        return answers
    dose = cautious_phosphate(situation.crop, situation.yield_goal_t_per_ha, situation.tables)
    return [dose if isinstance(answer, Nothing) and about(answer) == "P" else answer for answer in answers]


def is_fed_untested(crop: Crop, soil: Soil, tables: Tables) -> bool:
    """Whether a crop gets a cautious dressing on untested ground: what is sown each year, in soil. Source: own-experience.

    >>> from agronomy.intake.example import bed, soil, tables
    >>> is_fed_untested(bed().crop, soil(), tables)
    True
    """
    return tables.growing.crops[crop.key].stands != "stands" and soil.mix is None


def small_nitrogen(need: Need, tables: Tables) -> Need:
    """A need for nitrogen, no more of it than is still careful on ground of which nothing is known. Source: own-experience.

    Rates in kg of element per hectare.

    >>> from agronomy.intake.example import needs, tables
    >>> nitrogen = next(need for need in needs() if need.what == "N")
    >>> small_nitrogen(nitrogen, tables).rate_kg_per_ha <= tables.schools.untested_most_n_kg_per_ha.value
    True
    """
    most = tables.schools.untested_most_n_kg_per_ha
    if need.rate_kg_per_ha <= most.value:
        return need
    step = Step(
        "careful without a test",
        "the smaller of need and most",
        {"need": Figure(need.rate_kg_per_ha, "kg/ha"), "most": Figure.of(most)},
        Figure(most.value, "kg/ha"),
        most.source,
        most.where,
    )
    return replace(
        need,
        rate_kg_per_ha=most.value,
        low_kg_per_ha=min(need.low_kg_per_ha, most.value),
        why=say(
            "{why} Nothing was tested here, so no more than is careful: watch the leaves, and give the rest if they pale.", why=need.why
        ),
        working=(*need.working, step),
    )


def cautious_phosphate(crop: Crop, yield_goal_t_per_ha: float | None, tables: Tables) -> Need:
    """The phosphate [kg P/ha] that does little harm where it isn't needed. Source: own-experience.

    >>> from agronomy.intake.example import bed, tables
    >>> cautious_phosphate(bed().crop, None, tables).method
    'cautious, without a test'
    """
    oxide, share = OXIDE_SHARE["P"]
    at_zero = crop.p2o5_r0
    removed = tables.nutrients.removal.get(crop.key)
    scale = 1.0
    if yield_goal_t_per_ha is not None and removed is not None:
        least, most = tables.nitrogen.season_yield_least.value, tables.nitrogen.season_yield_most.value
        scale = min(most, max(least, yield_goal_t_per_ha / removed.usual_t_per_ha))
    part = tables.schools.untested_share
    rate = at_zero * part.value * scale * share
    if rate < tables.schools.untested_least_p_kg_per_ha.value:
        rate = tables.schools.untested_least_p_kg_per_ha.value
    step = Step(
        "cautious phosphate",
        "max(least worth giving, rate at zero × part × by yield × P in P2O5)",
        {
            "rate at zero": Figure(at_zero, f"kg {oxide}/ha", crop.source.split(";")[0]),
            "part": Figure.of(part),
            "by yield": Figure(scale, "times"),
            "P in P2O5": Figure(share, "fraction", "definition"),
            "least worth giving": Figure.of(tables.schools.untested_least_p_kg_per_ha),
        },
        Figure(rate, "kg/ha"),
        part.source,
        part.where,
    )
    return Need(
        what="P",
        rate_kg_per_ha=rate,
        low_kg_per_ha=0.5 * rate,
        high_kg_per_ha=2 * rate,
        method=UNTESTED,
        why=(
            say(
                "Phosphorus was not tested. A small dose beside the seed does little harm where it isn't needed and much "
                "good where it is; a test would tell."
            )
        ),
        working=(step,),
    )
