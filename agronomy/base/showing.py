"""Figures as a person reads them: in metric or US units, with no more digits than they deserve."""

from functools import lru_cache
from math import floor, log10

from agronomy.base.quantities import factor

GARDEN_UP_TO_M2 = 2000.0  # beyond this a plot is spoken of as a field


def significant(value: float, digits: int) -> float:
    """`value` rounded to so many significant digits.

    Source: definition.

    >>> significant(2.347, 2), significant(1862.0, 3)
    (2.3, 1860.0)
    """
    if not value:
        return 0.0
    return round(value, digits - 1 - floor(log10(abs(value))))


def number(value: float, digits: int) -> str:
    """A rounded number with a thin space between thousands.

    Source: definition.

    >>> number(1862.0, 3), number(0.1234, 2)
    ('1\\u202f860', '0.12')
    """
    rounded = significant(value, digits)
    if rounded >= 1000:
        return f"{rounded:,.0f}".replace(",", "\u202f")
    return f"{rounded:.10f}".rstrip("0").rstrip(".")


def is_garden(area_m2: float) -> bool:
    return area_m2 <= GARDEN_UP_TO_M2


@lru_cache(maxsize=512)
def _scale(unit: str, shown_unit: str) -> tuple[float, str]:
    """How many of the shown unit make one, and how that unit is written."""
    return 1 / factor(shown_unit, unit), shown_unit.replace("m2", "m²").replace("ft2", "ft²").replace("yd2", "yd²")


def in_unit(value: float, unit: str, shown_unit: str, digits: int) -> str:
    scale, spoken = _scale(unit, shown_unit)
    return f"{number(value * scale, digits)} {spoken}"


def mass(kg: float, system: str, digits: int = 2) -> str:
    """A mass in the unit a person would weigh it in.

    >>> mass(0.18, "metric"), mass(4.13, "metric"), mass(4.13, "us"), mass(3900, "metric", 3)
    ('180 g', '4.1 kg', '9.1 lb', '3.9 t')
    """
    if system == "us":
        lb = kg * _scale("kg", "lb")[0]
        unit = "oz" if lb < 1 else "ton" if lb >= 4000 else "lb"
    else:
        unit = "g" if kg < 1 else "t" if kg >= 1500 else "kg"
    return in_unit(kg, "kg", unit, digits)


def dose_digits(area_m2: float) -> int:
    """Digits that a dose deserves: two in a garden, three on a field. Source: own-experience.

    Area in m2.

    >>> dose_digits(18.0), dose_digits(14000.0)
    (2, 3)
    """
    return 2 if is_garden(area_m2) else 3


def dose(kg: float, system: str, area_m2: float) -> str:
    """A dose for ground of that size [kg, m2], alike wherever it is told.

    >>> dose(0.609, "metric", 18.0), dose(355.4, "metric", 14000.0)
    ('610 g', '355 kg')
    """
    return mass(kg, system, dose_digits(area_m2))


def rate(kg_per_ha: float, system: str, area_m2: float) -> str:
    """A rate by the habit of the ground: per m² or 100 ft² in a garden, per hectare or acre in a field.

    >>> rate(2280.0, "metric", 18.0), rate(2280.0, "us", 18.0), rate(120.0, "us", 14000.0)
    ('230 g/m²', '4.7 lb/100 ft²', '107 lb/acre')
    >>> rate(5000.0, "uk", 14000.0), rate(250.0, "uk", 14000.0)
    ('2.02 t/acre', '101 kg/acre')
    """
    if is_garden(area_m2):
        return in_unit(kg_per_ha, "kg/ha", "lb/100 ft2" if system == "us" else "g/m2", 2)
    if system == "us":
        return in_unit(kg_per_ha, "kg/ha", "ton/acre" if kg_per_ha >= 4000 else "lb/acre", 3)
    if system == "uk":
        return in_unit(kg_per_ha, "kg/ha", "t/acre" if kg_per_ha >= 1500 else "kg/acre", 3)
    return in_unit(kg_per_ha, "kg/ha", "t/ha" if kg_per_ha >= 1500 else "kg/ha", 3)


