"""The only door for units: what people type is parsed here into plain floats, and figures are shown here.

Inside the core: kg/ha, mg/kg, cmol/kg, cm, m2, litres, kg. pint does the conversions; every distinct unit is worked out
once and kept as a plain factor, so that no unit library runs in an inner loop.
"""

import difflib
import re
from functools import lru_cache
from typing import Any

from agronomy.base.areas import in_figures, sides
from agronomy.base.errors import OutOfRange, UnknownUnit
from agronomy.base.numbers import parse_number
from agronomy.base.unit_words import check_words

BASE_UNITS = {
    "area": "m2",
    "length": "cm",
    "volume": "L",
    "mass": "kg",
    "rate": "kg/ha",
    "concentration": "mg/kg",
    "charge": "cmol/kg",
    "yield": "t/ha",
    "conductivity": "dS/m",
    "density": "kg/L",
    "water_rate": "L/ha",
}

# What people may be offered when they mistype, and what the menus list.
KNOWN_UNITS = {
    "area": ["m2", "ha", "ft2", "yd2", "acre", "are"],
    "length": ["cm", "mm", "m", "in", "ft", "yd"],
    "volume": ["L", "mL", "m3", "gal", "qt", "pint", "cup", "tbsp", "tsp", "fl oz", "ft3", "yd3", "imperial_gallon"],
    "mass": ["kg", "g", "mg", "t", "lb", "oz", "ton"],
    "rate": ["kg/ha", "t/ha", "g/m2", "kg/m2", "kg/acre", "t/acre", "lb/acre", "ton/acre", "lb/100 ft2", "lb/1000 ft2", "oz/yd2", "g/ft2"],
    "concentration": ["mg/kg", "ppm", "g/kg", "mg/100 g", "%"],
    "charge": ["cmol/kg", "meq/100 g", "mmol/kg"],
    "conductivity": ["dS/m", "mS/cm", "uS/cm"],
    "density": ["kg/L", "g/mL", "g/cm3"],
    "water_rate": ["L/ha", "L/m2", "gal/acre", "gal/ft2"],
}
KNOWN_UNITS["yield"] = KNOWN_UNITS["rate"]

_OTHER_NAMES = {
    "square metres": "m2",
    "square meters": "m2",
    "square feet": "ft2",
    "square yards": "yd2",
    "sq m": "m2",
    "sq ft": "ft2",
    "sq yd": "yd2",
    "sqft": "ft2",
    "sqm": "m2",
    "acres": "acre",
    "ac": "acre",
    "hectares": "ha",
    "inches": "in",
    "inch": "in",
    "tonnes": "t",
    "tonne": "t",
    "tons": "ton",
    "short ton": "ton",
    "lbs": "lb",
    "pounds": "lb",
    "pound": "lb",
    "ounces": "oz",
    "cups": "cup",
    "tablespoons": "tbsp",
    "tablespoon": "tbsp",
    "teaspoons": "tsp",
    "teaspoon": "tsp",
    "litres": "L",
    "litre": "L",
    "liters": "L",
    "l": "L",
    "gallons": "gal",
    "fl oz": "fluid_ounce",
    "ml": "mL",
    "me/100 g": "meq/100 g",
    "meq/100g": "meq/100 g",
    "mg/100g": "mg/100 g",
    "cmol+/kg": "cmol/kg",
    "cmolc/kg": "cmol/kg",
    "cmol(+)/kg": "cmol/kg",
}
QUANTITY = re.compile(r"^\s*+([+-]?[\d.,\s\u00a0']*\d[.,]?(?:[eE][+-]?\d+)?)\s*(.*)$", re.DOTALL)
LONGEST_UNIT = 40


@lru_cache(maxsize=1)
def _registry() -> Any:
    import pint  # costs a third of a second, and most callers never need it

    registry: Any = pint.UnitRegistry(case_sensitive=True, on_redefinition="ignore")
    registry.define("ha = 10000 * meter ** 2")
    registry.define("acre = 4046.8564224 * meter ** 2 = ac")
    registry.define("equivalent = mole = eq")
    registry.define("ppm = 1e-6")
    return registry


def _for_pint(unit: str) -> str:
    text = unit.replace("²", "2").replace("³", "3").replace("µ", "u").replace("·", "*")
    text = re.sub(r"\s+", " ", text).strip()
    lowered = text.lower()
    for spoken, short in sorted(_OTHER_NAMES.items(), key=lambda pair: -len(pair[0])):
        lowered_pattern = r"(?<![a-z0-9_])" + re.escape(spoken) + r"(?![a-z0-9_])"
        if re.search(lowered_pattern, lowered):
            text = re.sub(lowered_pattern, short, text, flags=re.IGNORECASE)
            lowered = text.lower()
    text = re.sub(r"/\s*(\d+)\s*([A-Za-z])", r"/\1/\2", text)  # "lb/1000 ft2" divides by both
    text = re.sub(r"([A-Za-z])([23])(?![\d/*])", r"\1**\2", text)
    return text.replace("%", "percent")


