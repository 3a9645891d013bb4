"""Slips and lines of a holding, and what a laboratory's last slip remembered."""

from django.db.models import QuerySet

from web.readings.models import Slip, SlipLine


def slips_of(holding) -> QuerySet[Slip]:
    """The holding's slips, latest first, with plot and lines: two queries for any number."""
    return Slip.objects.filter(plot__holding=holding).select_related("plot").prefetch_related("lines")


def lines_of(plot_ids) -> QuerySet[SlipLine]:
    """All lines of some plots with their slips, in one query."""
    return SlipLine.objects.filter(slip__plot__in=plot_ids).select_related("slip")


def remembered(holding, lab: str) -> dict[str, tuple[str, str]]:
    """Unit and method last used for each analyte: by this laboratory, else by any on this holding."""
    slips = Slip.objects.filter(plot__holding=holding).order_by("-pk")
    last = slips.filter(lab__iexact=lab).first() if lab else slips.first()
    if last is None:
        return {}
    return {line.analyte: (line.unit, line.method) for line in last.lines.all()}


def labs_of(holding) -> list[str]:
    names = Slip.objects.filter(plot__holding=holding).exclude(lab="").values_list("lab", flat=True)
    return sorted(set(names), key=str.lower)
