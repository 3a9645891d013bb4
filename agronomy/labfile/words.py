"""What words in a laboratory's file mean: names of analytes, units and methods, in four languages."""

import re
import unicodedata
from dataclasses import dataclass
from functools import lru_cache

from agronomy.tables import Tables

# Units as laboratories spell them, squeezed (small letters, no spaces), and as the house writes them.
_UNITS = {
    "mg/kg": "mg/kg",
    "mgkg-1": "mg/kg",
    "mg.kg-1": "mg/kg",
    "mg*kg-1": "mg/kg",
    "ppm": "ppm",
    "ug/g": "mg/kg",
    "mg/l": "mg/L",
    "mg/dm3": "mg/L",
    "g/m3": "mg/L",
    "mg/100g": "mg/100 g",
    "mg/100gboden": "mg/100 g",
    "lb/a": "lb/acre",
    "lb/ac": "lb/acre",
    "lbs/a": "lb/acre",
    "lbs/ac": "lb/acre",
    "lbs/acre": "lb/acre",
    "lb/acre": "lb/acre",
    "#/a": "lb/acre",
    "#/acre": "lb/acre",
    "kg/ha": "kg/ha",
    "t/ha": "t/ha",
    "dt/hacao": "dt/ha CaO",
    "ton/acre": "ton/acre",
    "tons/acre": "ton/acre",
    "tons/a": "ton/acre",
    "t/ac": "ton/acre",
    "lb/1000ft2": "lb/1000 ft2",
    "lb/1000sqft": "lb/1000 ft2",
    "meq/100g": "meq/100 g",
    "me/100g": "meq/100 g",
    "cmol/kg": "cmol/kg",
    "cmolc/kg": "cmol/kg",
    "cmol+/kg": "cmol/kg",
    "cmol(+)/kg": "cmol/kg",
    "cmol(c)/kg": "cmol/kg",
    "mmol/kg": "mmol/kg",
    "mmolc/kg": "mmol/kg",
    "%": "%",
    "percent": "%",
    "g/100g": "%",
    "g/kg": "g/kg",
    "ds/m": "dS/m",
    "ms/cm": "mS/cm",
    "mmho/cm": "mS/cm",
    "mmhos/cm": "mS/cm",
    "us/cm": "uS/cm",
    "meq/l": "meq/L",
    "me/l": "meq/L",
    "mmol/l": "mmol/L",
    "mg/lcaco3": "mg/L CaCO3",
    "mgcaco3/l": "mg/L CaCO3",
    "ppmcaco3": "mg/L CaCO3",
    "mg/lhco3": "mg/L HCO3",
    "dh": "°dH",
    "°dh": "°dH",
    "fh": "°fH",
    "°fh": "°fH",
    "°f": "°fH",
    "gpg": "gpg",
    "kg/t": "kg/t",
    "mg/kgp2o5": "mg/kg P2O5",
    "mg/kgk2o": "mg/kg K2O",
    "mg/100gp2o5": "mg/100 g P2O5",
    "mg/100gk2o": "mg/100 g K2O",
    "s.u.": "pH",
    "su": "pH",
    "phunits": "pH",
    "mgp2o5/100g": "mg/100 g P2O5",
    "mgk2o/100g": "mg/100 g K2O",
    "mgp/kg": "mg/kg",
    "mgk/kg": "mg/kg",
    "%caco3": "% CaCO3",
    "%cao": "% CaO",
}
_UNIT_PATTERN = re.compile(
    r"(?<![a-z0-9])("
    + "|".join(sorted((re.escape(unit) for unit in _UNITS if unit not in ("%", "su", "dh", "fh")), key=len, reverse=True))
    + r")(?![a-z0-9])"
)


_OXIDES = {"p2o5": "P2O5", "k2o": "K2O", "cao": "CaO", "mgo": "MgO"}


@dataclass(frozen=True, slots=True)
class Heading:
    """What a column's heading says: analyte, whether as oxide, unit and method (each None where it does not say)."""

    analyte: str | None
    oxide: bool
    unit: str | None
    method: str | None


@lru_cache(maxsize=8192)
def plain(text: str) -> str:
    """Small letters without accents and signs, for looking up.

    >>> plain("Matière  organique (%)"), plain("NO₃-N")
    ('matiere organique', 'no3 n')
    """
    text = unicodedata.normalize("NFKD", text.replace("ß", "ss").replace("ø", "o")).lower()
    text = "".join(character for character in text if not unicodedata.combining(character))
    return re.sub(r"[^a-z0-9]+", " ", text).strip()


def _squeezed(text: str) -> str:
    text = unicodedata.normalize("NFKC", text).replace("µ", "u").replace("μ", "u").replace("−", "-").replace("⁻¹", "-1").lower()
    return re.sub(r"[\s_]+", "", text)


