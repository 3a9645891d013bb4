"""The pH meter: two buffers, then reading after reading until it holds still, and their average as a slip."""

from django import forms
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base.errors import RuleError
from agronomy.base.numbers import parse_number
from agronomy.base.required import required
from agronomy.instruments.calibration import Calibration, calibrate
from agronomy.instruments.steady import Sample, average, error_of_average, judge, steady_lately
from web.changes.undo import undoable
from web.core import error_text, tables
from web.drawing.trace import trace
from web.ground.fields import NumberField
from web.ground.selectors import plots_to_choose
from web.query_params import key_of
from web.readings.forms import default_plot
from web.readings.instruments import samples_since
from web.readings.models import LabReport, LabResult, MeterSession

METHODS = ("water 1:1", "water 1:2", "water 1:2.5", "water 1:5", "CaCl2 0.01 M", "KCl 1 M")


class CalibrationForm(forms.Form):
    """Two buffers and what the electrode gave in them."""

    plot = forms.ModelChoiceField(queryset=None, label="Plot", empty_label=None)
    meter = forms.CharField(label="Your meter", max_length=80, required=False)
    method = forms.ChoiceField(label="Soil shaken in", choices=[(name, name) for name in METHODS], initial="water 1:2.5")
    ph_1 = NumberField(label="First buffer, pH", low=1, high=13, initial="7.00")
    mv_1 = NumberField(label="gives, mV", low=-600, high=600)
    ph_2 = NumberField(label="Second buffer, pH", low=1, high=13, initial="4.01")
    mv_2 = NumberField(label="gives, mV", low=-600, high=600)
    temperature = NumberField(label="Temperature, °C", low=0, high=50, initial="20")

    def __init__(self, *args, plots, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["plot"].queryset = plots

    def clean(self) -> dict:
        data = super().clean()
        if not self.errors:
            try:
                self.calibration = calibrate(
                    data["ph_1"], data["mv_1"], data["ph_2"], data["mv_2"], temperature_c=data["temperature"], tables=tables()
                )
            except RuleError as error:
                self.add_error({"second_ph": "ph_2", "first_ph": "ph_1"}.get(error.field, "mv_2"), error_text(error))
            else:
                if not self.calibration.passes:
                    self.add_error(None, self.calibration.advice)
        return data


def meter(request):
    plots = plots_to_choose(request.place.holding)
    plot = default_plot(plots, request.GET.get("plot"))
    if plot is None:
        return redirect("start")
    last = MeterSession.objects.filter(holding=request.place.holding).first()
    form = CalibrationForm(request.POST or None, plots=plots, initial={"plot": plot, "meter": last.meter if last else ""})
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        session = MeterSession.objects.create(
            holding=request.place.holding,
            plot=data["plot"],
            meter=data["meter"],
            method=data["method"],
            temperature_c=data["temperature"],
            buffers=[{"ph": data["ph_1"], "mv": data["mv_1"]}, {"ph": data["ph_2"], "mv": data["mv_2"]}],
        )
        return redirect("readings:meter_session", session.pk)
    recent = MeterSession.objects.filter(holding=request.place.holding, slip=None).select_related("plot")[:5]
    return render(request, "readings/meter.html", {"form": form, "recent": recent}, status=422 if form.errors else 200)


def _session(request, pk: int) -> MeterSession:
    return get_object_or_404(MeterSession.objects.select_related("plot"), pk=pk, holding=request.place.holding)


def _calibration(session: MeterSession) -> Calibration:
    first, second = session.buffers
    return calibrate(first["ph"], first["mv"], second["ph"], second["mv"], temperature_c=session.temperature_c, tables=tables())


def _samples(session: MeterSession) -> list[Sample]:
    return samples_since((timezone.now() - session.put_in_at).total_seconds(), f"{session.pk}-{len(session.readings)}")


def _live(session: MeterSession) -> dict:
    """What the meter says now, with its trace; empty between two readings."""
    if session.put_in_at is None:
        return {"session": session, "steady": None}
    samples = _samples(session)
    steady = judge(samples, tables())
    return {
        "session": session,
        "steady": steady,
        "now": f"{samples[-1].ph:.2f}" if samples else "–",
        "celsius": f"{samples[-1].temperature_c:.0f}" if samples else "",
        "trace": trace([(sample.seconds, sample.ph) for sample in samples[-240:]]),
        "waits": steady.state not in ("steady", "given_up"),
    }


def meter_session(request, pk: int):
    session, error = _session(request, pk), ""
    if request.method == "POST" and session.slip_id is None:
        error = _act(request, session)
        if not error:
            return redirect("slip_page", session.slip_id) if session.slip_id else redirect("readings:meter_session", pk)
    readings = [row["ph"] for row in session.readings]
    context = _live(session) | {"calibration": _calibration(session), "average": average(readings) if readings else None, "error": error}
    return render(request, "readings/meter_session.html", context, status=422 if error else 200)


def _act(request, session: MeterSession) -> str:
    if "put-in" in request.POST:
        session.put_in_at = timezone.now()
    elif "take" in request.POST:
        steady = steady_lately(_samples(session), tables()) if session.put_in_at else None
        if steady is None:
            return "The meter does not hold still yet. Wait, or type the reading."
        session.readings = [*session.readings, {"ph": round(required(steady.mean), 2), "spread": round(required(steady.spread), 3)}]
        session.put_in_at = None
    elif "typed" in request.POST:
        try:
            ph = parse_number(request.POST.get("by_hand", ""), "pH")
        except RuleError as error:
            return error_text(error)
        if not 2 <= ph <= 12:
            return f"pH {ph:g} is outside 2 to 12. Check the number."
        session.readings = [*session.readings, {"ph": ph, "spread": None}]
        session.put_in_at = None
    elif "out" in request.POST:
        session.put_in_at = None
    elif (dropped := key_of(request.POST.get("drop"))) is not None:
        session.readings = [row for place, row in enumerate(session.readings) if place != dropped]
    elif "keep" in request.POST and session.readings:
        _keep(request, session)
    session.save()
    return ""


def _keep(request, session: MeterSession) -> None:
    of = average([row["ph"] for row in session.readings])
    note = (
        f"{of.count} readings: {', '.join(format(row['ph'], '.2f') for row in session.readings)}; slope "
        f"{_calibration(session).slope_pct:.0f} %, {session.temperature_c:g} °C"
    )
    with undoable(request, f"pH {of.mean:.2f} of {session.plot.name} by meter") as touched:
        session.slip = LabReport.objects.create(
            holding=session.holding, plot=session.plot, lab=session.meter, how=LabReport.How.METER, taken_on=timezone.localdate(), note=note
        )
        line = LabResult.objects.create(
            slip=session.slip,
            place=0,
            analyte="pH",
            typed=f"{of.mean:.2f}",
            method=session.method,
            own_error=round(error_of_average(of, tables()), 4),
        )
        touched += [session.slip, line]


def meter_live(request, pk: int):
    """The live panel alone, asked for every second until the meter holds still."""
    return render(request, "readings/_meter_live.html", _live(_session(request, pk)))


@require_POST
def drop_session(request, pk: int):
    _session(request, pk).delete()
    return redirect("readings:meter")
