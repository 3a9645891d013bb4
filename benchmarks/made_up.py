"""Made-up requests for the benchmarks: seeded, varied, twelve readings each."""

import random
from typing import Any

TEXTURES = ["sand", "loamy sand", "sandy loam", "loam", "silt loam", "clay loam", "clay"]


def requests(count: int, crops: list[str], seed: int = 7) -> list[dict[str, Any]]:
    rng = random.Random(seed)  # noqa: S311 -- makes up soils, guards no secret
    return [_request(rng, number, crops) for number in range(count)]


def _request(rng: random.Random, number: int, crops: list[str]) -> dict[str, Any]:
    ph = round(rng.uniform(4.5, 7.9), 1)
    method = rng.choice(["Mehlich 3", "Olsen", "Bray P1"])
    values = {
        "pH": (ph, "", "water 1:1"),
        "buffer pH": (round(min(7.0, ph + rng.uniform(0.3, 1.2)), 1), "", "SMP"),
        "P": (rng.randint(3, 120), "mg/kg", method),
        "K": (rng.randint(30, 350), "mg/kg", "ammonium acetate"),
        "Ca": (rng.randint(200, 4000), "mg/kg", "ammonium acetate"),
        "Mg": (rng.randint(20, 400), "mg/kg", "ammonium acetate"),
        "S": (rng.randint(2, 40), "mg/kg", "calcium phosphate"),
        "OM": (round(rng.uniform(0.8, 9), 1), "%", "loss on ignition"),
        "CEC": (round(rng.uniform(3, 30), 1), "cmol/kg", "ammonium acetate"),
        "Zn": (round(rng.uniform(0.2, 9), 1), "mg/kg", "DTPA"),
        "Mn": (rng.randint(2, 90), "mg/kg", "DTPA"),
        "B": (round(rng.uniform(0.1, 2), 2), "mg/kg", "hot water"),
    }
    return {
        "today": "2026-10-05",
        "plot": {
            "name": f"Plot {number}",
            "kind": rng.choice(["bed", "field"]),
            "area": f"{rng.randint(4, 40000)} m2",
            "depth": f"{rng.choice([15, 20])} cm",
            "texture": rng.choice(TEXTURES),
            "dug": rng.random() < 0.7,
            "free_lime": rng.choice([None, False]),
        },
        "readings": [
            {"analyte": analyte, "value": value, "unit": unit, "method": used, "how": "lab", "taken": "2026-10-01"}
            for analyte, (value, unit, used) in values.items()
        ],
        "crop": {"key": rng.choice(crops), "planting": f"2027-0{rng.randint(3, 6)}-15"},
    }
