"""Probes, how far they are to be believed, and what sound ones say of a plot."""

from datetime import timedelta

from django.utils import timezone

from agronomy.instruments.sensors import ProbeState, judge_probe
from web.core import tables
from web.sensors.models import Probe, ProbeReading


def probes_of(holding):
    return Probe.objects.filter(gateway__holding=holding, gateway__revoked_at=None).select_related("plot", "gateway")


def states_of(probes: list[Probe]) -> dict[int, tuple[ProbeState, list]]:
    """State and latest readings of each probe, from one query for all of them."""
    now = timezone.now()
    by_probe: dict[int, list] = {probe.pk: [] for probe in probes}
    since = now - timedelta(hours=tables().sensors.stuck_hours * 2.5)
    for probe_id, at, value in (
        ProbeReading.objects.filter(probe__in=by_probe, at__gte=since).order_by("at").values_list("probe_id", "at", "value")
    ):
        by_probe[probe_id].append((at, value))
    found = {}
    for probe in probes:
        readings = by_probe[probe.pk] or ([(probe.last_at, probe.last_value)] if probe.last_at else [])
        state = judge_probe(
            readings, quantity=probe.quantity, every_minutes=probe.every_minutes, refused_at=probe.refused_at, now=now, tables=tables()
        )
        found[probe.pk] = (state, readings)
    return found


def soil_warmth(holding) -> dict[int, float]:
    """The soil's warmth [°C] by plot, as sound probes measure it now; a stale or faulty one never counts."""
    probes = [probe for probe in probes_of(holding).filter(quantity="temperature", plot__isnull=False) if probe.last_value is not None]
    states = states_of(probes) if probes else {}
    found: dict[int, list[float]] = {}
    for probe in probes:
        if states[probe.pk][0].state == "ok" and probe.plot_id is not None:
            found.setdefault(probe.plot_id, []).append(probe.last_value or 0.0)
    return {plot: sum(values) / len(values) for plot, values in found.items()}
