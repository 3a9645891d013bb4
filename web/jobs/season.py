"""The season on one page: plot by plot and month by month, and as a file."""

import csv
from collections.abc import Iterator
from datetime import date

from django.core.paginator import Paginator
from django.http import StreamingHttpResponse
from django.shortcuts import render
from django.utils import timezone

from agronomy.base import showing
from agronomy.base.errors import RequestError
from agronomy.ground.kinds import kind_row
from agronomy.ledger.balance import NutrientBalance
from agronomy.ledger.hours import Piece, hours_for
from agronomy.ledger.intent import Intended
from agronomy.ledger.season import SeasonLine, by_month, season_of
from agronomy.model.answers import SPOKEN
from web.core import tables
from web.ground.models import Plot
from web.ground.selectors import plots_to_plan
from web.jobs.intent import intended
from web.jobs.models import Job
from web.planning.overlap import needs_in
from web.planning.service import can_plan, lines_by_plot, plan_for
from web.query_params import whole
from web.records.balance import year_balance
from web.records.selectors import log_of
from web.supplies.stock import stock_of
from web.words import plain_cell

LISTED = 60
MONTHS = ["January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"]


def _lines(plots: list[Plot], holding, today: date) -> list[tuple[Plot, list[SeasonLine] | None]]:
    """Each plot with its lines; None where no plan can be made of it."""
    readings, stock = lines_by_plot(plots), stock_of(holding.pk)
    meant: dict[int, list[Intended]] = {}
    for job in Job.objects.filter(holding=holding, plot__in=plots, state=Job.State.OPEN):
        meant.setdefault(job.plot_id, []).append(intended(job))
    done: dict[int, list[Intended]] = {}
    for entry in log_of(holding).filter(plot__in=plots, done_on__year=today.year):
        done.setdefault(entry.plot_id, []).append(Intended(entry.material, entry.kg, entry.done_on, entry.done_on, "the log"))
    found: list[tuple[Plot, list[SeasonLine] | None]] = []
    for plot in plots:
        try:
            needs = needs_in(plan_for(plot, readings[plot.pk], today=today, units="metric", stock=stock)) if can_plan(plot) else None
        except RequestError:
            needs = None
        about = {"area_m2": plot.area_m2, "tables": tables()}
        found.append((plot, None if needs is None else season_of(needs, meant.get(plot.pk, []), done.get(plot.pk, []), **about)))
    return found


def season(request):
    """Plots that need something or have something meant for them, and the list by months."""
    place, today = request.place, timezone.localdate()
    page = Paginator(plots_to_plan(place.holding), LISTED).get_page(request.GET.get("page"))
    told = [
        {"plot": plot, "lines": [_told(line, plot, place.units) for line in lines or ()], "unplanned": lines is None}
        for plot, lines in _lines(list(page), place.holding, today)
    ]
    open_ = Job.objects.filter(holding=place.holding, state=Job.State.OPEN, kg__gt=0).exclude(material="").select_related("plot")
    prices = {row.material: row.price_per_kg for row in stock_of(place.holding.pk).lots if row.price_per_kg is not None}
    months = [
        {
            "name": f"{MONTHS[line.month - 1]} {line.year}",
            "dressings": line.dressings,
            "brings": ", ".join(f"{showing.mass(kg, place.units, 3)} {SPOKEN[what]}" for what, kg in line.brings.items() if kg >= 0.01),
            "money": f"{place.holding.currency}{line.money:.2f}" if line.money >= 0.005 else "",
            "hours": line.hours,
        }
        for line in by_month([intended(job) for job in open_], prices, tables(), [_hours(job, place.holding) for job in open_])
    ]
    year = whole(request.GET.get("year"), low=2000, high=today.year, usual=today.year)
    balance, unweighed = year_balance(place.holding, year)
    context = {
        "rows": [row for row in told if row["lines"]],
        "quiet": [row["plot"] for row in told if not row["lines"] and not row["unplanned"]],
        "unplanned": [row["plot"] for row in told if row["unplanned"]],
        "months": months,
        "balance": [_balance(item, place.units) for item in balance],
        "unweighed": unweighed,
        "balance_of": year,
        "years": [each for each in range(today.year, today.year - 4, -1) if each != year],
        "page": page,
        "year": today.year,
    }
    return render(request, "jobs/season.html", context)


def _hours(job: Job, holding) -> float:
    kind, plot = kind_row(job.plot.kind, tables()), job.plot
    return hours_for(job.material, job.kg, Piece(kind.family, kind.key, plot.area_m2), tuple(holding.equipment), tables())


def _balance(item: NutrientBalance, units: str) -> dict:
    """A nutrient's year in the reader's units, averaged over the ground."""

    def rate(kg: float) -> str:
        shown = showing.rate(abs(kg), units, item.hectares * 10_000)
        return f"−{shown}" if kg <= -0.05 else shown

    each = {name: rate(kg / item.hectares) for name, kg in (("given", item.given), ("own", item.own), ("off", item.carried_off))}
    return {"name": SPOKEN[item.what], **each, "field": rate(item.field), "gate": rate(item.gate)}


def _told(line: SeasonLine, plot: Plot, units: str) -> dict:
    def rate(kg_per_ha: float) -> str:
        return showing.nutrient_rate(kg_per_ha, units, plot.area_m2) if kg_per_ha >= 0.05 else "–"

    return {
        "name": SPOKEN[line.what],
        "needed": rate(line.needed),
        "meant": rate(line.meant),
        "done": rate(line.done),
        "left": rate(line.left),
        "over": rate(line.over) if line.over and plot.kind != Plot.Kind.BALE else "",  # a bale's need is its start alone
    }


def season_csv(request):
    """The same in kg/ha, one line to a plot and nutrient."""
    lines = _csv_lines(request.place.holding, timezone.localdate())
    headers = {"Content-Disposition": 'attachment; filename="season.csv"'}
    return StreamingHttpResponse(lines, content_type="text/csv; charset=utf-8", headers=headers)


class _Line:
    """What csv writes to, giving each line back."""

    def write(self, line: str) -> str:
        return line


def _csv_lines(holding, today: date) -> Iterator[str]:
    """A page of plots at a time: a plan for each of thousands takes a while, and whoever waits sees it come."""
    write = csv.writer(_Line()).writerow
    yield write(["plot", "nutrient", "needed_kg_per_ha", "on_the_list", "done_this_year", "left", "over"])
    for page in Paginator(plots_to_plan(holding), LISTED):
        for plot, lines in _lines(list(page), holding, today):
            for line in lines or ():
                figures = (line.needed, line.meant, line.done, line.left, line.over)
                yield write([plain_cell(plot.name), line.what, *(f"{value:.4g}" for value in figures)])
