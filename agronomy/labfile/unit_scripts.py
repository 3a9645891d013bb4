"""Units in other scripts ("мг/кг", "毫克/千克", "ملغ/كغ", "מ"ג/ק"ג"), told in the letters in which the tables know them."""

import re
from functools import lru_cache

_EDGE = r"(?<![^\W\d_]){}(?![^\W\d_])"
_CYRILLIC = {
    "мг-экв": "meq",
    "мг-екв": "meq",
    "мгэкв": "meq",
    "мэкв": "meq",
    "мекв": "meq",
    "ммоль": "mmol",
    "смоль": "cmol",
    "моль": "mol",
    "мкСм": "uS",
    "мСм": "mS",
    "дСм": "dS",
    "мкг": "ug",
    "мг": "mg",
    "кг": "kg",
    "г": "g",
    "дм3": "dm3",
    "дм³": "dm3",
    "дм": "dm",
    "см": "cm",
    "мл": "ml",
    "л": "l",
    "га": "ha",
    "т": "t",
    "м": "m",
    "млн-1": "ppm",
    "млн⁻¹": "ppm",
}
_CHINESE: tuple[tuple[str, str], ...] = (
    ("毫克当量", "meq"),
    ("厘摩尔", "cmol"),
    ("毫摩尔", "mmol"),
    ("微克", "ug"),
    ("毫克", "mg"),
    ("千克", "kg"),
    ("公斤", "kg"),
)
_CHINESE += (
    ("毫升", "ml"),
    ("克", "g"),
    ("升", "l"),
    ("公顷", "ha"),
    ("ミリグラム", "mg"),
    ("キログラム", "kg"),
    ("グラム", "g"),
    ("リットル", "l"),
)
_HEBREW: tuple[tuple[str, str], ...] = (
    ("חל״מ", "ppm"),
    ('חל"מ', "ppm"),
    ("מ״ג", "mg"),
    ('מ"ג', "mg"),
    ("ק״ג", "kg"),
    ('ק"ג', "kg"),
    ("ליטר", "l"),
    ("גרם", "g"),
)
_HEBREW += (("מא״ק", "meq"), ('מא"ק', "meq"), ("מאק", "meq"), ("מגה", "mg"))
_ARABIC: tuple[tuple[str, str], ...] = (
    ("جزء في المليون", "ppm"),
    ("ميلي مكافئ", "meq"),
    ("مليمكافئ", "meq"),
    ("ملي مكافئ", "meq"),
    ("سنتيمول", "cmol"),
    ("ملغم", "mg"),
)
_ARABIC += (("ملليغرام", "mg"), ("ملجم", "mg"), ("ملغ", "mg"), ("مجم", "mg"), ("كغم", "kg"), ("كجم", "kg"), ("كغ", "kg"), ("لتر", "l"))
_ARABIC += (("غرام", "g"), ("جرام", "g"), ("غم", "g"), ("جم", "g"), ("ديسيسيمنز", "dS"), ("متر", "m"), ("هكتار", "ha"))
_LETTERED = dict((*_HEBREW, *_ARABIC))
_WORDS = re.compile(_EDGE.format("(" + "|".join(re.escape(word) for word in sorted(_CYRILLIC, key=len, reverse=True)) + ")"), re.IGNORECASE)
_BY_SMALL = {word.lower(): unit for word, unit in _CYRILLIC.items()}
_WHOLE = re.compile(_EDGE.format("(" + "|".join(re.escape(word) for word in sorted(_LETTERED, key=len, reverse=True)) + ")"))


@lru_cache(maxsize=4096)
def in_latin(text: str) -> str:
    """A text with its units in Latin letters; the rest of it stays. Source: definition.

    >>> in_latin("мг/кг"), in_latin("Фосфор, мг/100 г"), in_latin("毫克/千克"), in_latin("mg/kg")
    ('mg/kg', 'Фосфор, mg/100 g', 'mg/kg', 'mg/kg')
    """
    if text.isascii():
        return text
    text = _WORDS.sub(lambda found: _BY_SMALL[found.group(1).lower()], text)
    text = _WHOLE.sub(lambda found: _LETTERED[found.group(1)], text)
    for word, unit in _CHINESE:
        if word in text:
            text = text.replace(word, unit)
    return text
