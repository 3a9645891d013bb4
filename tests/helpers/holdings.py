"""Builders of holdings, plots and slips for the web's tests."""

from datetime import date

from web.ground.models import Planting, Plot
from web.people.models import Holding, Membership, User
from web.readings.models import LabReport, LabResult

PASSWORD = "a-good-long-one"
ACID_LINES = [
    ("pH", "5.7", "", "water 1:1"),
    ("buffer pH", "6.6", "", "SMP"),
    ("P", "118", "mg/kg", "Mehlich 3"),
    ("K", "58", "mg/kg", "Mehlich 3"),
]


def holding(name: str = "Thornmere", **fields) -> Holding:
    user = User.objects.create_user(f"{name.lower().replace(' ', '.')}@farm.example", PASSWORD)
    made = Holding.objects.create(name=name, **fields)
    Membership.objects.create(user=user, holding=made)
    return made


def owner(of: Holding) -> User:
    return of.members.get()


def plot(of: Holding, name: str = "Long Border 7", crop: str = "dahlia", **fields) -> Plot:
    made = Plot.objects.create(holding=of, name=name, **{"area_m2": 18.0, "depth_cm": 15.0, "texture": "sandy loam"} | fields)
    Planting.objects.create(plot=made, crop=crop, planted_on=date(2099, 5, 12))
    return made


def slip(of: Plot, lines=ACID_LINES, taken_on: date = date(2026, 10, 3), **fields) -> LabReport:
    made = LabReport.objects.create(holding=of.holding, plot=of, lab="Fenwick Soil Room", taken_on=taken_on, **fields)
    LabResult.objects.bulk_create(
        LabResult(slip=made, place=place, analyte=analyte, typed=typed, unit=unit, method=method)
        for place, (analyte, typed, unit, method) in enumerate(lines)
    )
    return made


def slip_data(of: Plot, *lines: tuple, **fields) -> dict:
    """What a browser would post for a slip of (analyte, typed, unit, method) lines."""
    data = {
        "plot": of.pk,
        "lab": "Fenwick Soil Room",
        "how": "lab",
        "taken_on": "2026-10-03",
        "note": "",
        "lines-TOTAL_FORMS": len(lines),
        "lines-INITIAL_FORMS": 0,
    }
    for place, (analyte, typed, unit, method) in enumerate(lines):
        data |= {
            f"lines-{place}-analyte": analyte,
            f"lines-{place}-typed": typed,
            f"lines-{place}-unit": unit or "pH",
            f"lines-{place}-method": method,
        }
    return data | fields
