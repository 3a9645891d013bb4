"""How long a laboratory's file of 10 000 rows takes, from the upload to the last slip, as a browser would ask for it."""

import random
import time

from django.core.files.uploadedfile import SimpleUploadedFile
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
    """Seconds to look it over, and to read it all in, step by step."""
    client = Client()
    client.force_login(holding.members.get())
    content = big_file(list(holding.plots.values_list("name", flat=True)))
    start = time.perf_counter()
    answer = client.post("/readings/files/", {"file": SimpleUploadedFile("big.csv", content), "medium": "soil", "lab": "Fenwick Soil Room"})
    client.get(answer.url)
    looked_over = time.perf_counter() - start
    start = time.perf_counter()
    client.post(answer.url, {"read-in": "1", "sampled_on": "2026-09-01"})
    file, steps, longest = LabFile.objects.get(holding=holding), 0, 0.0
    while file.state == LabFile.State.READING:
        began = time.perf_counter()
        client.post(f"{answer.url}step/", headers={"HX-Request": "true"})
        longest = max(longest, time.perf_counter() - began)
        file.refresh_from_db()
        steps += 1
    taken = time.perf_counter() - start
    assert LabResult.objects.filter(slip__source_file=file).count() == ROWS * 6
    start = time.perf_counter()
    client.post(f"{answer.url}take-out/")
    return {"looked over": looked_over, "read in": taken, "steps": steps, "longest step": longest, "taken out": time.perf_counter() - start}
