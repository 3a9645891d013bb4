"""Loads every table once, and refuses a row without unit, source or sense.

All facts of the trade live in `data/`; `load_tables()` is the one door to them, and the result is passed on.
"""

import csv
import hashlib
import tomllib
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from types import MappingProxyType
from typing import Any, NamedTuple

from agronomy.tables.crop import Crop
from agronomy.tables.material import Material

DATA = Path(__file__).parent / "data"
STATUSES = {"exact", "recalled", "unsure"}


class Parameter(NamedTuple):
    """One figure of a rule with its source; low and high bound its own uncertainty where it has one."""

    value: float
    low: float
    high: float
    source: str
    where: str
    status: str


class TableError(ValueError):
    """A table that must not be used: names file, row and what is missing."""


@dataclass(frozen=True)
class Tables:
    """Every table of the core, read-only."""

    version: str
    sources: MappingProxyType
    crops: MappingProxyType
    crop_traits: MappingProxyType
    materials: MappingProxyType
    material_traits: MappingProxyType
    pairs: MappingProxyType
    nitrogen_losses: MappingProxyType
    loss_factors: MappingProxyType
    textures: MappingProxyType
    analytes: MappingProxyType
    special_units: MappingProxyType  # by (analyte, unit)
    ph_methods: MappingProxyType
    reading_errors: MappingProxyType
    critical_for: MappingProxyType  # by (nutrient, method, crop group, on light ground)
    smp: tuple
    stakes: tuple
    availability: MappingProxyType
    salt_tolerance: MappingProxyType
    ec_factors: MappingProxyType
    salinity: MappingProxyType
    balance: MappingProxyType
    upsets: tuple
    sulfur: tuple
    caps: MappingProxyType
    acidity: MappingProxyType
    soil_type_factors: MappingProxyType
    nutrients: MappingProxyType
    nitrogen: MappingProxyType
    nitrogen_splits: MappingProxyType
    dressing_caps: MappingProxyType
    legumes: MappingProxyType
    manures: MappingProxyType
    worked_in: MappingProxyType
    nitrate_critical: MappingProxyType
    timing: MappingProxyType
    cautions: MappingProxyType
    practices: MappingProxyType
    ground_kinds: MappingProxyType
    ground_figures: MappingProxyType
    mixes: MappingProxyType
    fizz: MappingProxyType
    feel: MappingProxyType
    families: MappingProxyType
    rotation: MappingProxyType
    new_ground: MappingProxyType
    cores: MappingProxyType
    depths: MappingProxyType
    sampling_figures: MappingProxyType
    label_sheets: MappingProxyType
    pair_meanings: MappingProxyType
    plausibility: MappingProxyType
    schools: MappingProxyType
    removal: MappingProxyType
    forecast: MappingProxyType
    choice: MappingProxyType
    climates: MappingProxyType
    programmes: MappingProxyType
    climate_figures: MappingProxyType
    gates: MappingProxyType
    step_gates: MappingProxyType
    spread: MappingProxyType
    quick_acid: MappingProxyType
    method_ranges: tuple
    lime_speeds: MappingProxyType
    spray_weather: tuple
    sieves: tuple
    sulfur_grains: MappingProxyType
    seed_limits: MappingProxyType
    bale: MappingProxyType
    bale_days: tuple
    acids: MappingProxyType
    liquids: MappingProxyType
    tank_order: tuple
    trace_doses: MappingProxyType
    release: MappingProxyType
    organics: MappingProxyType
    eaten: MappingProxyType
    carried: MappingProxyType
    supposed_ph: MappingProxyType
    test_prices: MappingProxyType
    signs: MappingProxyType
    p_per_ppm: MappingProxyType
    micronutrients: MappingProxyType
    meter: MappingProxyType
    sensors: MappingProxyType
    water_classes: tuple
    leaf_cards: MappingProxyType
    leaf_notes: MappingProxyType
    kits: MappingProxyType
    lab_names: tuple
    lab_methods: tuple
    lab_words: MappingProxyType


def _value(text: str) -> Any:
    if text == "":
        return None
    if text in ("yes", "no"):
        return text == "yes"
    try:
        number = float(text)
    except ValueError:
        return text
    return number


def _rows(name: str, sources: dict | None) -> list[dict]:
    with (DATA / name).open(encoding="utf-8", newline="") as file:
        rows = [{key: _value(text) for key, text in row.items()} for row in csv.DictReader(file)]
    for line, row in enumerate(rows, start=2):
        if None in row or any(key is None for key in row):
            raise TableError(f"{name}, line {line}: the row has too many cells; quote the text that holds a comma")
        if sources is not None:
            _check_source(f"{name}, line {line}", row, sources)
    return rows


def _check_source(place: str, row: dict, sources: dict) -> None:
    for key in str(row.get("source") or "").split(";"):
        if key not in sources:
            raise TableError(f"{place}: the source “{key}” is not in sources.csv")
    if "status" in row and row["status"] not in STATUSES:
        raise TableError(f"{place}: status must be one of {sorted(STATUSES)}")


