"""How much lime, as pure CaCO3: the best method that the readings allow, the others beside it."""

from agronomy.acidity.buffer_capacity import estimated_lime_need
from agronomy.acidity.caps import Dressing, depth_step
from agronomy.acidity.smp import smp_fits, smp_lime_need
from agronomy.interpret.finding import Finding
from agronomy.reading import Reading
from agronomy.schools.need import Answer, Method, Need, Nothing, Unmet
from agronomy.soil import Soil
from agronomy.tables import Tables
from agronomy.uncertainty import in_quadrature
from agronomy.working import Banded, Figure, Step

SMP_LIKE = {"SMP": 0.0, "Sikora": 0.05}  # the error that reading the SMP table with another buffer adds


def lime_need(finding: Finding, ph: Reading, buffer: Reading | None, *, target_ph: float, soil: Soil, dressing: Dressing, tables: Tables) -> Answer:
    """A Need of CaCO3, Nothing with its reason, or Unmet where the reading cannot carry a rate.

    Order: SMP or Sikora buffer pH, then the estimate from pH, texture and organic matter.
    """
    if finding.class_ != "too_acid":
        return Nothing("CaCO3", f"No lime: pH {ph.value:.1f} is not below {finding.wanted[0]:.1f}. Liming when it isn't needed takes years to undo.")
    if not finding.act:
        return Nothing(
            "CaCO3", f"No lime yet: pH {ph.value:.1f} is so near {finding.wanted[0]:.1f} that the reading's error could explain it. Test again first."
        )
    if ph.trust == "no":
        return Unmet("CaCO3", 0.0, f"A {ph.how} shows the ground is acid but can't carry a lime rate. Have a laboratory or a colour kit test it.")
    if ph.value >= target_ph:
        return Nothing("CaCO3", f"No lime: pH {ph.value:.1f} is already at your target of {target_ph:g}.")
    return _need(ph, buffer, target_ph, soil, dressing, tables)


def _need(ph: Reading, buffer: Reading | None, target_ph: float, soil: Soil, dressing: Dressing, tables: Tables) -> Need:
    organic = soil.organic_matter_known and soil.organic_matter_pct > tables.acidity["organic_soil_om_pct"].value
    depth_cm = dressing.treated_depth_cm
    estimate = estimated_lime_need(ph.value, ph.u, target_ph=target_ph, depth_cm=depth_cm, soil=soil, tables=tables)
    by_buffer, why_not = _by_buffer(buffer, target_ph, depth_cm, soil, tables, organic)
    if by_buffer:
        others = (Method("pH, texture and organic matter", estimate.value, f"{estimate.low:.0f} to {estimate.high:.0f} kg/ha"),)
        return _as_need(by_buffer, buffer.method, f"From the {buffer.method} buffer pH, to pH {target_ph:g}.", 1.0, others, ph, soil, dressing)
    share_now = 0.5 if ph.trust == "half" else 1.0
    why = f"From pH, texture and organic matter, to pH {target_ph:g}; a buffer test would narrow it."
    if why_not:
        why += f" The buffer reading was not used: {why_not}."
    if share_now < 1:
        why += " Half of it now, because a colour kit is not sure enough for the whole; test again in a year."
    return _as_need(estimate, "pH, texture and organic matter", why, share_now, (), ph, soil, dressing)


def _by_buffer(buffer: Reading | None, target_ph: float, depth_cm: float, soil: Soil, tables: Tables, organic: bool) -> tuple[Banded | None, str | None]:
    if buffer is None:
        return None, None
    if buffer.method not in SMP_LIKE:
        return None, f"no table here reads the buffer “{buffer.method}”"
    why_not = smp_fits(buffer.value, target_ph, organic)
    if why_not:
        return None, why_not
    u = in_quadrature(buffer.u, SMP_LIKE[buffer.method])
    return smp_lime_need(buffer.value, u, target_ph=target_ph, depth_cm=depth_cm, soil=soil, tables=tables, is_organic=organic), None


def _as_need(found: Banded, method: str, why: str, share_now: float, others: tuple, ph: Reading, soil: Soil, dressing: Dressing) -> Need:
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
    return Need("CaCO3", found.value, found.low, found.high, method, why, share_now, others, steps)