def nutrient_rate(kg_per_ha: float, system: str, area_m2: float) -> str:
    """A rate of a nutrient: in units an acre (1.12 lb or 0.508 kg each) where farmers count so, else as any rate.

    >>> nutrient_rate(150.0, "uk", 14000.0), nutrient_rate(150.0, "metric", 14000.0)
    ('119 units/acre', '150 kg/ha')
    """
    if system == "uk" and not is_garden(area_m2):
        return f"{number(kg_per_ha / KG_PER_HA_OF_A_UNIT, 3)} units/acre"
    return rate(kg_per_ha, system, area_m2)


def pot_rate(kg_per_ha: float, system: str, area_m2: float, litres: float) -> str:
    """A rate on pots: by the litre of mix, as pots are fed.

    >>> pot_rate(3750.0, "metric", 0.08, 20.0), pot_rate(3750.0, "us", 0.08, 20.0)
    ('1.5 g/L of mix', '0.2 oz/gal of mix')
    """
    grams = kg_per_ha * area_m2 / 10 / litres
    if system == "us":
        return f"{number(grams * _GAL_PER_OZ, 2)} oz/gal of mix"
    return f"{number(grams, 2)} g/L of mix" if grams >= 0.1 else f"{number(grams * 1000, 2)} mg/L of mix"


def litres_of_mix(litres: float, system: str) -> str:
    return f"{in_unit(litres, 'L', 'gal' if system == 'us' else 'L', 3)} of mix"


def liquid(kg: float, density_g_per_ml: float, system: str) -> str:
    """A liquid by the measure it is poured with.

    >>> liquid(0.0023, 1.15, "metric"), liquid(2.3, 1.15, "us")
    ('2 mL', '68 fl oz')
    """
    litres = kg / density_g_per_ml
    if system == "us":
        return in_unit(litres, "L", "fl oz" if litres < 3.785 else "gal", 2)
    return in_unit(litres, "L", "mL" if litres < 1 else "L", 2)


def area(m2: float, system: str) -> str:
    if system == "us":
        return in_unit(m2, "m2", "ft2" if is_garden(m2) else "acre", 3)
    return in_unit(m2, "m2", "m2" if is_garden(m2) else "acre" if system == "uk" else "ha", 3)


def depth(cm: float, system: str) -> str:
    return in_unit(cm, "cm", "in" if system == "us" else "cm", 2)


KG_PER_HA_OF_A_UNIT = 1.12 * 0.45359237 / 0.40468564  # a unit is 1.12 lb, a hundredth of a hundredweight
_GAL_PER_OZ = 3.785412 / 28.349523  # g/L in oz/gal
_US_FOR = {
    "kg/ha": "lb/acre",
    "t/ha": "ton/acre",
    "cm": "in",
    "m2": "ft2",
    "kg": "lb",
    "L": "gal",
    "g/m2": "lb/100 ft2",
}
_SHOWN_FOR = {"us": _US_FOR, "uk": {"kg/ha": "kg/acre", "t/ha": "t/acre"}}
_ACRE = 0.40468564  # ha
_IN_UK = {"kg N/ha": (1 / KG_PER_HA_OF_A_UNIT, "units N/acre"), "kg/ha": (_ACRE, "kg/acre"), "t/ha": (_ACRE, "t/acre")}
_WORDS_US = {"g/L": "oz/gal", "mm": "in", "m": "ft", "g": "oz", "kg/m²": "lb/100 ft2", "g/m²": "lb/100 ft2"}


def _in_us(value: float, unit: str) -> str:
    if unit == "°C":
        return warmth(value, "us")
    if unit == "kg N/ha":
        return in_unit(value, "kg/ha", "lb/acre", 2).replace("lb/", "lb N/")
    return in_unit(value, unit.replace("²", "2"), _WORDS_US.get(unit) or _US_FOR[unit], 2)


