"""A slip of leaves or sap judged for the crop of its plot, and set beside what the ground says."""

from django.utils import timezone

from agronomy.base.errors import RequestError
from agronomy.base.required import required
from agronomy.interpret.leaf import GREENNESS, SAP
from web.core import tables
from web.drawing.rake import rake
from web.planning import words
from web.planning.service import crop_of, lines_by_plot, plan_for
from web.readings.models import LabReport, LabResult

LEAF_ORDER = tuple(f"leaf {key}" for key in ("N", "P", "K", "Mg", "Ca", "S", "Zn", "Mn", "Fe", "Cu", "B", "Mo"))
ABOUT_LEAVES = ("leaf-", "ratio-")


def leaf_meaning(request, found: LabReport, lines: list[LabResult]) -> dict:
    """Findings, rake and verdicts of a slip of leaves; empty where the plot has no crop to judge for."""
    notes = tables().readings.leaf_notes
    told = {"leaf_notes": [notes[line.analyte].text for line in lines if line.analyte in notes]}
    if found.plot is None or crop_of(found.plot) is None:
        return told | {"leaf_needs_crop": True}
    ground = [line for line in lines_by_plot([found.plot])[found.plot.pk] if line.slip.medium != LabReport.Medium.LEAF]
    usable = [line for line in lines if line.kind == LabResult.Kind.READING]
    try:
        plan = plan_for(found.plot, [*usable, *ground], today=timezone.localdate(), units=request.place.units)
    except RequestError:
        return told
    judged = [item for item in plan.findings if item.analyte.startswith("leaf ") or item.analyte in SAP]
    return told | {
        "leaf_crop": required(crop_of(found.plot)).name,
        "leaf_rake": rake([item for item in judged if item.analyte != GREENNESS], words.CLASS_WORDS, LEAF_ORDER),
        "leaf_findings": [(words.CLASS_WORDS[item.class_], item) for item in judged],
        "leaf_unjudged": [item for item in plan.unjudged if item.analyte.startswith("leaf ") or item.analyte in SAP],
        "leaf_remarks": [item for item in plan.remarks if item.key.startswith(ABOUT_LEAVES)],
        "leaf_ours": {item.analyte: words.CLASS_WORDS[item.class_] for item in judged},
    }
