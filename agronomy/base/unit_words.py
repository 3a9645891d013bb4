"""Which words are units here: a list of our own, for a unit library knows hundreds that mean something else to a grower.

To the library a bag is 94 lb of cement, a grade an angle and a pole a length. A word that is on neither list is no unit.
"""

import re

from agronomy.base.errors import UnknownUnit

# Words as they stand once the spoken names are shortened; prefixes are written out, so that nothing is read into a word.
_LISTED = """
kg g mg ug t dt lb oz ton short_hundredweight long_hundredweight kilogram gram grams milligram
m cm mm dm km in ft yd mi inch foot feet yard meter metre meters metres centimeter centimetre
ha acre are hectare
L mL dL cL hL litre liter gal gallon imperial_gallon qt quart pint cup tbsp tsp fluid_ounce tablespoon teaspoon
ppm percent mmol cmol mol umol meq eq mmolc cmolc
S dS mS uS
"""
WORDS = frozenset(_LISTED.split())
_BAG_MEND = "write 2 bags of 25 kg, or the weight"
_HUNDREDWEIGHT_MEND = "write 112 lb or 50 kg, or say the country first"
# Words that people write and that need something more: what is wrong, and what to type.
REFUSED = {
    **dict.fromkeys(("bag", "bags", "sack", "sacks", "tub", "tubs", "box", "boxes"), ("how much is in a bag?", _BAG_MEND)),
    **dict.fromkeys(("cwt", "hundredweight"), ("a hundredweight is 112 lb in some countries and 100 lb in others", _HUNDREDWEIGHT_MEND)),
    **dict.fromkeys(
        ("bu", "bushel", "bushels"), ("a bushel weighs another amount with each crop", "write the yield by weight, such as 8 t/ha")
    ),
    **dict.fromkeys(("barrow", "barrows", "wheelbarrow", "bucket", "buckets"), ("how much does it hold?", "write litres or kilograms")),
}
_WORD = re.compile(r"[^\W\d]+", re.UNICODE)
_HUNDREDWEIGHTS = re.compile(r"\b(?:cwts?|hundredweights?)\b", re.IGNORECASE)
SHORT_IN = frozenset({"US", "CA", "MX", "PH", "LR"})
LONG_IN = frozenset({"GB", "IE", "AU", "NZ", "ZA", "ZW", "KE", "UG", "TZ", "ZM", "MW", "JM", "TT", "IN", "LK"})


def check_words(shortened: str, unit: str, field: str) -> None:
    """Raises UnknownUnit for a unit that is made of words we don't take; for some it says what to type. Source: definition.

    >>> check_words("kg/ha", "kg/ha", "unit")
    >>> check_words("bag", "bag", "amount")
    Traceback (most recent call last):
        ...
    agronomy.base.errors.UnknownUnit: amount: how much is in a bag?; write 2 bags of 25 kg, or the weight
    """
    for word in _WORD.findall(shortened):
        if word.lower() in REFUSED and word not in WORDS:
            problem, mend = REFUSED[word.lower()]
            raise UnknownUnit(field, unit, problem, mend)
        if word not in WORDS:
            raise KeyError(word)


def in_country(typed: object, country: str | None, units: str) -> object:
    """A typed amount with its hundredweights as the country has them; without a country the units tell, and metric ones leave it open.

    Source: definition.

    >>> in_country("3 cwt/acre", "GB", "metric"), in_country("3 cwt/acre", None, "us"), in_country("3 cwt", None, "metric")
    ('3 long_hundredweight/acre', '3 short_hundredweight/acre', '3 cwt')
    """
    if not isinstance(typed, str):
        return typed
    is_short = country in SHORT_IN or (country not in LONG_IN and units == "us")
    is_long = country in LONG_IN or (country not in SHORT_IN and units == "uk")
    if not (is_short or is_long):
        return typed
    return _HUNDREDWEIGHTS.sub("short_hundredweight" if is_short else "long_hundredweight", typed)
