"""What a plot's own readings say to the key: the level of each kind of evidence."""

from collections.abc import Iterable, Mapping

from agronomy.diagnose.causes import Reading
from agronomy.interpret.leaf import LEAF
from agronomy.model import reading as model
from agronomy.model.finding import Finding
from agronomy.tables import Tables
from agronomy.tables.crop import Crop

SOIL = {"very_short": "very low", "short": "low", "building": "medium", "right": "medium", "plenty": "high", "excess": "very high"}
LEAVES = {"very_short": "deficient", "short": "low", "building": "low", "right": "sufficient", "plenty": "ample", "excess": "excessive"}
NITRATE = "soil NO3-N 0-30 cm"


def evidence_of(
    findings: Iterable[Finding], tables: Tables, *, crop: Crop | None = None, readings: Mapping[str, model.Reading] | None = None
) -> tuple[Reading, ...]:
    """Kinds and levels of evidence in judged readings of ground and leaf; what says nothing to any cause is left out.

    `readings` adds those that are not judged by themselves, such as nitrate. Source: symptom-weights.

    >>> from agronomy.intake.example import bed, tables
    >>> from agronomy.plan.plan import make_plan
    >>> any(kind == "soil K" for kind, _ in evidence_of(make_plan(bed(), tables).findings, tables))
    True
    """
    levels: dict[str, list[str]] = {}
    for row in tables.watch.evidence.values():
        if row.level not in levels.setdefault(row.evidence, []):
            levels[row.evidence].append(row.level)
    found: list[Reading] = []
    for finding in findings:
        if finding.analyte == "pH":
            found += [("pH water", level) for level in _ph_levels(finding.value, levels["pH water"], crop)]
        elif finding.analyte == "EC":
            found.append(("EC", _salt(finding)))
        elif finding.analyte.startswith(LEAF):
            found.append((finding.analyte, LEAVES.get(finding.class_, "")))
        else:
            found.append((f"soil {finding.analyte}", SOIL.get(finding.class_, "")))
    plain = {"NO3-N": NITRATE, "ESP": "ESP"}
    for key, kind in plain.items():
        if readings and key in readings:
            found += [(kind, level) for level in levels[kind] if holds(level, readings[key].value)]
    return tuple(item for item in dict.fromkeys(found) if item[1] in levels.get(item[0], ()))


def holds(level: str, value: float) -> bool:
    """Whether a value lies in a level such as "below 5.0", "5.0 to 5.3", "above 7.3" or "15 % or more". Source: definition.

    >>> holds("below 5.3", 5.2), holds("5.3 to 5.8", 5.8), holds("above 25 mg/kg", 30), holds("15 % or more", 15)
    (True, False, True, True)
    """
    figures = [float(word) for word in level.split() if word.replace(".", "", 1).isdigit()]
    if level.startswith("below"):
        return value < figures[0]
    if level.startswith("above"):
        return value > figures[0]
    if "or more" in level:
        return value >= figures[0]
    return len(figures) == 2 and figures[0] <= value < figures[1]


def _ph_levels(value: float, levels: list[str], crop: Crop | None) -> list[str]:
    """Levels that hold at a pH; for an acid lover what is low elsewhere is as it should be, and high begins sooner."""
    of_acid_lovers = {level for level in levels if "acid lovers" in level}
    if crop is not None and crop.is_acid_lover:
        mild = {"below 6.0", "below 6.5", "5.0 to 5.3", "5.3 to 5.8", "below 5.3"}
        return [level for level in levels if level not in mild and holds(level.partition(",")[0], value)]
    return [level for level in levels if level not in of_acid_lovers and holds(level, value)]


def _salt(finding: Finding) -> str:
    if finding.class_ in ("salty", "too_salty"):
        return "above the crop's threshold"
    return "below half the threshold" if finding.value < finding.wanted[1] / 2 else ""
