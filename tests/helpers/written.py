"""Laboratories' files written from a known truth, in any pattern, language, unit and decimal style, to see what is read back."""

import random
from dataclasses import dataclass

from agronomy.labfile.words import Lexicon, heading_key
from agronomy.tables import load_tables

TABLES = load_tables()
LEXICON = Lexicon(TABLES, "soil")
NAMES = ("Top Field", "Rose bed", "Hang 3", "Verger bas", "Huerto", "North 40", "Bett A", "7", "Z-12", "Långåkern", "Talhão 2")
RANGES = {  # analyte: units with a range of values that a laboratory prints in them
    "pH": {"": (4.2, 8.4)},
    "P": {"mg/kg": (4, 190), "mg/L": (4, 90), "mg/100 g": (1, 20), "mg/kg P2O5": (12, 300), "mg/100 g P2O5": (3, 60), "lb/acre": (8, 200)},
    "K": {
        "mg/kg": (40, 480),
        "mg/L": (40, 400),
        "cmol/kg": (0.1, 1.2),
        "meq/100 g": (0.1, 1.2),
        "mg/100 g K2O": (4, 50),
        "lb/acre": (80, 600),
    },
    "Mg": {"mg/kg": (20, 400), "cmol/kg": (0.3, 4), "mg/100 g": (3, 40)},
    "Ca": {"mg/kg": (400, 5000), "cmol/kg": (3, 25)},
    "OM": {"%": (0.8, 9), "g/kg": (8, 90)},
    "CEC": {"cmol/kg": (4, 35), "meq/100 g": (4, 35)},
    "Zn": {"mg/kg": (0.3, 9)},
    "B": {"mg/kg": (0.2, 2.2)},
    "NO3-N": {"mg/kg": (2, 60), "kg/ha": (5, 150)},
}
SPELLINGS = {
    "mg/kg": ("mg/kg", "ppm", "mg kg-1", "MG/KG"),
    "mg/L": ("mg/l", "mg/dm3", "mg/L"),
    "mg/100 g": ("mg/100g", "mg/100 g"),
    "cmol/kg": ("cmol/kg", "cmolc/kg", "cmol(+)/kg"),
    "meq/100 g": ("meq/100g", "me/100g"),
    "lb/acre": ("lb/acre", "lbs/A", "lb/ac"),
}
METHOD_WORDS = {"P": ("Olsen", "Mehlich 3", "Bray P1"), "K": ("Mehlich 3", "ammonium acetate"), "pH": ("CaCl2", "water 1:2.5", "KCl")}
METHODS = {"Olsen": "Olsen", "Mehlich 3": "Mehlich 3", "Bray P1": "Bray P1", "ammonium acetate": "ammonium acetate"}
METHODS |= {"CaCl2": "CaCl2 0.01 M", "water 1:2.5": "water 1:2.5", "KCl": "KCl 1 M"}


@dataclass(frozen=True)
class Result:
    """One result as it is: what a reader has to give back, or ask about."""

    sample: str
    analyte: str
    value: float
    unit: str
    method: str | None


def names_of(analyte: str, unit: str) -> list[str]:
    """Headings of the table that mean this analyte in this form and state neither unit nor method themselves."""
    wants = {"P2O5": "oxide P2O5", "K2O": "oxide K2O"}.get(unit.split(" ")[-1], "")
    found = []
    for row in TABLES.labfile.headings:
        plainly = row.medium == "soil" and row.kind == "amount" and not row.unit_stated and not row.method_stated
        alone = all(other.analyte == analyte and (other.form or "") == wants for other in LEXICON.rows.get(heading_key(row.heading), ()))
        if LEXICON.heading(row.heading).method:
            continue
        if plainly and alone and row.analyte == analyte and (row.form or "") == wants and 0 < len(row.heading) < 32:
            found.append(row.heading)
    return found or [analyte]


def write(rng: random.Random) -> tuple[str, str, list[Result]]:
    """A file's name, its text, and the truth in it."""
    analytes = rng.sample(list(RANGES), rng.randint(2, 6))
    samples = rng.sample(NAMES, rng.randint(1, 4))
    comma = rng.random() < 0.4
    told: dict[str, tuple[str, str, str, str | None, str]] = {}
    for analyte in analytes:
        unit = rng.choice(list(RANGES[analyte]))
        word = rng.choice(METHOD_WORDS[analyte]) if analyte in METHOD_WORDS and rng.random() < 0.6 else None
        written = unit.removesuffix(" P2O5").removesuffix(" K2O")
        told[analyte] = (unit, rng.choice(names_of(analyte, unit)), rng.choice(SPELLINGS.get(written, (written,))), word, written)
    truth = []
    for sample in samples:
        for analyte in analytes:
            low, high = RANGES[analyte][told[analyte][0]]
            digits = 2 if high < 5 else 1 if high < 100 else 0
            value = round(rng.uniform(low, high), digits)
            truth.append(Result(sample, analyte, value, told[analyte][0], METHODS[told[analyte][3]] if told[analyte][3] else None))
    render = rng.choice((_wide, _long, _across, _mail))
    return *render(rng, samples, analytes, told, truth, comma), truth


