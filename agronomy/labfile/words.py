"""What words in a laboratory's file mean: headings with analyte, unit and method, and the words that stand for numbers."""

import re
import unicodedata
from dataclasses import replace
from functools import lru_cache

from agronomy.base.record import record
from agronomy.labfile.unit_scripts import in_latin
from agronomy.tables import Tables, load_tables
from agronomy.tables.rooms.labfile import ADMIN, LabHeading

_LETTERS = str.maketrans(
    {"ß": "ss", "ø": "o", "Ø": "O", "ı": "i", "đ": "d", "Đ": "D", "ł": "l", "Ł": "L", "æ": "ae", "µ": "u", "μ": "u", "−": "-"}
)
_OXIDES = {"p2o5": "P2O5", "k2o": "K2O", "cao": "CaO", "mgo": "MgO"}
_IONS = {"ion NO3": "NO3", "ion NH4": "NH4", "ion SO4": "SO4", "oxide SO3": "SO3", "oxide Na2O": "Na2O", "ion HCO3": "HCO3"}
_NOT_ALONE = frozenset({"%", "su", "dh", "fh", "g/l", "t/a"})  # too short to be looked for inside other words
LONGEST_HEADING = 80
LONGEST_ADMIN = 40  # a longer text is a sentence, whatever words it holds
_AMOUNT = re.compile(
    r"\s*+[<>]?\s*+\d[\d.,]*+\s*+(?:mg|g|kg|cmol|meq|me|mmol|mmolc|ppm|ds|us|ms|lb|lbs|t|%)(?![a-z])", re.IGNORECASE
)  # a result, no heading
_CUT_NUMBER = re.compile(r"[^\d\s]\s*+[:=]\s*+[<>]?\s*+\d+$")  # "Humus: 3" was cut from "Humus: 3,4 %" by its decimal comma
_FOOTNOTE = re.compile(r"[\[(][a-z*†‡]{1,2}[\])]")  # "Magnesium [c]"
_FOOTNOTE_WITHIN = re.compile(r"\[[a-z]\]")  # "P [b] (mg/kg)": a mark, no boron
_BRACKETED = re.compile(r"[(\[]([^()\[\]]{1,12})[)\]]")
# words beside a sample's rows that say something else over a column: its verdict, its unit, its way
_SAID_OTHERWISE = frozenset(
    word
    for words in (
        "rating status interpretation level unit units method einheit methode bewertung unite interpretation unidad metodo interpretacion",
        "unita giudizio unidade eenheid waardering enhet metod bedomning enhed metode vurdering jednostka metoda ocena jednotka hodnoceni",
        "mertekegyseg modszer ertekeles unitate metoda interpretare birim metot yontem yorum control kontrolle kontroll kontrol controle",
        "index media mean average blank range limit gehaltsklasse referentie norma medel moyenne temoin controllo replica medie martor",
    )
    for word in words.split()
)


PREFIXES = {"leaf": "leaf ", "water": "water ", "material": "label "}  # of an analyte's key, by the medium


def _bare_analyte(key: str) -> str:
    """An analyte's key without its medium.

    >>> _bare_analyte("water Na"), _bare_analyte("P")
    ('Na', 'P')
    """
    return next((key.removeprefix(prefix) for prefix in PREFIXES.values() if key.startswith(prefix)), key)


@record(kw_only=True)
class Heading:
    """What a heading says. `kind` is one of the table's; "" where it names nothing we know.

    `unit` and `method` only where the heading states them; `usual_unit` is what such a column mostly has, good for a question only.
    `meanings` holds the analytes that it may mean where it may mean several.
    """

    analyte: str | None = None
    about: str = ""
    kind: str = ""
    form: str = ""
    unit: str | None = None
    usual_unit: str | None = None
    method: str | None = None
    meanings: tuple[str, ...] = ()

    @property
    def oxide(self) -> bool:
        return self.form in ("oxide P2O5", "oxide K2O", "oxide CaO", "oxide MgO")

    @property
    def ion(self) -> str | None:
        """The ion or oxide that has a unit of its own ("mg/kg NO3")."""
        return _IONS.get(self.form)


@lru_cache(maxsize=8192)
def plain(text: str) -> str:
    """Small letters without accents and signs, for looking up.

    >>> plain("Matière  organique (%)"), plain("NO₃-N")
    ('matiere organique', 'no3 n')
    """
    return re.sub(r"[\W_]+", " ", _bare(text)).strip()


