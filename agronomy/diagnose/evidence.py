"""What a plot's own readings say to the key: the level of each kind of evidence."""

from collections.abc import Iterable

from agronomy.diagnose.causes import Reading
from agronomy.model.finding import Finding
from agronomy.tables import Tables

_PH = ((5.0, "below 5.0"), (5.3, "5.0 to 5.3"), (5.8, "5.3 to 5.8"))
_PH_HIGH = 7.3


def evidence_of(findings: Iterable[Finding], tables: Tables) -> tuple[Reading, ...]:
    """Kinds and levels of evidence in judged readings of the ground; what says nothing to any cause is left out. Source: symptom-weights.

    >>> from agronomy.intake.example import bed, tables
    >>> from agronomy.plan.plan import make_plan
    >>> any(kind == "soil K" for kind, _ in evidence_of(make_plan(bed(), tables).findings, tables))
    True
    """
    known = {(row.evidence, row.level) for row in tables.watch.evidence.values()}
    found = []
    for finding in findings:
        if finding.analyte == "pH":
            level = next((name for border, name in _PH if finding.value < border), "above 7.3" if finding.value > _PH_HIGH else "")
            reading = ("pH water", level)
        else:
            level = "low" if finding.is_short else "high" if finding.is_plenty else "medium"
            reading = (f"soil {finding.analyte}", level)
        if reading in known:
            found.append(reading)
    return tuple(found)
