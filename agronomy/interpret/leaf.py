"""Leaf, sap and greenness tests against what the crop holds when it has enough, at the stage and in the part that the sample was of."""

import re

from agronomy.base.said import say, worded
from agronomy.base.working import Figure, Step
from agronomy.interpret.nutrients import NoRule
from agronomy.model.finding import Finding
from agronomy.model.reading import Reading
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.nutrients import TissueRange

LEAF = "leaf "
SAP = ("sap nitrate", "sap potassium", "stalk nitrate")
GREENNESS, STRIP = "leaf greenness", "leaf greenness strip"
_SAYS = {
    "very_short": worded("The {of} is very short of {name}: {shown} where {crop} needs {wanted}."),
    "short": worded("The {of} is low in {name}: {shown} where {crop} needs {wanted}."),
    "right": worded("The {of} has enough {name}: {shown}, target {wanted}."),
    "plenty": worded("The {of} holds more {name} than it needs: {shown}, target {wanted}."),
    "excess": worded("The {of} holds far too much {name}: {shown}, target {wanted}."),
}
_SMALL_WORDS = frozenset({"with", "from", "this", "that", "leaf", "leaves", "and", "the", "year", "after", "before", "days", "weeks"})
STEM = 5  # letters that tell "flower", "flowers" and "flowering" alike


def is_leaf(analyte: str) -> bool:
    """Whether an analyte is judged in the plant, not in the ground.

    Source: definition.

    >>> is_leaf("leaf K"), is_leaf("sap nitrate"), is_leaf("K")
    (True, True, False)
    """
    return analyte.startswith(LEAF) or analyte in SAP


def leaf_range(analyte: str, crop: str, tables: Tables, *, stage: str = "", part: str = "") -> TissueRange | None:
    """The range for an analyte of the plant ("leaf K") of a crop, that fits stage and part best where they are told; None where no guide
    here has one. Source: each row's own.

    Edges in % or mg/kg of dry matter, or mg/L of sap.

    >>> from agronomy.intake.example import tables
    >>> leaf_range("leaf K", "apple", tables).analyte
    'leaf K'
    >>> leaf_range("leaf N", "tomato", tables, stage="early fruit set").stage
    'early fruit set'
    """
    rows = tables.leaf_ranges.get(analyte, {}).get(crop, ())
    told = _words(f"{stage} {part}")
    if not rows or not told:
        return rows[0] if rows else None
    return max(rows, key=lambda row: len(told & _words(f"{row.stage} {row.part} {row.variant or ''}")))


def _words(text: str) -> set[str]:
    found = re.findall(r"[a-z]{3,}|\d+", text.lower())
    return {word[:STEM] for word in found if word not in _SMALL_WORDS}


def _leaf_step(row: TissueRange, value: float, deficient: float, class_: str) -> Step:
    return Step(
        "class of the leaf",
        "the class whose edges hold the reading",
        {
            "reading": Figure(value, row.unit),
            "starved below": Figure(deficient, row.unit),
            "enough from": Figure(row.sufficient_low, row.unit),
            "enough up to": Figure(row.sufficient_high, row.unit),
        },
        Figure(class_.replace("_", " ")),
        row.source,
        f"{row.part}, {row.stage}",
    )


def _leaf_class(value: float, deficient: float, row: TissueRange, high: float) -> str:
    edges = ((deficient, "very_short"), (row.sufficient_low, "short"))
    below = next((name for edge, name in edges if value < edge), None)
    return below or ("right" if value <= row.sufficient_high else "plenty" if value <= high else "excess")


def judge_leaf(reading: Reading, crop: Crop, tables: Tables) -> Finding | NoRule:
    """A Finding on a leaf or sap reading, or NoRule. Source: the row of leaf/tissue.csv.

    Readings in % or mg/kg of dry matter, or mg/L of sap.

    >>> from agronomy.intake.example import bed, tables
    >>> from agronomy.model.reading import read
    >>> leaf = read("leaf N", 1.4, unit="%", method="total", how="lab", taken=None, tables=tables)
    >>> judge_leaf(leaf, bed("apple").crop, tables).class_
    'very_short'
    """
    row = leaf_range(reading.analyte, crop.key, tables, stage=reading.stage, part=reading.part)
    name = _spoken(reading.analyte, tables)
    if row is None:
        return NoRule(
            reading.analyte,
            say("no guide here has a range for {name} in leaves of {crop}", name=name, crop=crop.name),
            say("compare with a good plant beside it"),
        )
    value, deficient = reading.value, row.deficient_below if row.deficient_below is not None else 0.0
    high = row.high_above if row.high_above is not None else row.sufficient_high * 1.5
    class_ = _leaf_class(value, deficient, row, high)
    wanted = f"{row.sufficient_low:g} to {row.sufficient_high:g} {row.unit}"
    step = _leaf_step(row, value, deficient, class_)
    why = say(_SAYS[class_], of=_of(reading.analyte), name=name, shown=f"{value:g} {row.unit}", crop=crop.name, wanted=wanted)
    return Finding(
        analyte=reading.analyte,
        name=say("{analytes} in the leaf", analytes=tables.analytes[reading.analyte].name)
        if reading.analyte.startswith(LEAF)
        else _name_of(reading, tables),
        class_=class_,
        value=value,
        low=reading.low,
        high=reading.high,
        unit=row.unit,
        wanted=(row.sufficient_low, row.sufficient_high),
        scale=(0.0, high),
        why=why + _made_for(row, reading),
        method=reading.method,
        qualifier=reading.qualifier,
        working=(*reading.steps, step),
    )


