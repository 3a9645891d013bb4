"""How long choosing bags takes: one plot by each aim, a holding of 60 plots at once, and beside it what a spreadsheet would do."""

import random
import statistics
import time
from dataclasses import replace

from agronomy.intake.request import read_request
from agronomy.model.stock import StockLine
from agronomy.products.optimiser import solve
from agronomy.tables import load_tables
from agronomy.whatif.case import Case, case_for
from agronomy.whatif.holding import AIMS, choose_for_holding, given_by_rule
from benchmarks.made_up import requests

PLOTS, ONE_BY_ONE, HOLDINGS = 60, 200, 5


def bags() -> dict:
    """Median ms of one plot's best set by aim; seconds, gap and saving of whole holdings, the worst of some; and the spreadsheet's way."""
    tables = load_tables()
    asked = [read_request(doc, tables) for doc in requests(ONE_BY_ONE, sorted(tables.crops), 11)]
    cases = [case for case in (case_for(request, tables) for request in asked) if case.model]
    found = {
        "one": {
            aim: statistics.median(_timed(lambda case=case, aim=aim: solve(case.model, aim, tables)) for case in cases) * 1000
            for aim in ("money", "fewest", "loss")
        }
    }
    found["holding"] = {aim: _holdings(aim, tables, None) for aim in AIMS}
    everything = tuple(key for key, item in tables.materials.items() if not item.has_role("acid"))
    found["all materials"] = _holdings("money", tables, everything)
    found["spreadsheet"] = statistics.median(
        _timed(lambda seed=seed: _by_spreadsheet(_cases(seed, tables, None), tables)) for seed in range(HOLDINGS)
    )
    found["spreadsheet dearer"] = statistics.median(_dearer(seed, tables) for seed in range(HOLDINGS))
    return found


def _timed(act) -> float:
    start = time.perf_counter()
    act()
    return time.perf_counter() - start


def _cases(seed: int, tables, only) -> list[Case]:
    rng = random.Random(seed)  # noqa: S311 -- makes up plots
    docs = requests(PLOTS, sorted(tables.crops), seed)
    for doc in docs:
        doc["plot"]["area"] = f"{rng.choice((rng.randint(4, 120), rng.randint(4, 120), rng.randint(500, 20000)))} m2"
    return [case_for(replace(read_request(doc, tables), only=only), tables) for doc in docs]


def _holdings(aim: str, tables, only) -> tuple[float, float, float]:
    """The slowest time [s] and the widest gap of some holdings, from checked requests on, and the median saving beside every plot for
    itself.
    """
    shed = {"urea": StockLine(None, 5.0), "npk_15_15_15": StockLine(0.3, 40.0)}
    times, gaps, saves = [], [], []
    for seed in range(HOLDINGS):
        cases = _cases(seed, tables, only)
        start = time.perf_counter()
        chosen = choose_for_holding(cases, shed, {}, aim, tables)
        times.append(time.perf_counter() - start)
        gaps.append(chosen.gap)
        saves.append(1 - chosen.cost / chosen.apart_cost if chosen.apart_cost else 0.0)
    return max(times), max(gaps), statistics.median(saves)


def _by_spreadsheet(cases: list[Case], tables) -> float:
    """What a row-by-row sheet does: for each plot and need the bag with the cheapest kilogram, then whole bags for the sum; no window,
    nothing shared but the sum.
    """
    kilos: dict[str, float] = {}
    for case in cases:
        for key, kg in given_by_rule(case, tables).items():
            kilos[key] = kilos.get(key, 0.0) + kg
        if case.model is None:
            continue
        for n, wanted in enumerate(case.model.wanted):
            bringing = [m for m in range(len(case.model.materials)) if case.model.share[n, m] > 0]
            if not bringing:
                continue
            best = min(bringing, key=lambda m, n=n, case=case: case.model.price[m] / case.model.share[n, m])
            key = case.model.materials[best].key
            kilos[key] = kilos.get(key, 0.0) + wanted / case.model.share[n, best] * case.hectares
    return sum(
        -(-kg // tables.materials[key].bag_kg) * tables.materials[key].bag_kg * tables.materials[key].list_price_per_kg
        for key, kg in kilos.items()
    )


def _dearer(seed: int, tables) -> float:
    cases = _cases(seed, tables, None)
    return _by_spreadsheet(cases, tables) / choose_for_holding(cases, {}, {}, "money", tables).cost
