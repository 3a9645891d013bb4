"""The log, jobs, shed and yearly totals as a sheet, CSV or XLSX, for a program of one's own."""

import csv
import io
from collections.abc import Iterable, Iterator

from django.http import Http404, HttpResponse
from openpyxl import Workbook

from web.core import tables
from web.jobs.selectors import jobs_of
from web.people.models import Holding
from web.records.selectors import log_of
from web.records.totals import totals_of
from web.words import plain_cell

Row = Iterable[object]
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


def _log(holding: Holding) -> Iterator[Row]:
    yield "done_on", "plot", "material", "name", "kg", "planned_kg", "way", "price_per_kg", "weather", "note", "by"
    for entry in log_of(holding):
        about = (entry.done_on, entry.plot.name, entry.material, entry.name, entry.kg, entry.planned_kg, entry.way, entry.price_per_kg)
        yield *about, entry.weather, entry.note, str(entry.by or "")


def _jobs(holding: Holding) -> Iterator[Row]:
    yield "from_day", "to_day", "plot", "material", "name", "what_for", "kg", "state", "comes_from", "person", "placement", "reason"
    for job in jobs_of(holding).order_by("from_day", "pk"):
        about = (job.from_day, job.to_day, job.plot.name, job.material, job.name, job.what, job.kg, job.state)
        yield *about, job.comes_from, str(job.person or ""), job.placement, job.reason


def _shed(holding: Holding) -> Iterator[Row]:
    yield "material", "name", "kg", "price_per_kg", "bag_kg", "bought_on", "note"
    known = tables().materials
    for lot in holding.stock_lots.all():
        name = known[lot.material].name if lot.material in known else lot.material
        yield lot.material, name, lot.kg, lot.price_per_kg, lot.bag_kg, lot.bought_on, lot.note


def _totals(holding: Holding) -> Iterator[Row]:
    yield "plot", "year", "nutrient", "kg_per_ha", "lime_kg_per_ha", "salt_kg_per_ha", "money"
    for item, _ in totals_of(holding):
        for nutrient, amount in item.kg_per_ha.items():
            yield item.plot, item.year, nutrient, round(amount, 2), round(item.lime, 1), round(item.salt, 1), round(item.money, 2)


SHEETS = {"log": _log, "jobs": _jobs, "shed": _shed, "totals": _totals}


def sheet(request, name: str, form: str):
    """One sheet; cells that a spreadsheet might take for a formula are kept plain."""
    if name not in SHEETS or form not in ("csv", "xlsx"):
        raise Http404
    rows = ([plain_cell(cell) for cell in row] for row in SHEETS[name](request.place.holding))
    content, kind = (_csv(rows), "text/csv; charset=utf-8") if form == "csv" else (_xlsx(name, rows), XLSX)
    return HttpResponse(content, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}.{form}"'})


def _csv(rows: Iterable[list]) -> str:
    written = io.StringIO()
    csv.writer(written).writerows(["" if cell is None else cell for cell in row] for row in rows)
    return written.getvalue()


def _xlsx(name: str, rows: Iterable[list]) -> bytes:
    book = Workbook(write_only=True)
    page = book.create_sheet(name)
    for row in rows:
        page.append(row)
    written = io.BytesIO()
    book.save(written)
    return written.getvalue()
