"""Readings and facts of one plot that cannot all be true: nothing is dosed by them, and the plan says what to check."""

from collections.abc import Iterable
from datetime import date

from agronomy.base.record import record
from agronomy.base.said import say, small
from agronomy.model.reading import Reading
from agronomy.model.request import Request
from agronomy.model.soil import Soil
from agronomy.tables import Tables

CHECK_PH = say(
    "Take a fresh sample of ten or more cores and have a laboratory test it again within a month, with an "
    "acid-drop test beside it. Put on neither lime nor sulfur until then."
)
CONTRADICT = say("The readings contradict each other")


@record
class Contradiction:
    """What does not go together: the analytes that may not be acted on, in a few words and whole, and what to check."""

    about: tuple[str, ...]
    short: str
    says: str
    check: str


def contradictions(readings: dict[str, Reading], request: Request, soil: Soil, tables: Tables) -> tuple[Contradiction, ...]:
    """All contradictions of a plot. Source: plausible-range.

    Readings in their table's base unit (pH, mg/kg, %).

    >>> from agronomy.intake.example import bed, found, soil, tables
    >>> contradictions(found().readings, bed(), soil(), tables)
    ()
    """
    return (
        *_lime_in_acid_ground(readings, request, tables),
        *_calcium_beyond_capacity(readings, soil, tables),
        *_beyond_belief(readings, tables),
        *_quarrels(request.readings, tables),
    )


def _lime_in_acid_ground(readings: dict[str, Reading], request: Request, tables: Tables) -> list[Contradiction]:
    ph, figures = readings.get("pH"), tables.plausibility
    carbonate = readings.get("carbonate")
    fizzes = request.plot.free_lime is True or (carbonate is not None and carbonate.value > figures.carbonate_in_acid_pct.value)
    if ph is None or not fizzes or ph.value >= figures.no_free_lime_below_ph.value:
        return []
    says = say(
        "{short}: the ground fizzes with acid, so it holds free lime, and yet pH reads "
        "{ph:.1f}. Free lime and such an acid pH can't go together: samples may have been swapped.",
        ph=ph.value,
        short=CONTRADICT,
    )
    return [Contradiction(("pH",), CONTRADICT, says, CHECK_PH)]


def _calcium_beyond_capacity(readings: dict[str, Reading], soil: Soil, tables: Tables) -> list[Contradiction]:
    ph, calcium, figures = readings.get("pH"), readings.get("Ca"), tables.plausibility
    if ph is None or calcium is None or ph.value >= figures.no_free_lime_below_ph.value:
        return []
    charge = calcium.value / tables.analytes["Ca"].per_cmol
    most = (figures.calcium_of_known_cec if soil.cec_known else figures.calcium_of_supposed_cec).value
    if charge <= most * soil.cec_cmol_per_kg:
        return []
    says = say(
        "{short}: calcium fills {charge:.0f} cmol/kg, more than this ground holds "
        "({cec_cmol_per:.0f}), as only free lime does, and yet pH reads {ph:.1f}. One of the two is of another "
        "sample.",
        charge=charge,
        cec_cmol_per=soil.cec_cmol_per_kg,
        ph=ph.value,
        short=CONTRADICT,
    )
    return [Contradiction(("pH",), CONTRADICT, says, CHECK_PH)]


def _quarrels(all_readings: Iterable[Reading], tables: Tables) -> list[Contradiction]:
    """Two readings of one day and method that lie further apart than their errors allow: an average of them would be a lie."""
    found = []
    for key in ("pH", "P", "K", "Mg"):
        of_the_top = [reading for reading in all_readings if reading.analyte == key and not reading.is_of_subsoil]
        latest = max((reading.taken or date.min for reading in of_the_top), default=None)
        newest = [reading for reading in of_the_top if (reading.taken or date.min) == latest]
        least, most = min(newest, key=_value, default=None), max(newest, key=_value, default=None)
        if least is None or most is None or (least.method, least.how) != (most.method, most.how):
            continue
        if most.value - least.value <= tables.plausibility.quarrel_errors.value * (least.u + most.u):
            continue
        name = "pH" if key == "pH" else tables.analytes[key].name
        short = say("{name} was read twice and the two can’t both be right", name=name)
        says = say(
            "{short}: {least:.3g} and {most:.3g}{unit}, by one method and on one day.",
            short=short,
            least=least.value,
            most=most.value,
            unit="" if key == "pH" else f" {least.unit}",
        )
        check = CHECK_PH if key == "pH" else say("Take a fresh sample of ten or more cores and have {name} tested again.", name=small(name))
        found.append(Contradiction((key,), short, says, check))
    return found


def _value(reading: Reading) -> float:
    return reading.value


def _beyond_belief(readings: dict[str, Reading], tables: Tables) -> list[Contradiction]:
    """Values that no ground of the kind has: most likely another unit."""
    found = []
    for key in ("P", "K", "Mg"):
        reading = readings.get(key)
        if reading is None or reading.value <= tables.analytes[key].typical_high * tables.plausibility.beyond_typical.value:
            continue
        name = tables.analytes[key].name
        short = say("{name} reads {value:.0f} {unit}, which can't be right for a soil", name=name, value=reading.value, unit=reading.unit)
        says = say("{short}: most likely another unit, or a slipped point.", short=short)
        check = say(
            "Ask the laboratory about {name}: which unit, and is the figure right? Until then we cannot advise on {name}.",
            name=name.lower(),
        )
        found.append(Contradiction((key,), short, says, check))
    return found
