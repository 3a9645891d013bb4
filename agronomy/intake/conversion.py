"""Converting a quantity on its own: units, elements and oxides, soil layers, and volumes of a material."""

import re
from typing import Any

from agronomy.base.errors import RequestError, RuleError, UnknownName, UnknownUnit
from agronomy.base.numbers import parse_number
from agronomy.base.quantities import BASE_UNITS, QUANTITY, factor, layer_kg_per_ha, layer_mg_per_kg, parse_quantity
from agronomy.base.required import required
from agronomy.base.showing import significant
from agronomy.base.unit_words import in_country
from agronomy.intake.household_amounts import is_in_bags, kg_in_bags
from agronomy.tables import Tables

# Element in each species [mass fraction]. Source: definition (IUPAC atomic masses).
ELEMENT_SHARE = {
    "P2O5": ("P", 1 / 2.2914),
    "K2O": ("K", 1 / 1.2046),
    "CaO": ("Ca", 1 / 1.3992),
    "MgO": ("Mg", 1 / 1.6583),
    "SO3": ("S", 1 / 2.4971),
    "SO4": ("S", 1 / 2.9962),
    "CaCO3": ("Ca", 1 / 2.4973),
    "MgCO3": ("Mg", 1 / 3.4690),
    "NO3": ("N", 1 / 4.4268),
    "NH4": ("N", 1 / 1.2879),
    "P": ("P", 1.0),
    "K": ("K", 1.0),
    "Ca": ("Ca", 1.0),
    "Mg": ("Mg", 1.0),
    "S": ("S", 1.0),
    "N": ("N", 1.0),
    "Na": ("Na", 1.0),
}
_SPECIES = re.compile(r"^(.*?) (" + "|".join(sorted(ELEMENT_SHARE, key=len, reverse=True)) + r")$")


def convert(
    quantity: str,
    to: str,
    *,
    depth: str | None,
    bulk_density: float | None,
    material: str | None,
    tables: Tables,
    country: str | None = None,
) -> dict[str, Any]:
    """`{"value", "unit"}` of a quantity in another unit.

    Units may end in an element or oxide (`kg/ha P2O5`). `depth` and `bulk_density` [g/cm3] turn concentrations into amounts of
    a soil layer and back; `material` (a key) turns volumes into weights by its density, and bags by its usual pack; `country` (two
    letters) says what a hundredweight is. Raises RuleError.
    """
    quantity, to = (str(in_country(told, country, "metric")) for told in (quantity[:120], to))
    if is_in_bags(quantity):
        row = tables.materials.get(material or "")
        quantity = f"{kg_in_bags(quantity, row.bag_kg if row else None, 'quantity')!r} kg"
    match = QUANTITY.match(quantity[:120])
    if not match or not match.group(2).strip():
        raise UnknownUnit("quantity", quantity[:40], "a quantity is a number with a unit", 'write it as "40 lb/1000 ft2"')
    number = parse_number(match.group(1), "quantity")
    unit, species = _split(match.group(2).strip())
    to_unit, to_species = _split(to.strip())
    number *= _species_factor(species, to_species, quantity)
    value = number * _unit_factor(unit, to_unit, to_species or species, depth, bulk_density, material, tables)
    return {"value": significant(value, 6), "unit": to}


def _split(unit: str) -> tuple[str, str | None]:
    match = _SPECIES.match(" ".join(unit.split()))
    return (match.group(1), match.group(2)) if match else (unit, None)


def _species_factor(species: str | None, to_species: str | None, quantity: str) -> float:
    if species is None or to_species is None or species == to_species:
        return 1.0
    (element, share), (to_element, to_share) = ELEMENT_SHARE[species], ELEMENT_SHARE[to_species]
    if {species, to_species} == {"MgCO3", "CaCO3"} or element != to_element:
        raise UnknownName("unit", quantity[:40], f"{species} does not become {to_species}", "use forms of one element, such as P and P2O5")
    return share / to_share


def _kind(unit: str) -> str | None:
    for kind, base in BASE_UNITS.items():
        try:
            factor(unit, base)
        except UnknownUnit:
            continue
        return kind
    return None


def _unit_factor(
    unit: str, to: str, species: str | None, depth: str | None, density: float | None, material: str | None, tables: Tables
) -> float:
    kinds = (_kind(unit), _kind(to))
    first, second = ("rate" if kind == "yield" else kind for kind in kinds)
    if None in kinds or first == second:
        base = BASE_UNITS[kinds[1] or kinds[0] or "rate"]
        return factor(unit, base, "quantity") / factor(to, base, "unit")
    if set(kinds) == {"concentration", "charge"}:
        return _by_charge(unit, to, kinds, species, tables)
    if set(kinds) == {"concentration", "rate"}:
        return _by_layer(unit, to, kinds, depth, density)
    if set(kinds) == {"volume", "mass"}:
        return _by_density(unit, to, kinds, material, tables)
    raise UnknownUnit("unit", to[:40], f"a {kinds[0]} does not become a {kinds[1]}", f"use a unit of {kinds[0]}")


def _by_charge(unit: str, to: str, kinds: tuple, species: str | None, tables: Tables) -> float:
    row = tables.analytes.get(species or "")
    if row is None or not row.mg_per_cmol:
        raise UnknownUnit("unit", to[:40], "charge and weight are tied only for one element", 'name it: "0.38 cmol/kg K" to "mg/kg K"')
    if kinds[0] == "charge":
        return factor(unit, "cmol/kg") * row.mg_per_cmol / factor(to, "mg/kg")
    return factor(unit, "mg/kg") / row.mg_per_cmol / factor(to, "cmol/kg")


def _by_layer(unit: str, to: str, kinds: tuple, depth: str | None, density: float | None) -> float:
    if depth is None or density is None:
        raise RequestError(
            [
                RuleError(
                    "depth", depth, "a concentration becomes an amount only for a layer of soil", 'add --depth "15 cm" --bulk-density 1.3'
                )
            ]
        )
    layer = {"bulk_density_g_per_cm3": density, "depth_cm": parse_quantity(depth, "length", "depth")}
    if min(layer.values()) <= 0:
        raise RequestError([RuleError("depth", depth, "depth and density are above zero", "check both")])
    if kinds[0] == "concentration":
        return layer_kg_per_ha(factor(unit, "mg/kg"), **layer) / factor(to, "kg/ha")
    return layer_mg_per_kg(factor(unit, "kg/ha"), **layer) / factor(to, "mg/kg")


def _by_density(unit: str, to: str, kinds: tuple, material: str | None, tables: Tables) -> float:
    if material not in tables.materials:
        raise RequestError(
            [
                RuleError(
                    "material",
                    material,
                    "a volume becomes a weight only for a material we know",
                    "add --material with a key from: python -m agronomy materials",
                )
            ]
        )
    kg_per_litre = tables.materials[required(material)].density_g_per_ml
    if kinds[0] == "volume":
        return factor(unit, "L") * kg_per_litre / factor(to, "kg")
    return factor(unit, "kg") / kg_per_litre / factor(to, "L")
