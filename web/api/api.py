"""The HTTP API: readings in, plans, jobs, log and shed out, by the same services and rights as the pages. See docs/api.md."""

import tempfile
from typing import Any

import orjson
from django.core.paginator import Paginator
from django.db import OperationalError
from django.http import FileResponse, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Body, NinjaAPI, Query
from ninja.errors import ValidationError

from agronomy.base.errors import RequestError
from agronomy.intake.answering import errors_document, plan_document
from web.api import shapes
from web.api.door import ByToken, ByTokenThrottle, allow, once
from web.api.writing import Refused, done_by, keep_readings
from web.core import tables
from web.ground.selectors import plots_of
from web.jobs.models import Job
from web.jobs.selectors import jobs_of
from web.overview.archive.taking_out import take_out
from web.overview.errors import out_of_store
from web.planning.models import AdoptedPlan
from web.planning.requests import request_document
from web.planning.service import can_plan, lines_by_plot
from web.readings.past import reading_of
from web.readings.selectors import slips_of
from web.records.selectors import log_of
from web.supplies.stock import stock_of

ON_A_PAGE = 200
WHOLE_BODY = Body(...)
api = NinjaAPI(
    title="Iron Rake",
    version="1",
    description="Readings in, plans, jobs, log and shed out. Weights in kg, areas in m², days as YYYY-MM-DD.",
    auth=ByToken(),
    throttle=[ByTokenThrottle("120/m")],
    docs_url=None,
)


class OrJson(HttpResponse):
    """A document of the plan format."""

    def __init__(self, document: Any, status: int = 200):
        super().__init__(orjson.dumps(document), content_type="application/json; charset=utf-8", status=status)


@api.exception_handler(ValidationError)
def _misshapen(request, error: ValidationError):
    wrong = [{"field": ".".join(str(part) for part in item["loc"][1:]), "problem": item["msg"]} for item in error.errors]
    return api.create_response(request, {"errors": wrong}, status=422)


@api.exception_handler(Refused)
def _refused(request, error: Refused):
    return api.create_response(request, {"errors": error.errors}, status=422)


@api.exception_handler(OperationalError)
@api.exception_handler(OSError)
def _not_stored(request, error: OperationalError | OSError):
    found = out_of_store(error)
    if found is None:
        raise error
    status, heading, text = found
    return api.create_response(request, {"errors": [{"field": "", "problem": heading, "mend": text}]}, status=status)


@api.exception_handler(RequestError)
def _no_plan(request, error: RequestError):
    return api.create_response(request, errors_document(error), status=422)


def _page(rows, page: int) -> list:
    return list(Paginator(rows, ON_A_PAGE).get_page(page))


@api.get("/plots", response=list[shapes.PlotOut], summary="The plots in use")
def plots(request, page: int = Query(1, ge=1, le=10_000)):
    allow(request, "ground_page")
    found = []
    for plot in _page(plots_of(request.place.holding).prefetch_related("plantings").order_by("pk"), page):
        planting = plot.planting
        about = {"crop": planting.crop, "planted_on": planting.planted_on} if planting else {}
        names = ("name", "kind", "area_m2", "depth_cm", "texture")
        found.append({"id": plot.pk} | {name: getattr(plot, name) for name in names} | about)
    return found


def _plot(request, pk: int):
    return get_object_or_404(plots_of(request.place.holding), pk=pk)


@api.get("/plots/{int:pk}/readings", response=list[shapes.ReportOut], summary="What was read on a plot, latest first")
def readings(request, pk: int, page: int = Query(1, ge=1, le=10_000)):
    allow(request, "readings:slips")
    return [_report(slip) for slip in _page(slips_of(request.place.holding).filter(plot=_plot(request, pk)), page)]


def _report(slip) -> dict:
    lines = []
    for line in slip.lines.all():
        line.slip = slip
        reading = reading_of(line) if line.kind == line.Kind.READING else None
        value = {"value": reading.value, "base_unit": reading.unit} if reading else {}
        lines.append({"analyte": line.analyte or line.heading, "typed": line.typed, "unit": line.unit, "method": line.method} | value)
    return {"id": slip.pk, "medium": slip.medium, "taken_on": slip.taken_on, "lab": slip.lab, "how": slip.how, "lines": lines}


