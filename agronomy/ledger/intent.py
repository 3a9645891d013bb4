"""Everything meant for a plot, laid beside what it needs: nothing goes on the list twice unseen, whatever it comes from."""

from collections.abc import Sequence
from datetime import date
from typing import Literal

from agronomy.base import showing
from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.model.answers import ACIDITY, SPOKEN
from agronomy.tables import Tables
from agronomy.tables.material import Material

WATCHED = ("N", "P", "K", "CaCO3", "S_acid")


@record
class Intended:
    """An application that is meant or asked for: material, kilos on the plot, its window, and where it comes from in words."""

    material: str
    kg: float
    begins: date
    ends: date
    origin: str


@record
class Overlap:
    """One nutrient that comes to too much [kg/ha]: what is meant already and from where, what would be added, and the limit it passes.

    `limit` is the need, or the owner's cap; for "against" it is nought, and lime and sulfur pull against each other.
    """

    what: str
    already: float
    adds: float
    limit: float
    why: Literal["need", "cap", "against"]
    origins: tuple[str, ...]

    def says(self, units: str, area_m2: float) -> str:
        """A sentence or two for whoever has to decide."""
        from_ = " and ".join(self.origins)
        if self.why == "against":
            return say("Lime and sulfur would both be on the list ({start}): each undoes the other.", start=from_)
        together, limit, name = self.already + self.adds, self.limit, SPOKEN[self.what]
        shown, most = (showing.nutrient_rate(kg, units, area_m2) if kg >= 0.05 else "nothing" for kg in (together, limit))
        before = say("This and what is on the list already ({start})", start=from_) if from_ else "This"
        verb = "bring" if from_ else "brings"
        wanted = (
            say("your cap is {most}", most=most)
            if self.why == "cap"
            else say("the need is {most}", most=most)
            if limit >= 0.05
            else "none is needed"
        )
        return say("{before} {verb} {shown} of {name}; {wanted}.", before=before, verb=verb, shown=shown, name=name, wanted=wanted)


def brought(material: Material, kg: float) -> dict[str, float]:
    """What some kilos bring of what is watched [kg]; lime as CaCO3 that reacts, sulfur that acidifies as S_acid. Source: definition.

    >>> from agronomy.intake.example import tables
    >>> sorted(brought(tables.materials["calcitic_limestone_ground"], 100))
    ['CaCO3']
    """
    found = {key: share * kg for key, share in (material.share or {}).items() if key in WATCHED}
    if material.has_role("lime"):
        found["CaCO3"] = material.cce / 100 * (material.fineness or 1.0) * kg
    if material.has_role("acidifier"):
        found["S_acid"] = material.s / 100 * kg
    return {key: amount for key, amount in found.items() if amount > 0}


def per_hectare(items: Sequence[Intended], area_m2: float, tables: Tables) -> dict[str, float]:
    """The sum of what some applications bring [kg/ha]; materials that the table no longer has count for nothing."""
    found: dict[str, float] = {}
    for item in items:
        material = tables.materials.get(item.material)
        for key, kg in brought(material, item.kg).items() if material else ():
            found[key] = found.get(key, 0.0) + kg * 10_000 / area_m2
    return found


def overlaps(
    new: Sequence[Intended],
    meant: Sequence[Intended],
    needs: dict[str, float] | None,
    caps: dict[str, float],
    *,
    area_m2: float,
    tables: Tables,
) -> list[Overlap]:
    """Where new applications and what is meant already come to more than the plot needs or the owner allows.

    Args: needs and caps in kg/ha of the element, lime as CaCO3; a need that is not among them is nought; `needs` is None where none is
    known. Source: own-experience (how much over is worth a question).

    >>> from agronomy.intake.example import tables
    >>> day = date(2027, 3, 1)
    >>> one = Intended("urea", 10.0, day, day, "the plan")
    >>> two = Intended("calcium_ammonium_nitrate", 20.0, day, day, "the grass programme")
    >>> overlaps([two], [one], {"N": 50.0}, {}, area_m2=1000.0, tables=tables)[0].says("metric", 20000.0)
    'This and what is on the list already (the plan) bring 100 kg/ha of nitrogen; the need is 50 kg/ha.'
    """
    adds, already = per_hectare(new, area_m2, tables), per_hectare(meant, area_m2, tables)
    found = []
    for what in WATCHED:
        extra, before = adds.get(what, 0.0), already.get(what, 0.0)
        least = least_worth_asking(what, tables)
        origins = _origins(meant, what, tables)
        if extra < least:
            continue
        cap = caps.get(what)
        if cap is not None and extra + before > cap + least:
            found.append(Overlap(what, before, extra, cap, "cap", origins))
        elif needs is not None:
            need = needs.get(what, 0.0)
            if extra + before > need * (1 + tables.choice.meant_over_share.value) + least:
                found.append(Overlap(what, before, extra, need, "need", origins))
    for what, other in (("CaCO3", "S_acid"), ("S_acid", "CaCO3")):
        if adds.get(what) and already.get(other) and not adds.get(other):
            found.append(Overlap(what, already[other], adds[what], 0.0, "against", _origins(meant, other, tables)))
    return found


def least_worth_asking(what: str, tables: Tables) -> float:
    """How much beyond the need is worth a question [kg/ha]. Source: own-experience.

    >>> from agronomy.intake.example import tables
    >>> least_worth_asking("N", tables) < least_worth_asking("CaCO3", tables)
    True
    """
    return tables.choice.meant_over_lime.value if what in ACIDITY else tables.choice.meant_over_least.value


def _origins(meant: Sequence[Intended], what: str, tables: Tables) -> tuple[str, ...]:
    """Where what is meant of a nutrient comes from, each once."""
    bring = (item for item in meant if (row := tables.materials.get(item.material)) and what in brought(row, item.kg))
    return tuple(dict.fromkeys(item.origin for item in bring))


def cut_to_need(new: Sequence[Intended], found: Sequence[Overlap], tables: Tables) -> list[float]:
    """What each new application comes to [kg] where all is cut to what is still wanted; nought where hardly any of it is left.

    >>> from agronomy.intake.example import tables
    >>> day = date(2027, 3, 1)
    >>> cut_to_need([Intended("urea", 10.0, day, day, "")], [Overlap("N", 30.0, 46.0, 53.0, "need", ())], tables)
    [5.0]
    """
    left = []
    for item in new:
        material = tables.materials.get(item.material)
        brings = brought(material, item.kg) if material else {}
        shares = [max(0.0, each.limit - each.already) / each.adds for each in found if each.what in brings]
        share = min([1.0, *shares])
        left.append(item.kg * share if share >= tables.choice.meant_least_share.value else 0.0)
    return left
