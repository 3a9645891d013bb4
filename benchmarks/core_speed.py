"""Plans per second of the core, on made-up plots with twelve readings each."""

import json
import time
from dataclasses import replace
from datetime import date

from agronomy.base.collector import spare_the_collector
from agronomy.cli.plans import planned_lines
from agronomy.diagnose.asking import verdict
from agronomy.diagnose.causes import case_of
from agronomy.intake.request import read_request
from agronomy.model.request import Request
from agronomy.plan.assess import assess
from agronomy.plan.needs import side_by_side
from agronomy.plan.plan import make_plan
from agronomy.practice.simulator import Doses, simulate, start_of
from agronomy.tables import Tables, load_tables
from agronomy.watch.source import source_for
from agronomy.watch.topdress import Seen, topdress
from agronomy.whatif.forecast.learned import learn
from agronomy.whatif.forecast.outlook import outlook
from agronomy.whatif.sharpen import what_would_sharpen
from benchmarks.made_up import requests

PLOTS, FEW, ROUNDS = 1000, 50, 7


def plans_per_second() -> dict[str, float]:
    """Best of some rounds: the core alone, with checking of requests, and the whole door from JSON text to plan documents."""
    tables = load_tables()
    documents = requests(PLOTS, sorted(tables.crops))
    lines = [json.dumps(document).encode() for document in documents]
    checked = [read_request(document, tables) for document in documents]
    spare_the_collector()
    return {
        "schools": _best(lambda: [side_by_side(assess(request, tables), tables) and None for request in checked]),
        "outlook": _best(lambda: [outlook(request, tables) and None for request in checked[:FEW]], FEW),
        "sharpen": _best(lambda: [what_would_sharpen(request, tables) and None for request in checked[:FEW]], FEW),
        "bags": _best(lambda: [make_plan(replace(request, aim="money"), tables) and None for request in checked[:FEW]], FEW),
        **_watching(checked[:FEW], tables),
        "core": _best(lambda: [make_plan(request, tables) and None for request in checked]),
        "checked": _best(lambda: [make_plan(read_request(document, tables), tables) and None for document in documents]),
        "door": _best(lambda: [None for _ in planned_lines(lines, workings=True, processes=1)]),
        "brief": _best(lambda: [None for _ in planned_lines(lines, workings=False, processes=1)]),
        "processes": _best(lambda: [None for _ in planned_lines(lines, workings=False)]),
    }


def _watching(requests: list[Request], tables: Tables) -> dict[str, float]:
    """Steps a second of what is reckoned beside a plan."""
    tested = [
        replace(request, readings=tuple(replace(item, taken=date(2026, 10, 1)) for item in request.readings if item.analyte == "pH"))
        for request in requests
    ]
    later = [
        replace(request, readings=(*request.readings, *(replace(item, taken=date(2029, 10, 1)) for item in request.readings)))
        for request in tested
        if request.readings
    ]
    pale = Seen(crop=tables.crops["maize"], instrument="meter", place="in time", meter=46.2, strip=50.6)
    case, start = case_of(tables.crops["tomato"], ["age_old", "col_yellow", "time_fruit"], [], [], tables), start_of("overlime", tables)
    return {
        "topdress": _best(lambda: [source_for(topdress(pale, tables), 60.0, request, tables) and None for request in requests], FEW),
        "learned": _best(lambda: [learn(request, tables) and None for request in later], len(later)),
        "diagnose": _best(lambda: [verdict(case, tables) and None for _ in range(FEW)], FEW),
        "year": _best(lambda: simulate(start, [Doses(lime_t=1)] * 10, tables), 10),
    }


def _best(act, plots: int = PLOTS) -> float:
    times = []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        act()
        times.append(time.perf_counter() - start)
    return plots / min(times)
