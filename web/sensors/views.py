"""The gateway's door, and the pages of sensors: map, latest values, chart, gateways and their probes."""

import json
from datetime import timedelta

from django import forms
from django.conf import settings
from django.contrib.auth.decorators import login_not_required
from django.http import JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_POST

from agronomy.base.errors import RuleError
from agronomy.instruments.sensors import ProbeState, quantity_row
from agronomy.interpret.probes import probe_warning
from web.changes.two_tabs import TwoTabsForm
from web.changes.undo import undoable, undoable_deletion
from web.core import error_text, tables
from web.drawing.ground_map import PlotOnMap, ground_map
from web.drawing.trace import trace
from web.ground.selectors import extent_of, plots_in, plots_to_choose
from web.ground.view_window import frame_of, steps
from web.query_params import whole
from web.sensors.intake import gateway_for, is_too_fast, new_token, take
from web.sensors.models import Gateway, Probe
from web.sensors.selectors import probes_of, states_of

LOOKED_AT = 60
MOST_PLOTS = 120


@csrf_exempt
@login_not_required
@require_POST
def post_readings(request):
    """The door for gateways (docs/devices.md): 200 with what became of each, 400, 401, 413 or 429 with what to do."""
    gateway = gateway_for(request.headers.get("Authorization", ""))
    if gateway is None:
        return JsonResponse({"error": "The token is wrong or was revoked. Send it as: Authorization: Bearer <token>."}, status=401)
    if is_too_fast(gateway, timezone.now(), settings.SENSOR_POSTS_A_MINUTE):
        return JsonResponse(
            {"error": f"More than {settings.SENSOR_POSTS_A_MINUTE} posts a minute. Send many readings in one post."},
            status=429,
            headers={"Retry-After": "60"},
        )
    try:
        document = json.loads(request.body)
        taken = take(gateway, document.get("readings") if isinstance(document, dict) else None)
    except (ValueError, RecursionError) as error:
        return JsonResponse(
            {"error": error_text(error) if isinstance(error, RuleError) else 'This is not JSON. Send {"readings": [...]}.'}, status=400
        )
    return JsonResponse(taken.as_document())


def sensors(request):
    holding = request.place.holding
    probes = list(probes_of(holding).prefetch_related("plot__plantings")[:200])
    states = states_of(probes)
    rows = []
    for probe in probes:
        state, readings = states[probe.pk]
        line = trace([(at.timestamp(), value) for at, value in readings[-LOOKED_AT:]], least_span=1.0)
        rows.append(
            {
                "probe": probe,
                "state": state,
                "unit": quantity_row(probe.quantity, tables()).unit,
                "quantity": quantity_row(probe.quantity, tables()).name,
                "trace": line,
                "warning": _warning(probe, state),
            }
        )
    rows.sort(key=lambda row: row["state"].state == "ok")
    context = {"rows": rows, "gateways": Gateway.objects.filter(holding=holding, revoked_at=None)} | _map(request, holding, rows)
    template = "sensors/_sensors.html" if request.htmx else "sensors/sensors.html"
    return render(request, template, context)


def _warning(probe: Probe, state: ProbeState) -> str:
    """What a sound value means for the crop of the plot; nothing where the probe is not to be believed."""
    planting = probe.plot.planting if probe.plot else None
    crop = tables().crops.get(planting.crop) if planting else None
    if crop is None or state.state != "ok" or probe.last_value is None:
        return ""
    return probe_warning(probe.quantity, probe.last_value, crop, probe.plot.texture or None, tables())


def _map(request, holding, rows: list[dict]) -> dict:
    """The probes on the holding's map, those in trouble marked by shape and letter."""
    placed = [row for row in rows if row["probe"].x is not None]
    extent = extent_of(holding)
    if extent is None or not placed:
        return {"drawing": None}
    frame = frame_of(request, extent)
    plots = [
        PlotOnMap(plot.pk, plot.name, plot.kind, plot.shape, "rests", plot.name, "#") for plot in plots_in(holding, frame.box)[:MOST_PLOTS]
    ]
    marks = [(*frame.point((row["probe"].x, row["probe"].y)), row["probe"], row["state"]) for row in placed]
    return {"drawing": ground_map(frame, plots), "marks": marks, "steps": steps(frame)}


