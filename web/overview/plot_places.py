"""The places of a plot beside its plan: its readings, what else could be done, measuring out, and what happened."""

from django.shortcuts import render
from django.urls import reverse
from django.utils import timezone

from agronomy.base import showing
from web.core import tables
from web.ground.crop_field import planting_name
from web.ground.selectors import plot_or_404
from web.overview.comparing import comparisons
from web.planning.service import crop_of
from web.readings.models import LabReport, LabResult

SHOWN_REPORTS, SHOWN_LOG = 12, 30
NOT_FIELD_GROUND = ("container", "bale")


def _head(plot, place: str) -> dict:
    return {"plot": plot, "crop": crop_of(plot), "place": place}


def readings(request, pk: int):
    """What is known of a plot: its reports, the ways to know more, the chart of each analyte."""
    plot = plot_or_404(request, pk)
    reports = list(plot.slips.order_by("-taken_on", "-pk").prefetch_related("lines")[:SHOWN_REPORTS])
    lines = LabResult.objects.filter(slip__plot=plot, kind=LabResult.Kind.READING)
    read = set(lines.order_by().values_list("analyte", flat=True).distinct())
    known = [(key, row.name) for key, row in tables().analytes.items() if key in read]
    context = _head(plot, "readings") | {
        "reports": [(report, _said(report)) for report in reports],
        "charts": known,
        "is_ground": plot.kind not in NOT_FIELD_GROUND,
        "water": plot.water,
    }
    return render(request, "overview/plot_readings.html", context)


def _said(report: LabReport) -> str:
    """The figures of a report in one line."""
    told = [f"{line.analyte} {line.typed} {line.unit}".strip() for line in report.lines.all() if line.kind == LabResult.Kind.READING]
    return ", ".join(told[:7]) + (", …" if len(told) > 7 else "")


def compare(request, pk: int):
    """What else could be done, each in one line of what it would change here."""
    plot = plot_or_404(request, pk)
    return render(request, "overview/plot_compare.html", _head(plot, "compare") | {"rows": comparisons(request, plot)})


def measure(request, pk: int):
    """From rate to hand: the desks that start from this plot."""
    plot = plot_or_404(request, pk)
    rows = [("Measures", reverse("desks:measures", args=[pk]), "Each dose to a metre of row, a stride, a plant or a cup.")]
    if plot.kind not in NOT_FIELD_GROUND:
        rows += [
            ("Manure and compost", reverse("desks:manure", args=[pk]), "How much by the load, what holds it back, and how long to wait."),
            ("Trace elements", reverse("desks:traces", args=[pk]), "Small doses spread evenly: by a spray, a solution or with sand."),
            (
                "Nitrogen over the weeks",
                reverse("desks:release", args=[pk]),
                "What a feed gives week by week, beside what the crop takes up.",
            ),
        ]
        rows.insert(1, ("Salt", reverse("desks:flush", args=[pk]), "How salty it is, and the water that washes it out."))
        rows.insert(1, ("Feed now?", reverse("desks:topdress", args=[pk]), "A leaf card, a meter or the eye: feed now, or nothing."))
    if plot.kind == "bale":
        rows.append(("A bale’s start", reverse("desks:bales"), "What goes on a bale from day to day, and when it may be planted."))
    rows += [
        ("The tank", reverse("desks:tank"), "Spray, drench and feed: what goes in, in which order; acid for the water."),
        ("A blend of your own", reverse("desks:blends"), "Mixing what is in the shed."),
        *(
            [("The spreader", reverse("desks:spreader"), "Setting it by bucket, tray and walk.")]
            if plot.kind not in NOT_FIELD_GROUND
            else []
        ),
    ]
    return render(request, "overview/plot_measure.html", _head(plot, "measure") | {"rows": rows})


def history(request, pk: int):
    """What happened on a plot: what was spread, plans that were adopted, crops by year."""
    plot, units = plot_or_404(request, pk), request.place.units
    done = [entry for entry in plot.log.all()[: SHOWN_LOG * 2] if entry.stands][:SHOWN_LOG]
    stands = [(item, planting_name(item)) for item in plot.plantings.all()][::-1]
    context = _head(plot, "history") | {
        "done": [(entry, showing.mass(entry.kg, units, 3)) for entry in done],
        "adopted": plot.adopted_plans.defer("request", "result")[:12],
        "plantings": stands[:12],
        "today": timezone.localdate(),
    }
    return render(request, "overview/plot_history.html", context)