def _spoken(analyte: str, tables: Tables) -> str:
    if analyte in SAP:
        return "potassium" if analyte == "sap potassium" else "nitrate"
    return tables.analytes[analyte].name.lower()


def _of(analyte: str) -> str:
    return "leaf" if analyte.startswith(LEAF) else "leaf stalk" if analyte == "stalk nitrate" else "sap"


def _name_of(reading: Reading, tables: Tables) -> str:
    return tables.analytes[reading.analyte].name


def _made_for(row: TissueRange, reading: Reading) -> str:
    """Of which part and stage the range is, where the slip told none or another."""
    told = _words(f"{reading.stage} {reading.part}")
    if not told:
        return say(" The range is for {part}, {stage}: say when and what you picked.", part=row.part, stage=row.stage)
    if not told & _words(f"{row.stage} {row.part} {row.variant or ''}"):
        return say(" The range is for {part}, {stage}; yours was picked otherwise, so read it with care.", part=row.part, stage=row.stage)
    return ""


def judge_greenness(crop_reading: Reading, strip: Reading | None, crop: Crop, tables: Tables) -> Finding | NoRule:
    """A Finding on a greenness meter's reading, beside that of a strip that had nitrogen to spare. Source: the row of leaf/greenness.csv.

    Readings in units of the meter.

    >>> from agronomy.intake.example import bed, tables
    >>> from agronomy.model.reading import read
    >>> pale, fed = (read(key, value, unit="units", method="not stated", how="meter", taken=None, tables=tables)
    ...              for key, value in ((GREENNESS, 45), (STRIP, 50)))
    >>> judge_greenness(pale, fed, bed("maize").crop, tables).class_
    'short'
    """
    rows = [row for row in tables.nutrients.greenness if row.crop == crop.key]
    if not rows:
        return NoRule(
            GREENNESS,
            say("no guide here reads greenness for {crop}", crop=crop.name),
            say("compare with plants that had nitrogen to spare"),
        )
    row = rows[0]
    if row.basis == "index" and strip is None:
        return NoRule(
            GREENNESS, say("one reading alone shows little: variety and light move it"), say("read a strip that had nitrogen to spare, too")
        )
    value = crop_reading.value / strip.value if row.basis == "index" and strip is not None else crop_reading.value
    unit = "of the strip" if row.basis == "index" else "units"
    class_ = "short" if value < row.apply_below else "right"
    inputs = {"crop": Figure(crop_reading.value, "units")} | ({"strip": Figure(strip.value, "units")} if strip is not None else {})
    step = Step(
        "greenness beside the strip",
        "crop / strip" if row.basis == "index" else "the reading itself",
        inputs,
        Figure(value, unit),
        row.source,
        row.where,
    )
    told = say("{value:.2f} of the well-fed strip", value=value) if row.basis == "index" else f"{value:.0f} units"
    least = f"{row.apply_below:.2f}" if row.basis == "index" else f"{row.apply_below:.0f}"
    says = say("the crop needs nitrogen") if class_ == "short" else "no nitrogen now"
    return Finding(
        analyte=GREENNESS,
        name="Greenness",
        class_=class_,
        value=value,
        low=value * crop_reading.low / max(crop_reading.value, 1e-9),
        high=value * crop_reading.high / max(crop_reading.value, 1e-9),
        unit=unit,
        wanted=(row.apply_below, row.apply_below * 1.15),
        scale=(0.0, row.apply_below * 1.3),
        why=say(
            "Greenness is {told}, where {crop} needs {least}: {says}. It holds for {window}, read on the {leaf}.",
            told=told,
            crop=crop.name,
            least=least,
            says=says,
            window=row.window,
            leaf=row.leaf,
        ),
        method=crop_reading.method,
        working=(*crop_reading.steps, step),
    )
