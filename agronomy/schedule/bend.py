"""Windows bent to a place's climate: nothing goes on ground that is asleep, frozen or usually too cold for it, and why is told."""

from dataclasses import dataclass, replace
from datetime import date, timedelta

from agronomy.dose.application import Application
from agronomy.schedule.climate import Climate, first_warm_day, soil_warmth
from agronomy.schedule.gates import work_of
from agronomy.tables import Tables

SHORTEST_DAYS = 7


@dataclass(frozen=True, slots=True)
class Conflict:
    """A job that no day of its window suits, with the nearest day that would, or None."""

    name: str
    window: tuple[date, date]
    why: str
    instead: date | None

    @property
    def says(self) -> str:
        """The conflict as a sentence with the nearest way out."""
        out = f"the nearest warm enough day is about {self.instead:%-d %b %Y}" if self.instead else "no warm enough day comes within a year"
        return f"{self.name[0].upper()}{self.name[1:]}, meant for {self.window[0]:%-d %b} to {self.window[1]:%-d %b}: {self.why}; {out}."


def bend(applications: list[Application], climate: Climate, tables: Tables, *, grass: bool = False) -> tuple[list[Application], list[Conflict]]:
    """The same applications with their windows moved to warm enough ground where they need it; order of date is kept.

    A window keeps its length where the season allows; where the whole window is too cold, the job moves to the first warm day after it and is
    told as a conflict, because something else may have hung on the earlier date.
    """
    bent, conflicts = [], []
    for item in applications:
        material = tables.materials.get(item.material)
        wanted = tables.gates[work_of(material, item.what, tables)]["soil_above_c"] if material else None
        least = wanted if wanted is not None else 0.5
        first = first_warm_day(item.from_, least, climate, tables, grass=grass)
        if first is None or first == item.from_:
            bent.append(item)
            continue
        note = f"Not before about {first:%-d %b}: the soil is usually below {least:g} °C until then."
        length = max(SHORTEST_DAYS, (item.to - item.from_).days)
        if first <= item.to - timedelta(days=SHORTEST_DAYS):
            bent.append(replace(item, from_=first, timing_note=f"{item.timing_note} {note}".strip()))
            continue
        warmth = soil_warmth(item.to, climate, tables, grass=grass)
        conflicts.append(Conflict(item.name, (item.from_, item.to), f"the soil has about {warmth:.0f} °C by {item.to:%-d %b}, {least:g} are wanted", first))
        bent.append(replace(item, from_=first, to=first + timedelta(days=length), timing_note=f"{item.timing_note} {note}".strip()))
    return sorted(bent, key=lambda item: (item.from_, item.material, item.dressing)), conflicts