@lru_cache(maxsize=8192)
def heading_key(text: str) -> str:
    """As `plain`, but with the signs that tell headings apart.

    >>> heading_key("% K (sat.)"), heading_key("H+Al")
    ('% k sat', 'h+al')
    """
    return re.sub(r"[^\w%+<:]+|_+", " ", _bare(text)).strip()


def _bare(text: str) -> str:
    text = unicodedata.normalize("NFKD", text.translate(_LETTERS)).lower().translate(_LETTERS)  # a capital Greek letter is small only now
    return "".join(character for character in text if not unicodedata.combining(character))


def _squeezed(text: str) -> str:
    text = unicodedata.normalize("NFKC", text).translate(_LETTERS).replace("⁻¹", "-1").lower()
    return re.sub(r"[\s_]+", "", text)


@lru_cache(maxsize=1)
def _spellings() -> tuple[dict[str, str], re.Pattern]:
    units = {key: row.unit for key, row in load_tables().labfile.units.items()}
    found = sorted((re.escape(unit) for unit in units if unit not in _NOT_ALONE), key=len, reverse=True)
    return units, re.compile(r"(?<![a-z0-9])(" + "|".join(found) + r")(?![a-z0-9])")


@lru_cache(maxsize=4096)
def unit_in(text: str) -> str | None:
    """The unit that a text names, alone or among other words; None where it names none.

    >>> unit_in("mg/100g"), unit_in("Kalium [mg / kg]"), unit_in("P_ppm"), unit_in("humus %")
    ('mg/100 g', 'mg/kg', 'ppm', '%')
    """
    units, _ = _spellings()
    text = in_latin(text)
    squeezed = _squeezed(text).strip("()[]")
    if squeezed in units:
        return units[squeezed]
    found = _unit_span(text)
    if found is None:
        return "%" if "%" in text else None
    unit, _, loose = found
    oxide = re.search(r"(?<![a-z0-9])(p2o5|k2o|cao|mgo)(?![a-z0-9])", loose)
    if not oxide or unit not in ("mg/kg", "ppm", "mg/100 g", "g/kg"):
        return unit
    return f"{'mg/kg' if unit == 'ppm' else unit} {_OXIDES[oxide.group(1)]}"


def _unit_span(text: str) -> tuple[str, tuple[int, int], str] | None:
    """A unit among other words, where it stands, and the text that it stands in."""
    units, pattern = _spellings()
    loose = unicodedata.normalize("NFKC", text).translate(_LETTERS)
    loose = re.sub(r"(?<![A-Za-z0-9])([mk]?g) Mg/", r"\1Mg/", loose)  # "mg Mg/100 g", but "Mg mg/l" names magnesium
    loose = loose.lower()
    loose = re.sub(r"(?<!\s)\s*+/\s*+", "/", loose)
    loose = re.sub(r"/\s*(\d+)\s+(?=[a-z])", r"/\1", loose).replace("_", " ")
    loose = re.sub(r"(?<=[a-z]) (?=(?:kg|dm|l|g|ha|m|cm)-\d)", "", loose)  # "mg kg-1"
    loose = re.sub(r"(?<![a-z0-9])(mg|g|kg) (p2o5|k2o|mgo|cao|p|k|n)/", r"\1\2/", loose)  # "mg P2O5/100 g"
    loose = re.sub(r"(?<=[a-z0-9]) (?:as )?(caco3|hco3|no3|so4|so3|nh4|na2o)(?![a-z0-9-])", r"\1", loose)  # "mg/L as CaCO3"
    found = pattern.search(loose)
    return (units[found.group(1)], found.span(), loose) if found else None


def without_unit(text: str) -> str:
    """The text without the unit that it names, and without a trailing per cent sign.

    >>> without_unit("Kalium [mg / kg]"), without_unit("P ppm")
    ('kalium', 'p')
    """
    text = in_latin(text)
    found = _unit_span(text)
    if found is not None:
        _, (start, end), loose = found
        text = f"{loose[:start]} {loose[end:]}"
    return heading_key(text.replace("%", " "))


def _without_mark(text: str) -> str:
    """A heading without the mark of a footnote at its end.

    >>> _without_mark("Magnesium [c]"), _without_mark("P *")
    ('Magnesium', 'P')
    """
    text = _FOOTNOTE_WITHIN.sub(" ", text).rstrip().rstrip("*†‡")
    bare = text.rstrip("¹²³").rstrip()
    text = text if bare.endswith(("dm", "cm", "/m", " m")) else bare  # the ³ of dm³ is no mark
    for length in (3, 4):
        if _FOOTNOTE.fullmatch(text[-length:]):
            return text[:-length].rstrip()
    return text


