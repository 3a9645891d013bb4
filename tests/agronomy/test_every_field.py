"""Every field of a request is read: another value makes another request, and somewhere another plan. What nobody reads would be accepted
and ignored, the quietest of lies.
"""

import copy
import typing
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest
from pydantic import BaseModel

from agronomy.intake.documents import plan_to_document
from agronomy.intake.request import read_request
from agronomy.intake.request_doc import RequestDoc
from agronomy.model.ground_facts import FACTS
from agronomy.plan.plan import make_plan
from agronomy.tables import load_tables

BED = {
    "today": "2027-03-01",
    "plot": {
        "name": "Long bed",
        "area": "40 m2",
        "depth": "20 cm",
        "texture": "loam",
        "bulk_density_g_per_cm3": 1.3,
        "organic_matter_pct": 3,
        "cec_cmol_per_kg": 12,
        "slope_pct": 2,
        "water_distance_m": 100,
        "stones_pct": 5,
        "watering": "sprinkler",
        "watering_a_season": "100 mm",
        "cover": "bare",
    },
    "readings": [
        {"analyte": "pH", "value": 5.6, "method": "water 1:1", "taken": "2027-02-20"},
        {"analyte": "P", "value": 12, "unit": "mg/kg", "method": "Mehlich 3", "taken": "2027-02-20", "top": "0 cm", "bottom": "20 cm"},
        {"analyte": "K", "value": 80, "unit": "mg/kg", "method": "Mehlich 3", "taken": "2027-02-20"},
        {"analyte": "Mg", "value": 60, "unit": "mg/kg", "method": "Mehlich 3", "taken": "2027-02-20"},
    ],
    "crop": {"key": "cabbage", "planting": "2027-05-01", "harvest": "2027-09-20", "yield_goal": "50 t/ha", "own": {"name": "Show cabbage"}},
    "shed": [{"material": "urea", "price": 0.8, "in_stock": "20 kg", "label": {"name": "Old urea", "n": 45}}],
    "credits": [{"kind": "manure", "what": "cattle_manure", "rate": "20 t/ha", "on": "2027-02-01"}],
    "caps": {"N": "150 kg/ha"},
    "response": {"slope": 60, "curvature": 0.15, "nitrogen_price": 1.2, "crop_price": 0.2},
    "climate": {"key": "thornmere_vale"},
    "done": [{"material": "calcitic_limestone_ground", "amount": "4 kg", "on": "2026-11-01"}],
    "own_buffering": {"times": 1.2, "low": 0.9, "high": 1.6, "tests": 4},
    "own_pools": {"P": {"times": 1.1, "low": 0.8, "high": 1.5, "tests": 3}},
    "harvests": [{"crop": "potato", "got": "30 t/ha", "on": "2026-09-01"}],
    "hands": {"weekdays": ["saturday", "sunday"], "away": [{"begins": "2027-04-10", "ends": "2027-04-20"}]},
    "closed": [{"name": "not in our list of manures", "materials": ["cattle_manure"], "begins": "10-15", "ends": "01-31"}],
    "targets": [{"analyte": "P", "method": "Mehlich 3", "level": 60}],
}


def _models(kind) -> list[type[BaseModel]]:
    if isinstance(kind, type) and issubclass(kind, BaseModel):
        return [kind]
    return [model for part in typing.get_args(kind) for model in _models(part)]


def leaves(model: type[BaseModel] = RequestDoc, path: str = "") -> Iterator[str]:
    """Every field of the document that holds no further document."""
    for name, field in model.model_fields.items():
        inner = _models(field.annotation)
        if not inner:
            yield path + name
        for part in inner:
            yield from leaves(part, f"{path}{name}.")