@lru_cache(maxsize=4096)
def unit_in(text: str) -> str | None:
    """The unit that a text names, alone or among other words; None where it names none.

    >>> unit_in("mg/100g"), unit_in("Kalium [mg / kg]"), unit_in("P_ppm"), unit_in("humus %")
    ('mg/100 g', 'mg/kg', 'ppm', '%')
    """
    squeezed = _squeezed(text)
    if squeezed in _UNITS:
        return _UNITS[squeezed]
    loose = re.sub(r"\s*/\s*", "/", unicodedata.normalize("NFKC", text).replace("μ", "u").replace("µ", "u").lower())
    loose = re.sub(r"/\s*(\d+)\s+(?=[a-z])", r"/\1", loose).replace("_", " ")
    found = _UNIT_PATTERN.search(loose)
    if found:
        unit = _UNITS[found.group(1)]
        oxide = re.search(r"(?<![a-z0-9])(p2o5|k2o|cao|mgo)(?![a-z0-9])", loose)
        return f"{unit} {_OXIDES[oxide.group(1)]}" if oxide and unit in ("mg/kg", "mg/100 g") else unit
    return "%" if "%" in text else None


class Lexicon:
    """The names of the tables, ready for looking up in one medium (soil, water, leaf or material)."""

    def __init__(self, tables: Tables, medium: str):
        self.tables, self.medium = tables, medium
        self.names = {name: (row.analyte, row.oxide) for row in tables.labfile.names if row.medium == medium for name in row.names}
        self.names |= {
            plain(row.name): (key, False)
            for key, row in tables.analytes.items()
            if row.medium == medium and plain(row.name) not in self.names
        }
        self.methods = [(name, row.method, set(row.analytes)) for row in tables.readings.extractants for name in row.names]
        self.methods.sort(key=lambda item: -len(item[0]))
        self.words = {
            kind: frozenset(plain(word) if kind not in ("nothing", "not_detected", "trace") else word for word in words)
            for kind, words in tables.labfile.words
        }
        self._kept: dict[str, Heading] = {}

    def heading(self, text: str) -> Heading:
        """What a heading says; an empty Heading for one that names no analyte."""
        if text not in self._kept:
            self._kept[text] = self._heading(text)
        return self._kept[text]

    def _heading(self, text: str) -> Heading:
        if not text or len(text) > 80:
            return Heading(None, False, None, None)
        unit = unit_in(text)
        bare = plain(re.sub(r"[\[(].*?[\])]", " ", text))
        bare = self._without_unit(bare)
        # the longest run of words that is a name; what is left over may be a method
        for candidate in (self._without_unit(plain(text)), bare):
            found = self._name_in(candidate)
            if found:
                (analyte, oxide), rest = found
                method = self.method(f"{rest} {candidate}", analyte) or self.method(plain(text), analyte)
                return Heading(analyte, oxide, unit, method)
        return Heading(None, False, unit, None)

    def _without_unit(self, text: str) -> str:
        for unit in (
            "mg kg",
            "mg l",
            "mg 100 g",
            "mg 100g",
            "lb acre",
            "lbs acre",
            "lb a",
            "lb ac",
            "lbs a",
            "lbs ac",
            "kg ha",
            "meq 100 g",
            "meq 100g",
            "me 100g",
            "cmol kg",
            "cmolc kg",
            "mmol kg",
            "g kg",
            "ppm",
            "ds m",
            "ms cm",
            "us cm",
            "mmhos cm",
            "t ha",
            "mg dm3",
            "mmol l",
            "meq l",
            "dt ha cao",
            "caco3 l",
        ):
            if text != unit and (text.endswith(" " + unit) or text.startswith(unit + " ") or f" {unit} " in text):
                text = re.sub(rf"(?<![a-z0-9]){unit}(?![a-z0-9])", " ", text)
        return re.sub(r"\s+", " ", text).strip()

    def _name_in(self, text: str):
        if text in self.names:
            return self.names[text], ""
        words = text.split(" ")
        if len(words) > 7:
            return None
        # a name with a method beside it, such as "p olsen" or "mehlich 3 phosphorus", and nothing else
        for length in range(len(words) - 1, 0, -1):
            for start in (0, len(words) - length):
                name, rest = " ".join(words[start : start + length]), " ".join(words[:start] + words[start + length :])
                if name not in self.names:
                    continue
                analyte, oxide = self.names[name]
                if self._is_method(rest) or rest in _FILLERS or rest.isdigit() or self.names.get(rest, ("", None))[0] == analyte:
                    return (analyte, oxide or self.names.get(rest, ("", False))[1]), rest
                if re.fullmatch(r"(as |als |en |como )?(p2o5|k2o|cao|mgo)", rest):
                    return (analyte, True), rest
        return None

    def _is_method(self, text: str) -> bool:
        return any(text == name for name, _, _ in self.methods) or text in (
            "cal",
            "dl",
            "al",
            "extractable",
            "available",
            "total",
            "icp",
            "joret hebert",
            "dyer",
        )

    def method(self, text: str, analyte: str) -> str | None:
        """The method for an analyte that a text names."""
        padded = f" {plain(text)} "
        for name, method, analytes in self.methods:
            if analyte in analytes and f" {name} " in padded and name != plain(analyte):
                return method
        return None

    def is_a(self, kind: str, text: str) -> bool:
        """Whether a cell is one of the words of a kind (sample, date, unit, nothing, ...)."""
        return (text.strip().lower() if kind in ("nothing", "not_detected", "trace") else plain(text)) in self.words[kind]


_FILLERS = {
    "",
    "soil",
    "boden",
    "sol",
    "suelo",
    "extractable",
    "available",
    "exchangeable",
    "result",
    "value",
    "level",
    "test",
    "content",
    "gehalt",
    "as",
    "total",
    "ppm",
    "pflanzenverfugbar",
    "mineral",
    "assimilable",
}
