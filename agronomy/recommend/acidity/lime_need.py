"""How much lime, as pure CaCO3: the best method that the readings allow, the others beside it."""

from dataclasses import replace

from agronomy.base.said import Measure, say
from agronomy.base.uncertainty import in_quadrature
from agronomy.base.working import Banded, Figure, Step
from agronomy.model.answers import Answer, Method, Need, Nothing, Unmet
from agronomy.model.finding import Finding
from agronomy.model.reading import Reading
from agronomy.model.soil import Soil
from agronomy.recommend.acidity.buffer_capacity import estimated_lime_need, in_mix
from agronomy.recommend.acidity.caps import ApplicationLimit, depth_step
from agronomy.recommend.acidity.method_ranges import why_not
from agronomy.recommend.acidity.other_methods import (
    adams_evans_lime_need,
    aluminium_fits,
    aluminium_lime_need,
    mehlich_lime_need,
    soil_type_lime,
    soil_type_lime_need,
    tolerated_aluminium_lime_need,
)
from agronomy.recommend.acidity.smp import smp_lime_need
from agronomy.tables import Tables

FAR_APART = 3.0  # times, from which the ways of reckoning are said to differ (own-experience)
ESTIMATE = say("pH, texture and organic matter")
SOIL_TYPE = "soil-type factor"
SMP_LIKE = {"SMP": 0.0, "Sikora": 0.05}  # the error that reading the SMP table with another buffer adds


def _without(finding: Finding, ph: Reading, target_ph: float) -> Answer | None:
    """Why no lime is reckoned; None where some is."""
    if finding.class_ != "too_acid":
        return Nothing(
            "CaCO3",
            say(
                "No lime: pH {ph:.1f} is not below {wanted:.1f}. Liming when it isn't needed takes years to undo.",
                ph=ph.value,
                wanted=finding.wanted[0],
            ),
        )
    if not finding.act:
        return Nothing(
            "CaCO3",
            (
                say(
                    "No lime yet: pH {ph:.1f} is so near {wanted:.1f} that the reading's error could explain it. Test again first.",
                    ph=ph.value,
                    wanted=finding.wanted[0],
                )
            ),
        )
    if ph.trust == "no":
        return Unmet(
            "CaCO3",
            0.0,
            say("A {how} shows the ground is acid but can't carry a lime rate. Have a laboratory or a colour kit test it.", how=ph.how),
        )
    if ph.value >= target_ph:
        return Nothing("CaCO3", say("No lime: pH {ph:.1f} is already at your target of {target_ph:g}.", ph=ph.value, target_ph=target_ph))
    return None


def lime_need(
    finding: Finding,
    ph: Reading,
    buffer: Reading | None,
    *,
    target_ph: float,
    soil: Soil,
    dressing: ApplicationLimit,
    tables: Tables,
    aluminium: Reading | None = None,
    is_grass: bool = False,
    bases: float | None = None,
    tolerated_pct: float | None = None,
    lead: str | None = None,
) -> Answer:
    """A Need of CaCO3, Nothing with its reason, or Unmet where the reading cannot carry a rate.

    `bases` is exchangeable Ca + Mg [cmol/kg], `tolerated_pct` the share of aluminium that the crop bears, where they are known;
    `lead` the method that the country's guides lime by where no buffer was read.
    Order: a buffer pH by its own equation, exchangeable aluminium on very acid ground, then the estimate from pH, texture and
    organic matter. What else can be reckoned stands beside it. Source: each method's own; the order of trust is own-experience.

    >>> from agronomy.intake.example import bed, found, soil, ground, tables
    >>> from agronomy.recommend.acidity.caps import lime_limit
    >>> ground, limit = soil(), lime_limit("bed", bed().crop, soil(), tables)
    >>> acid, ph = found().acidity, found().readings["pH"]
    >>> lime_need(acid, ph, None, target_ph=6.5, soil=ground, dressing=limit, tables=tables).what
    'CaCO3'
    """
    without = _without(finding, ph, target_ph)
    if without is not None:
        return without
    need = _need(ph, buffer, aluminium, target_ph, is_grass, soil, dressing, lead, tables)
    if aluminium is None or bases is None or tolerated_pct is None or aluminium_fits(ph.value, aluminium.value, tables):
        return need
    mass = 100 * soil.bulk_density_g_per_cm3 * dressing.treated_depth_cm
    rate = tolerated_aluminium_lime_need(aluminium.value, bases, tolerated_pct, soil_mass_t_per_ha=mass, tables=tables)
    return replace(
        need,
        others=(
            *need.others,
            Method(
                say("aluminium that the crop bears"), rate, say("up to {tolerated:g} % of the bases and aluminium", tolerated=tolerated_pct)
            ),
        ),
    )


