"""Units in other scripts ("мг/кг", "毫克/千克", "ملغ/كغ", "מ"ג/ק"ג"), told in the letters in which the tables know them."""

import re
from functools import lru_cache

from agronomy.tables import load_tables


@lru_cache(maxsize=1)
def _words() -> tuple[dict[str, str], re.Pattern[str], dict[str, str]]:
    """The letters of units that are words of their own and a pattern that finds them; those of units written without spaces."""
    rows = sorted(load_tables().labfile.unit_scripts.values(), key=lambda row: len(row.spelling), reverse=True)
    words: dict[str, str] = {row.spelling.lower(): row.letters for row in rows if row.is_word}
    pattern = r"(?<![^\W\d_])(" + "|".join(re.escape(word) for word in words) + r")(?![^\W\d_])"
    return words, re.compile(pattern, re.IGNORECASE), {row.spelling: row.letters for row in rows if not row.is_word}


@lru_cache(maxsize=4096)
def in_latin(text: str) -> str:
    """A text with its units in Latin letters; the rest of it stays. Source: definition.

    >>> in_latin("мг/кг"), in_latin("Фосфор, мг/100 г"), in_latin("毫克/千克"), in_latin("mg/kg")
    ('mg/kg', 'Фосфор, mg/100 g', 'mg/kg', 'mg/kg')
    """
    if text.isascii():
        return text
    words, pattern, run_together = _words()
    text = pattern.sub(lambda found: words[found.group(1).lower()], text)
    for word, letters in run_together.items():
        text = text.replace(word, letters)
    return text
