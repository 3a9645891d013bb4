"""One user's two hundred thousand rows beside others who write: how long the others wait at most, and whether anything breaks."""

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
    from django.db import connections
    from django.test import Client

    from tests.helpers.holdings import holding, owner, plot
    from web.readings.models import LabFile, LabResult

    mine, theirs = holding("Large"), holding("Small")
    for name in NAMES:
        plot(mine, name)
    client, other = Client(), Client(raise_request_exception=False)
    client.force_login(owner(mine))
    other.force_login(owner(theirs))
    for each in (client, other):  # a server that has been up for a while
        each.get("/readings/files/")
        each.post("/units/", {"units": "metric", "next": "/"})
    waits: list[tuple[float, int]] = []
    done = threading.Event()

    def write_on() -> None:
        try:
            while not done.is_set():
                began = time.perf_counter()
                status = other.post("/units/", {"units": "metric", "next": "/"}).status_code
                waits.append((time.perf_counter() - began, status))
                time.sleep(0.05)
        finally:
            connections.close_all()

    worker = subprocess.Popen([sys.executable, "manage.py", "db_worker", "-v", "0", "--no-reload"], cwd=ROOT, env=dict(os.environ))
    crowd = threading.Thread(target=write_on)
    crowd.start()
    mine_waits, began = [], time.perf_counter()

    def timed(act):
        start = time.perf_counter()
        answer = act()
        mine_waits.append(time.perf_counter() - start)
        return answer

    def until(*states: str) -> str:
        while (state := LabFile.objects.values_list("state", flat=True).get()) not in states:
            time.sleep(0.2)
        return state

    try:
        sent = SimpleUploadedFile("large.csv", rows_of(count))
        where = timed(lambda: client.post("/readings/files/", {"file": sent, "medium": "soil", "lab": "Fenwick"})).url
        state = until("open", "refused")
        looked = time.perf_counter() - began
        if state == "open":
            timed(lambda: client.get(where))
            timed(lambda: client.post(where, {"read-in": "1", "sampled_on": "2026-01-01"}))
            state = until("in", "undone")
    finally:
        done.set()
        crowd.join()
        worker.terminate()
        worker.wait()
    taken, kept = time.perf_counter() - began, LabResult.objects.count()
    print(f"{count} rows: looked at in {looked:.1f} s, all in after {taken:.1f} s")
    print(f"the worker held {resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss // 1024} MB at most")
    print(f"others wrote {len(waits)} times and waited {max(waits)[0]:.2f} s at most")
    return [
        ("what became of the file", state, "in"),
        ("readings kept", kept, count * 4),
        ("others' answers of 500", sum(status >= 500 for _, status in waits), 0),
        (f"others' waits over {LONGEST_S:g} s", sum(wait > LONGEST_S for wait, _ in waits), 0),
        (f"own requests over {LONGEST_S:g} s", sum(wait > LONGEST_S for wait in mine_waits), 0),
    ]


def main() -> None:
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--rows", type=int, default=200_000 - 1)  # with its heading the most that a file may have
    count = asked.parse_args().rows
    with scratch():
        fine = report("One user's large file beside others who write", attack(count))
    sys.exit(0 if fine else 1)


if __name__ == "__main__":
    main()
