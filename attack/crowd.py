"""One user's two hundred thousand rows beside others who write: read in, taken out, put back, deleted. How long do the others wait?"""

import argparse
import os
import random
import resource
import subprocess
import sys
import threading
import time

from attack.place import ROOT, report, scratch

LONGEST_S = 5.0
NAMES = tuple(f"Bed {number}" for number in range(40))


def rows_of(count: int) -> bytes:
    rng = random.Random(7)  # noqa: S311 -- makes up soils
    lines = ["Sample,Date,pH,P (Olsen) mg/kg,K mg/kg,Mg mg/kg"]
    for number in range(count):
        day = f"20{10 + number % 16}-{1 + number % 12:02}-{1 + number % 28:02}"
        figures = f"{rng.uniform(5, 8):.1f},{rng.randint(3, 90)},{rng.randint(30, 300)},{rng.randint(20, 300)}"
        lines.append(f"{NAMES[number % len(NAMES)]},{day},{figures}")
    return "\n".join(lines).encode()


def attack(count: int) -> list[tuple[str, object, object]]:
    """What was found, what was found of it, what it must be."""
    from django.core.files.uploadedfile import SimpleUploadedFile
    from django.test import Client

    from tests.helpers.holdings import holding, owner, plot
    from web.overview.closing import close_holding
    from web.people.models import Holding, Membership
    from web.readings.models import LabFile, LabResult

    mine, theirs, empty = holding("Large"), holding("Small"), holding("Empty")
    for name in NAMES:
        plot(mine, name)
    Membership.objects.create(user=owner(mine), holding=empty)
    client, other = Client(), Client(raise_request_exception=False)
    client.force_login(owner(mine))
    other.force_login(owner(theirs))
    for each in (client, other):  # a server that has been up for a while
        each.get("/readings/files/")
        each.post("/units/", {"units": "metric", "next": "/"})

    def read_in() -> str:
        sent = SimpleUploadedFile("large.csv", rows_of(count))
        where = client.post("/readings/files/", {"file": sent, "medium": "soil", "lab": "Fenwick"}).url
        if _until(LabFile, "open", "refused") == "open":
            client.get(where)
            client.post(where, {"read-in": "1", "sampled_on": "2026-01-01"})
        return _until(LabFile, "in", "undone", "refused")

    def taken_out() -> bytes:
        return b"".join(client.get("/holding/archive.zip").streaming_content)

    def put_back(archive) -> None:
        client.post("/holding/archive/", {"archive": archive, "part": ""})
        while client.get("/holding/archive/").status_code == 200:  # until it leads on to the ground
            time.sleep(1)

    def closed() -> None:
        close_holding(empty)
        while Holding.objects.filter(pk=empty.pk).exists():
            time.sleep(1)

    worker = subprocess.Popen([sys.executable, "manage.py", "db_worker", "-v", "0", "--no-reload"], cwd=ROOT, env=dict(os.environ))
    waits: list[tuple[float, int]] = []
    try:
        state = _beside(other, "the file read in", read_in, waits)
        archive = _beside(other, "the holding taken out", taken_out, waits)
        client.post("/choose/", {"holding": empty.pk})
        sent = SimpleUploadedFile("archive.zip", archive)
        _beside(other, "the holding put back", lambda: put_back(sent), waits)
        back = LabResult.objects.filter(slip__holding=empty).count()
        _beside(other, "the holding closed", closed, waits)
    finally:
        worker.terminate()
        worker.wait()
    print(f"the worker held {resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss // 1024} MB at most, this process {memory_mb()} MB")
    return [
        ("what became of the file", state, "in"),
        ("readings kept", LabResult.objects.filter(slip__holding=mine).count(), count * 4),
        ("readings put back", back, count * 4),
        ("others' answers of 500", sum(status >= 500 for _, status in waits), 0),
        (f"others' waits over {LONGEST_S:g} s", sum(wait > LONGEST_S for wait, _ in waits), 0),
    ]


def memory_mb() -> int:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024


def _until(model, *states: str) -> str:
    while (state := model.objects.values_list("state", flat=True).get()) not in states:
        time.sleep(0.2)
    return state


def _beside(other, what: str, act, waits: list[tuple[float, int]]):
    """Does something long while somebody else writes without a pause; adds how long each of the writes took, and its status."""
    from django.db import connections

    done, mine = threading.Event(), []

    def write_on() -> None:
        try:
            while not done.is_set():
                began = time.perf_counter()
                status = other.post("/units/", {"units": "metric", "next": "/"}).status_code
                mine.append((time.perf_counter() - began, status))
                time.sleep(0.05)
        finally:
            connections.close_all()

    crowd, began = threading.Thread(target=write_on), time.perf_counter()
    crowd.start()
    try:
        found = act()
    finally:
        done.set()
        crowd.join()
    print(
        f"{what}: {time.perf_counter() - began:.1f} s; others wrote {len(mine)} times and waited {max(mine)[0]:.2f} s at most", flush=True
    )
    waits += mine
    return found


def main() -> None:
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--rows", type=int, default=200_000 - 1)  # with its heading the most that a file may have
    count = asked.parse_args().rows
    with scratch():
        fine = report("One user's large file beside others who write", attack(count))
    sys.exit(0 if fine else 1)


if __name__ == "__main__":
    main()
