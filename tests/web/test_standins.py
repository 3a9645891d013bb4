"""The stand-ins behave as the devices they stand for, and what they send is judged as it should be."""

from datetime import UTC, datetime, timedelta

import pytest

from agronomy.instruments.steady import judge
from agronomy.instruments.wire import parse_line
from agronomy.tables import load_tables
from standins.probes import PROBES, batch
from standins.serial_meter import SimulatedMeter
from web.overview.demo.loading import load
from web.people.models import Holding
from web.sensors.models import Probe, ProbeReading
from web.sensors.selectors import states_of

TABLES = load_tables()


@pytest.mark.parametrize("seed", ["1-0", "1-1", "7-0", "9-3", "40-2"])
def test_the_pretended_meter_settles_tears_lines_and_comes_to_its_slurry(seed):
    meter = SimulatedMeter(seed)
    lines = meter.lines(120)
    samples = [sample for line in lines if (sample := parse_line(line))]
    assert lines[: len(meter.lines(30))] == meter.lines(30)  # what was said stays said
    assert judge(samples[:10], TABLES).state == "settling"
    settled = judge(samples, TABLES)
    assert settled.state == "steady"
    assert settled.mean == pytest.approx(meter.true_ph, abs=0.06)
    assert any(parse_line(line) is None for line in SimulatedMeter(seed).lines(600))


def test_a_faster_clock_only_makes_it_faster():
    assert SimulatedMeter("3", speed=10).lines(6) == SimulatedMeter("3").lines(60)


def test_a_silent_probe_stops_and_the_others_go_on():
    now = datetime(2026, 10, 3, 12, tzinfo=UTC)
    assert len(batch(now, now)) == len(PROBES) - 1
    assert len(batch(now - timedelta(hours=40), now)) == len(PROBES)


def test_every_fault_of_the_demo_is_seen(db):
    load(datetime.now(UTC).date())
    holding = Holding.objects.get(name="Thornmere")
    probes = list(Probe.objects.filter(gateway__holding=holding))
    states = {probe.key: states_of([probe])[probe.pk][0].state for probe in probes}
    faults = {probe.key: {"": "ok", "stuck": "faulty", "broken": "faulty", "silent": "stale"}[probe.fault] for probe in PROBES}
    assert states == faults
    assert ProbeReading.objects.filter(probe__key="e-3").count() == 0