def converted(value: float, unit: str, system: str) -> str | None:
    """A measure in the reader's own unit, to two figures; None where the reader has it as it stands.

    Source: definition.

    >>> converted(15, "cm", "us"), converted(15, "cm", "uk"), converted(100, "kg N/ha", "uk")
    ('5.9 in', None, '80 units N/acre')
    """
    if system == "uk" and unit in _IN_UK:
        scale, there = _IN_UK[unit]
        return f"{number(value * scale, 2)} {there}"
    return _in_us(value, unit) if system == "us" and (unit in _US_FOR or unit in _WORDS_US or unit in ("°C", "kg N/ha")) else None


def figure(value: float | str, unit: str, system: str) -> str:
    """A figure of a working, in the reader's units; figures of laboratories (mg/kg, pH, %) are the same in both. Source: definition."""
    if isinstance(value, str):
        return value
    if unit.startswith("kg N/ha") and system == "us":
        return in_unit(value, "kg/ha", "lb/acre", 4).replace("lb/acre", "lb N/acre") + unit.removeprefix("kg N/ha")
    if unit.startswith("kg N/ha") and system == "uk":
        return in_unit(value, "kg/ha", "kg/acre", 4).replace("kg/acre", "kg N/acre") + unit.removeprefix("kg N/ha")
    shown_unit = _SHOWN_FOR.get(system, {}).get(unit, unit)
    if shown_unit != unit:
        return in_unit(value, unit, shown_unit, 4)
    spoken = "" if unit in ("", "pH", "fraction") else " " + unit.replace("m2", "m²")
    return f"{number(value, 4) if value >= 0 else '-' + number(-value, 4)}{spoken}"


def warmth(celsius: float, system: str) -> str:
    """A temperature in whole degrees.

    Source: definition.

    >>> warmth(10.0, "metric"), warmth(10.0, "us")
    ('10 °C', '50 °F')
    """
    return f"{celsius * 1.8 + 32:z.0f} °F" if system == "us" else f"{celsius:z.0f} °C"


def bulk(kg_per_litre: float, system: str) -> str:
    """What a litre or a cup of a loose material weighs.

    Source: definition.

    >>> bulk(1.2, "metric"), bulk(1.2, "us")
    ('a litre weighs 1.2 kg', 'a cup weighs 10 oz')
    """
    if system == "us":
        return f"a cup weighs {in_unit(kg_per_litre * 0.2365882, 'kg', 'oz', 2)}"
    return f"a litre weighs {number(kg_per_litre, 2)} kg"


def rainfall(mm: float, system: str) -> str:
    """Rain in mm or inches.

    Source: definition.

    >>> rainfall(12.7, "metric"), rainfall(12.7, "us")
    ('13 mm', '0.5 in')
    """
    return f"{mm / 25.4:.2g} in" if system == "us" else f"{mm:.0f} mm"


def wind(metres_a_second: float, system: str) -> str:
    """Wind in m/s or miles an hour.

    Source: definition.

    >>> wind(3.0, "metric"), wind(3.0, "us")
    ('3 m/s', '7 mph')
    """
    return f"{metres_a_second * 2.236936:.0f} mph" if system == "us" else f"{metres_a_second:.0f} m/s"


def crop_yield(t_per_ha: float, system: str) -> str:
    """A yield by the area that the reader thinks in.

    Source: definition.

    >>> crop_yield(40.0, "metric"), crop_yield(40.0, "us"), crop_yield(40.0, "uk")
    ('40 t/ha', '17.8 ton/acre', '16.2 t/acre')
    """
    return in_unit(t_per_ha, "t/ha", _SHOWN_FOR.get(system, {}).get("t/ha", "t/ha"), 3)


def money_by_area(per_ha: float, system: str) -> str:
    """Money by the hectare or the acre, without its sign of currency.

    Source: definition.

    >>> money_by_area(250.0, "metric"), money_by_area(-250.0, "us")
    ('250 a hectare', '-101 an acre')
    """
    return f"{per_ha * _ACRE:z.0f} an acre" if system in ("us", "uk") else f"{per_ha:z.0f} a hectare"
