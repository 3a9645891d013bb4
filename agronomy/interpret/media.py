"""Potting mixes by their own extracts: salt and nutrients in the saturated media extract, 1:1.5, 1:2, 1:5 and pour-through."""

from agronomy.base.said import say, worded
from agronomy.base.working import Figure, Step
from agronomy.interpret.nutrients import NoRule
from agronomy.model.finding import Finding
from agronomy.model.reading import Reading
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.ground import MediaClass

SEEDLINGS = ("plug_trays",)
_SAYS = {
    "very_short": worded("{name} is very short in the mix"),
    "short": worded("{name} is short in the mix"),
    "building": worded("{name} is a little low in the mix"),
    "right": worded("{name} is right in the mix"),
    "plenty": worded("{name} is high in the mix"),
    "excess": worded("{name} is far too high in the mix: water until plenty runs through, and stop feeding"),
}


def judge_media(reading: Reading, crop: Crop, tables: Tables) -> Finding | NoRule:
    """A Finding on a reading of a potting mix [dS/m, or mg/L of extract], or NoRule for a method that speaks of field soil.

    Source: the row of ground/mix_extracts.csv.

    >>> from agronomy.intake.example import bed, tables
    >>> from agronomy.model.reading import read
    >>> low = read("K", 40, unit="mg/L", method="saturated media extract", how="lab", taken=None, tables=tables)
    >>> judge_media(low, bed("houseplant_pot").crop, tables).class_
    'short'
    """
    name = tables.analytes[reading.analyte].name
    rows = _rows(reading, crop, tables)
    row = next((row for row in rows if row.at_least <= reading.value and (row.below is None or reading.value < row.below)), None)
    if row is None:
        why = say("a soil table does not hold for a potting mix, and {method} is none of its own extracts", method=reading.method)
        return NoRule(reading.analyte, why, say("have a saturated media extract or a pour-through made"))
    right = next((item for item in rows if item.class_ == "right"), row)
    wanted = (right.at_least, right.below if right.below is not None else right.at_least * 2)
    unit = "dS/m" if reading.analyte == "EC" else "mg/L"
    step = Step(
        "class of the mix",
        "the class whose edges hold the reading",
        {"reading": Figure(reading.value, unit), "right from": Figure(wanted[0], unit), "right up to": Figure(wanted[1], unit)},
        Figure(row.own_class),
        row.source,
        row.where,
    )
    told = say(_SAYS[row.class_], name=name)
    return Finding(
        analyte=reading.analyte,
        name=name,
        class_=row.class_,
        value=reading.value,
        low=reading.low,
        high=reading.high,
        unit=unit,
        wanted=wanted,
        scale=(0.0, wanted[1] * 2),
        why=say(
            "{told}: {reading:.3g} {unit} by {method}, target {wanted:g} to {up_to:g}.",
            told=told,
            reading=reading.value,
            unit=unit,
            method=reading.method,
            wanted=wanted[0],
            up_to=wanted[1],
        ),
        method=reading.method,
        qualifier=reading.qualifier,
        working=(*reading.steps, step),
    )


def _rows(reading: Reading, crop: Crop, tables: Tables) -> list[MediaClass]:
    """The classes of a method for the crop's way of feeding, else those for any plant."""
    mine = [row for row in tables.ground.media if (row.method, row.analyte) == (reading.method, reading.analyte)]
    feeders = "seedlings" if crop.key in SEEDLINGS else crop.feeding
    for name in (feeders, "any", "medium"):
        rows = [row for row in mine if row.feeders == name]
        if rows:
            return rows
    return []
