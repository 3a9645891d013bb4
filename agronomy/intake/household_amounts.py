"""Amounts as people say them: bags, all of it or a kilogram, cubic metres of slurry."""

import re

from agronomy.base.errors import NotANumber, OutOfRange
from agronomy.base.numbers import parse_number
from agronomy.base.quantities import parse_quantity
from agronomy.intake.prices import FREE, price_per_kg

_BAGS = re.compile(r"([\d.,½¼¾/ ]+?|an?|one|two|three|four|five) ?(?:big )?(?:bags?|sacks?|tubs?|boxes|box) ?(?:of (.+))?", re.IGNORECASE)
_FOR_ALL = re.compile(r"(.+?) ?(?:for )?(?:all(?: of it)?|in all|total|together|the lot)", re.IGNORECASE)
_A_BAG = re.compile(r" ?(?:/|\b(?:per|an?|each)) ?(?:bag|sack|tub|box)?$", re.IGNORECASE)
_VOLUME_RATE = re.compile(r"([\d.,]+) ?(m3|m³|gal|gallons?|L|litres?|liters?) ?(?:/|per|an?)? ?(ha|acre|hectare)?", re.IGNORECASE)
_NUMBERS = {"a": 1, "an": 1, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5}
LONGEST = 120  # letters of an amount as somebody says it
M2_IN = {"ha": 10_000.0, "hectare": 10_000.0, "acre": 4046.8564}


def _evenly_spaced(typed: str) -> str:
    return " ".join(typed[:LONGEST].split())


def is_in_bags(typed: str) -> bool:
    """Whether an amount is told in bags.

    Source: definition.

    >>> is_in_bags("2 bags"), is_in_bags("50 kg")
    (True, False)
    """
    return _BAGS.fullmatch(_evenly_spaced(typed)) is not None


def kg_in_bags(typed: str, bag_kg: float | None, field: str, *, unit: str = "kg") -> float:
    """Kilograms of "2 bags" or "3 bags of 25 kg"; raises NotANumber where nobody knows how large a bag is. Source: definition.

    >>> kg_in_bags("2 bags", 25.0, "amount"), kg_in_bags("3 bags of 20 kg", None, "amount")
    (50.0, 60.0)
    """
    match = _BAGS.fullmatch(_evenly_spaced(typed))
    if match is None:
        raise NotANumber(field, typed[:40], f"“{typed[:40]}” is no number of bags", "write 2 bags, or 50 kg")
    told = match[1].strip().lower()
    count = float(_NUMBERS[told]) if told in _NUMBERS else parse_number(told, field)
    size = parse_quantity(match[2], "mass", field, unit=unit) if match[2] else bag_kg
    if size is None:
        mend = "give the size of a bag, or write 2 bags of 25 kg"
        raise NotANumber(field, typed[:40], f"how much is in a bag of “{typed[:40]}”?", mend)
    return count * size


def price_as_said(typed: str, kg: float | None, bag_kg: float | None, field: str) -> float:
    """Price per kilogram from "30 for all", "14.50 a bag", "14.50 per 25 kg" or "free".

    Raises NotANumber for a bare number, which may be for all of it or for a kilogram, and where amount or size of bag are wanted.
    Source: definition.

    >>> price_as_said("30 for all", 60.0, None, "price"), price_as_said("15 a bag", None, 25.0, "price")
    (0.5, 0.6)
    """
    text = _evenly_spaced(typed)
    if text.lower() in FREE:
        return 0.0
    for_all = _FOR_ALL.fullmatch(text)
    if for_all:
        if not kg:
            raise NotANumber(field, text[:40], "how much is all of it?", "give the amount first")
        return price_per_kg(f"{for_all[1]} per {kg!r} kg", field)
    if re.search(r"(bag|sack|tub|box|each)$", text, re.IGNORECASE):
        a_bag = _A_BAG.search(text)
        if bag_kg is None:
            raise NotANumber(field, text[:40], "how much is in a bag?", "give the size of a bag, or a price per 25 kg")
        return price_per_kg(f"{text[: a_bag.start()] if a_bag else text} per {bag_kg!r} kg", field)
    if re.fullmatch(r"-?[\d.,\s]+", text) and parse_number(text, field) > 0 and kg != 1.0:
        raise NotANumber(field, text[:40], f"is {text[:20]} for all of it, or for a kilogram?", f"write {text} for all, or {text} per kg")
    return price_per_kg(text, field)


def is_by_volume(typed: str) -> bool:
    """Whether a rate of manure is told by volume.

    Source: definition.

    >>> is_by_volume("30 m3/ha"), is_by_volume("30 t/ha")
    (True, False)
    """
    return _VOLUME_RATE.fullmatch(_evenly_spaced(typed)) is not None


def t_per_ha_by_volume(typed: str, kg_per_l: float, field: str) -> float:
    """Tonnes a hectare of "30 m3/ha" or "3000 gal/acre", by the weight of a litre [kg/L]. Source: definition.

    >>> round(t_per_ha_by_volume("30 m3/ha", 1.02, "rate"), 2)
    30.6
    """
    match = _VOLUME_RATE.fullmatch(_evenly_spaced(typed))
    if match is None or not match[3]:
        raise NotANumber(field, typed[:40], f"“{typed[:40]}” says no area", "write it as 30 m3/ha or 3000 gal/acre")
    unit = {"m³": "m3"}.get(match[2].lower(), match[2].lower())
    unit = "gal" if unit.startswith("gal") else "L" if unit in ("l", "litre", "litres", "liter", "liters") else unit
    litres = parse_quantity(f"{match[1]} {unit}", "volume", field)
    rate = litres * kg_per_l / M2_IN[match[3].lower()] * 10_000 / 1000
    if not 0.01 <= rate <= 300:
        raise OutOfRange(field, typed[:40], f"{rate:g} t/ha is outside 0.01 to 300 t/ha", "check the number and its unit")
    return rate