def probe(request, pk: int):
    """One probe over the last days."""
    found = get_object_or_404(probes_of(request.place.holding), pk=pk)
    state, _ = states_of([found])[found.pk]
    days = whole(request.GET.get("days"), low=1, high=60, usual=7)
    since = timezone.now() - timedelta(days=days)
    values = list(found.readings.filter(at__gte=since).values_list("at", "value"))
    every = max(1, len(values) // 600)  # a drawing has no room for more points
    line = trace([(at.timestamp(), value) for at, value in values[::every]], least_span=1.0)
    form = ProbeForm(request.POST or None, instance=found, plots=plots_to_choose(request.place.holding))
    if request.method == "POST" and form.is_valid():
        with undoable(request, f"Probe {found.name} was changed", found):
            form.save()
        return redirect("sensors:probe", pk)
    row = quantity_row(found.quantity, tables())
    context = {
        "probe": found,
        "state": state,
        "trace": line,
        "row": row,
        "days": days,
        "count": len(values),
        "latest": values[-12:][::-1],
        "form": form,
    }
    return render(request, "sensors/probe.html", context, status=422 if form.errors else 200)


class GatewayForm(forms.ModelForm):
    """A gateway by name."""

    class Meta:
        model = Gateway
        fields = ["name"]


class ProbeForm(TwoTabsForm):
    """A probe: the name the gateway knows it by, what it measures, and where it is."""

    quantity = forms.ChoiceField(label="What it measures")
    left_out = ("refused", "refused_at", "last_at", "last_value")

    class Meta:
        model = Probe
        fields = ["key", "name", "quantity", "plot", "x", "y", "depth_cm", "every_minutes"]
        labels = {
            "key": "Its name in the gateway",
            "name": "Name",
            "x": "East on the map, m",
            "y": "North on the map, m",
            "depth_cm": "Depth, cm",
            "every_minutes": "Speaks every … minutes",
        }

    def __init__(self, *args, plots, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["plot"].queryset = plots
        self.fields["quantity"].choices = [(key, row.name) for key, row in tables().sensors.quantity.items()]

    def clean_every_minutes(self) -> int:
        minutes = self.cleaned_data["every_minutes"]
        if not 1 <= minutes <= 10_080:
            raise forms.ValidationError("Between a minute and a week (10080).")
        return minutes

    def clean(self) -> dict:
        data = super().clean()
        if not {"x", "y"} & set(self.errors) and (data.get("x") is None) != (data.get("y") is None):
            missing = "x" if data.get("x") is None else "y"
            self.add_error(missing, "A place on the map has both figures: give this one too, or leave both empty.")
        return data

    def clean_key(self) -> str:
        key = self.cleaned_data["key"].strip()
        if Probe.objects.filter(gateway=self.instance.gateway_id, key=key).exclude(pk=self.instance.pk).exists():
            raise forms.ValidationError("This gateway has a probe of this name already.")
        return key


def gateways(request):
    form = GatewayForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        token, kept = new_token()
        gateway = form.save(commit=False)
        gateway.holding, gateway.token_sha256 = request.place.holding, kept
        gateway.save()
        # the token is shown on this one answer and stored nowhere
        return render(
            request,
            "sensors/token.html",
            {"gateway": gateway, "token": token, "address": request.build_absolute_uri("/sensors/api/readings/")},
        )
    return render(
        request,
        "sensors/gateways.html",
        {"form": form, "gateways": Gateway.objects.filter(holding=request.place.holding, revoked_at=None).prefetch_related("probes")},
    )


def _gateway(request, pk: int) -> Gateway:
    return get_object_or_404(Gateway, pk=pk, holding=request.place.holding, revoked_at=None)


def gateway(request, pk: int):
    """A gateway's probes, and a form for a new one."""
    found = _gateway(request, pk)
    form = ProbeForm(request.POST or None, instance=Probe(gateway=found), plots=plots_to_choose(request.place.holding))
    if request.method == "POST" and form.is_valid():
        with undoable(request, f"Probe {form.cleaned_data['name']} was added") as touched:
            touched.append(form.save())
        return redirect("sensors:gateway", pk)
    return render(
        request,
        "sensors/gateway.html",
        {"gateway": found, "form": form, "probes": found.probes.select_related("plot")},
        status=422 if form.errors else 200,
    )


@require_POST
def renew_token(request, pk: int):
    """A new token; the old one opens nothing from now on."""
    found = _gateway(request, pk)
    token, found.token_sha256 = new_token()
    found.save(update_fields=["token_sha256"])
    return render(
        request, "sensors/token.html", {"gateway": found, "token": token, "address": request.build_absolute_uri("/sensors/api/readings/")}
    )


@require_POST
def revoke(request, pk: int):
    found = _gateway(request, pk)
    with undoable(request, f"{found.name} may no longer post", found):
        found.revoked_at = timezone.now()
        found.save()
    return redirect("sensors:sensors")


@require_POST
def delete_probe(request, pk: int):
    found = get_object_or_404(probes_of(request.place.holding), pk=pk)
    with undoable_deletion(request, f"Probe {found.name} was deleted, with its readings", found):
        found.delete()
    return redirect("sensors:gateway", found.gateway_id)
