"""Kilos to bags, cups and spoons, by each material's own density, rounded to what can be scooped."""

from math import ceil

from agronomy.base.record import record
from agronomy.base.said import Mass, say
from agronomy.tables.material import Material

# Millilitres of the measures people own. Source: household-measures.
SCOOPS = {
    "metric": (("cup", 250.0), ("tablespoon", 15.0), ("teaspoon", 5.0)),
    "us": (("cup", 236.588), ("tablespoon", 14.7868), ("teaspoon", 4.92892)),
}
MOST_BY_SCOOP_KG = 3.0
BIGGEST_BOTTLE_KG, BIGGEST_DRUM_KG = 10, 300
FRACTIONS = {0.25: "¼", 0.5: "½", 0.75: "¾"}


@record
class Bags:
    """Whole bags to open, their size and what is left over [kg]."""

    count: int
    bag_kg: float
    left_over_kg: float


def bags(total_kg: float, material: Material) -> Bags:
    """Whole bags for a dose, and the leftover.

    Source: definition (count = dose / bag, rounded up).
    Weights in kg.

    >>> from agronomy.intake.example import tables
    >>> bags(60.0, tables.materials["urea"]).count
    3
    """
    count = max(1, ceil(total_kg / material.bag_kg - 1e-9))
    return Bags(count, material.bag_kg, count * material.bag_kg - total_kg)


def say_bags(total_kg: float, material: Material, system: str) -> str:
    """Bags in words.

    Weights in kg. Source: definition.

    >>> from agronomy.intake.example import tables
    >>> say_bags(60.0, tables.materials["urea"], "metric")
    '3 bags of 25 kg, 15 kg left over'
    """
    need = bags(total_kg, material)
    size, pack = Mass(need.bag_kg, 2, system), _pack(material)
    if need.count == 1:
        return say("from 1 {pack} of {size}", pack=pack, size=size)
    if need.left_over_kg <= 0.005 * total_kg:
        return say("{count} {pack}s of {size}", count=need.count, pack=pack, size=size)
    left = Mass(need.left_over_kg, 2, system)
    return say("{count} {pack}s of {size}, {left} left over", count=need.count, pack=pack, size=size, left=left)


def _pack(material: Material) -> str:
    """What a material is sold in."""
    if material.form != "liquid":
        return "bag"
    return "bottle" if material.bag_kg <= BIGGEST_BOTTLE_KG else "drum" if material.bag_kg <= BIGGEST_DRUM_KG else "tank"


def scoops(total_kg: float, material: Material, system: str) -> str | None:
    """About how many cups or spoons make a dose, or None where it must be weighed.

    None above 3 kg, under a quarter teaspoon, and for materials that are not to be measured by spoon.
    Source: household-measures; level spoons are within 10 % (grains) to 20 % (powders).

    >>> from agronomy.intake.example import tables
    >>> scoops(0.3, tables.materials["urea"], "metric")
    'about 1½ level cups'
    """
    if not material.spoons or total_kg > MOST_BY_SCOOP_KG:
        return None
    return say_scoops(total_kg * 1000 / material.density_g_per_ml, system)


def say_scoops(volume_ml: float, system: str) -> str | None:
    """A volume [mL] in the largest level measure that it fills; None under a quarter teaspoon. Source: household-measures.

    >>> say_scoops(20.0, "metric")
    'about 1¼ level tablespoons'
    """
    for name, size_ml in SCOOPS["us" if system == "us" else "metric"]:
        if volume_ml >= size_ml or name == "teaspoon":
            return _say_scoops(volume_ml / size_ml, name)
    return None


def _say_scoops(count: float, name: str) -> str | None:
    quarters = round(count * 4) / 4 if count < 3 else round(count * 2) / 2 if count < 10 else round(count)
    if quarters < 0.25:
        return None
    whole, part = int(quarters), quarters - int(quarters)
    shown = (str(whole) if whole or not part else "") + FRACTIONS.get(part, "")
    return say("about {shown} level {name}{which}", shown=shown, name=name, which="s" if quarters > 1 else "")