@api.post("/plots/{int:pk}/readings", response={200: shapes.Made, 422: shapes.Wrong}, summary="Sends a report of soil")
def send_readings(request, pk: int, report: shapes.ReadingsIn):
    allow(request, "readings:new_slip", "POST")
    return once(request, lambda: {"id": keep_readings(request, _plot(request, pk), report).pk})


@api.get("/plots/{int:pk}/plan", response={200: dict[str, Any], 422: shapes.Wrong}, summary="The plan as it would be made today")
def plan(request, pk: int, workings: bool = False):
    allow(request, "planning:bench")
    plot = _plot(request, pk)
    if not can_plan(plot):
        return api.create_response(
            request, {"errors": [{"field": "crop", "problem": "a plan needs a crop", "mend": "plant one"}]}, status=422
        )
    lines, stock = lines_by_plot([plot])[plot.pk], stock_of(request.place.holding.pk)
    asked = request_document(plot, plot.planting, lines, today=timezone.localdate(), units=request.place.units, stock=stock)
    return OrJson(plan_document(asked, tables(), workings=workings))


@api.post("/plan", response={200: dict[str, Any], 422: shapes.Wrong}, summary="A plan for any request of the plan format; nothing is kept")
def plan_of_request(request, asked: dict[str, Any] = WHOLE_BODY, workings: bool = False):
    return OrJson(plan_document(asked, tables(), workings=workings))


@api.get("/plans", response=list[shapes.PlanOut], summary="Adopted plans, latest first, without their results")
def plans(request, page: int = Query(1, ge=1, le=10_000)):
    allow(request, "planning:plans")
    found = AdoptedPlan.objects.filter(plot__holding=request.place.holding).defer("request", "result").order_by("-adopted_at", "-pk")
    return [{"id": row.pk, "plot": row.plot_id, "adopted_on": row.adopted_at.date()} for row in _page(found, page)]


@api.get("/plans/{int:pk}", response=shapes.PlanOut, summary="An adopted plan, whole")
def adopted(request, pk: int):
    allow(request, "planning:adopted")
    row = get_object_or_404(AdoptedPlan, plot__holding=request.place.holding, pk=pk)
    return OrJson({"id": row.pk, "plot": row.plot_id, "adopted_on": row.adopted_at.date(), "result": row.result})


@api.get("/jobs", response=list[shapes.JobOut], summary="What is meant, the soonest first")
def jobs(request, state: Job.State = Job.State.OPEN, page: int = Query(1, ge=1, le=10_000)):  # type: ignore[assignment]  # a member, not its pair
    allow(request, "jobs:jobs")
    found = _page(jobs_of(request.place.holding).filter(state=state).order_by("to_day", "from_day", "pk"), page)
    names = ("material", "name", "what", "kg", "from_day", "to_day", "state", "comes_from", "placement")
    return [{"id": job.pk, "plot": job.plot_id} | {name: getattr(job, name) for name in names} for job in found]


@api.post("/jobs/{int:pk}/done", response={200: shapes.Made, 422: shapes.Wrong}, summary="Says what was spread, and closes the job")
def done(request, pk: int, what: shapes.DoneIn):
    allow(request, "jobs:job", "POST")
    return once(request, lambda: {"id": done_by(request, get_object_or_404(jobs_of(request.place.holding), pk=pk), what).pk})


@api.get("/log", response=list[shapes.EntryOut], summary="What was spread, latest first")
def log(request, page: int = Query(1, ge=1, le=10_000)):
    allow(request, "records:log")
    names = ("material", "name", "kg", "done_on", "note")
    found = _page(log_of(request.place.holding), page)
    return [{"id": entry.pk, "plot": entry.plot_id} | {name: getattr(entry, name) for name in names} for entry in found]


@api.get("/shed", response=list[shapes.LotOut], summary="What is in the shed")
def shed(request, page: int = Query(1, ge=1, le=10_000)):
    allow(request, "supplies:shed")
    lots = _page(request.place.holding.stock_lots.order_by("pk"), page)
    return [{"id": lot.pk, "material": lot.material, "kg": lot.kg, "note": lot.note} for lot in lots]


@api.get("/archive", summary="The holding whole, as a zip")
def archive(request):
    allow(request, "archive_file")
    made = tempfile.TemporaryFile()  # noqa: SIM115 -- the response closes it once it is sent
    take_out(request.place.holding, made)
    made.seek(0)
    return FileResponse(made, as_attachment=True, filename="holding.zip", content_type="application/zip")
