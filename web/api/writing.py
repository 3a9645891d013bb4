"""Writes by the forms of the pages: what a page would refuse or doubt is refused here too, and one undo takes it back."""

from web.api.shapes import DoneIn, ReadingsIn
from web.changes.undo import undoable
from web.ground.models import Plot
from web.ground.selectors import plots_to_choose
from web.jobs.closing import DoneAlready, close
from web.jobs.models import Job
from web.readings.forms import LineFormSet, SlipForm, save_slip
from web.readings.models import LabReport
from web.readings.past import Past
from web.records.forms import DoneForm
from web.records.models import LogEntry


class Refused(Exception):
    """What a form would not take: each error names its field."""

    def __init__(self, errors: list[dict]):
        self.errors = errors
        super().__init__(str(errors))


def _errors_of(form, under: str = "") -> list[dict]:
    return [{"field": under + name, "problem": str(text)} for name, texts in form.errors.items() for text in texts]


def keep_readings(request, plot: Plot, report: ReadingsIn) -> LabReport:
    """Keeps a report as if it had been typed. Raises Refused for what is wrong, and for doubts that nobody settled."""
    if report.bottom_cm is not None and report.bottom_cm <= (report.top_cm or 0.0):
        raise Refused([{"field": "bottom_cm", "problem": "A layer ends below its top. Check both depths."}])
    data = {"plot": plot.pk, "lab": report.lab, "how": report.how, "taken_on": report.taken_on.isoformat(), "note": report.note}
    data |= {"lines-TOTAL_FORMS": len(report.lines), "lines-INITIAL_FORMS": 0}
    for place, line in enumerate(report.lines):
        told = {"analyte": line.analyte, "typed": str(line.value), "unit": line.unit, "method": line.method}
        if line.analyte == "pH":
            told["unit"] = "pH"
        data |= {f"lines-{place}-{name}": value for name, value in told.items()}
        if line.settled:
            data[f"lines-{place}-settled"] = "on"
    holding = request.place.holding
    head = SlipForm(data, instance=LabReport(medium=LabReport.Medium.SOIL), holding=holding, plots=plots_to_choose(holding))
    lines = LineFormSet(data, prefix="lines")
    if head.is_valid():
        lines.past = Past(plot, head.cleaned_data["taken_on"])
    if not (lines.is_valid() and head.is_valid()):
        wrong = [error for place, form in enumerate(lines.forms) for error in _errors_of(form, f"lines.{place}.")]
        wrong += [{"field": "lines", "problem": str(text)} for text in lines.non_form_errors()]
        raise Refused(_errors_of(head) + wrong)
    doubts = [
        {"field": f"lines.{place}", "problem": form.doubt.text, "mend": "correct it, or send it again with settled: true"}
        for place, form in enumerate(lines.forms)
        if form.is_filled and form.is_open
    ]
    if doubts:
        raise Refused(doubts)
    head.instance.top_cm, head.instance.bottom_cm = report.top_cm, report.bottom_cm
    with undoable(request, f"Readings of {plot.name} were sent by {request.auth.name}") as touched:
        kept, stored = save_slip(head, lines)
        touched += [kept, *stored]
    return kept


def done_by(request, job: Job, what: DoneIn) -> LogEntry:
    """Closes a job by what was spread, as its page does. Raises Refused; a job that is done already is refused too."""
    data = {"amount": f"{what.kg:.6g} kg", "done_on": what.done_on.isoformat(), "weather": what.weather, "note": what.note}
    data["lot"] = "" if what.lot is None else str(what.lot)
    form = DoneForm(data, holding=request.place.holding, material=job.material, units="metric")
    if not form.is_valid():
        raise Refused(_errors_of(form))
    try:
        return close(request, job, form)
    except DoneAlready as error:
        raise Refused([{"field": "job", "problem": str(error)}]) from error