FROSTY = {
    "key": None,
    "warmth_c": [2.0] * 6 + [15.0] * 6,
    "rain_mm": [60.0] * 12,
    "last_frost": "2026-05-25",
    "first_frost": "2026-10-01",
}
# What else a field may say; a dict in place of a value patches the document at other places too.
OTHER: dict[str, object] = {
    "today": "2027-03-15",
    "units": "us",
    "country": "GB",
    "equipment": ["disc"],
    "plot.name": "Other bed",
    "plot.kind": "field",
    "plot.area": "55 m2",
    "plot.sizes": {"plot": {"sizes": {"count": "3", "volume": "10 L"}}},
    "plot.depth": "25 cm",
    "plot.texture": "clay",
    "plot.mix": {
        "plot": {"kind": "container", "mix": "peat_bark", "area": None, "texture": None, "sizes": {"count": "4", "volume": "10 L"}}
    },
    "plot.sand_pct": {"plot": {"texture": None, "sand_pct": 60, "silt_pct": 25, "clay_pct": 15}},
    "plot.silt_pct": {"plot": {"texture": None, "sand_pct": 60, "silt_pct": 25, "clay_pct": 15}},
    "plot.clay_pct": {"plot": {"texture": None, "sand_pct": 60, "silt_pct": 25, "clay_pct": 15}},
    "plot.organic_matter_pct": 8,
    "plot.cec_cmol_per_kg": 30,
    "plot.free_lime": True,
    "plot.dug": False,
    "plot.hemisphere": "south",
    "plot.watering": "rain",
    "plot.watering_a_season": "500 mm",
    "plot.cover": "tunnel",
    "readings.analyte": "Mn",
    "readings.value": "30",
    "readings.unit": "mg/100 g",
    "readings.method": "Olsen",
    "readings.how": "kit",
    "readings.taken": "2025-02-20",
    "readings.error": 4.0,
    "readings.layer": {"readings": {"unit": "lb/acre", "value": 24, "layer": "15 cm"}},
    "readings.top": "5 cm",
    "readings.bottom": "30 cm",
    "readings.stage": {"readings": {"analyte": "leaf K", "unit": "%", "method": "", "value": 2.0, "how": "tissue", "stage": "heading"}},
    "readings.part": {"readings": {"analyte": "leaf K", "unit": "%", "method": "", "value": 2.0, "how": "tissue", "part": "wrapper leaf"}},
    "crop.key": "carrot",
    "crop.companion": "dry_bean",
    "crop.spacing": "60 cm x 80 cm",
    "crop.planting": "2027-06-10",
    "crop.harvest": "2027-10-30",
    "crop.yield_goal": "80 t/ha",
    "crop.yield_got": "20 t/ha",
    "crop.target_ph": 7.0,
    "crop.own.name": "Another cabbage",
    "crop.own.ph_low": 6.4,
    "crop.own.ph_lime_to": 7.1,
    "crop.own.ph_high": 7.4,
    "crop.own.ph_acid_to": 6.6,
    "crop.own.ph_acidify_above": 7.9,
    "crop.own.p2o5_r0": 222,
    "crop.own.k2o_r0": 333,
    "crop.own.n_low": 40,
    "crop.own.n_high": 333,
    "crop.own.n_per_t": 9,
    "school": "build_maintain",
    "aim": "money",
    "allow.organic_only": True,
    "allow.chloride": False,
    "most_bags": 1,
    "budget": 3,
    "lost_times": 20,
    "materials": ["urea", "triple_superphosphate"],
    "wanted": ["calcium_ammonium_nitrate"],
    "without": ["urea"],
    "shed.material": "calcium_nitrate",
    "shed.price": 0.1,
    "shed.in_stock": "0 kg",
    "shed.label.name": "Newer urea",
    "shed.label.n": 40,
    "shed.label.p2o5": 5,
    "shed.label.k2o": 5,
    "shed.label.ca": 5,
    "shed.label.mg": 5,
    "shed.label.s": 5,
    "shed.label.cce": 20,
    "shed.label.fineness": 80,
    "shed.label.density_g_per_ml": 1.1,
    "shed.label.bag": "50 kg",
    "credits.kind": {"credits": {"kind": "straw"}},
    "credits.name": "the yard heap",
    "credits.counted": False,
    "credits.what": "pig_slurry",
    "credits.rate": "40 t/ha",
    "credits.nitrogen_pct": {"credits": {"kind": "green_manure", "nitrogen_pct": 3}},
    "credits.nitrate_n_mg_per_l": {"credits": {"kind": "water", "nitrate_n_mg_per_l": 20, "water": "300 mm"}},
    "credits.water": {"credits": {"kind": "water", "nitrate_n_mg_per_l": 20, "water": "300 mm"}},
    "credits.on": "2026-10-01",
    "credits.worked_in": "never",
    "credits.ammonium_kg_per_t": 2.5,
    "credits.organic_kg_per_t": 9,
    "uncounted": ["organic_matter"],
    "caps": {"N": "60 kg/ha"},
    "response.slope": 20,
    "response.curvature": 0.6,
    "response.nitrogen_price": 5,
    "response.crop_price": 0.02,
    "climate.key": "steppe_mark",
    "climate.name": {"climate": {"key": None, "name": "our valley", "warmth_c": [5.0] * 6 + [15.0] * 6, "rain_mm": [60.0] * 12}},
    "climate.warmth_c": {"climate": {"key": None, "warmth_c": [2.0] * 6 + [15.0] * 6, "rain_mm": [60.0] * 12}},
    "climate.rain_mm": {"climate": {"key": None, "warmth_c": [2.0] * 6 + [15.0] * 6, "rain_mm": [20.0] * 12}},
    "climate.last_frost": {"climate": FROSTY},
    "climate.first_frost": {"climate": FROSTY},
    "done.material": "dolomitic_limestone_ground",
    "done.amount": "14 kg",
    "done.on": "2026-06-01",
    "own_buffering.times": 1.5,
    "own_buffering.low": 0.5,
    "own_buffering.high": 3.0,
    "own_buffering.tests": 9,
    "own_pools.times": 1.4,
    "own_pools.low": 0.5,
    "own_pools.high": 3.0,
    "own_pools.taken": 0.5,
    "own_pools.tests": 9,
    "harvests.crop": "cabbage",
    "harvests.got": "60 t/ha",
    "harvests.on": "2025-09-01",
    "hands.weekdays": ["monday"],
    "hands.away.begins": "2027-04-01",
    "hands.away.ends": "2027-05-20",
    "closed.name": "no dressings",
    "closed.materials": ["calcium_ammonium_nitrate"],
    "closed.begins": "05-06",
    "closed.ends": "04-30",
    "targets.analyte": "K",
    "targets.method": "Olsen",
    "targets.level": 10,
} | {f"plot.{name}": fact.low + (fact.high - fact.low) / 4 for name, fact in FACTS.items()}