def _number(value: float, comma: bool) -> str:
    text = f"{value:g}"
    return text.replace(".", ",") if comma else text


def _value(truth: list[Result], sample: str, analyte: str) -> float:
    return next(item.value for item in truth if item.sample == sample and item.analyte == analyte)


def _wide(rng, samples, analytes, told, truth, comma) -> tuple[str, str]:
    mark = ";" if comma else rng.choice((",", ";", "\t"))
    unit_row, method_row = rng.random() < 0.3, rng.random() < 0.3
    head, units, methods = [rng.choice(("Sample", "Probe", "Échantillon", "Muestra", "Your ref"))], [""], [""]
    if number := rng.random() < 0.4:
        head.insert(0, rng.choice(("Lab No", "Labornummer", "lab_ref")))
        units.insert(0, "")
        methods.insert(0, "")
    for analyte in analytes:
        _, name, unit, word, _ = told[analyte]
        parts = [name] + ([f"({unit})"] if unit and not unit_row else []) + ([word] if word and not method_row else [])
        head.append(" ".join(parts))
        units.append(unit)
        methods.append(word or "")
    lines = [mark.join(head)]
    if method_row:
        lines.append(mark.join(methods))
    if unit_row:
        lines.append(mark.join(units))
    for place, sample in enumerate(samples):
        cells = [str(80210 + place)] if number else []
        cells += [sample, *(_number(_value(truth, sample, analyte), comma) for analyte in analytes)]
        lines.append(mark.join(cells))
    return "wide.csv", "\n".join(lines)


def _long(rng, samples, analytes, told, truth, comma) -> tuple[str, str]:
    mark = ";" if comma else ","
    head = [
        "lab_ref",
        "sample",
        *rng.choice((("determination", "reported_value"), ("Parameter", "Result"), ("Merkmal", "Messwert"))),
        "unit",
        "method",
    ]
    lines = [mark.join(head)]
    for item in truth:
        _, name, unit, word, _ = told[item.analyte]
        lines.append(mark.join(["7", item.sample, name.replace(mark, " "), _number(item.value, comma), unit, word or ""]))
    return "long.csv", "\n".join(lines)


def _across(rng, samples, analytes, told, truth, comma) -> tuple[str, str]:
    mark = ";" if comma else ","
    lines = [mark.join(["Parameter", "Unit", "Method", *samples])]
    for analyte in analytes:
        _, name, unit, word, _ = told[analyte]
        values = (_number(_value(truth, sample, analyte), comma) for sample in samples)
        lines.append(mark.join([name.replace(mark, " "), unit, word or "", *values]))
    return "across.csv", "\n".join(lines)


def _mail(rng, samples, analytes, told, truth, comma) -> tuple[str, str]:
    lines = ["Dear grower,", "here are your results.", ""]
    for sample in samples:
        lines += [f"Sample: {sample}", ""]
        for analyte in analytes:
            _, name, unit, word, _ = told[analyte]
            value = _number(_value(truth, sample, analyte), comma)
            lines.append(f"{name}: {value} {unit}".rstrip() + (f" ({word})" if word else ""))
        lines.append("")
    return "mail.txt", "\n".join([*lines, "Kind regards"])


def judged(text: str, name: str, truth: list[Result], read) -> tuple[int, int, list]:
    """How many results were understood and how many asked about or kept, and all that was misread in silence."""
    good, wrong = 0, []
    by = {(item.sample, item.analyte): item for item in truth}
    for line in read(text, name):
        if not line.is_reading or line.doubt:
            continue
        item = by.get((line.sample, line.analyte))
        value = float(line.value) if line.value is not None else None
        same_unit = item is not None and (
            line.unit == item.unit or {line.unit, item.unit} <= {"mg/kg", "ppm"} or _oxide(line.unit, item.unit)
        )
        same_method = item is not None and (line.method == (item.method or line.method) or line.method == "not stated")
        if item is not None and value == item.value and same_unit and same_method:
            good += 1
        else:
            wrong.append((line.sample, line.analyte, line.value, line.unit, line.method, line.heading, item))
    return good, len(truth) - good, wrong


def _oxide(read: str, true: str) -> bool:
    return read.replace("ppm", "mg/kg") == true
