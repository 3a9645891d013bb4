"""Slips and lines of a holding, and what a laboratory's last slip remembered."""

from collections.abc import Iterable, Sequence
from datetime import date
from typing import NamedTuple

from django.db.models import F, QuerySet, Window
from django.db.models.functions import RowNumber

from agronomy.base.required import required
from web.prepared import Prepared
from web.readings.models import LabReport, LabResult


def slips_of(holding) -> QuerySet[LabReport]:
    """The holding's slips, latest first, with what they are about and their lines: two queries for any number."""
    return LabReport.objects.filter(holding=holding).select_related("plot", "water").prefetch_related("lines")


class PlanSlip(NamedTuple):
    """What a plan and a bench look at of a slip."""

    pk: int
    plot_id: int | None
    water_id: int | None
    how: str
    taken_on: date
    top_cm: float | None
    bottom_cm: float | None
    medium: str
    stage: str
    position: str

    def get_how_display(self) -> str:
        return str(LabReport.How(self.how).label)


class PlanLine(NamedTuple):
    """One reading as a plan looks at it: light, for a plot's past is long."""

    slip: PlanSlip
    analyte: str
    typed: str
    unit: str
    method: str
    own_error: float | None

    @property
    def slip_id(self) -> int:
        return self.slip.pk


_OF_A_LINE = ("analyte", "typed", "unit", "method", "own_error")
_OF_A_SLIP = ("slip_id", *(f"slip__{name}" for name in PlanSlip._fields[1:]))
_LATEST_FIRST = ("-slip__taken_on", "-slip__pk", "place")
MOST_LINES = 150  # of a plot: no plan looks further back


def _rows(**about) -> QuerySet[LabResult]:
    return LabResult.objects.filter(kind=LabResult.Kind.READING, **about).values_list(*_OF_A_LINE, *_OF_A_SLIP)


def _rows_of_plots(**plots) -> QuerySet[LabResult]:
    return _rows(slip__medium__in=(LabReport.Medium.SOIL, LabReport.Medium.LEAF), **plots)


def _rows_of_waters(**waters) -> QuerySet[LabResult]:
    return _rows(slip__medium=LabReport.Medium.WATER, **waters).order_by(*_LATEST_FIRST)


def _latest_of_each(plots: Sequence[int]) -> QuerySet[LabResult]:
    number = Window(RowNumber(), partition_by=F("slip__plot"), order_by=[F("slip__taken_on").desc(), F("slip").desc(), "place"])
    rows = _rows_of_plots(slip__plot__in=plots).annotate(number=number).filter(number__lte=MOST_LINES)
    return rows.order_by("slip__plot", "number")


_OF_ONE_PLOT: Prepared[tuple] = Prepared(lambda plot: _rows_of_plots(slip__plot=plot).order_by(*_LATEST_FIRST)[:MOST_LINES])
_OF_PLOTS: Prepared[tuple] = Prepared(lambda *plots: _latest_of_each(plots))
_OF_WATERS: Prepared[tuple] = Prepared(lambda *waters: _rows_of_waters(slip__water__in=waters))
FEW = 60  # so many plots or waters have a query written for just their number


def _light(rows: Iterable[tuple]) -> list[PlanLine]:
    """Lines in their order; those of one slip share it."""
    slips: dict[int, PlanSlip] = {}
    found = []
    for row in rows:
        slip = slips.get(row[5]) or slips.setdefault(row[5], PlanSlip._make(row[5 : 5 + len(PlanSlip._fields)]))
        found.append(PlanLine(slip, *row[:5]))
    return found


def water_lines_of(water_ids: set[int]) -> dict[int, list[PlanLine]]:
    """The readings of the latest slip of some waters, by water."""
    found: dict[int, list[PlanLine]] = {pk: [] for pk in water_ids}
    for line in _light(_OF_WATERS(*water_ids) if len(water_ids) <= FEW else _rows_of_waters(slip__water__in=water_ids)):
        told = found[required(line.slip.water_id)]
        if not told or told[0].slip_id == line.slip_id:
            told.append(line)
    return found


def plan_lines_of(plot_ids: list[int]) -> list[PlanLine]:
    """The latest readings of soil and leaves of some plots, no more of each than a plan looks at, in one query."""
    if not plot_ids:
        return []
    if len(plot_ids) == 1:
        return _light(_OF_ONE_PLOT(*plot_ids))
    return _light(_OF_PLOTS(*plot_ids) if len(plot_ids) <= FEW else _latest_of_each(plot_ids))


def remembered(holding, lab: str, medium: str = "soil") -> dict[str, tuple[str, str]]:
    """Unit and method last used for each analyte: by this laboratory, else by any on this holding."""
    slips = LabReport.objects.filter(holding=holding, medium=medium).order_by("-pk")
    last = slips.filter(lab__iexact=lab).first() if lab else slips.first()
    if last is None:
        return {}
    return {line.analyte: (line.unit, line.method) for line in last.lines.all() if line.kind == LabResult.Kind.READING}


def labs_of(holding) -> list[str]:
    names = LabReport.objects.filter(holding=holding).exclude(lab="").order_by("lab").values_list("lab", flat=True).distinct()
    return sorted(names[:300], key=str.lower)
