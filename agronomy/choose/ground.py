"""What a material must not make worse on a plot."""

from dataclasses import dataclass, field

from agronomy.assess import Assessment
from agronomy.crop import Crop
from agronomy.interpret.finding import Finding
from agronomy.needs import Answers
from agronomy.soil import Soil

SALTY = frozenset({"too_salty", "salty", "sodic"})


@dataclass(frozen=True, slots=True)
class Ground:
    """The ground a material is chosen for: its pH now and after liming, its findings, the owner's caps [kg of element/ha], whether it is salty already."""

    crop: Crop
    soil: Soil
    ph: Finding | None
    ph_after: float | None
    findings: dict[str, Finding]
    caps: dict[str, float] = field(default_factory=dict)
    is_salty: bool = False


def ground_for(found: Assessment, answers: Answers) -> Ground:
    limes = any(need.what == "CaCO3" for need in answers.needs())
    return Ground(
        found.request.crop,
        found.soil,
        found.acidity,
        found.figures["lime_to"] if limes else found.ph,
        found.nutrients,
        found.request.caps,
        any(finding.class_ in SALTY for finding in found.salt.values()),
    )
