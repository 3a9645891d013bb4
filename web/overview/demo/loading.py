"""Puts the invented holdings into the database, with days that lie right around the day of loading."""

import tomllib
from datetime import date, timedelta
from pathlib import Path

from django.db import transaction

from agronomy.model.ground_facts import FACTS
from web.desks.models import OwnBlend, SpreaderRun
from web.ground.models import NutrientCredit, OwnCrop, Planting, Plot, WaterSource
from web.ground.sizing import put_shape, put_sizes
from web.overview.closing import close_holding
from web.overview.demo.days import coming_day, past_day
from web.overview.demo.extras import load_extras, load_slip
from web.overview.demo.trials import load_trials
from web.overview.demo.work import load_work
from web.people.models import Holding, Membership, User
from web.planning.service import lines_by_plot
from web.plans.adopting import adopt, made_for
from web.records.models import Sighting
from web.supplies.models import StockLot, Supplier, SupplierOffer

FOLDER = Path(__file__).parent
PLOT_FIELDS = (
    "name",
    "kind",
    "area_m2",
    "depth_cm",
    "texture",
    "mix",
    "dug",
    "free_lime",
    *FACTS,
    "watering",
    "livestock",
    "cover",
    "signs",
)


def demo_documents() -> list[dict]:
    return [tomllib.loads((FOLDER / f"{name}.toml").read_text(encoding="utf-8")) for name in ("thornmere", "quillon_bend")]


@transaction.atomic
def load(today: date) -> list[dict]:
    """Loads both holdings afresh, replacing their earlier selves; returns who may sign in where."""
    documents = demo_documents()
    for document in documents:
        _load_holding(document, today)
    return [
        {**person, "holding": document["holding"]["name"]}
        for document in documents
        for person in (document["holding"] | {"role": "owner"}, *document.get("person", ()))
    ]


def _load_holding(document: dict, today: date) -> None:
    about = document["holding"]
    people = [about["email"], *(row["email"] for row in document.get("person", ()))]
    for earlier in Holding.objects.filter(members__email=about["email"]):
        close_holding(earlier)
    User.objects.filter(email__in=people).delete()
    user = User.objects.create_user(about["email"], about["password"], name=about["person"])
    fields = ("name", "units", "hemisphere", "currency", "nutrient_form", "climate", "closed", "hands")
    holding = Holding.objects.create(**{field: about[field] for field in fields if field in about})
    Membership.objects.create(user=user, holding=holding)
    waters = {
        row["name"]: WaterSource.objects.create(holding=holding, name=row["name"], kind=row["kind"]) for row in document.get("water", ())
    }
    for row in document.get("stock", ()):
        StockLot.objects.create(holding=holding, **row)
    for row in document.get("supplier", ()):
        supplier = Supplier.objects.create(holding=holding, **{key: value for key, value in row.items() if key != "offers"})
        for offer in row["offers"]:
            SupplierOffer.objects.create(supplier=supplier, **offer)
    for row in document.get("blend", ()):
        OwnBlend.objects.create(holding=holding, mixed_on=today, **row)
    for row in document.get("spreader_run", ()):
        SpreaderRun.objects.create(holding=holding, measured_on=today, **row)
    plots: dict[str, Plot] = {}
    for row in document["plot"]:
        plots[row["name"]] = _load_plot(row, holding, user, today, plots, waters)
    for row in document.get("own_crop", ()):
        OwnCrop.objects.create(holding=holding, **row)
    load_extras(document, holding, plots, waters, today)
    load_work(document, holding, plots, today)
    load_trials(document, holding, plots, today)
    for row in document.get("sighting", ()):
        settled = past_day(row["settled"], 0, today) if "settled" in row else None
        Sighting.objects.create(
            holding=holding,
            plot=plots[row["plot"]],
            seen_on=past_day(row["day"], 0, today),
            seen=row["seen"],
            likely=row["likely"],
            note=row["note"],
            look_on=today + timedelta(days=row["look_in"]) if "look_in" in row else None,
            settled_on=settled,
            settled_as=row.get("settled_as", ""),
            by=user,
        )


def _load_plot(row: dict, holding: Holding, user: User, today: date, plots: dict, waters: dict) -> Plot:
    plot = Plot(
        holding=holding,
        parent=plots.get(row.get("parent")),
        water=waters.get(row.get("water")),
        **{field: row[field] for field in PLOT_FIELDS if field in row},
    )
    if "sizes" in row:
        put_sizes(plot, row["sizes"], us=False)
    if "shape" in row:
        put_shape(plot, row["shape"])
    plot.save()
    for past in row.get("past", ()):
        ended = past_day(past["ended"], past["years_ago"], today)
        planted = past_day(past["planted"], 0, ended)
        Planting.objects.create(plot=plot, crop=past["crop"], planted_on=planted, ended_on=ended, yield_got_t_per_ha=past.get("yield_got"))
    if "crop" in row:
        Planting.objects.create(
            plot=plot, crop=row["crop"], planted_on=_planting_day(row, today), yield_goal_t_per_ha=row.get("yield_goal")
        )
    for gift in row.get("gifts", ()):
        told = {key: value for key, value in gift.items() if key not in ("day", "years_ago")}
        NutrientCredit.objects.create(plot=plot, on=past_day(gift["day"], gift["years_ago"], today), **told)
    for slip in row["slips"]:
        load_slip(slip, today, holding=holding, plot=plot)
    if row.get("adopt"):
        adopt(plot, made_for(plot, lines_by_plot([plot])[plot.pk], today=today, units=holding.units), by=user)
    return plot


def _planting_day(row: dict, today: date) -> date | None:
    if "planting" not in row:
        return None
    if "planted_years_ago" in row:
        return past_day(row["planting"], row["planted_years_ago"], today)
    return coming_day(row["planting"], today)
