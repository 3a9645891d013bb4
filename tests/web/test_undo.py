"""Every act that offers an undo can be undone to the last row: the database is as it was before."""

import json
from datetime import date

import pytest
from django.apps import apps
from django.core import serializers
from django.urls import reverse

from agronomy.intake.answering import plan_document
from tests.helpers.holdings import plot, slip, slip_data
from tests.helpers.pages import text_of
from web.changes.models import Change
from web.core import tables
from web.desks.models import OwnBlend, SpreaderRun
from web.ground.models import NutrientCredit, OddSpot, OwnCrop, WaterSource
from web.jobs.models import Job, OwnProgramme
from web.planning.models import PlanProposal
from web.planning.requests import request_document
from web.planning.service import lines_by_plot
from web.readings.models import KitRun, LabResult, MeterSession, OwnKit
from web.records.models import LogEntry
from web.sampling.models import Sample, SamplingRound
from web.sensors.models import Gateway, Probe
from web.supplies.models import StockLot, Supplier, SupplierOffer

AUTUMN = {"name": "Autumn", "materials": ["urea"], "begins": "09-01", "ends": "09-30"}
AWAY = {"begins": "2026-10-10", "ends": "2026-10-12"}
MADE_AGAIN = {"planning.plotsummary"}  # kept ready, and worked out afresh whenever it is stale


def everything() -> dict:
    """All rows of the holding's rooms, as values."""
    rows = {}
    for room in apps.get_app_configs():
        if not room.name.startswith("web.") or room.label == "changes":
            continue
        for model in room.get_models():
            if model._meta.label_lower not in MADE_AGAIN:
                for row in json.loads(serializers.serialize("json", model._default_manager.order_by("pk"))):
                    rows[row["model"], row["pk"]] = row["fields"]
    return rows


def _own_crop(thornmere, neighbour) -> OwnCrop:
    """An own crop that stands on a plot."""
    made = OwnCrop.objects.create(holding=thornmere, name="Show dahlia", base="dahlia", figures={"ph_low": 6.4})
    neighbour.plantings.update(own_crop=made)
    return made


@pytest.fixture
def house(grower, border, thornmere):
    """One of everything."""
    thornmere.closed, thornmere.hands = [AUTUMN], {"away": [AWAY]}
    thornmere.save()
    LabResult.objects.create(slip=border.slips.get(), place=9, analyte="Zn", typed="0.2", unit="mg/kg", method="DTPA")
    rectangle = {"type": "rectangle", "x": 0.0, "y": 0.0, "length": 15.0, "width": 1.2, "turn": 0}
    border.shape, border.west, border.south, border.east, border.north = rectangle, 0, 0, 15, 1.2
    border.save()
    neighbour = plot(thornmere, "Long Border 8", shape=rectangle | {"y": 1.2}, west=0, south=1.2, east=15, north=2.4, sizes={})
    slip(neighbour)
    water = WaterSource.objects.create(holding=thornmere, name="Butt")
    neighbour.water = water
    neighbour.save()
    round_ = SamplingRound.objects.create(holding=thornmere, name="Autumn", planned_on="2026-10-01")
    sample = Sample.objects.create(round=round_, plot=neighbour, code="3334", bottom_cm=15, cores_wanted=10)
    gateway = Gateway.objects.create(holding=thornmere, name="Yard", token_sha256="0" * 64)
    seller = Supplier.objects.create(holding=thornmere, name="Barn Lane")
    neighbour.without = ["urea"]
    neighbour.save()
    kit = {
        "key": "own",
        "name": "Own",
        "test": [
            {
                "key": "a",
                "name": "A",
                "analyte": "pH",
                "steps": [{"do": "x"}],
                "colours": [{"fill": "#aabbcc", "low": 5, "say": "5"}, {"fill": "#bbccdd", "low": 6, "say": "6"}],
            }
        ],
    }
    work = Job.objects.create(
        holding=thornmere, plot=border, material="gypsum", name="gypsum", what="S", kg=1, from_day="2026-10-01", to_day="2026-10-09"
    )
    asked = request_document(border, border.planting, lines_by_plot([border])[border.pk], today=date(2026, 10, 5), units="metric")
    return {
        "work": work,
        "me": thornmere.members.get(),
        "entry": LogEntry.objects.create(holding=thornmere, plot=border, material="urea", name="urea", kg=1),
        "programme": OwnProgramme.objects.create(
            holding=thornmere, name="Mine", document={"name": "Mine", "per": "m2", "step": [{"after": 0, "do": "dig"}]}
        ),
        "proposal": PlanProposal.objects.create(plot=border, rules_version="1", request=asked, result=plan_document(asked, tables())),
        "border": border,
        "neighbour": neighbour,
        "water": water,
        "round": round_,
        "sample": sample,
        "gateway": gateway,
        "probe": Probe.objects.create(gateway=gateway, key="m-1", name="Moist", quantity="moisture", plot=neighbour),
        "spot": OddSpot.objects.create(holding=thornmere, x=1, y=1, note="gate"),
        "kit": OwnKit.objects.create(holding=thornmere, key="own", document=kit),
        "run": KitRun.objects.create(holding=thornmere, plot=border, kit="hedgerow_four", test="ph"),
        "meter": MeterSession.objects.create(
            holding=thornmere, plot=border, buffers=[{"ph": 7, "mv": 0}, {"ph": 4, "mv": 174}], readings=[{"ph": 6.4, "spread": None}]
        ),
        "slip": border.slips.get(),
        "line": border.slips.get().lines.first(),
        "planting": border.planting,
        "mine": _own_crop(thornmere, neighbour),
        "lot": StockLot.objects.create(holding=thornmere, material="gypsum", kg=10),
        "blend": OwnBlend.objects.create(holding=thornmere, name="Breakfast", parts=[["blood_meal", 1], ["kelp_meal", 1]]),
        "run_kept": SpreaderRun.objects.create(
            holding=thornmere, spreader="barrow", material="urea", setting=3, measured_on="2026-10-01", rate_kg_per_ha=30
        ),
        "seller": seller,
        "offer": SupplierOffer.objects.create(supplier=seller, material="gypsum", price_per_kg=0.2),
        "gift": NutrientCredit.objects.create(plot=neighbour, kind="straw", rate_t_per_ha=2.0),
    }


