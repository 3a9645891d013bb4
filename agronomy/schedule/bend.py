"""Windows bent to a place's climate: nothing goes on ground that is asleep, frozen or usually too cold for it, and why is told."""

from dataclasses import dataclass, replace
from datetime import date, timedelta

from agronomy.dose.application import Application
from agronomy.schedule.climate import Climate, first_warm_day, soil_warmth
from agronomy.schedule.gates import work_of
from agronomy.tables import Tables


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

    Where the whole window is too cold, the job moves to the first warm day after it and is told as a conflict, because something else may
    have hung on the earlier date. Dressings of one series never fall together.
    """
    bent, conflicts, latest = [], [], {}
    shortest, longest, apart = (timedelta(days=tables.climate_figures[key].value) for key in ("shortest_window_days", "longest_window_days", "apart_days"))
    for item in sorted(applications, key=lambda item: (item.from_, item.dressing)):
        material = tables.materials.get(item.material)
        wanted = tables.gates[work_of(material, item.what, tables)]["soil_above_c"] if material else None
        least = wanted if wanted is not None else 0.5
        series = (item.material, item.what)
        earliest = max(item.from_, latest.get(series, item.from_))  # a dressing that moved keeps the next one at its distance
        first = first_warm_day(earliest, least, climate, tables, grass=grass) or earliest
        if first == item.from_:
            bent.append(item)
            latest[series] = first + apart
            continue
        cold = first > earliest
        note = f"Not before about {first:%-d %b}: the soil is usually below {least:g} °C until then." if cold else "Moved on with the dressing before it."
        length = max(shortest, min(longest, item.to - item.from_))
        if cold and first > item.to:
            warmth = soil_warmth(item.to, climate, tables, grass=grass)
            conflicts.append(Conflict(item.name, (item.from_, item.to), f"the soil has about {warmth:.0f} °C by {item.to:%-d %b}, {least:g} are wanted", first))
        end = item.to if first + shortest <= item.to else first + length
        bent.append(replace(item, from_=first, to=end, timing_note=f"{item.timing_note} {note}".strip()))
        latest[series] = first + apart
    return sorted(bent, key=lambda item: (item.from_, item.material, item.dressing)), conflicts
