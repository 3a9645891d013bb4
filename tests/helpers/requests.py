"""Builders of requests for the core."""

from typing import Any

from agronomy.intake.request import read_request
from agronomy.plan.plan import Plan, make_plan
from agronomy.tables import load_tables

TABLES = load_tables()


def reading(analyte: str, value: Any, unit: str = "", method: str = "", how: str = "lab", taken: str = "2026-10-03") -> dict:
    return {"analyte": analyte, "value": value, "unit": unit, "method": method, "how": how, "taken": taken}


def document(*readings: dict, crop: str = "dahlia", planting: str | None = "2027-05-12", **plot: Any) -> dict:
    """A request for Long Border 7, with the plot's fields changed as given; crop fields and others go by `change`."""
    ground = {
        "name": "Long Border 7",
        "kind": "bed",
        "area": "18 m2",
        "depth": "15 cm",
        "texture": "sandy loam",
        "free_lime": False,
        "dug": True,
    }
    return {"today": "2026-10-05", "plot": ground | plot, "readings": list(readings), "crop": {"key": crop, "planting": planting}}


def plan(doc: dict, **changes: Any) -> Plan:
    return make_plan(read_request(doc | changes, TABLES), TABLES)


def finding(made: Plan, analyte: str):
    return next(item for item in made.findings if item.analyte == analyte)


def need(made: Plan, what: str):
    return next((item for item in made.needs if item.what == what), None)


ACID = (
    reading("pH", 5.7, method="water 1:1"),
    reading("buffer pH", 6.6, method="SMP"),
    reading("P", 118, "mg/kg", "Mehlich 3"),
    reading("K", 58, "mg/kg", "Mehlich 3"),
    reading("Mg", 41, "mg/kg", "Mehlich 3"),
)
