"""Slips and lines of a holding, and what a laboratory's last slip remembered."""

from django.db.models import F, QuerySet, Window
from django.db.models.functions import RowNumber

from web.readings.models import LabReport, LabResult


def slips_of(holding) -> QuerySet[LabReport]:
    """The holding's slips, latest first, with what they are about and their lines: two queries for any number."""
    return LabReport.objects.filter(holding=holding).select_related("plot", "water").prefetch_related("lines")


# what a plan and a bench look at; a plot's past is long, and the rest of its columns stay where they are
_FOR_A_PLAN = (
    *("analyte", "typed", "unit", "method", "own_error"),
    *(f"slip__{name}" for name in ("plot_id", "how", "taken_on", "lab", "top_cm", "bottom_cm", "medium", "stage", "position")),
)


def water_lines_of(water_ids: set[int]) -> dict[int, list[LabResult]]:
    """The readings of the latest slip of some waters, by water."""
    found: dict[int, list[LabResult]] = {pk: [] for pk in water_ids}
    lines = (
        LabResult.objects.filter(slip__water__in=water_ids, slip__medium=LabReport.Medium.WATER, kind=LabResult.Kind.READING)
        .select_related("slip")
        .only(*_FOR_A_PLAN, "slip__water_id")
        .order_by("-slip__taken_on", "-slip__pk", "place")
    )
    for line in lines:
        told = found[line.slip.water_id]
        if not told or told[0].slip_id == line.slip_id:
            told.append(line)
    return found


def plan_lines_of(plot_ids: list[int], *, most: int) -> QuerySet[LabResult]:
    """The latest readings of soil and leaves of some plots, at most so many of each plot, in one query."""
    lines = (
        LabResult.objects.filter(
            slip__plot__in=plot_ids, slip__medium__in=(LabReport.Medium.SOIL, LabReport.Medium.LEAF), kind=LabResult.Kind.READING
        )
        .select_related("slip")
        .only(*_FOR_A_PLAN)
    )
    if len(plot_ids) == 1:
        return lines.order_by("-slip__taken_on", "-slip__pk", "place")[:most]
    number = Window(RowNumber(), partition_by=F("slip__plot"), order_by=[F("slip__taken_on").desc(), F("slip").desc(), "place"])
    return lines.annotate(number=number).filter(number__lte=most).order_by("slip__plot", "number")


def remembered(holding, lab: str, medium: str = LabReport.Medium.SOIL) -> dict[str, tuple[str, str]]:
    """Unit and method last used for each analyte: by this laboratory, else by any on this holding."""
    slips = LabReport.objects.filter(holding=holding, medium=medium).order_by("-pk")
    last = slips.filter(lab__iexact=lab).first() if lab else slips.first()
    if last is None:
        return {}
    return {line.analyte: (line.unit, line.method) for line in last.lines.all() if line.kind == LabResult.Kind.READING}


def labs_of(holding) -> list[str]:
    names = LabReport.objects.filter(holding=holding).exclude(lab="").values_list("lab", flat=True).distinct()
    return sorted(names[:300], key=str.lower)
