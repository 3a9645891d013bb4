"""The school of build-up and maintenance: lift the ground to its level over some years, then give back what is carried off."""

from agronomy.base.said import say
from agronomy.base.uncertainty import band
from agronomy.base.working import Figure, Step
from agronomy.interpret.nutrients import Critical
from agronomy.model.answers import Answer, Need, Nothing, about
from agronomy.model.finding import Finding
from agronomy.model.own_pool import OwnPool
from agronomy.recommend.schools.situation import Situation
from agronomy.recommend.schools.sufficiency import OXIDE_SHARE
from agronomy.tables import Tables

KEY = "build_maintain"
NAME = "build-up and maintenance"
SAYS = say("lifts a short test to its level over four years, then gives back what crops remove")
NOTE = say(
    "Build-up pays on ground that you keep for years. On rented ground, or where phosphorus threatens water, another approach fits better."
)


def needs(situation: Situation) -> list[Answer]:
    """P and K by build-up, maintenance and drawdown; Mg, S and N as the school of sufficiency has them. Source: vitosh-1995.

    Rates in kg of element per hectare.

    >>> from agronomy.intake.example import situation
    >>> [answer.what for answer in needs(situation()) if isinstance(answer, Need)]
    ['P', 'K', 'N']
    """
    return [_answer(answer, situation) if about(answer) in OXIDE_SHARE else answer for answer in situation.base]


def p2o5_rate(test: float, critical: float, removed: float, tables: Tables, *, widen: float = 1.0, times: float = 1.0) -> float:
    """P2O5 [kg/ha a year] for a test and its critical level [mg/kg] and what is carried off [kg/ha]. Source: vitosh-1995.

    `widen` stretches plateau and drawdown for extractants with other levels than Bray P1; `times` the table's phosphate moves this test.

    >>> from agronomy.tables import load_tables
    >>> round(p2o5_rate(10, 15, 40, load_tables()), 1)
    68.0
    """
    figures = tables.schools
    build = times * figures.p2o5_per_ppm_kg_per_ha.value / figures.build_years.value
    return _staircase(test, critical, build, removed, figures.p_plateau_ppm.value * widen, figures.p_drawdown_ppm.value * widen)


def k2o_rate(test: float, critical: float, cec: float, removed: float, tables: Tables, *, times: float = 1.0) -> float:
    """K2O [kg/ha a year] likewise, by exchange capacity [cmol/kg]; capped. Source: vitosh-1995.

    Nothing is built up where the exchange capacity cannot hold it; raises nothing.

    >>> from agronomy.tables import load_tables
    >>> round(k2o_rate(90, 120, 12, 50, load_tables()), 1)
    126.2
    """
    figures = tables.schools
    build = times * figures.k2o_per_ppm_kg_per_ha.value * (1 + figures.k2o_per_ppm_and_cec.value * cec)
    if cec < figures.k_build_least_cec.value:
        build = 0.0
    rate = _staircase(
        test, critical, build, removed + figures.k2o_extra_kg_per_ha.value, figures.k_plateau_ppm.value, figures.k_drawdown_ppm.value
    )
    return min(rate, figures.k2o_cap_kg_per_ha.value)


def _staircase(test: float, critical: float, build: float, upkeep: float, plateau: float, drawdown: float) -> float:
    if test < critical:
        return build * (critical - test) + upkeep
    if test <= critical + plateau:
        return upkeep
    return max(0.0, upkeep * (1 - (test - critical - plateau) / drawdown))


def _most_in_a_year(nutrient: str, removed: float, situation: Situation) -> float:
    """The most [kg P2O5 or K2O/ha] in a year: the upper end of what guides give this crop, or its upkeep by what it carries off."""
    figures, crop = situation.tables.schools, situation.crop
    if nutrient == "P":
        return max(removed, figures.most_times_at_zero.value * crop.p2o5_r0)
    upkeep = removed + figures.k2o_extra_kg_per_ha.value
    return min(figures.k2o_cap_kg_per_ha.value, max(upkeep, figures.most_times_at_zero.value * crop.k2o_r0))


