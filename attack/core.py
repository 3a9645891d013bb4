"""Random and absurd requests at the core: every answer is a plan of sane figures or an error that says what to mend."""

import argparse
import copy
import json
import random
import sys
import time
from dataclasses import dataclass, field

from agronomy.base.errors import RequestError, RuleError
from agronomy.intake.request import read_request
from agronomy.plan.plan import make_plan
from agronomy.tables import load_tables
from benchmarks.made_up import requests

ABSURD = [
    None, True, "", "lots", "NaN", "inf", "-1", "1e400", "0", "9" * 400, -5, 0, 1e-300, 1e20, 1e308, 12.5, [], {}, "6,2", "½", "5 t/ha",
    "400 °C", "2026-02-30", "9999-12-31", "0001-01-01", "1 m2", "1e9 ha", "500 %", json.loads("[" * 400 + "]" * 400),
]  # fmt: skip
SLOW_S = 5.0
DUST = 1 + 1e-9  # of floating point
SCHOOLS = ["sufficiency", "build_maintain", "replacement", "cation_balance", "low_input", "country_guide"]
SCHOOLS_AND_AIMS = [(school, aim) for school in SCHOOLS for aim in ("rule", "rule", "money", "fewest", "loss")]
KINDS = ["bed", "field", "zone", "row_block", "orchard_block", "tree", "lawn", "pasture", "container", "bale"]
MOST_KG_PER_HA = {"CaCO3": 60_000.0, "N": 500.0, "P": 500.0, "K": 1500.0, "Mg": 1200.0, "S": 500.0}


@dataclass
class Outcome:
    """What came of the requests."""

    tried: int = 0
    planned: int = 0
    refused: int = 0
    untyped: list[str] = field(default_factory=list)
    slow: list[str] = field(default_factory=list)
    insane: list[str] = field(default_factory=list)
    longest_s: float = 0.0


def _spots(value, path=()):
    """Every place in a document that can be spoilt."""
    if isinstance(value, dict):
        for key, inner in value.items():
            yield (*path, key)
            yield from _spots(inner, (*path, key))
    elif isinstance(value, list):
        for place, inner in enumerate(value):
            yield from _spots(inner, (*path, place))


EXTRA = {
    "response": {"slope": 20, "curvature": 0.06, "nitrogen_price": "1.1", "crop_price": "0.2"},
    "harvests": [{"crop": "winter_wheat", "got": "8 t/ha", "on": "2026-08-01"}],
    "credits": [
        {"kind": "manure", "what": "cattle_slurry", "rate": "30 t/ha", "on": "2026-03-01"},
        {"kind": "water", "nitrate_n_mg_per_l": "8", "water": "350 mm"},
    ],
    "shed": [{"material": "urea", "in_stock": "50 kg", "price": "0.5"}],
    "climate": {"warmth_c": [2, 3, 6, 9, 13, 16, 18, 18, 14, 10, 6, 3], "rain_mm": [60] * 12, "last_frost": "2027-05-10"},
    "done": [{"material": "urea", "amount": "30 kg", "on": "2026-03-01"}],
    "hands": {"weekdays": ["monday"], "away": [{"begins": "2027-03-01", "ends": "2027-04-01"}]},
    "closed": [{"name": "winter", "materials": ["urea"], "begins": "10-15", "ends": "01-15"}],
    "caps": {"N": 120, "P2O5": 60},
    "units": "us",
    "most_bags": 2,
    "lost_times": 3,
    "equipment": ["disc"],
    "targets": [{"analyte": "K", "level": 150, "method": "ammonium acetate"}],
}


def _at(document, path):
    for step in path:
        document = document[step]
    return document


def spoilt(document: dict, rng: random.Random) -> dict:
    """A request with a few figures replaced, taken out or doubled."""
    made = copy.deepcopy(document)
    made["plot"]["kind"] = rng.choice(KINDS)
    made["school"], made["aim"] = rng.choice(SCHOOLS_AND_AIMS)
    for key in rng.sample(sorted(EXTRA), rng.randint(0, 3)):
        made[key] = copy.deepcopy(EXTRA[key])
    for _ in range(rng.randint(1, 4)):
        spots = list(_spots(made))
        if rng.random() < 0.9:
            spots = [spot for spot in spots if isinstance(_at(made, spot), int | float)] or spots
        *path, last = rng.choice(spots)
        inner = _at(made, path)
        if isinstance(inner[last], int | float) and rng.random() < 0.8:  # a slip of the point, which most checks let pass
            inner[last] *= rng.uniform(0.5, 2) * 10 ** rng.randint(-2, 2)
        elif rng.random() < 0.3 and isinstance(inner, dict):
            del inner[last]
        else:
            inner[last] = rng.choice(ABSURD)
    return made


def attack(count: int, seed: int = 1) -> Outcome:
    """Sends so many spoilt requests to the core."""
    rng, tables, told = random.Random(seed), load_tables(), Outcome()  # noqa: S311 -- makes up soils, guards no secret
    crops = sorted(tables.crops)
    for number in range(count):
        document = spoilt(requests(1, crops, seed * 1_000_003 + number)[0], rng)
        began = time.monotonic()
        try:
            made = make_plan(read_request(document, tables), tables)
            told.planned += 1
            told.insane += [f"{number}: {what}" for what in _insane(made, document["plot"].get("kind") in ("container", "bale"))]
        except (RuleError, RequestError):
            told.refused += 1
        except Exception as error:
            told.untyped.append(f"{number}: {type(error).__name__}: {error}"[:200])
        took = time.monotonic() - began
        told.longest_s = max(told.longest_s, took)
        if took > SLOW_S:
            told.slow.append(f"{number}: {took:.1f} s")
        told.tried += 1
    return told


def _insane(made, by_the_litre: bool) -> list[str]:
    """Figures of a plan that no ground can want."""
    found = []
    for need in made.needs:
        low, rate, high = need.low_kg_per_ha, need.rate_kg_per_ha, need.high_kg_per_ha
        if not (0 <= low <= rate * DUST and rate <= high * DUST):
            found.append(f"{need.what} runs {low:g}, {rate:g}, {high:g}")
        if not by_the_litre and rate > MOST_KG_PER_HA.get(need.what, 1e6):
            found.append(f"{need.what} at {rate:g} kg/ha")
    for dose in made.applications:
        if not (0 <= dose.low_kg <= dose.total_kg * DUST and dose.total_kg <= dose.high_kg * DUST):
            found.append(f"{dose.material} runs {dose.low_kg:g}, {dose.total_kg:g}, {dose.high_kg:g}")
    return found


def main() -> int:
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--requests", type=int, default=21_000)
    asked.add_argument("--seed", type=int, default=1)
    told = attack(asked.parse_args().requests, asked.parse_args().seed)
    print(
        f"{told.tried} requests: {told.planned} planned, {told.refused} refused with a reason; {len(told.untyped)} errors without one, "
        f"{len(told.slow)} over {SLOW_S:g} s (longest {told.longest_s:.1f} s), {len(told.insane)} figures that cannot be"
    )
    for line in [*told.untyped, *told.slow, *told.insane][:20]:
        print("  " + line)
    return 1 if told.untyped or told.slow or told.insane else 0


if __name__ == "__main__":
    sys.exit(main())