BED = {"name": "Bed 9", "kind": "bed", "area": "9", "depth": "15 cm", "crop": "tomato", "dug": "yes"}
ACTS = {
    "a plot is made": ("ground:new_plot", [], BED),
    "a plot is changed": ("ground:edit_plot", ["border"], BED),
    "a plot goes with all that hangs on it": ("ground:delete_plot", ["neighbour"], {}),
    "a shape is drawn": (
        "ground:board_act",
        "draw",
        {"shape": "circle", "x": "40", "y": "9", "radius": "2", "name": "Round bed", "kind": "bed"},
    ),
    "a shape is taken off": ("ground:board_act", "lift", {"plot": "border"}),
    "a plot is cut": ("ground:board_act", "cut", {"plot": "border", "points": "5 -1\n5 2"}),
    "neighbours are merged": ("ground:board_act", "merge", {"plot": "border", "with": "neighbour"}),
    "an odd spot comes": ("ground:board_act", "spot", {"x": "1", "y": "2", "radius": "1", "name": "heap"}),
    "an odd spot goes": ("ground:board_act", "unspot", {"spot": "spot"}),
    "texture by feel": ("ground:texture", ["border"], {"felt": "1-1-2"}),
    "a crop is written down": ("ground:crops", ["border"], {"crop": "tulip", "planted_on": "2025-11-01"}),
    "a crop is changed": ("ground:edit_planting", ["border", "planting"], {"crop": "tulip", "yield_got": "12"}),
    "a crop is taken out": ("ground:delete_planting", ["border", "planting"], {}),
    "new ground begins": ("ground:new_ground", ["border"], {"begin": "1"}),
    "a water is named": ("ground:waters", [], {"name": "Well", "kind": "well"}),
    "a water is changed": ("ground:edit_water", ["water"], {"name": "Barrel", "kind": "rain"}),
    "a water goes": ("ground:delete_water", ["water"], {}),
    "a round is planned": (
        "sampling:new_round",
        [],
        {"name": "Spring", "planned_on": "2026-03-01", "variability": "even", "plots": "border", "pair": "on"},
    ),
    "a round is taken out": ("sampling:delete_round", ["round"], {}),
    "a bag is taken out": ("sampling:delete_sample", ["sample"], {}),
    "a bag's days": ("sampling:sample", ["sample"], {"taken_on": "2026-10-02", "place": "by the gate"}),
    "all are taken": ("sampling:mark_all", ["round", "taken"], {}),
    "a slip is taken out": ("readings:delete_slip", ["slip"], {}),
    "a doubt is settled": ("readings:fix_line", ["slip", "line"], {}),
    "a kit is described": (
        "readings:own_kit",
        [],
        {"name": "Shelf", "test": "Acidity", "analyte": "pH", "steps": "Wait", "colours": "#d9742d 4.5\n#a5b84e 6"},
    ),
    "a kit is taken out": ("readings:delete_kit", ["own"], {}),
    "a colour is chosen": ("readings:kit_run", ["run"], {"colour": "3"}),
    "meter readings are kept": ("readings:meter_session", ["meter"], {"keep": "1"}),
    "leaves are kept": ("readings:leaf_card", [], {"plot": "border", "card": "paddy_four", "leaves": "3;4;4", "keep": "1"}),
    "a school is chosen": ("planning:choose_school", ["border"], {"school": "low_input"}),
    "a gift is written down": ("planning:given", ["border"], {"kind": "straw", "rate": "3 t/ha"}),
    "a line is left out": ("planning:switch_credit", ["border"], {"line": "organic_matter"}),
    "a gift is left out": ("planning:switch_credit", ["neighbour"], {"line": "0"}),
    "a gift is taken out": ("planning:take_out_gift", ["neighbour"], {"line": "0"}),
    "what nitrogen pays": ("planning:response", ["border"], {"slope": "35", "curvature": "0.12", "nitrogen_price": "1", "crop_price": "1"}),
    "what one sees": ("planning:untested", ["border"], {"sign": "old pasture"}),
    "an own crop": ("planning:own_figures", [], {"name": "Mine", "base": "tulip", "ph_low": "6"}),
    "an own crop is changed": ("planning:edit_own_crop", ["mine"], {"name": "Mine", "base": "tulip", "ph_low": "6"}),
    "an own crop is taken out": ("planning:delete_own_crop", ["mine"], {}),
    "a tried crop is planned": ("planning:try_crop", ["border"], {"crop": "tulip"}),
    "a lot is written down": ("supplies:shed", [], {"material": "urea", "amount": "25 kg"}),
    "a lot is changed": ("supplies:edit_lot", ["lot"], {"material": "urea", "amount": "5 kg"}),
    "a lot is taken out": ("supplies:take_out_lot", ["lot"], {}),
    "a supplier": ("supplies:suppliers", [], {"name": "Coppice", "delivery_days": "9"}),
    "a supplier is changed": ("supplies:supplier", ["seller"], {"name": "Coppice", "delivery_days": "9"}),
    "a supplier goes": ("supplies:drop_supplier", ["seller"], {}),
    "a price": ("supplies:supplier", ["seller"], {"material": "urea", "price": "0.8"}),
    "a price is changed": ("supplies:supplier", ["seller"], {"material": "gypsum", "price": "0.8"}),
    "a price goes": ("supplies:drop_offer", ["offer"], {}),
    "a material is swapped": ("planning:swap", ["border", "calcitic_limestone_ground"], {"instead": "pelletised_lime"}),
    "a wish is let go": ("planning:drop_wish", ["neighbour"], {"kind": "without", "material": "urea"}),
    "bags for the whole holding": ("planning:use_holding_bags", [], {"aim": "money"}),
    "bags within the money": ("desks:holding_means", [], {"aim": "money", "opened": "1", "most": "100000"}),
    "an aim is chosen": ("planning:choose_aim", ["border"], {"aim": "fewest"}),
    "a blend": (
        "desks:blends",
        [],
        {"material": ["blood_meal", "kelp_meal"], "parts": ["2", "1"], "by": "scoop", "bin": "9", "name": "New"},
    ),
    "a blend is mixed anew": (
        "desks:blends",
        [],
        {"material": ["blood_meal", "kelp_meal"], "parts": ["2", "1"], "by": "scoop", "bin": "9", "name": "Breakfast"},
    ),
    "a blend goes": ("desks:drop_blend", ["blend"], {}),
    "a setting": (
        "desks:spreader",
        [],
        {
            "spreader": "barrow",
            "material": "urea",
            "setting": "4",
            "how": "walk",
            "swath": "8",
            "caught": "0.64",
            "distance": "20",
            "keep": "1",
        },
    ),
    "a setting goes": ("desks:drop_run", ["run_kept"], {}),
    "a job is done": ("jobs:job", ["work"], {"amount": "1 kg", "done_on": "2026-10-02", "lot": "lot"}),
    "a job is dropped": ("jobs:drop", ["work"], {}),
    "a job is given": ("jobs:assign", ["work"], {"person": "me"}),
    "a deed is written down": (
        "records:log",
        [],
        {"plot": "border", "material": "gypsum", "amount": "1 kg", "done_on": "2026-10-02", "lot": "lot"},
    ),
    "a deed is corrected": ("records:correct", ["entry"], {"amount": "2 kg", "done_on": "2026-10-02"}),
    "a programme goes on the list": ("jobs:programme", ["lean_pots"], {"plot": "border", "start": "2027-03-01", "count": "4"}),
    "a programme is copied": ("jobs:copy_programme", ["lean_pots"], {}),
    "a programme is changed": (
        "jobs:edit_programme",
        ["programme"],
        {"name": "Mine", "after": "3", "do": "dig", "material": "", "grams": ""},
    ),
    "a programme goes": ("jobs:drop_programme", ["programme"], {}),
    "a closed season": (
        "jobs:days",
        [],
        {"kind": "closed", "name": "Winter", "begins": "2026-11-01", "ends": "2027-01-31", "materials": ["urea"]},
    ),
    "a closed season goes": ("jobs:drop_days", [], {"row": json.dumps(AUTUMN)}),
    "days away": ("jobs:days", [], {"kind": "away", "first": "2026-11-01", "last": "2026-11-03"}),
    "days away go": ("jobs:drop_days", [], {"row": json.dumps(AWAY)}),
    "working days": ("jobs:days", [], {"kind": "weekdays", "weekdays": ["friday", "saturday"]}),
    "a load on the list": (
        "desks:load_job",
        ["border"],
        {"material": "cattle_manure", "rate": "20", "settle": "keep", "reason": "it is here"},
    ),
    "a trace on the list": ("desks:trace_jobs", ["border"], {"element": "Zn", "way": "leaf"}),
    "a plan is proposed": ("planning:propose", ["border"], {"school": "low_input", "aim": "rule"}),
    "a proposal is adopted": ("planning:adopt_proposal", ["proposal"], {}),
    "a proposal is declined": ("planning:decline_proposal", ["proposal"], {}),
    "a plan is adopted": ("planning:adopt", ["border"], {}),
    "a probe is added": ("sensors:gateway", ["gateway"], {"key": "m-2", "name": "Second", "quantity": "ec", "every_minutes": "30"}),
    "a probe is changed": ("sensors:probe", ["probe"], {"key": "m-1", "name": "Renamed", "quantity": "moisture", "every_minutes": "30"}),
    "a probe goes": ("sensors:delete_probe", ["probe"], {}),
    "a gateway is shut out": ("sensors:revoke", ["gateway"], {}),
}


