"""Leaf tests against what a leaf of the crop holds when it has enough."""

from agronomy.base.working import Figure, Step
from agronomy.interpret.nutrients import NoRule
from agronomy.model.finding import Finding
from agronomy.model.reading import Reading
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.nutrients import TissueRange

LEAF = "leaf "
_SAYS = {
    "very_short": "The leaf is starved of {name}: {shown} where {crop} leaves want {wanted}.",
    "short": "The leaf is low in {name}: {shown} where {crop} leaves want {wanted}.",
    "right": "The leaf has enough {name}: {shown}, wanted {wanted}.",
    "plenty": "The leaf holds more {name} than it needs: {shown}, wanted {wanted}.",
    "excess": "The leaf holds far too much {name}: {shown}, wanted {wanted}.",
}


def leaf_range(analyte: str, crop: str, tables: Tables) -> TissueRange | None:
    """The range for a leaf analyte ("leaf K") of a crop, or None where no guide here has one. Source: each row's own.

    Edges in % or mg/kg of dry matter.

    >>> from agronomy.intake.example import tables
    >>> leaf_range("leaf K", "apple", tables).analyte
    'leaf K'
    """
    return next((row for row in tables.nutrients.tissue if row.crop == crop and row.analyte == analyte), None)


def judge_leaf(reading: Reading, crop: Crop, tables: Tables) -> Finding | NoRule:
    """A Finding on a leaf reading [% or mg/kg of dry matter], or NoRule. Source: the row of leaf/tissue.csv.

    >>> from agronomy.intake.example import bed, tables
    >>> from agronomy.model.reading import read
    >>> leaf = read("leaf N", 1.4, unit="%", method="total", how="lab", taken=None, tables=tables)
    >>> judge_leaf(leaf, bed("apple").crop, tables).class_
    'very_short'
    """
    row = leaf_range(reading.analyte, crop.key, tables)
    name = tables.analytes[reading.analyte].name.lower()
    if row is None:
        return NoRule(
            reading.analyte, f"no guide here has a range for {name} in leaves of {crop.name}", "compare with a good plant beside it"
        )
    value, deficient = reading.value, row.deficient_below if row.deficient_below is not None else 0.0
    high = row.high_above if row.high_above is not None else row.sufficient_high * 1.5
    class_ = (
        "very_short"
        if value < deficient
        else "short"
        if value < row.sufficient_low
        else "right"
        if value <= row.sufficient_high
        else "plenty"
        if value <= high
        else "excess"
    )
    wanted = f"{row.sufficient_low:g} to {row.sufficient_high:g} {row.unit}"
    step = Step(
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
    return Finding(
        analyte=reading.analyte,
        name=f"{tables.analytes[reading.analyte].name} in the leaf",
        class_=class_,
        value=value,
        low=reading.low,
        high=reading.high,
        unit=row.unit,
        wanted=(row.sufficient_low, row.sufficient_high),
        scale=(0.0, high),
        why=_SAYS[class_].format(name=name, shown=f"{value:g} {row.unit}", crop=crop.name, wanted=wanted),
        method=reading.method,
        qualifier=reading.qualifier,
        working=(*reading.steps, step),
    )