def patched(document: dict, path: str, value: object) -> dict:
    """A document with another value at a path; lists are followed into their first row (P of the readings), tables likewise."""
    made = copy.deepcopy(document)
    if isinstance(value, dict) and path != "caps":
        for name, patch in value.items():
            place = _row(made, name)
            place.update(patch)
        return made
    *way, last = path.split(".")
    place = made
    for name in way:
        place = _row(place, name)
    place[last] = value
    return made


def _row(place: dict, name: str) -> dict:
    found = place.setdefault(name, {})
    if isinstance(found, list):
        return found[1 if name == "readings" else 0]
    return found["P"] if name == "own_pools" else found


@pytest.fixture(scope="module")
def tables():
    return load_tables()


@pytest.fixture(scope="module")
def usual(tables):
    return read_request(BED, tables)


def test_the_list_of_other_values_is_whole():
    assert set(OTHER) == set(leaves())


@pytest.mark.parametrize("path", OTHER)
def test_another_value_is_another_request(path, tables, usual):
    """The digest aside, which is of the document as it was written."""
    made = read_request(patched(BED, path, OTHER[path]), tables)
    assert replace(made, sha256="") != replace(usual, sha256="")


FIELD = {
    "plot": {"kind": "field", "area": "8 ha"},
    "crop": {"key": "winter_wheat", "planting": "2026-10-05", "harvest": None, "yield_goal": "8 t/ha", "own": {"name": "Our wheat"}},
} | dict.fromkeys(("caps", "response", "climate", "hands", "closed", "targets", "done"))
DRIPPED = {
    "plot": {"area": "400 m2", "watering": "drip", "injector": 100, "stock_tank_l": 1},
    "crop": {"key": "pepper_tunnel", "own": None},
}
POTS = {"plot": {"kind": "container", "mix": "peat_bark", "area": None, "texture": None, "sizes": {"count": "4", "volume": "10 L"}}}
_PH, _P, *_REST = BED["readings"]
# Grounds on which a field tells that says nothing on the bed or the field; None takes a part out.
TELLS_ON: dict[str, dict] = {
    "closed": {"closed": [{"name": "no nitrogen yet", "materials": ["urea"], "begins": "05-30", "ends": "06-20"}]},
    "crop.own.ph_acid": {
        "plot": {"texture": "sand", "free_lime": False},
        "readings": [_PH | {"value": 7.4}],
        "crop": {"own": {"name": "Sour cabbage", "ph_high": 7.0, "ph_acid_to": 6.7, "ph_acidify_above": 7.1}},
    },
    "crop.yield_got": {"crop": {"yield_goal": None}, "school": "build_maintain"},
    "done": {"done": [{"material": "calcitic_limestone_ground", "amount": "4 kg", "on": "2027-02-25"}]},
    "harvests": {"readings": [row | {"taken": "2026-07-01"} for row in BED["readings"]], "school": "build_maintain"},
    "lost_times": {
        "aim": "loss",
        "plot": {"texture": "clay loam"},
        "readings": [_PH | {"value": 7.8}, *BED["readings"][1:]],
        "crop": {"key": "maize", "own": None, "yield_goal": None},
        "caps": None,
    },
    "most_bags": {"aim": "money"},
    "own_pools": {"school": "build_maintain", "readings": [_PH, _P | {"value": 40}]},
    "plot.cover": {
        "plot": {"texture": "clay"},
        "climate": {"key": None, "warmth_c": [12.0] * 12, "rain_mm": [60.0] * 2 + [250.0] * 3 + [60.0] * 7},
    },
    "plot.sizes": POTS,
    "plot.slope_pct": {"readings": [_PH, _P | {"value": 400}]},
    "plot.water_distance_m": {"plot": {"water_distance_m": 2}, "readings": [_PH, _P | {"value": 400}]},
    "plot.phosphorus_buffering_index": {
        "country": "au",
        "crop": {"key": "pasture", "planting": None, "harvest": None, "yield_goal": None, "own": None},
        "plot": {"kind": "pasture"},
        "readings": [_PH, _P | {"method": "Colwell"}],
    },
    "plot.injector": DRIPPED,
    "plot.stock_tank_l": DRIPPED,
    "plot.watering": FIELD | {"readings": [_PH | {"value": 7.9}]},
    "plot.watering_a_season": {"readings": [*BED["readings"], {"analyte": "alkalinity", "value": 300, "unit": "mg/L CaCO3"}]},
    "readings.top": {
        "readings": [_PH, {"analyte": "NO3-N", "value": 12, "unit": "mg/kg", "top": "0 cm", "bottom": "30 cm", "taken": "2027-02-20"}]
    },
    "readings.bottom": {
        "readings": [_PH, {"analyte": "NO3-N", "value": 12, "unit": "mg/kg", "top": "0 cm", "bottom": "20 cm", "taken": "2027-02-20"}]
    },
    "shed.label": {
        "shed": [{"material": "dolomitic_limestone_ground", "in_stock": "50 kg", "label": {"name": "Our lime", "cce": 95, "fineness": 60}}]
    },
}


