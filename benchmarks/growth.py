"""Whether pages stay quick as a holding grows: the same pages with 20 plots and with 2 000, queries counted."""

import random
import statistics
import time
from datetime import date, timedelta

from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext

from web.ground.models import Planting, Plot
from web.people.models import Holding, Membership, User
from web.planning.models import PlotSummary
from web.readings.models import LabReport, LabResult

SLIPS, ROUNDS = 10, 60
LINES = (
    ("pH", "", "water 1:1"),
    ("buffer pH", "", "SMP"),
    ("P", "mg/kg", "Mehlich 3"),
    ("K", "mg/kg", "Mehlich 3"),
    ("Ca", "mg/kg", "Mehlich 3"),
    ("Mg", "mg/kg", "Mehlich 3"),
    ("S", "mg/kg", "Mehlich 3"),
    ("OM", "%", "loss on ignition"),
    ("Zn", "mg/kg", "Mehlich 3"),
    ("Mn", "mg/kg", "Mehlich 3"),
)


def grown_holding(plots: int, seed: int = 5) -> Holding:
    """A holding of so many beds on a grid, each with ten slips of ten readings over ten years."""
    rng = random.Random(seed)  # noqa: S311 -- makes up soils, guards no secret
    user = User.objects.create_user(f"grown-{plots}-{seed}@bench.example", "x" * 20)
    holding = Holding.objects.create(name=f"{plots} plots")
    Membership.objects.create(user=user, holding=holding)
    wide = max(5, round(plots**0.5))
    made = [_plot(holding, number, wide) for number in range(plots)]
    Plot.objects.bulk_create(made, batch_size=500)
    Planting.objects.bulk_create(
        (Planting(plot=plot, crop=rng.choice(("dahlia", "beans", "tomato", "tulip")), planted_on=date(2099, 5, 1)) for plot in made),
        batch_size=500,
    )
    slips = [
        LabReport(
            holding=holding,
            plot=plot,
            lab="Fenwick Soil Room",
            taken_on=date(2026, 10, 3) - timedelta(days=365 * year + rng.randint(0, 30)),
        )
        for plot in made
        for year in range(SLIPS)
    ]
    LabReport.objects.bulk_create(slips, batch_size=500)
    LabResult.objects.bulk_create((_line(slip, place, rng) for slip in slips for place in range(len(LINES))), batch_size=1000)
    return holding


def _plot(holding: Holding, number: int, wide: int) -> Plot:
    x, y = (number % wide) * 8.0, (number // wide) * 4.0
    shape = {"type": "rectangle", "x": x, "y": y, "length": 6.0, "width": 2.0, "turn": 0}
    return Plot(
        holding=holding,
        name=f"Bed {number:04}",
        area_m2=12,
        depth_cm=15,
        texture="loam",
        shape=shape,
        west=x,
        south=y,
        east=x + 6,
        north=y + 2,
    )


def _line(slip: LabReport, place: int, rng: random.Random) -> LabResult:
    analyte, unit, method = LINES[place]
    value = {"pH": rng.uniform(5, 7.6), "buffer pH": rng.uniform(6, 7), "OM": rng.uniform(1, 6)}.get(analyte) or rng.uniform(10, 300)
    return LabResult(slip=slip, place=place, analyte=analyte, typed=f"{value:.1f}", unit=unit, method=method)


def pages_of(holding: Holding) -> dict[str, dict]:
    """Median milliseconds and queries of the ground map, the ledger and a bench, warm, pages taking turns."""
    client = Client()
    client.force_login(holding.members.get())
    some = holding.plots.order_by("pk")[7].pk
    while PlotSummary.objects.filter(plot__holding=holding).count() < holding.plots.count():
        client.get("/ground/")
    addresses = {
        "a bare page, one query": "/bare/",
        "ground map and list": "/ground/",
        "readings ledger": "/readings/",
        "a plot bench": f"/plans/plot/{some}/",
    }
    found = {name: {"times": []} for name in addresses}
    for round_number in range(ROUNDS + 5):
        for name, address in addresses.items():
            start = time.perf_counter()
            assert client.get(address).status_code == 200, address
            if round_number >= 5:
                found[name]["times"].append(1000 * (time.perf_counter() - start))
    for name, address in addresses.items():
        with CaptureQueriesContext(connection) as queries:
            client.get(address)
        found[name] = {"ms": statistics.median(found[name]["times"]), "queries": len(queries)}
    return found


def jobs_page_of(jobs: int) -> dict:
    """Median milliseconds and queries of the jobs page with so many open jobs on a holding of its own."""
    from web.jobs.models import Job

    holding = grown_holding(3, seed=jobs)
    holding.climate = "thornmere_vale"
    holding.save()
    today, plots = date.today(), list(holding.plots.all())
    Job.objects.bulk_create(
        Job(
            holding=holding,
            plot=plots[number % 3],
            material="urea",
            name="urea",
            what="N",
            kg=1,
            from_day=today + timedelta(days=number % 90),
            to_day=today + timedelta(days=number % 90 + 10),
        )
        for number in range(jobs)
    )
    client = Client()
    client.force_login(holding.members.get())
    client.get("/jobs/")
    with CaptureQueriesContext(connection) as caught:
        client.get("/jobs/")
    queries, times = len(caught), []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        client.get("/jobs/")
        times.append(time.perf_counter() - start)
    return {"ms": statistics.median(times) * 1000, "queries": queries}
