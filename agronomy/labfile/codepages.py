"""Which code page an old file was written in: told by the whole words of headings in the languages known, not by letters alone."""

import re
import unicodedata
from collections import Counter
from functools import lru_cache

from agronomy.tables import load_tables

CANDIDATES = (
    *("cp1252", "cp1250", "cp1251", "cp1253", "cp1254", "cp1255", "cp1256", "cp1257", "mac_roman", "cp850", "iso8859_2", "koi8_r"),
    *("gb18030", "shift_jis", "big5", "euc_jp"),
)
COMMON = frozenset("éèüöäñçåøæáíóúãõêôßłśżźćęąńřčšžýěůőűăâîșțşğıëïà")  # letters that names are mostly written with
_WORD = re.compile(r"[^\W\d_]+")
_SIGN_WITHIN = re.compile(r"(?<=[^\W\d_])[±¤§¶†‡¬¦°│┤╡║╗╝┐└┴┬├─┼╚╔╩╦╠═╬█▄▌▐▀](?=[^\W\d_])")
_OF_FIGURES = "±°×"  # laboratories write these beside figures
SIGNS = ("µs", "mg/dm³", "cmolc/dm³", "g/dm³", "°f", "°d", "±", "échantillon")


@lru_cache(maxsize=1)
def _known() -> frozenset[str]:
    """Words of headings that hold a letter beyond ASCII, in small letters."""
    tables = load_tables().labfile
    texts = [row.heading for row in tables.headings] + [
        word for _, words in tables.words if isinstance(words, tuple) for word in map(str, words)
    ]
    return frozenset(word for text in texts for word in _WORD.findall(text.lower()) if not word.isascii() and len(word) > 1)


def code_page(content: bytes, first: str) -> str:
    """The code page whose reading makes most known words of a sample of the file; `first` where none does better. Source: definition.

    >>> code_page("Échantillon;Matière organique".encode("mac_roman"), "cp1252")
    'mac_roman'
    """
    scores: dict[str, float] = {}
    for encoding in dict.fromkeys((first, *CANDIDATES)):
        try:
            text = content.decode(encoding)
        except (UnicodeDecodeError, LookupError):
            continue
        scores[encoding] = _score(text.lower())
    usual = _usual_page(content)
    return max(scores, key=lambda encoding: (scores[encoding], encoding == usual, encoding == first), default=first)


def _usual_page(content: bytes) -> str:
    """The page that files of this language are mostly written in, by words of theirs without accents; else the western one."""
    words = Counter(word.decode("ascii") for word in re.findall(rb"[a-z]{3,}", content.lower()))
    told = {row.page: sum(min(words[word], 3) for word in row.words) for row in load_tables().labfile.words.code_pages}
    best = max(told, key=lambda page: told[page])
    return best if told[best] > 1 else "cp1252"


def _score(text: str) -> float:
    words = Counter(_WORD.findall(text))
    known = sum(min(count, 5) for word, count in words.items() if word in _known())
    within = len(_SIGN_WITHIN.findall(text))  # no word has a sign between its letters
    signs = sum(text.count(sign) > 0 for sign in SIGNS) if not within else 0
    strange = sum(
        not sign.isascii() and sign not in _OF_FIGURES and unicodedata.category(sign) in ("So", "Sm", "Cn", "Co", "Cc", "Sk")
        for sign in text
    )
    mixed = sum(not _one_script(word) for word in words if not word.isascii())
    common = sum(sign in COMMON for sign in text) / max(1, sum(not sign.isascii() and sign.isalpha() for sign in text))
    return 3.0 * known + signs - 0.3 * strange - within - mixed + 0.5 * common


def _one_script(word: str) -> bool:
    """Whether the letters of a word are all of one script, as words are."""
    return len({unicodedata.name(letter, "?").partition(" ")[0] for letter in word if letter.isalpha()}) <= 1
