"""The school of cation balance: calcium, magnesium and potassium as shares of the exchange capacity.

It shows its evidence, which is against an ideal ratio, and never limes past the crop's target.
"""

from dataclasses import replace

from agronomy.base.said import Measure, say
from agronomy.base.working import Figure, Step
from agronomy.interpret.nutrients import Critical
from agronomy.model.answers import Answer, Need, Nothing, Unmet, about
from agronomy.model.finding import Finding
from agronomy.model.soil import Soil
from agronomy.recommend.schools.situation import Situation
from agronomy.tables import Tables
from agronomy.tables.row import Parameter

KEY = "cation_balance"
NAME = "cation balance"
SAYS = say("aims at shares of the exchange capacity: calcium 65 %, magnesium 12 %, potassium 4 %")
NOTE = say(
    "Trials do not support an ideal ratio of cations (McLean et al. 1983; Kopittke and Menzies 2007; Chaganti "
    "and Culman 2017): what counts is that each is enough. This approach never limes past the crop's target."
)
CATIONS = ("Ca", "Mg", "K")


def cation_need(share_pct: float, target_pct: float, cec: float, mg_per_cmol: float, soil_mass_t_per_ha: float) -> float:
    """Element [kg/ha] that lifts its share of the exchange capacity [cmol/kg] to a target. Source: bcsr-graham.

    >>> round(cation_need(52.0, 65, 12.0, 200.4, 2600))
    813
    """
    return max(0.0, target_pct - share_pct) / 100 * cec * mg_per_cmol * soil_mass_t_per_ha * 1e-3


def why_not(judged: dict[str, tuple[Finding, Critical]], soil: Soil, ph: float | None, tables: Tables) -> str | None:
    """Why this school can't judge the ground; None where it can. Source: bcsr-graham.

    Exchange capacity in cmol/kg.

    >>> from agronomy.intake.example import found, soil, tables
    >>> why_not(found().judged, soil(), 5.6, tables) is None
    False
    """
    figures = tables.schools
    if not soil.cec_known:
        return say("the exchange capacity was not measured")
    if not figures.cation_least_cec.value <= soil.cec_cmol_per_kg <= figures.cation_most_cec.value:
        return say("an exchange capacity of {cec_cmol_per:.1f} cmol/kg is outside 5 to 40", cec_cmol_per=soil.cec_cmol_per_kg)
    if ph is not None and not figures.cation_least_ph.value <= ph <= figures.cation_most_ph.value:
        return say("pH {ph:.1f} is outside 5 to 7.3", ph=ph)
    if not any(key in judged for key in CATIONS):
        return say("none of calcium, magnesium and potassium was tested")
    return None


def needs(situation: Situation) -> list[Answer]:
    """Mg, K (and Ca, told) by their shares; P, S and N as the school of sufficiency has them.

    All of them as sufficiency has them where this one can't judge. Source: bcsr-graham.
    Rates in kg of element per hectare, shares in %.

    >>> from agronomy.intake.example import situation
    >>> [answer.what for answer in needs(situation()) if isinstance(answer, Need)]
    ['P', 'K', 'N']
    """
    judged, soil, tables = situation.judged, situation.soil, situation.tables
    rest = situation.base
    reason = why_not(judged, soil, situation.ph, tables)
    if reason:
        return [
            *rest,
            Unmet("balance", 0.0, say("Cation balance can't be judged here: {reason}. The needs are those of sufficiency.", reason=reason)),
        ]
    shares = {key: judged[key][0].value / tables.analytes[key].per_cmol / soil.cec_cmol_per_kg * 100 for key in CATIONS if key in judged}
    kept = [answer for answer in rest if about(answer) not in shares]
    return [*kept, *(_answer(key, share, judged[key][0], soil, tables) for key, share in shares.items())]


def _to_share(rate: float, target: Parameter, share: float, per_cmol: float, soil: Soil) -> Step:
    return Step(
        "to the share wanted",
        "max(0, target − share) × exchange capacity × weight of its charge × layer / 100 / 1000",
        {
            "share": Figure(share, "%"),
            "target": Figure.of(target),
            "exchange capacity": Figure(soil.cec_cmol_per_kg, "cmol/kg"),
            "weight of its charge": Figure(per_cmol, "mg per cmol", "definition"),
            "layer": Figure(soil.soil_mass_t_per_ha, "t/ha"),
        },
        Figure(rate, "kg/ha"),
        target.source,
        target.where,
    )


def _answer(key: str, share: float, finding: Finding, soil: Soil, tables: Tables) -> Answer:
    target, name = tables.schools.cation_share(key), finding.name.lower()
    told = say(
        "{finding} fills {share:.1f} % of the exchange capacity, target {low:.0f} to {high:.0f} %.",
        finding=finding.name,
        share=share,
        low=target.low,
        high=target.high,
    )
    if share >= target.low:
        return Nothing(
            key,
            say(
                "No {name}: it fills {share:.0f} % of the exchange capacity, at least {low:.0f} % is needed.",
                name=name,
                share=share,
                low=target.low,
            ),
        )
    if finding.is_plenty:
        return Nothing(
            key,
            say("No {name}: its share is low, but there is plenty of it for the crop, and a ratio is no reason to add more.", name=name),
        )
    per_cmol = tables.analytes[key].per_cmol
    rate, low, high = (
        cation_need(share, value, soil.cec_cmol_per_kg, per_cmol, soil.soil_mass_t_per_ha)
        for value in (target.value, target.low, target.high)
    )
    if key == "Ca":
        return Unmet(
            "Ca",
            rate,
            say("{told} Lime brings it where lime is due; else gypsum would, without moving pH. This plan doesn't dose it.", told=told),
        )
    step = _to_share(rate, target, share, per_cmol, soil)
    need = Need(
        what=key,
        rate_kg_per_ha=rate,
        low_kg_per_ha=low,
        high_kg_per_ha=high,
        method=KEY,
        why=told,
        share_now=1.0,
        others=(),
        working=(*finding.working, step),
    )
    return _in_a_year(need, tables.schools.cation_most_mg if key == "Mg" else tables.schools.cation_most_k)


def _in_a_year(need: Need, most: Parameter) -> Need:
    """No more than one year's dressing: the rest of the way to the share wanted takes further years."""
    whole = need.rate_kg_per_ha
    if whole <= most.value:
        return need
    step = Step(
        "in one year",
        "the smaller of need and most",
        {"need": Figure(whole, "kg/ha"), "most": Figure.of(most)},
        Figure(most.value, "kg/ha"),
        most.source,
        most.where,
    )
    return replace(
        need,
        rate_kg_per_ha=most.value,
        low_kg_per_ha=min(need.low_kg_per_ha, most.value),
        high_kg_per_ha=min(need.high_kg_per_ha, most.value),
        why=say(
            "{why} All at once would be {whole:.0f}: it takes years, with a test between.", why=need.why, whole=Measure(whole, "kg/ha")
        ),
        working=(*need.working, step),
    )
