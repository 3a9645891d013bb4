"""Plans per second of the core, on made-up plots with twelve readings each."""

import json
import time

from agronomy.batch import plan_many, spare_the_collector
from agronomy.plan import make_plan
from agronomy.request import read_request
from agronomy.tables import load_tables
from benchmarks.made_up import requests

PLOTS, ROUNDS = 1000, 7


def plans_per_second() -> dict[str, float]:
    """Best of some rounds: the core alone, with checking of requests, and the whole door from JSON text to plan documents."""
    tables = load_tables()
    documents = requests(PLOTS, sorted(tables.crops))
    lines = [json.dumps(document) for document in documents]
    checked = [read_request(document, tables) for document in documents]
    spare_the_collector()
    return {
        "core": _best(lambda: [make_plan(request, tables) and None for request in checked]),
        "checked": _best(lambda: [make_plan(read_request(document, tables), tables) and None for document in documents]),
        "door": _best(lambda: [json.dumps(plan) and None for plan in plan_many(lines, tables)]),
    }


def _best(act) -> float:
    times = []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        act()
        times.append(time.perf_counter() - start)
    return PLOTS / min(times)