def _parameters(name: str, sources: dict) -> MappingProxyType:
    content = tomllib.loads((DATA / name).read_text(encoding="utf-8"))
    for key, row in content.items():
        _check_source(f"{name}, [{key}]", row, sources)
    return MappingProxyType(
        {
            key: Parameter(
                float(row["value"]),
                float(row.get("low", row["value"])),
                float(row.get("high", row["value"])),
                row["source"],
                row["where"],
                row["status"],
            )
            for key, row in content.items()
        }
    )


def _document(name: str, sources: dict) -> MappingProxyType:
    """A table that is one document with one source."""
    content = tomllib.loads((DATA / name).read_text(encoding="utf-8"))
    _check_source(name, content, sources)
    return MappingProxyType(content)


def _keyed(rows: list[dict], *names: str) -> MappingProxyType:
    def key(row):
        return row[names[0]] if len(names) == 1 else tuple(row[name] for name in names)

    keyed = {key(row): MappingProxyType(row) for row in rows}
    if len(keyed) != len(rows):
        raise TableError(f"two rows share one {names}")
    return MappingProxyType(keyed)


def _version() -> str:
    digest = hashlib.sha256()
    for path in sorted(DATA.rglob("*.*")):
        digest.update(path.relative_to(DATA).as_posix().encode() + b"\0" + path.read_bytes())
    return digest.hexdigest()[:12]


def _critical_index(rows: list[dict], crops: dict[str, Crop]) -> MappingProxyType:
    """The row for each nutrient, method, crop group and kind of ground: the group's own before "any", light ground's before the rest."""
    index = {}
    for group in {crop.nutrient_group for crop in crops.values()}:
        for is_light in (False, True):
            fitting = [row for row in rows if row["group"] in (group, "*") and (row["texture"] == "any" or is_light)]
            for row in sorted(fitting, key=lambda row: (row["group"] != "*", row["texture"] != "any")):
                index[row["nutrient"], row["method"], group, is_light] = row
    return MappingProxyType(index)