@pytest.mark.parametrize("act", list(ACTS))
def test_an_act_is_undone_to_the_last_row(house, grower, act):
    name, where, data = ACTS[act]
    place = [where] if isinstance(where, str) else [house[part].pk if part in house else part for part in where]
    before, changes = everything(), Change.objects.count()
    answer = grower.post(
        reverse(name, args=place),
        {field: house[value].pk if isinstance(value, str) and value in house else value for field, value in data.items()},
    )
    assert answer.status_code == 302, text_of(answer)[-2000:]
    assert Change.objects.count() == changes + 1
    assert everything() != before
    grower.post(reverse("changes:undo", args=[Change.objects.first().pk]))
    assert Change.objects.first().undone_at is not None
    assert everything() == before


def test_a_slip_typed_in_is_undone_and_a_stale_undo_changes_nothing(house, grower):
    border = house["border"]
    before = everything()
    grower.post(reverse("readings:new_slip"), slip_data(border, ("pH", "5.9", "", "water 1:1"), taken_on="2026-10-20"))
    typed = Change.objects.first()
    later = border.slips.order_by("-pk").first()
    later.note = "seen since"
    later.save()
    after = everything()
    grower.post(reverse("changes:undo", args=[typed.pk]))
    assert everything() == after
    later.note = ""
    later.save()
    grower.post(reverse("changes:undo", args=[typed.pk]))
    assert everything() == before
