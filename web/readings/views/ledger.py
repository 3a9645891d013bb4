"""The ledger of all slips, latest first, a page at a time; two slips side by side; everything as CSV."""

import csv
from datetime import date

from django.db.models import Q
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, render

from agronomy.base.required import required
from agronomy.base.showing import number
from agronomy.sampling.compare import Difference
from agronomy.sampling.compare import compare as compare_readings
from web.core import tables
from web.ground.models import Plot
from web.query_params import key_of
from web.readings.forms import MEDIA
from web.readings.models import LabReport
from web.readings.past import reading_of, readings_of
from web.readings.selectors import slips_of
from web.words import plain_cell

ON_A_PAGE = 25


def slips(request):
    """Slips by plot and date. Pages follow on from the last slip shown, so that the thousandth costs no more than the first."""
    holding = request.place.holding
    found = slips_of(holding)
    wanted, chosen, medium = request.GET.get("q", "").strip(), request.GET.get("plot", ""), request.GET.get("medium", "")
    plot = Plot.objects.filter(holding=holding, pk=key_of(chosen)).first() if chosen else None
    if plot:
        found = found.filter(plot=plot)
    if medium in MEDIA:
        found = found.filter(medium=medium)
    if wanted:
        found = found.filter(
            Q(plot__name__icontains=wanted) | Q(water__name__icontains=wanted) | Q(material__icontains=wanted) | Q(lab__icontains=wanted)
        )
    after = _place(request.GET.get("after", ""))
    if after:
        found = found.filter(Q(taken_on__lt=after[0]) | Q(taken_on=after[0], pk__lt=after[1]))
    rows = list(found[: ON_A_PAGE + 1])
    last = rows[ON_A_PAGE - 1] if len(rows) > ON_A_PAGE else None
    context = {
        "slips": rows[:ON_A_PAGE],
        "earlier": f"{last.taken_on.isoformat()}_{last.pk}" if last else "",
        "is_first": after is None,
        "plot": plot,
        "q": wanted,
        "medium": medium if medium in MEDIA else "",
        "media": LabReport.Medium.choices,
        "query": "".join(f"&{key}={request.GET[key]}" for key in ("q", "plot", "medium") if request.GET.get(key)),
    }
    return render(request, "readings/slips.html", context)


def _place(text: str) -> tuple[date, int] | None:
    """Where a page follows on: day and key of the last slip shown."""
    day, _, pk = text.partition("_")
    try:
        return date.fromisoformat(day), int(pk)
    except ValueError:
        return None


PAIR_DAYS = 31  # samples further apart tell of time, not of place


def compare(request):
    """Two samples line by line: a good and a bad place, or before and after."""
    chosen = [key_of(request.GET.get(name)) for name in ("first", "second")]
    if None in chosen:
        return render(
            request,
            "readings/compare.html",
            {"first": None, "choices": slips_of(request.place.holding).filter(medium=LabReport.Medium.SOIL)[:60]},
        )
    first, second = (get_object_or_404(slips_of(request.place.holding).select_related("sample"), pk=pk) for pk in chosen)
    if first.sample and first.sample.role == "bad":
        first, second = second, first  # the good place comes first, so that meanings speak of the bad one
    is_pair = abs((first.taken_on - second.taken_on).days) <= PAIR_DAYS
    sides = []
    for slip in (first, second):
        for line in slip.lines.all():
            line.slip = slip
        sides.append(readings_of(slip.lines.all()))
    return render(
        request,
        "readings/compare.html",
        {
            "first": first,
            "second": second,
            "lines": [_compared(line, is_pair) for line in compare_readings(sides[0], sides[1], tables())],
            "is_pair": is_pair,
        },
    )


def _compared(line: Difference, is_pair: bool) -> dict:
    """A line of the comparison with its figures as a person reads them."""
    values = [number(reading.value, 3) if reading else "–" for reading in (line.first, line.second)]
    difference = (
        ""
        if line.difference is None
        else f"{'−' if line.difference < 0 else '+'}{number(abs(line.difference), 2)} ± {number(required(line.error), 2)}"
    )
    return {
        "name": line.name,
        "unit": line.unit,
        "values": values,
        "difference": difference,
        "telling": line.means_something,
        "text": line.text,
    } | ({"could_mean": line.could_mean, "check": line.check} if is_pair else {})


EXPORTED = ("plot", "sampled_on", "depth", "laboratory", "measured_with", "analyte", "value", "unit", "method")


def export_csv(request):
    """All lines of the holding as CSV, as they were written and in base units beside where they can be reckoned with.

    The reader of laboratory files takes it back: plot, day, depth, value, unit and method of each line.
    """
    response = HttpResponse(content_type="text/csv; charset=utf-8", headers={"Content-Disposition": 'attachment; filename="readings.csv"'})
    writer = csv.writer(response)
    writer.writerow([*EXPORTED, "reckoned", "reckoned_in", "medium", "rating"])
    for slip in slips_of(request.place.holding).iterator(chunk_size=500):
        depth = "" if slip.bottom_cm is None else f"{slip.top_cm or 0:g}-{slip.bottom_cm:g} cm"
        for line in slip.lines.all():
            line.slip = slip
            reading = reading_of(line) if line.kind == line.Kind.READING else None
            reckoned = (f"{reading.value:.6g}", reading.unit) if reading else ("", "")
            about = (slip.about, slip.taken_on, depth, slip.lab, slip.how, line.analyte or line.heading)
            row = (*about, line.typed, line.unit, line.method, *reckoned, slip.medium, line.rating)
            writer.writerow([plain_cell(cell) for cell in row])
    return response