@lru_cache(maxsize=1)
def load_tables() -> Tables:
    """Read and check all tables; raises TableError. The version is a digest of their contents."""
    sources = {row["key"]: MappingProxyType(row) for row in _rows("sources.csv", None)}
    timing = tomllib.loads((DATA / "timing.toml").read_text(encoding="utf-8"))
    for key, row in timing.items():
        _check_source(f"timing.toml, [{key}]", row, sources)
    critical = [row for name in ("p", "k", "secondary", "micro") for row in _rows(f"critical/{name}.csv", sources)]
    crops = {row["key"]: Crop.from_row(row) for row in _rows("crops.csv", sources)}
    return Tables(
        version=_version(),
        sources=MappingProxyType(sources),
        crops=MappingProxyType(crops),
        crop_traits=_keyed(_rows("crop_traits.csv", sources), "crop"),
        materials=MappingProxyType({row["key"]: Material.from_row(row) for row in _rows("materials.csv", sources)}),
        material_traits=_keyed(_rows("material_traits.csv", sources), "material"),
        pairs=_keyed(_rows("compatibility/pairs.csv", sources), "key"),
        nitrogen_losses=_keyed(_rows("nitrogen/losses.csv", sources), "form"),
        loss_factors=_parameters("nitrogen/loss_factors.toml", sources),
        textures=_keyed(_rows("texture.csv", sources), "name"),
        analytes=_keyed(_rows("analytes.csv", sources), "key"),
        special_units=_keyed(_rows("special_units.csv", sources), "analyte", "unit"),
        ph_methods=_keyed(_rows("ph_methods.csv", sources), "method"),
        reading_errors=_keyed(_rows("reading_errors.csv", sources), "analyte", "how"),
        critical_for=_critical_index(critical, crops),
        smp=tuple(_rows("acidity/smp.csv", sources)),
        stakes=tuple(_rows("acidity/stakes.csv", sources)),
        availability=_keyed(_rows("acidity/availability.csv", sources), "nutrient"),
        salt_tolerance=_keyed(_rows("salinity/tolerance.csv", sources), "crop"),
        ec_factors=_keyed(_rows("salinity/ec_factors.csv", sources), "method", "texture"),
        salinity=_parameters("salinity/figures.toml", sources),
        balance=_parameters("balance/figures.toml", sources),
        upsets=tuple(_rows("balance/upsets.csv", sources)),
        sulfur=tuple(_rows("acidity/sulfur_tables.csv", sources)),
        caps=_keyed(_rows("acidity/caps.csv", sources), "key"),
        soil_type_factors=_keyed(_rows("acidity/soil_type_factors.csv", sources), "key"),
        acidity=_parameters("acidity/parameters.toml", sources),
        nutrients=_parameters("nutrients.toml", sources),
        nitrogen=_parameters("nitrogen/figures.toml", sources),
        legumes=_keyed(_rows("nitrogen/legumes.csv", sources), "key"),
        manures=_keyed(_rows("nitrogen/manures.csv", sources), "key"),
        worked_in=_keyed(_rows("nitrogen/worked_in.csv", sources), "key"),
        nitrate_critical=_keyed(_rows("nitrogen/nitrate_critical.csv", sources), "crop"),
        nitrogen_splits=_keyed(_rows("nitrogen/splits.csv", sources), "texture"),
        dressing_caps=_keyed(_rows("nitrogen/dressing_caps.csv", sources), "crop"),
        timing=MappingProxyType(timing),
        cautions=_keyed(_rows("cautions.csv", sources), "key"),
        practices=_keyed(_rows("practices.csv", sources), "key"),
        ground_kinds=_keyed(_rows("ground/kinds.csv", sources), "key"),
        ground_figures=_parameters("ground/figures.toml", sources),
        mixes=_keyed(_rows("ground/mixes.csv", sources), "key"),
        fizz=_keyed(_rows("ground/fizz.csv", sources), "key"),
        feel=_document("ground/feel.toml", sources),
        families=_keyed(_rows("ground/families.csv", None), "crop"),
        rotation=_keyed(_rows("ground/rotation.csv", sources), "family"),
        new_ground=_document("ground/new_ground.toml", sources),
        cores=_keyed(_rows("sampling/cores.csv", sources), "key"),
        depths=_keyed(_rows("sampling/depths.csv", sources), "key"),
        sampling_figures=_parameters("sampling/figures.toml", sources),
        plausibility=_parameters("plausibility.toml", sources),
        schools=_parameters("schools.toml", sources),
        micronutrients=_keyed(_rows("micronutrients.csv", sources), "analyte"),
        removal=_keyed(_rows("removal.csv", sources), "crop"),
        signs=_keyed(_rows("signs.csv", sources), "key"),
        test_prices=_keyed(_rows("test_prices.csv", sources), "key"),
        choice=_parameters("choice.toml", sources),
        sulfur_grains=_keyed(_rows("acidity/sulfur_grains.csv", sources), "material"),
        sieves=tuple(_rows("acidity/sieves.csv", sources)),
        method_ranges=tuple(_rows("acidity/method_ranges.csv", sources)),
        lime_speeds=_keyed(_rows("acidity/lime_speeds.csv", sources), "speed"),
        spray_weather=tuple(_rows("liquids/weather.csv", sources)),
        quick_acid=_keyed(_rows("acidity/quick_acid.csv", sources), "material"),
        programmes=MappingProxyType({path.stem: _document(f"programmes/{path.name}", sources) for path in sorted((DATA / "programmes").glob("*.toml"))}),
        climates=_keyed(_rows("climate/climates.csv", sources), "key"),
        climate_figures=_parameters("climate/figures.toml", sources),
        gates=_keyed(_rows("climate/gates.csv", sources), "work"),
        step_gates=_keyed(_rows("climate/step_gates.csv", sources), "gate"),
        spread=_parameters("spread/figures.toml", sources),
        seed_limits=_keyed(_rows("spread/seed_limits.csv", sources), "crop"),
        bale=_parameters("spread/bale.toml", sources),
        bale_days=tuple(_rows("spread/bale.csv", sources)),
        acids=_keyed(_rows("liquids/acids.csv", sources), "key"),
        liquids=_parameters("liquids/figures.toml", sources),
        tank_order=tuple(_rows("liquids/tank_order.csv", sources)),
        trace_doses=_keyed(_rows("trace_doses.csv", sources), "analyte", "way"),
        release=_keyed(_rows("organics/release.csv", sources), "class"),
        organics=_parameters("organics/figures.toml", sources),
        carried=_keyed(_rows("organics/carried.csv", sources), "class"),
        eaten=_keyed(_rows("organics/eaten.csv", sources), "group"),
        supposed_ph=_keyed(_rows("supposed_ph.csv", sources), "leans"),
        forecast=_parameters("forecast/figures.toml", sources),
        p_per_ppm=_keyed(_rows("forecast/p_per_ppm.csv", sources), "method"),
        meter=_parameters("meter.toml", sources),
        sensors=_document("sensors.toml", sources),
        water_classes=tuple(_rows("water_classes.csv", sources)),
        leaf_cards=MappingProxyType({path.stem: _document(f"cards/{path.name}", sources) for path in sorted((DATA / "cards").glob("*.toml"))}),
        leaf_notes=_keyed(_rows("leaf_notes.csv", sources), "analyte"),
        kits=MappingProxyType({path.stem: _document(f"kits/{path.name}", sources) for path in sorted((DATA / "kits").glob("*.toml"))}),
        lab_names=tuple(_rows("labfile/names.csv", None)),
        lab_methods=tuple(_rows("labfile/methods.csv", None)),
        lab_words=MappingProxyType(tomllib.loads((DATA / "labfile" / "words.toml").read_text(encoding="utf-8"))),
        pair_meanings=_keyed(_rows("sampling/pair_meanings.csv", sources), "analyte", "side"),
        label_sheets=_keyed(_rows("sampling/label_sheets.csv", sources), "key"),
    )
