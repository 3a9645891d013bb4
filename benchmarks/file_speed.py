"""How long a laboratory's file of 10 000 rows takes, from the upload to the last slip, as a browser would ask for it."""

import random
import time

from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.test import Client

from web.people.models import Holding
from web.readings.models import LabFile, LabResult

ROWS = 10_000


def big_file(names: list[str], seed: int = 3) -> bytes:
    rng = random.Random(seed)  # noqa: S311 -- makes up soils
    lines = ["Sample,Date,pH,P (Olsen) mg/kg,K mg/kg,Mg mg/kg,Ca mg/kg,Organic matter %"]
    lines += [
        f"{names[number % len(names)]},2026-09-{1 + number % 28:02},{rng.uniform(5, 8):.1f},{rng.randint(3, 90)},"
        f"{rng.randint(30, 300)},{rng.randint(20, 300)},{rng.randint(300, 4000)},{rng.uniform(1, 6):.1f}"
        for number in range(ROWS)
    ]
    return "\n".join(lines).encode()


def read_in(holding: Holding) -> dict[str, float]:
    """Seconds to take a file, to look it over, and to read it all in: by the worker, for it is a large one."""
    client = Client()
    client.force_login(holding.members.get())
    content = big_file(list(holding.plots.values_list("name", flat=True)))
    found, where = {}, ""

    def timed(what: str, *acts) -> None:
        start = time.perf_counter()
        for act in acts:
            act()
        found[what] = time.perf_counter() - start

    def upload() -> None:
        nonlocal where
        sent = {"file": SimpleUploadedFile("big.csv", content), "medium": "soil", "lab": "Fenwick Soil Room"}
        where = client.post("/readings/files/", sent).url

    def work() -> None:
        call_command("db_worker", batch=True, interval=0, startup_delay=False, verbosity=0)

    timed("taken", upload)
    timed("looked over", work, lambda: client.get(where))
    timed("read in", lambda: client.post(where, {"read-in": "1", "sampled_on": "2026-09-01"}), work)
    assert LabResult.objects.filter(slip__source_file__holding=holding, slip__source_file__state=LabFile.State.IN).count() == ROWS * 6
    timed("taken out", lambda: client.post(f"{where}take-out/"))
    return found
