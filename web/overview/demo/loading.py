"""Puts the invented holdings into the database, with days that lie right around the day of loading."""

import tomllib
from datetime import date
from pathlib import Path

from django.db import transaction

from web.ground.models import Planting, Plot
from web.people.models import Holding, Membership, User
from web.planning.service import adopt, lines_by_plot
from web.readings.models import Slip, SlipLine

FOLDER = Path(__file__).parent


def demo_documents() -> list[dict]:
    return [tomllib.loads((FOLDER / f"{name}.toml").read_text(encoding="utf-8")) for name in ("thornmere", "quillon_bend")]


@transaction.atomic
def load(today: date) -> list[dict]:
    """Loads both holdings afresh, replacing their earlier selves; returns their [holding] tables."""
    documents = demo_documents()
    for document in documents:
        _load_holding(document, today)
    return [document["holding"] for document in documents]


def _load_holding(document: dict, today: date) -> None:
    about = document["holding"]
    Holding.objects.filter(members__email=about["email"]).delete()
    User.objects.filter(email=about["email"]).delete()
    user = User.objects.create_user(about["email"], about["password"], name=about["person"])
    fields = ("name", "units", "hemisphere", "currency", "nutrient_form")
    holding = Holding.objects.create(**{field: about[field] for field in fields})
    Membership.objects.create(user=user, holding=holding)
    for row in document["plot"]:
        _load_plot(row, holding, user, today)


def _load_plot(row: dict, holding: Holding, user: User, today: date) -> None:
    fields = ("name", "kind", "area_m2", "depth_cm", "texture")
    plot = Plot.objects.create(holding=holding, dug=row.get("dug", True), free_lime=row.get("free_lime", ""), **{field: row[field] for field in fields})
    Planting.objects.create(plot=plot, crop=row["crop"], planted_on=_planting_day(row, today), yield_goal_t_per_ha=row.get("yield_goal"))
    for slip in row["slips"]:
        _load_slip(slip, plot, today)
    if row.get("adopt"):
        adopt(plot, lines_by_plot([plot])[plot.pk], today=today, units=holding.units, by=user)


def _load_slip(row: dict, plot: Plot, today: date) -> None:
    slip = Slip.objects.create(plot=plot, lab=row["lab"], how=row.get("how", "lab"), taken_on=_past(row["day"], row["years_ago"], today))
    for place, (analyte, typed, unit, method) in enumerate(row["values"]):
        SlipLine.objects.create(slip=slip, place=place, analyte=analyte, typed=typed, unit=unit, method=method)


def _past(month_day: str, years_ago: int, today: date) -> date:
    """The last such day that is behind us, so many years further back."""
    day = date.fromisoformat(f"{today.year}-{month_day}")
    if day > today:
        day = day.replace(year=day.year - 1)
    return day.replace(year=day.year - years_ago)


def _planting_day(row: dict, today: date) -> date | None:
    if "planting" not in row:
        return None
    if "planted_years_ago" in row:
        return _past(row["planting"], row["planted_years_ago"], today)
    day = date.fromisoformat(f"{today.year}-{row['planting']}")
    return day if day > today else day.replace(year=day.year + 1)
