"""The demo's waters, leaves, materials, odd spots, sampling rounds and probes."""

from datetime import UTC, date, datetime, timedelta
from decimal import Decimal

from standins import probes as pretended
from web.ground.models import OddSpot
from web.overview.demo.days import past_day
from web.people.models import Holding
from web.readings.models import LabReport, LabResult
from web.sampling.models import SamplingRound
from web.sampling.planning import make_samples
from web.sensors.intake import new_token, take
from web.sensors.models import Gateway, Probe


def load_slip(row: dict, today: date, **about) -> LabReport:
    """A slip about a plot, a water or a material."""
    fields = {field: row[field] for field in ("stage", "position") if field in row}
    slip = LabReport.objects.create(
        lab=row["lab"], how=row.get("how", "lab"), taken_on=past_day(row["day"], row["years_ago"], today), **fields, **about
    )
    for place, (analyte, typed, unit, method) in enumerate(row["values"]):
        LabResult.objects.create(slip=slip, place=place, analyte=analyte, typed=typed, unit=unit, method=method)
    return slip


def load_extras(document: dict, holding: Holding, plots: dict, waters: dict, today: date) -> None:
    for row in document.get("water", ()):
        for slip in row["slips"]:
            load_slip(slip, today, holding=holding, medium=LabReport.Medium.WATER, water=waters[row["name"]])
    for row in document.get("leaf", ()):
        load_slip(row, today, holding=holding, medium=LabReport.Medium.LEAF, plot=plots[row["plot"]])
    for row in document.get("material", ()):
        load_slip(row, today, holding=holding, medium=LabReport.Medium.MATERIAL, material=row["name"])
    for row in document.get("odd_spot", ()):
        OddSpot.objects.create(holding=holding, **row)
    for row in document.get("round", ()):
        _load_round(row, holding, plots, today)
    if "gateway" in document:
        _load_gateway(document["gateway"], holding, plots)


def _load_round(row: dict, holding: Holding, plots: dict, today: date) -> None:
    made = SamplingRound.objects.create(
        holding=holding,
        name=row["name"],
        planned_on=today - timedelta(days=row["days_ago"]),
        lab=row["lab"],
        tests=row["tests"],
        cost_each=Decimal(row["cost_each"]),
    )
    for name in row["plots"]:
        for sample in make_samples(made, plots[name], variability="ordinary", pair=row.get("pair", False), nitrate=False):
            if "taken_days_ago" in row:
                sample.taken_on = today - timedelta(days=row["taken_days_ago"])
                sample.sent_on = today - timedelta(days=row["sent_days_ago"])
                sample.cores_done = list(range(1, sample.cores_wanted + 1))
                sample.save()


def _load_gateway(row: dict, holding: Holding, plots: dict) -> None:
    """A gateway that has posted for some days, through the same door as a real one."""
    gateway = Gateway.objects.create(holding=holding, name=row["name"], token_sha256=new_token()[1])
    for probe in row["probes"]:
        Probe.objects.create(gateway=gateway, **{**probe, "plot": plots[probe["plot"]]})
    now = datetime.now(UTC).replace(minute=0, second=0, microsecond=0)
    readings = [reading for hours in range(24 * row["days"], -1, -1) for reading in pretended.batch(now - timedelta(hours=hours), now)]
    for start in range(0, len(readings), 1000):
        take(gateway, readings[start : start + 1000])
