"""What one table asks of another beyond a name: a crop that is added in one place must be complete everywhere it matters."""

from collections.abc import Iterable, Mapping

from agronomy.tables.all_tables import Tables
from agronomy.tables.reading_files import SHIPPED, TableError


def check_documents(tables: Tables, keys: Mapping[str, frozenset[str]]) -> None:
    """That documents name only what exists. Raises TableError."""
    for key, card in tables.leaf_cards.items():
        _known(f"cards/{key}.toml, crops", card.crops, keys["crops"])
    for key, kit in tables.kits.items():
        for test in kit.test:
            _known(f"kits/{key}.toml, test {test.key}", (test.analyte,), keys["analytes"])
            _known(f"kits/{key}.toml, test {test.key}", (test.method,) if test.method else (), keys["methods"])
    for key, programme in tables.programmes.items():
        bales = programme.bales
        named = [step.material for step in programme.step if step.material] + ([bales.feed, bales.phosphate, bales.potash] if bales else [])
        _known(f"programmes/{key}.toml", named, keys["materials"])
        _known(f"programmes/{key}.toml", (step.gate for step in programme.step if step.gate), keys["step_gates"])
    feel = tables.ground.feel
    for name, question in feel.ask.items():
        for answer in question.answers:
            _known(f"ground/feel.toml, ask.{name}", (answer.texture,) if answer.texture else (), keys["textures"])
            _known(f"ground/feel.toml, ask.{name}", (answer.then,) if answer.then else (), frozenset(feel.ask))
            if (answer.texture is None) == (answer.then is None):
                raise TableError(
                    f"ground/feel.toml, ask.{name}",
                    f"“{answer.say}” leads nowhere, or to two places",
                    "give it a texture or a further question",
                )
    for key, page in tables.rule_pages.items():
        for name in page.tables:
            if not any(SHIPPED.glob(name)):
                raise TableError(f"methods.toml, {key}", f"“{name}” is no table", "check its spelling")
    sourced = {
        "methods.toml": tables.rule_pages.values(),
        "advice.toml": tables.advice.advice,
        "timing.toml": vars(tables.timing).values(),
        "sensors.toml": [tables.sensors],
        "ground": [feel, tables.ground.new_ground],
    }
    sourced |= {"kits": tables.kits.values(), "cards": tables.leaf_cards.values(), "programmes": tables.programmes.values()}
    for place, documents in sourced.items():
        for document in documents:
            _known(f"{place}, source", document.source.split(";"), keys["sources"])


def _known(place: str, names: Iterable[str], known: frozenset[str]) -> None:
    for name in names:
        if name not in known:
            raise TableError(place, f"“{name}” is not known", "add it to its table first, or check its spelling")


def check_links(tables: Tables) -> None:
    """That what must be in two tables is in both. Raises TableError."""
    growing = tables.growing
    for crop in tables.crops:
        for name, rows in (("crops_in_time", growing.crops), ("nitrogen_limits", growing.limits)):
            if crop not in rows:
                raise TableError(f"growing/{name}.csv", f"the crop “{crop}” has no row", "add one: when it stands, how it is fed")
    for row in growing.limits.values():
        if not any(stage.set == row.uses for stage in growing.stages):
            raise TableError("growing/nitrogen_limits.csv", f"{row.crop} uses “{row.uses}”, which has no stages", "add its dressings")
    for group in {crop.group for crop in tables.crops.values()} - set(tables.organics.eaten):
        raise TableError("organics/eaten.csv", f"the group “{group}” has no row", "add one: whether it is eaten, and touches the ground")
    for key in set(tables.organics.release) ^ set(tables.organics.carried):
        raise TableError("organics/carried.csv", f"“{key}” stands in only one of release.csv and carried.csv", "add it to the other")
    for lime in (material for material in tables.materials.values() if material.has_role("lime")):
        if lime.speed not in tables.acidity.lime_speeds:
            raise TableError("acidity/lime_speeds.csv", f"the speed “{lime.speed}” of {lime.key} has no row", "add one")
    for method in {row.reads_like for row in tables.readings.extractants if row.reads_like}:
        if not any(method == row.method for row in tables.readings.extractants):
            raise TableError(
                "extractants.csv, column reads_like", f"“{method}” is no extractant", "add it there first, or check its spelling"
            )
    for told in tables.labfile.headings:
        units = tables.analytes[told.analyte].units if told.analyte and told.kind == "amount" else ()
        if units and told.unit and told.unit not in units:
            raise TableError(
                "labfile/headings.csv", f"“{told.heading}” has the unit “{told.unit}”, which {told.analyte} has not", "mend either"
            )
    known = {unit for analyte in tables.analytes.values() for unit in analyte.units}
    for spelling in tables.labfile.units.values():
        if spelling.unit not in known:
            raise TableError("labfile/units.csv", f"“{spelling.unit}” is no unit of any analyte", "add it to analytes.csv, or mend it")
    _check_systems(tables)


SOILS = ("any", "very light", "light", "medium", "heavy", "pumice", "peat")


def _check_systems(tables: Tables) -> None:
    """That a system of classes has its classes, its country, and crops and soils that exist."""
    told = {(item.system, item.analyte) for item in tables.systems.systems}
    for system in tables.systems.systems:
        if system.country not in tables.ground.countries:
            raise TableError("systems/systems.csv", f"“{system.country}” is not in our list of countries", "add it to ground/countries.csv")
    for lone in told - {(row.system, row.analyte) for row in tables.systems.classes}:
        raise TableError("systems/systems.csv", f"“{lone[0]}” has no classes for {lone[1]}", "add them to classes.csv, or mend the name")
    groups = {crop.group for crop in tables.crops.values()}
    for row in tables.systems.classes:
        if (row.system, row.analyte) not in told:
            raise TableError(
                "systems/classes.csv", f"“{row.system}” has no row for {row.analyte} in systems.csv", "add it, or mend the name"
            )
        for name in row.crops:
            if name != "*" and name not in groups and name not in tables.crops:
                raise TableError("systems/classes.csv", f"“{name}” is no crop and no group", "check its spelling")
        if row.soil not in SOILS and row.soil not in tables.textures:
            raise TableError("systems/classes.csv", f"“{row.soil}” is no kind of soil", f"use a texture, or one of {', '.join(SOILS)}")