def _told(nutrient: str, test: float, level: float, widen: float, removed: float, situation: Situation) -> tuple[str, dict[str, Figure]]:
    """How the staircase of p2o5_rate or k2o_rate goes at a test, and its coefficients."""
    figures, cec = situation.tables.schools, situation.soil.cec_cmol_per_kg
    if nutrient == "P":
        upkeep, most = "carried off", "most in a year"
        inputs = {
            "for a ppm": Figure.of(figures.p2o5_per_ppm_kg_per_ha),
            "years": Figure.of(figures.build_years),
            "most in a year": Figure(_most_in_a_year(nutrient, removed, situation), "kg P2O5/ha", figures.most_times_at_zero.source),
        }
        build, plateau, fading = "for a ppm / years", figures.p_plateau_ppm, figures.p_drawdown_ppm
    else:
        upkeep, most = "(carried off + extra)", "most in a year"
        yearly = Figure(_most_in_a_year(nutrient, removed, situation), "kg K2O/ha", figures.most_times_at_zero.source)
        inputs = {"extra": Figure.of(figures.k2o_extra_kg_per_ha), "most in a year": yearly}
        build, plateau, fading = say("for a ppm × (1 + by capacity × exchange capacity)"), figures.k_plateau_ppm, figures.k_drawdown_ppm
        builds_up = {
            "for a ppm": Figure.of(figures.k2o_per_ppm_kg_per_ha),
            "by capacity": Figure.of(figures.k2o_per_ppm_and_cec),
            "exchange capacity": Figure(cec, "cmol/kg"),
        }
        if cec < figures.k_build_least_cec.value:
            build = ""
        elif test < level:
            inputs |= builds_up
    own = situation.own_pools.get(nutrient)
    if test < level and build and own:
        build = say("by your own tests × {build}", build=build)
        inputs["by your own tests"] = Figure(own.times, "times", "trend-learning")
    if test < level:
        formula = f"{build} × (level − test) + {upkeep}" if build else upkeep
        if nutrient == "K":
            inputs["most built up"] = Figure.of(figures.k_build_most_kg_per_ha)
            formula = f"min({upkeep} + most built up, {formula})"
    elif test <= level + plateau.value * widen:
        formula, inputs = upkeep, {name: figure for name, figure in inputs.items() if name not in ("for a ppm", "years")}
    else:
        inputs = {name: figure for name, figure in inputs.items() if name not in ("for a ppm", "years")}
        inputs |= {
            "plateau": Figure(plateau.value * widen, "mg/kg", plateau.source),
            "fading over": Figure(fading.value * widen, "mg/kg", fading.source),
        }
        formula = f"max(0, {upkeep} × (1 − (test − level − plateau) / fading over))"
    return (say("min({most}, {formula})", most=most, formula=formula) if most else formula), inputs


def _steps(
    nutrient: str, finding: Finding, critical: Critical, carried: float, value: float, told: tuple[str, dict[str, Figure]], tables: Tables
) -> tuple[Step, Step]:
    oxide, share = OXIDE_SHARE[nutrient]
    formula, inputs = told
    build = Step(
        "build-up and upkeep",
        formula,
        {
            "test": Figure(finding.value, finding.unit),
            "level": Figure(critical.level, finding.unit),
            "carried off": Figure(carried, f"kg {oxide}/ha"),
            **inputs,
        },
        Figure(value, f"kg {oxide}/ha"),
        "vitosh-1995",
        tables.schools.build_years.where,
    )
    as_element = Step(
        f"as {nutrient}",
        f"{oxide} × {nutrient} in {oxide}",
        {oxide: Figure(value, "kg/ha"), f"{nutrient} in {oxide}": Figure(share, "fraction", "definition")},
        Figure(value * share, "kg/ha"),
        "definition",
    )
    return build, as_element


def _why(finding: Finding, own: OwnPool | None) -> str:
    why = (
        say("{why} A quarter of what is missing, and what the crop removes.", why=finding.why)
        if finding.is_short
        else say("{why} What the crop removes is given back.", why=finding.why)
    )
    if own is None:
        return why
    return why + say(
        " By {tests} tests of this ground a step takes {times:.1f} times the table’s, and crops take {taken:.1f} times.",
        tests=own.tests,
        times=own.times,
        taken=own.taken,
    )


def _answer(answer: Answer, situation: Situation) -> Answer:
    nutrient, tables = about(answer), situation.tables
    if nutrient not in situation.judged:
        return answer
    finding, critical = situation.judged[nutrient]
    removed = situation.removed(nutrient)
    if removed is None:
        return answer  # nothing is known of what this crop carries off: the response rate stands in, and says so by its method
    alike = tables.readings.is_like_bray(finding.method)
    widen = 1.0 if alike else critical.level / tables.schools.p_reference_level_ppm.value
    own = situation.own_pools.get(nutrient)

    def rate(test: float, level: float, upkeep: float, times: float = own.times if own else 1.0) -> float:
        yearly = _most_in_a_year(nutrient, upkeep, situation)
        if nutrient == "P":
            return min(yearly, p2o5_rate(test, level, upkeep, tables, widen=widen, times=times))
        figures = tables.schools
        most = upkeep + figures.k2o_extra_kg_per_ha.value + figures.k_build_most_kg_per_ha.value
        full = min(yearly, k2o_rate(test, level, situation.soil.cec_cmol_per_kg, upkeep, tables, times=times))
        return min(most, full) if test < level else full

    share = OXIDE_SHARE[nutrient][1]
    value = rate(finding.value, critical.level, removed.kg_per_ha)
    if value * share < tables.nutrients.smallest_worth_spreading_kg_per_ha.value:
        name = finding.name.lower()
        return Nothing(nutrient, say("No {finding}: the test is high enough for crops to draw it down for years.", finding=name))
    spans = [
        (rate(finding.low, critical.level, removed.kg_per_ha), rate(finding.high, critical.level, removed.kg_per_ha)),
        (rate(finding.value, critical.level, removed.low), rate(finding.value, critical.level, removed.high)),
    ]
    if own:
        least, most = (rate(finding.value, critical.level, removed.kg_per_ha, times) for times in (own.low, own.high))
        spans.append((least, most))
    low, high = band(value, *spans)
    told = _told(nutrient, finding.value, critical.level, widen if nutrient == "P" else 1.0, removed.kg_per_ha, situation)
    steps = _steps(nutrient, finding, critical, removed.kg_per_ha, value, told, tables)
    return Need(
        what=nutrient,
        rate_kg_per_ha=value * share,
        low_kg_per_ha=max(0.0, low * share),
        high_kg_per_ha=high * share,
        method=KEY,
        why=_why(finding, own),
        working=(*finding.working, removed.step, *steps),
    )