def _begins_with(stems: frozenset[str]) -> re.Pattern:
    """A pattern for words that begin with one of some stems."""
    return re.compile(r"(?:^| )(?:" + "|".join(sorted(map(re.escape, stems))) + ")")


class Lexicon:
    """The headings of the tables, ready for looking up in one medium (soil, water, leaf or material)."""

    def __init__(self, tables: Tables, medium: str):
        self.tables, self.medium = tables, medium
        self.rows: dict[str, list[LabHeading]] = {}
        for row in tables.labfile.headings:
            if row.medium in (medium, "any"):
                self.rows.setdefault(heading_key(row.heading), []).append(row)
        self.names = {key: rows[0] for key, rows in self.rows.items() if any(row.kind == "amount" for row in rows)}
        self.elsewhere = self._of_other_media()
        self.own = {plain(row.name): key for key, row in tables.analytes.items() if row.medium == medium}
        self.methods = [(name, row.method, set(row.analytes)) for row in tables.readings.extractants for name in row.names]
        self.methods.sort(key=lambda item: -len(item[0]))
        self.words = {
            kind: frozenset(plain(word) if kind not in ("nothing", "not_detected", "trace") else word for word in words)
            for kind, words in tables.labfile.words
            if kind not in ("parts", "code_pages")
        }
        self.beside = frozenset(word for word in self.words["not_samples"] if word not in _SAID_OTHERWISE and len(word) > 2)
        self._longest_beside = max(word.count(" ") + 1 for word in self.beside)
        self.beside_unspaced = [
            word for word in self.words["not_samples"] if len(word) > 1 and all("\u3040" <= sign <= "\u9fff" for sign in word)
        ]
        self._sampling, self._report = (_begins_with(self.words[kind]) for kind in ("sampling_day", "report_day"))
        self._kept: dict[str, Heading] = {}

    def _of_other_media(self) -> dict[str, LabHeading]:
        """Headings that are known in another medium only: what is phosphorus there is phosphorus here, by the analyte of this medium."""
        found: dict[str, LabHeading] = {}
        for row in self.tables.labfile.headings:
            told = "N" if row.about == "total N" else _bare_analyte(row.analyte or "")
            key = told if self.medium == "soil" else f"{PREFIXES.get(self.medium, '')}{told}"
            analyte = self.tables.analytes.get(key)
            if row.kind == "amount" and told and analyte is not None and analyte.medium == self.medium and row.medium != self.medium:
                found.setdefault(heading_key(row.heading), replace(row, analyte=key, about=None, unit=None, method=None))
        return {key: row for key, row in found.items() if key not in self.rows}

    def heading(self, text: str) -> Heading:
        """What a heading says; an empty Heading for one that names nothing we know."""
        if text not in self._kept:
            self._kept[text] = self._heading(text)
        return self._kept[text]

    def _heading(self, text: str) -> Heading:
        if not text or len(text) > LONGEST_HEADING or _CUT_NUMBER.search(text) or _AMOUNT.match(text):
            return Heading()
        if self.is_beside(text):  # "Nitrate (NO3-N), previous result"
            return Heading(kind="limit", unit=unit_in(text))
        if (verdict := self._verdict(text)) is not None:
            return verdict
        text = _without_mark(text)
        said = unit_in(text)
        for candidate, rest in self._candidates(text):
            rows = self.rows.get(candidate)
            if rows:
                return self._of_rows(rows, said, f"{rest} {text}")
            if candidate in self.own:
                key = self.own[candidate]
                return self._finished(Heading(analyte=key, kind="amount"), said, f"{rest} {text}")
        for candidate, rest in self._candidates(text):
            if candidate in self.elsewhere:
                return self._of_rows([self.elsewhere[candidate]], said, f"{rest} {text}")
        return Heading(unit=said)

    def _verdict(self, text: str) -> Heading | None:
        """A heading that names an analyte and ends with a word for its rating ("Kalium (K) Index"); None for any other."""
        if text in self.rows or heading_key(text) in self.rows:
            return None
        name, _, last = text.rstrip().rpartition(" ")
        if not name or plain(last) not in self.words["rating"]:
            return None
        said = self.heading(name)
        return replace(said, kind="index", unit=None, method=None) if said.analyte and said.kind == "amount" else None

    def _candidates(self, text: str):
        """The heading as it stands, then without unit, brackets, method and filling words: what is looked up, and what was left out."""
        text = unicodedata.normalize("NFKC", text)  # Chinese and Japanese brackets are wide
        opened = re.sub(r"[\[(][^\[\]()]*[\])]", " ", text)
        for inner in _BRACKETED.findall(text):  # "Nitrate (NO3-N)", "Phosphorus (P2O5)": the symbol says it exactly
            if heading_key(inner) in self.names and not unit_in(inner) and not self._is_method(plain(inner)):  # "P (AL)" is no aluminium
                yield heading_key(inner), opened
        parted = re.sub(r"(?<=[a-z])(?=[A-Z])|(?<=[A-Za-z])_|_(?=[A-Za-z])", " ", text)
        firsts = dict.fromkeys(
            [
                heading_key(text),
                without_unit(text),
                heading_key(opened),
                without_unit(opened),
                heading_key(parted),
                without_unit(parted),
                plain(opened),
            ]
        )
        for first in [*firsts]:  # words that are written together: "交换性钙" is 钙
            short = next((first.removeprefix(word) for word in self.words["unspaced_fillers"] if first.startswith(word)), "")
            if short:
                firsts[short] = None
        for first in firsts:
            if first:
                yield first, ""
        for first in firsts:
            yield from self._without_method(first)

    def _without_method(self, text: str):
        """Names with a method or filling words beside them, such as "p olsen" or "mehlich 3 phosphorus", and nothing else."""
        words = text.split(" ")
        if len(words) > 7:
            return
        for length in range(len(words) - 1, 0, -1):
            for start in dict.fromkeys((0, len(words) - length)):
                name, rest = " ".join(words[start : start + length]), " ".join(words[:start] + words[start + length :])
                if name in self.names or name in self.own or name in self.elsewhere:
                    oxide = re.fullmatch(r"(?:as |als |en |como )?(p2o5|k2o|cao|mgo)", rest)
                    if oxide and oxide.group(1) in self.rows:
                        yield oxide.group(1), rest
                    elif self._fills(rest, name):
                        if any(row.form for row in self.rows.get(rest, ())):  # "phosphorsäure bray p1": the oxide goes before the method
                            yield rest, name
                        yield name, rest

    def _fills(self, rest: str, name: str) -> bool:
        if self._is_method(plain(rest)):
            return True
        words = [word for word in plain(rest).split(" ") if word not in self.words["fillers"]]
        if not words:
            return True
        if all(word.isdigit() for word in words):
            return len(name) > 2  # "K 40" is a variety and "B-77" a batch, while "Zink 2" may be a heading
        left = " ".join(words)
        if self._is_method(left):
            return True
        ours, theirs = self.rows.get(name, ()), self.rows.get(left, ())
        return bool(ours and theirs) and any(mine.analyte and mine.analyte == other.analyte for mine in ours for other in theirs)

    def _of_rows(self, rows: list[LabHeading], said: str | None, text: str) -> Heading:
        """One meaning out of the rows of a heading; by its unit where there are several, else all of them for a question."""
        made = [_meaning(row) for row in rows]
        amounts = [item for item in made if item.kind not in ADMIN]
        made = amounts or made
        distinct = {(item.analyte, item.about, item.form) for item in made}
        if len(distinct) > 1 and said:
            fitting = [item for item in made if item.analyte and self._has_unit(item, said)]
            made = fitting or made
            distinct = {(item.analyte, item.about, item.form) for item in made}
        first = made[0]
        if len({(analyte, about) for analyte, about, _ in distinct}) > 1:
            meanings = tuple(dict.fromkeys(item.analyte for item in made if item.analyte))
            return Heading(kind="amount", unit=said, meanings=meanings)
        if len(distinct) > 1:  # one analyte, as element or as oxide: the unit has to tell
            told = next((item for item in made if said and item.form and said.endswith(item.form.split(" ")[-1])), None)
            first = told or replace(next((item for item in made if not item.form), first), usual_unit=None)
        units = {item.usual_unit for item in made}
        if len(units) > 1:
            first = replace(first, usual_unit=None)
        return self._finished(first, said, text)

    def _has_unit(self, item: Heading, unit: str) -> bool:
        return unit in self.tables.analytes[item.analyte].units if item.analyte else False

    def _finished(self, heading: Heading, said: str | None, text: str) -> Heading:
        """The heading with the unit and the method that stand beside its name."""
        if heading.analyte is None:
            return replace(heading, unit=said or heading.unit)
        method = heading.method or self.method(text, heading.analyte)
        said = said if said is None or self._agrees(heading, said) else None  # a unit that the analyte can't have says nothing
        unit = heading.unit if heading.unit and (said in (None, "%") or heading.form == "index x10") else said
        return replace(heading, unit=unit or heading.unit, method=method)

    def _agrees(self, heading: Heading, unit: str) -> bool:
        row = self.tables.analytes[heading.analyte or ""]
        tails = [tail for tail in (row.oxide if heading.oxide else None, heading.ion) if tail]
        plain_unit = "mg/kg" if unit == "ppm" else unit
        return unit in row.units or any(f"{plain_unit} {tail}" in row.units for tail in tails)

    def _is_method(self, text: str) -> bool:
        return any(text == name for name, _, _ in self.methods) or text in self.words["bare_methods"]

    def method(self, text: str, analyte: str) -> str | None:
        """The method for an analyte that a text names."""
        padded = f" {plain(text)} "
        for name, method, analytes in self.methods:
            if analyte in analytes and f" {name} " in padded and name != plain(analyte):
                return method
        return None

    def methods_in(self, text: str) -> list[tuple[str, set[str]]]:
        """Every method that a text names, with the analytes that it measures; longer names first, so that none is found in another."""
        padded = f" {plain(text)} "
        found: dict[str, set[str]] = {}
        names = dict.fromkeys(name for name, _, _ in self.methods if len(name) > 1 and not name.isdigit())
        for name in names:
            if f" {name} " not in padded:
                continue
            padded = padded.replace(f" {name} ", " | ")
            for known_as, method, analytes in self.methods:
                if known_as == name:
                    found[method] = found.get(method, set()) | analytes
        return list(found.items())

    def kind_of(self, text: str) -> str:
        """What kind of column a heading makes ("sample", "lab_number", "date", ...); "" where it does not say."""
        kinds = [
            row.kind for row in self.rows.get(heading_key(text), ()) or self.rows.get(plain(re.sub(r"[\[(][^\[\]()]*[\])]", " ", text)), ())
        ]
        admin = next((kind for kind in kinds if kind in ADMIN), "")
        if admin:
            return admin
        if self.is_beside(text):
            return "limit"
        if len(text) > LONGEST_ADMIN or any(sign.isdigit() for sign in text):
            return ""
        if self.is_of_sampling(text):
            return "date"
        words = set(plain(text).split(" "))  # telling words in a new order: "lab ref", "client sample", "reported value"
        for row in self.tables.labfile.words.parts:
            if all(words & set(group) for group in row.groups) and (
                row.kind != "sample" or len(row.groups) > 1 or words <= {*row.groups[0], *self.words["name_words"]}
            ):  # "field no" names samples, "far field" is one
                return row.kind
        return ""

    def is_beside(self, text: str) -> bool:
        """Whether a heading says that what stands there is no result of now: a range, a target, last year's figure, an uncertainty."""
        said = plain(text)
        words = said.split(" ")
        spans = ((first, first + count) for first in range(len(words)) for count in range(1, self._longest_beside + 1))
        if any(" ".join(words[first:stop]) in self.beside for first, stop in spans):
            return True
        return not text.isascii() and any(word in said for word in self.beside_unspaced)

    def is_of_sampling(self, text: str) -> bool:
        """Whether a heading or line speaks of the day on which a sample was taken."""
        return bool(self._sampling.search(plain(text)))

    def is_of_report(self, text: str) -> bool:
        """Whether a heading or line speaks of the day of receipt or report, which is no day of sampling."""
        return bool(self._report.search(plain(text)))

    def is_a(self, kind: str, text: str) -> bool:
        """Whether a cell is one of the words of a kind (rating, nothing, not_detected, ...)."""
        return (text.strip().lower() if kind in ("nothing", "not_detected", "trace") else plain(text)) in self.words[kind]


def _meaning(row: LabHeading) -> Heading:
    unit = row.unit or None
    return Heading(
        analyte=row.analyte,
        about=row.about or "",
        kind=row.kind,
        form=row.form or "",
        unit=unit if row.unit_stated else None,
        usual_unit=unit,
        method=row.method if row.method_stated else None,
    )
