"""A slip with what its lines mean, and a plot's readings over the years."""

from django.http import Http404
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.utils import timezone

from agronomy.base import showing
from agronomy.base.errors import RequestError, RuleError
from agronomy.instruments.leaf_card import card
from agronomy.interpret.water import judge_water
from agronomy.products.labels import worth
from web.core import error_text, tables
from web.date_format import said
from web.drawing.history import DressingMark, Point, history
from web.ground.models import Plot
from web.ground.selectors import plot_or_404, plots_of
from web.overview.leaf_slips import leaf_meaning
from web.overview.trend import ahead_of, learned_of, told_of, upkeep_of
from web.planning import words
from web.planning.service import crop_of, lines_by_plot, plan_for, request_of
from web.readings.doubts import open_doubts
from web.readings.models import LabReport, LabResult
from web.readings.past import reading_of, readings_of
from web.readings.selectors import slips_of


def slip(request, pk: int):
    """One slip: each line as written and in base units, our class beside the laboratory's, doubts with their one-tap answer."""
    found = get_object_or_404(
        slips_of(request.place.holding).select_related("plot__holding", "sample", "source_file").defer("source_file__content"), pk=pk
    )
    lines = list(found.lines.all())
    for line in lines:
        line.slip = found
    doubts = open_doubts(found, lines)
    meaning = _meaning(request, found, lines)
    ours = meaning.get("leaf_ours") or _findings(request, found, lines)
    context = {
        "slip": found,
        "rows": [_row(line, doubts.get(line.pk), ours) for line in lines],
        "has_ours": bool(ours),
        "has_ratings": any(line.rating for line in lines),
        "earlier": _earlier(found),
        "pair": _pair(found),
    } | meaning
    return render(request, "readings/slip.html", context)


def _findings(request, found: LabReport, lines: list[LabResult]) -> dict[str, str]:
    """Our class for each analyte, from this slip alone, for the crop that the plot is planned for."""
    if found.medium != LabReport.Medium.SOIL or found.plot is None or crop_of(found.plot) is None:
        return {}
    usable = [line for line in lines if line.kind == LabResult.Kind.READING]
    try:
        plan = plan_for(found.plot, usable, today=timezone.localdate(), units=request.place.units)
    except RequestError:
        return {}
    return {finding.analyte: words.CLASS_WORDS[finding.class_] for finding in plan.findings}


def _row(line: LabResult, doubt, ours: dict[str, str]) -> dict:
    reading = reading_of(line) if line.kind == LabResult.Kind.READING else None
    name = tables().analytes[line.analyte].name if line.analyte in tables().analytes else line.heading
    base = ""
    if reading:
        unit = "" if reading.unit == "pH" else f" {reading.unit}"
        base = f"{showing.number(reading.value, 3)}{unit}, likely {showing.number(reading.low, 3)} to {showing.number(reading.high, 3)}"
    return {"line": line, "name": name, "base": base, "ours": ours.get(line.analyte, ""), "doubt": doubt}


def _earlier(found: LabReport) -> LabReport | None:
    """The plot's slip before this one, to compare with."""
    if found.plot is None or found.medium != LabReport.Medium.SOIL:
        return None
    return found.plot.slips.filter(medium=LabReport.Medium.SOIL, taken_on__lt=found.taken_on).first()


def _pair(found: LabReport) -> LabReport | None:
    """The slip of the other place, where this one is of a good or a bad place."""
    if found.sample is None or found.sample.role == "whole":
        return None
    other = "bad" if found.sample.role == "good" else "good"
    return LabReport.objects.filter(
        sample__round=found.sample.round_id, sample__plot=found.sample.plot_id, sample__top_cm=found.sample.top_cm, sample__role=other
    ).first()


def _meaning(request, found: LabReport, lines: list[LabResult]) -> dict:
    """What a water, leaves or a material are said to be."""
    readings = readings_of(lines)
    if found.medium == LabReport.Medium.WATER:
        return {"water_says": [(tables().analytes[item.about].name, item) for item in judge_water(readings, tables())]}
    if found.medium == LabReport.Medium.MATERIAL:
        try:
            return {"worth": worth(readings, tables()), "plots_to_give": plots_of(found.holding)[:60]}
        except RuleError as error:
            return {"worth_error": error_text(error)}
    if found.medium == LabReport.Medium.LEAF and found.how != LabReport.How.CARD:
        return leaf_meaning(request, found, lines)
    if found.how == LabReport.How.CARD:
        known = next((card(key, tables()) for key in tables().leaf_cards if tables().leaf_cards[key].name == found.lab), None)
        return {"card": known}
    return {}


def chart(request, pk: int):
    """A plot's readings of one analyte over the years, with error bars, what was spread, and the range that is wanted."""
    plot = plot_or_404(request, pk)
    lines = list(
        LabResult.objects.filter(slip__plot=plot, kind=LabResult.Kind.READING)
        .exclude(analyte="")
        .select_related("slip")
        .order_by("slip__taken_on", "pk")[:5000]
    )
    known = [key for key in tables().analytes if any(line.analyte == key for line in lines)]
    analyte = request.GET.get("analyte") or ("pH" if "pH" in known or not known else known[0])
    if analyte not in tables().analytes:
        raise Http404
    row = tables().analytes[analyte]
    unit = "" if row.base_unit == "pH" else row.base_unit
    asked = request_of(plot, request.place.units)
    ahead = ahead_of(asked, analyte)
    points = [point for line in lines if line.analyte == analyte and (point := _point(line, unit))]
    context = {
        "plot": plot,
        "analyte": analyte,
        "name": row.name,
        "unit": unit or "pH on the water scale",
        "analytes": [(key, tables().analytes[key].name) for key in known],
        "history": history(
            points,
            _dressings(plot, request.place.units),
            wanted=_wanted(request, plot, analyte),
            today=timezone.localdate(),
            unit=unit,
            ahead=ahead,
        ),
        "ahead": [(said(item.day, "Y"), f"{item.value:.3g}", f"{item.low:.3g}", f"{item.high:.3g}") for item in ahead],
        "upkeep": upkeep_of(asked, analyte, plot, request.place.units),
        "learned": told_of(learned_of(asked, analyte), analyte, plot, request.place.units),
        "points": points[::-1][:40],
    }
    return render(request, "readings/chart.html", context)


def _point(line: LabResult, unit: str) -> Point | None:
    reading = reading_of(line)
    if reading is None:
        return None
    day = line.slip.taken_on
    says = (
        f"{said(day)}: {showing.number(reading.value, 3)} {unit}".strip()
        + f", likely {showing.number(reading.low, 3)} to {showing.number(reading.high, 3)}; {reading.method}, {line.slip.get_how_display()}"
    )
    return Point(
        day,
        reading.value,
        reading.low,
        reading.high,
        reading.method,
        reading.trust == "yes",
        says,
        reverse("slip_page", args=[line.slip_id]),
    )


def _dressings(plot: Plot, units: str) -> list[DressingMark]:
    """What was really put on, by the log."""
    done = plot.log.filter(stands=True).order_by("done_on", "pk")[:200]
    return [DressingMark(entry.done_on, f"{showing.mass(entry.kg, units)} {entry.name}") for entry in done]


def _wanted(request, plot: Plot, analyte: str) -> tuple[float, float] | None:
    if crop_of(plot) is None:
        return None
    try:
        plan = plan_for(plot, lines_by_plot([plot])[plot.pk], today=timezone.localdate(), units=request.place.units)
    except RequestError:
        return None
    return next((finding.wanted for finding in plan.findings if finding.analyte == analyte), None)
