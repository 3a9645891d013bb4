"""What the assessment of a plot means for the materials chosen for it."""

from agronomy.plan.assess import Assessment
from agronomy.plan.needs import Answers
from agronomy.products.ground import Ground

SALTY = frozenset({"too_salty", "salty", "sodic"})


def ground_for(found: Assessment, answers: Answers) -> Ground:
    """The ground as those who choose materials see it. Source: each finding's own.

    Rates and caps in kg/ha.
    """
    limes = any(need.what == "CaCO3" for need in answers.needs())
    return Ground(
        crop=found.request.crop,
        soil=found.soil,
        ph=found.acidity,
        ph_after=found.figures["lime_to"] if limes else found.ph,
        findings=found.nutrients,
        caps=found.request.caps,
        is_field=found.request.plot.kind == "field",
        # on a field nobody spreads meals by the tonne because a class says salty: strong salts are split and washed in instead
        is_salty=found.request.plot.kind != "field" and any(finding.class_ in SALTY for finding in found.salt.values()),
    )