@lru_cache(maxsize=2048)
def factor(unit: str, base: str, field: str = "unit") -> float:
    """How many `base` make one `unit`; raises UnknownUnit with the nearest known unit.

    >>> round(factor("lb/1000 ft2", "kg/ha"), 2), round(factor("meq/100 g", "cmol/kg"), 6)
    (48.82, 1.0)
    """
    if len(unit) > LONGEST_UNIT or "**" in unit or not re.fullmatch(r"[\w\s/*%²³µ.()+·-]+", unit):
        raise _unknown(unit, base, field)
    shortened = _for_pint(unit)
    try:
        check_words(shortened, unit, field)
        registry = _registry()
        return float(registry.parse_expression(shortened).to(registry.parse_expression(_for_pint(base)).units).magnitude)
    except UnknownUnit:
        raise
    except Exception as error:  # pint raises many kinds, down to tokenizer errors; all mean the same to a grower
        raise _unknown(unit, base, field) from error


def _unknown(unit: str, base: str, field: str) -> UnknownUnit:
    kind = next((kind for kind, known in BASE_UNITS.items() if known == base), None)
    offered = KNOWN_UNITS.get(kind or "", [base])
    everything = sorted({name for names in KNOWN_UNITS.values() for name in names})
    near = difflib.get_close_matches(unit[:LONGEST_UNIT], offered, 1, 0.5) or difflib.get_close_matches(
        unit[:LONGEST_UNIT], everything, 1, 0.6
    )
    guess = f"did you mean {near[0]}? " if near and near[0] != unit else ""
    listed = ", ".join(offered[:8])
    return UnknownUnit(field, unit[:LONGEST_UNIT], f"“{unit[:LONGEST_UNIT]}” is no unit of {kind or base}", f"{guess}use one of {listed}")


def parse_quantity(typed: object, kind: str, field: str, *, unit: str | None = None) -> float:
    """A quantity in the base unit of `kind` (see BASE_UNITS) from a number or a text with a unit.

    Source: definition.

    A bare number is taken in `unit`, or in the base unit. Raises NotANumber, UnknownUnit.

    >>> round(parse_quantity("6 in", "length", "depth"), 2), parse_quantity("0,4 ha", "area", "area")
    (15.24, 4000.0)
    >>> parse_quantity("30 m x 0.75 m", "area", "area"), round(parse_quantity("4x8", "area", "area", unit="ft2"), 3)
    (22.5, 2.973)
    """
    base = BASE_UNITS[kind]
    if isinstance(typed, str) and kind == "area":
        both = sides(typed[:120], field)
        if both is not None:
            side = "ft" if unit in ("ft2", "yd2", "acre") else "m"
            return parse_quantity(both[0], "length", field, unit=side) * parse_quantity(both[1], "length", field, unit=side) / 10_000
        typed = in_figures(typed[:120])
    if isinstance(typed, str):
        match = QUANTITY.match(typed[:120])
        if match and match.group(2).strip():
            return parse_number(match.group(1), field) * factor(match.group(2).strip(), base, field)
    number = parse_number(typed, field)
    return number * factor(unit, base, field) if unit and unit != base else number


def positive_quantity(typed: object, kind: str, field: str, *, low: float, high: float, unit: str | None = None) -> float:
    """As parse_quantity, and within low..high [base unit]; raises OutOfRange. Source: definition."""
    value = parse_quantity(typed, kind, field, unit=unit)
    if not low <= value <= high:
        base = BASE_UNITS[kind]
        raise OutOfRange(field, str(typed)[:40], f"{value:g} {base} is outside {low:g} to {high:g} {base}", "check the number and its unit")
    return value


def layer_kg_per_ha(mg_per_kg: float, *, bulk_density_g_per_cm3: float, depth_cm: float) -> float:
    """What a concentration [mg/kg] amounts to in a soil layer [kg/ha]. Source: definition.

    >>> round(layer_kg_per_ha(30.0, bulk_density_g_per_cm3=1.3, depth_cm=20.0), 3)
    78.0
    """
    return mg_per_kg * bulk_density_g_per_cm3 * depth_cm * 0.1


def layer_mg_per_kg(kg_per_ha: float, *, bulk_density_g_per_cm3: float, depth_cm: float) -> float:
    """The concentration [mg/kg] that an amount in a soil layer [kg/ha] stands for; inverse of layer_kg_per_ha. Source: definition."""
    return kg_per_ha / (bulk_density_g_per_cm3 * depth_cm * 0.1)