def _need(
    ph: Reading,
    buffer: Reading | None,
    aluminium: Reading | None,
    target_ph: float,
    is_grass: bool,
    soil: Soil,
    dressing: ApplicationLimit,
    lead: str | None,
    tables: Tables,
) -> Need:
    depth_cm = dressing.treated_depth_cm
    estimate = estimated_lime_need(ph.value, ph.u, target_ph=target_ph, depth_cm=depth_cm, soil=soil, tables=tables)
    by_buffer, why_not = _by_buffer(ph, buffer, target_ph, depth_cm, soil, tables)
    by_aluminium = _by_aluminium(ph, aluminium, depth_cm, soil, tables)
    found = [(buffer.method, by_buffer)] if by_buffer and buffer else []
    found += [("exchangeable aluminium", by_aluminium)] if by_aluminium else []
    leads = lead == "soil_type_factor" and soil.texture_known and not in_mix(soil)
    if leads:
        by_type = soil_type_lime(ph.value, target_ph=target_ph, is_grass=is_grass, depth_cm=depth_cm, soil=soil, tables=tables)
        found += [(SOIL_TYPE, by_type)] if by_type.value > 0 else []
    found.append((ESTIMATE, estimate))
    (method, chosen), *rest = found
    others = [
        Method(
            name, other.value, say("{low:.0f} to {high:.0f}", low=Measure(other.low, "kg/ha", bare=True), high=Measure(other.high, "kg/ha"))
        )
        for name, other in rest
    ]
    factor = soil_type_lime_need(ph.value, is_grass=is_grass, depth_cm=depth_cm, soil=soil, tables=tables)
    if soil.texture_known and factor > 0 and not in_mix(soil) and SOIL_TYPE not in dict(found):
        others.append(Method(SOIL_TYPE, factor, say("to the table's own optimum")))
    half = ph.trust == "half"
    share_now = 0.5 if half and method in (SOIL_TYPE, ESTIMATE) else 1.0
    why = _why(method, target_ph, soil)
    if method == ESTIMATE and why_not:
        why += say(" The buffer reading was not used: {why_not}.", why_not=why_not)
    if method == ESTIMATE and half:
        why += say(" Half of it now, because a colour kit is not sure enough for the whole; test again in a year.")
    why += _how_far_apart(chosen.value, [other.rate_kg_per_ha for other in others], method)
    return _as_need(chosen, method, why, share_now, tuple(others), ph, soil, dressing)


def _how_far_apart(rate: float, others: list[float], method: str) -> str:
    """A word where the ways of reckoning lie more than threefold apart: which leads, and what decides."""
    rates = [value for value in (rate, *others) if value > 0]
    if len(rates) < 2 or max(rates) <= FAR_APART * min(rates):
        return ""
    return say(
        " The ways of working it out are far apart, from {least:.0f} to {most:.0f}. Here {method} leads; a buffer test "
        "would narrow it. Spread the lower half first.",
        least=Measure(min(rates), "kg/ha"),
        most=Measure(max(rates), "kg/ha"),
        method=method,
    )


def _why(method: str, target_ph: float, soil: Soil) -> str:
    if method == SOIL_TYPE:
        return say(
            "From pH and the type of soil, as the country's guides work it out, to pH {target_ph:g} and a little over.", target_ph=target_ph
        )
    if method == "exchangeable aluminium":
        return say("From exchangeable aluminium, which rules below pH 5.5; it ends near pH 5.5.")
    if method != ESTIMATE:
        return say("From the {method} buffer pH, to pH {target_ph:g}.", method=method.removesuffix(" buffer"), target_ph=target_ph)
    if in_mix(soil):
        return say(
            "From pH and the kind of mix, to pH {target_ph:g}. Mix it through, or water it in little by little.", target_ph=target_ph
        )
    return say("From pH, texture and organic matter, to pH {target_ph:g}; a buffer test would narrow it.", target_ph=target_ph)


def _by_buffer(
    ph: Reading, buffer: Reading | None, target_ph: float, depth_cm: float, soil: Soil, tables: Tables
) -> tuple[Banded | None, str | None]:
    """The need by the buffer's own equation, or why it can't be used."""
    if buffer is None:
        return None, None
    if in_mix(soil):
        return None, say("buffer tests are made for soil, not for potting mix")
    values = {"pH": ph.value, "buffer pH": buffer.value, "target": target_ph, "organic matter": soil.organic_matter_pct}
    if buffer.method in SMP_LIKE:
        organic = soil.organic_matter_known and soil.organic_matter_pct > tables.acidity.organic_soil_om_pct.value
        asked = {key: value for key, value in values.items() if key == "buffer pH" or (key == "target" and not organic)}
        if reason := why_not("SMP", asked, tables):
            return None, reason
        u = in_quadrature(buffer.u, SMP_LIKE[buffer.method])
        return smp_lime_need(buffer.value, u, target_ph=target_ph, depth_cm=depth_cm, soil=soil, tables=tables, is_organic=organic), None
    if reason := why_not(buffer.method, values, tables):
        return None, reason
    if buffer.method == "Mehlich buffer":
        return mehlich_lime_need(ph.value, buffer.value, buffer.u, target_ph=target_ph, depth_cm=depth_cm, tables=tables), None
    if buffer.method == "Adams-Evans":
        return adams_evans_lime_need(
            ph.value, buffer.value, buffer.u, target_ph=target_ph, depth_cm=depth_cm, soil=soil, tables=tables
        ), None
    return None, say("no table here reads the buffer “{method}”", method=buffer.method)


def _by_aluminium(ph: Reading, aluminium: Reading | None, depth_cm: float, soil: Soil, tables: Tables) -> Banded | None:
    if aluminium is None or aluminium_fits(ph.value, aluminium.value, tables):
        return None
    return aluminium_lime_need(aluminium.value, aluminium.u, depth_cm=depth_cm, soil=soil, tables=tables)


def _as_need(
    found: Banded, method: str, why: str, share_now: float, others: tuple, ph: Reading, soil: Soil, dressing: ApplicationLimit
) -> Need:
    steps = (*ph.steps, *depth_step(dressing, soil), *found.steps)
    if share_now < 1:
        step = Step(
            "half now",
            "need × share now",
            {"need": Figure(found.value, "kg/ha"), "share now": Figure(share_now, "fraction")},
            Figure(found.value * share_now, "kg/ha"),
            "ph-way-of-measuring",
            "colour kit",
        )
        steps = (*steps, step)
    return Need(
        what="CaCO3",
        rate_kg_per_ha=found.value,
        low_kg_per_ha=found.low,
        high_kg_per_ha=found.high,
        method=method,
        why=why,
        says_how=True,
        share_now=share_now,
        others=others,
        working=steps,
    )