def on_ground(patch: dict) -> dict:
    """The bed with some of it told otherwise."""
    made = copy.deepcopy(BED)
    for name, part in patch.items():
        if part is None:
            made.pop(name)
        elif isinstance(part, dict):
            made[name] = {key: value for key, value in (made.get(name, {}) | part).items() if value is not None}
        else:
            made[name] = copy.deepcopy(part)
    return made


@pytest.mark.parametrize("path", sorted(set(OTHER) - {"plot.name"}))  # the name of a plot stands in letters, and moves no plan
def test_another_value_is_another_plan_somewhere(path, tables):
    told = [on_ground(patch) for start, patch in TELLS_ON.items() if path.startswith(start)]
    for document in [
        *told,
        BED,
        *([] if path.partition(".")[0] in (name for name, part in FIELD.items() if part is None) else [on_ground(FIELD)]),
    ]:
        plans = []
        for request in (document, patched(document, path, OTHER[path])):
            plan = plan_to_document(make_plan(read_request(request, tables), tables))
            plans.append({name: part for name, part in plan.items() if name != "request_sha256"})
        if plans[0] != plans[1]:
            return
    pytest.fail(f"no plan changes with {path}")


def test_every_figure_of_the_ground_is_told_of_in_the_format():
    told = (Path(__file__).parents[2] / "docs" / "plan-format.md").read_text(encoding="utf-8")
    assert [name for name in FACTS if f"{name}`" not in told] == []
